// Reading a typed length in the slip, by the same rules as the server: units, sums, products, brackets.
import { NUMBER, figures, valueOf } from "../numerals.js";

const POINTS = { pt: 1, in: 72, mm: 72 / 25.4, cm: 720 / 25.4, p: 12, px: 0.75 };
const ALIASES = {
  '"': "in",
  "″": "in",
  inch: "in",
  inches: "in",
  pica: "p",
  picas: "p",
  pc: "p",
  point: "pt",
  points: "pt",
  pts: "pt",
};
const TOKEN = new RegExp(`\\s*(?:(\\d+p\\d+(?:\\.\\d+)?(?![\\w.]))|(${NUMBER})|([A-Za-z]+|["″])|([-+*/()×÷−]))`, "y");
const FIRST = new RegExp(`-?(?:${NUMBER})`);

export function parseLength(source, unit) {
  const tokens = [];
  const text = source.trim();
  TOKEN.lastIndex = 0;
  while (TOKEN.lastIndex < text.length) {
    const at = TOKEN.lastIndex;
    const match = TOKEN.exec(text);
    if (!match) throw new Error(`“${text.slice(at).trim().slice(0, 12)}” is not part of a length.`);
    tokens.push(match.slice(1));
  }
  if (!tokens.length) throw new Error("Type a length, for example 120 mm or 6in + 3mm.");
  let next = 0;
  const operator = () => tokens[next]?.[3];
  function factor() {
    const [pica, number, , op] = tokens[next++] || [];
    if (op === "-" || op === "−" || op === "+") {
      const [v, d] = factor();
      return [op === "+" ? v : -v, d];
    }
    if (op === "(") {
      const inner = sum();
      if (operator() !== ")") throw new Error("A bracket is open: add “)”.");
      next += 1;
      return inner;
    }
    if (pica) {
      const [p, pt] = pica.split("p");
      return [Number(p) * 12 + Number(pt), 1];
    }
    if (number === undefined && tokens[next - 1]?.[2])
      throw new Error(`“${text}” is not a length. Type a number and a unit, such as 120 mm.`);
    if (number === undefined) throw new Error(`Something is missing in “${text}”.`);
    const value = valueOf(number);
    const name = tokens[next]?.[2];
    if (!name) return [value, 0];
    next += 1;
    const known = ALIASES[name.toLowerCase()] || name.toLowerCase();
    if (!(known in POINTS))
      throw new Error(`Lexigon does not know the unit “${name}”. It knows mm, cm, in, pt, p (pica), px.`);
    return [value * POINTS[known], 1];
  }
  function product() {
    let [v, d] = factor();
    while (["*", "/", "×", "÷"].includes(operator())) {
      const op = operator();
      next += 1;
      const [w, e] = factor();
      if (op === "*" || op === "×") {
        if (d && e) throw new Error("A length times a length is an area, not a length.");
        v *= w;
        d += e;
      } else {
        if (e) throw new Error("Divide by a plain number, not by a length.");
        if (!w) throw new Error("That divides by zero.");
        v /= w;
      }
    }
    return [v, d];
  }
  function sum() {
    let [v, d] = product();
    while (["+", "-", "−"].includes(operator())) {
      const sign = operator() === "+" ? 1 : -1;
      next += 1;
      let [w, e] = product();
      if (d !== e) {
        if (!d) v *= POINTS[unit];
        else w *= POINTS[unit];
        d = 1;
      }
      v += sign * w;
    }
    return [v, d];
  }
  const [value, dimension] = sum();
  if (next < tokens.length)
    throw new Error(`“${tokens[next].find((one) => one !== undefined)}” is not expected in “${text}”.`);
  return dimension ? value : value * POINTS[unit];
}

/**
 * How many times what a length was, and how many points more, the text says: `+2mm`, `*0.5`, `/3 + 1mm`. A plain length is none of what
 * was and all of itself; so is `-3mm`, since things stand above and left of the page too.
 */
export function readChange(source, unit) {
  if (!/^\s*[+*/×÷]/.test(source)) return { times: 0, plus: parseLength(source, unit) };
  const plus = parseLength(`0pt${source}`, unit);
  return { times: parseLength(`1pt${source}`, unit) - plus, plus };
}

/** What is typed with its first number one more or less: ten with Shift, a tenth in inches. */
export function stepped(text, up, far) {
  const step = (up ? 1 : -1) * (far ? 10 : 1) * (/in|["″]/.test(text) ? 0.1 : 1);
  return text.replace(FIRST, (old) => figures((old.startsWith("-") ? -valueOf(old.slice(1)) : valueOf(old)) + step));
}
