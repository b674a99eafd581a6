// What is typed, painted at once on the lines that are there: letters go in and out of a line, a line is broken or joined. No line is set anew here;
// the answer paints them as they are composed.
import { points, units } from "../typing/characters.js";
import { length, lineAt, texts, xAt } from "./lines.js";
import { frames, linesOf } from "./standing.js";

/** Paint an edit of words. `from` and `to` are its ends in reading order, `step` what it does to the paragraphs (`typing/words.js`). */
export function paintEdit(story, rows, { at, remove, rows: fresh }, from, to, text) {
  const before = rows.slice(at, at + remove);
  const head = before[0].id,
    tail = before[before.length - 1];
  if (remove === 1) eraseWithin(story, head, from.o, to.o);
  else {
    eraseWithin(story, head, from.o, points(before[0].text));
    for (const { id } of before.slice(1, -1)) dropLines(linesOf(story).filter(({ p }) => p === id));
    eraseWithin(story, tail.id, 0, to.o);
    joinLines(story, head, from.o, tail.id);
  }
  let place = { p: head, o: from.o };
  const ids = fresh.map(({ id }) => id),
    parts = text.split("\n");
  parts.forEach((part, n) => {
    if (n) {
      breakLine(story, place, NEW);
      place = { p: NEW, o: 0 };
    }
    if (part) insertWithin(story, place, part.replace(/\t/g, "\u2003"));
    place = { p: place.p, o: place.o + points(part) };
    if (n) rename(story, NEW, ids[n]);
    if (n) place.p = ids[n];
    else if (ids[0] !== head) rename(story, head, `${head} `); // out of the way: another paragraph takes its id
    if (!n && ids[0] !== head) place.p = `${head} `;
  });
  if (ids[0] !== head) rename(story, `${head} `, ids[0]);
  // What was joined to them from where nothing is painted (the next page) is theirs all the same.
  for (const row of fresh) {
    const last = linesOf(story)
      .filter(({ p }) => p === row.id)
      .pop();
    if (last?.last) last.e = Math.max(last.s, points(row.text));
  }
}
const NEW = " new";

function rename(story, from, to) {
  for (const line of linesOf(story)) if (line.p === from) line.p = to;
}

/** The lines that a line is one of, as an array to change. */
const column = (line) => frames().find((f) => f.id === line.frame && f.page === line.page)?.lines || [];

/** Words along an outline are set along it with the answer. */
function curve(line, from, to, put) {
  const [a, b] = [from, to].map((at) => units(line.words, at - line.s));
  line.words = line.words.slice(0, a) + put + line.words.slice(b);
  line.e += points(put) - (to - from);
}

/** Letters of a paragraph are no longer painted, on however many lines. */
export function eraseWithin(story, p, from, to) {
  if (to <= from) return;
  const gone = (at) => Math.max(Math.min(to, at) - from, 0); // how many of them were before a place
  for (const line of linesOf(story)) {
    if (line.p !== p || line.e <= from) continue;
    if (line.stops) {
      curve(line, from, Math.min(to, line.e), "");
      continue;
    }
    for (const text of line.texts) {
      const start = text.s,
        long = text.node ? length(text) : text.n,
        a = Math.max(from, start),
        b = Math.min(to, start + long);
      if (b > a && text.n !== undefined) {
        text.node?.remove();
        text.gone = true;
      } else if (b > a) {
        const words = text.node.textContent;
        text.node.textContent = words.slice(0, units(words, a - start)) + words.slice(units(words, b - start));
      }
      text.s -= gone(start);
    }
    line.texts = line.texts.filter((text) => !text.gone);
    [line.s, line.e] = [line.s - gone(line.s), line.e - gone(line.e)];
  }
}

/** Words at a place, in the letters of what is before them. */
export function insertWithin(story, place, put) {
  const lines = linesOf(story),
    line = lineAt(lines, place),
    grown = points(put);
  if (!line) return;
  if (line.stops) {
    curve(line, place.o, place.o, put);
    return;
  }
  let target = null;
  for (const text of texts(line)) if (text.n === undefined && (text.s <= place.o || !target)) target = text;
  if (!target) target = firstText(line);
  if (target) {
    const words = target.node.textContent,
      at = units(words, Math.max(place.o - target.s, 0));
    target.node.textContent = words.slice(0, at) + put + words.slice(at);
  }
  let behind = false;
  for (const other of lines) {
    if (other === line) behind = true;
    else if (!behind || other.p !== line.p) continue;
    else other.s += grown;
    other.e += grown;
    for (const text of other.texts) if (other !== line || (text !== target && text.s >= place.o)) text.s += grown;
  }
}

/** A line that has no words yet gets an element for them, like one beside it. */
function firstText(line) {
  const like =
    line.like || line.g.parentNode?.querySelector("text") || line.g.closest(".content")?.querySelector("text");
  const node = /** @type {SVGTextElement} */ (
    like ? like.cloneNode(false) : document.createElementNS("http://www.w3.org/2000/svg", "text")
  );
  if (!like) node.setAttribute("font-size", String(line.a + line.d)); // nothing is set here yet: about as large as it will be
  for (const name of ["word-spacing", "transform"]) node.removeAttribute(name);
  node.setAttribute("x", line.x);
  node.setAttribute("y", line.base ?? line.y);
  line.g.append(node);
  const text = { s: line.s, node };
  line.texts.push(text);
  return text;
}

/** The lines below one in its frame and column move down, or up. */
function moveBelow(line, by) {
  const all = column(line);
  for (const other of all.slice(all.indexOf(line) + 1)) {
    if (other.y < line.y - 0.01) return; // the next column
    moveLine(other, by);
  }
}

function moveLine(line, by) {
  if (line.stops) return;
  line.base ??= line.y; // y within its group, which is moved
  line.y += by;
  line.g.setAttribute("transform", `translate(0 ${line.y - line.base})`);
}

const pitchOf = (line) => {
  const all = column(line),
    n = all.indexOf(line),
    other = all[n + 1] || all[n - 1];
  const apart = other && Math.abs(other.y - line.y);
  return apart > 1 && apart < 4 * (line.a + line.d) ? apart : (line.a + line.d) * 1.2;
};

/** What is behind a place begins a line of its own, in a paragraph of another name. */
function breakLine(story, place, name) {
  const lines = linesOf(story),
    line = lineAt(lines, place);
  if (!line || line.stops) return;
  const g = line.g.cloneNode(false),
    pitch = pitchOf(line);
  line.g.after(g);
  const own = texts(line),
    first = own.find((text) => text.s + (text.node ? length(text) : text.n) > place.o) || null;
  const x = first ? xAt(line, place.o) : line.x;
  const made = {
    ...line,
    p: name,
    s: 0,
    e: line.e - place.o,
    g,
    texts: [],
    like: own.find(({ node }) => node)?.node || line.like,
    base: line.base ?? line.y,
  };
  for (const text of line.texts) {
    const long = text.node ? length(text) : text.n;
    if (text.s + long <= place.o && !(long === 0 && text.s > place.o)) continue;
    if (text.s >= place.o) {
      text.moves = true;
      if (text.node) {
        g.append(text.node);
        if (!text.k) shiftNode(text.node, line.x - x);
      }
      made.texts.push({ ...text, s: text.s - place.o, moves: undefined });
      continue;
    }
    if (text.n !== undefined) continue;
    const words = text.node.textContent,
      at = units(words, place.o - text.s),
      node = text.node.cloneNode(false);
    text.node.textContent = words.slice(0, at);
    node.textContent = words.slice(at);
    node.setAttribute("x", line.x);
    g.append(node);
    made.texts.push({ ...text, s: 0, node });
  }
  line.texts = line.texts.filter((text) => !text.moves);
  line.e = place.o;
  line.last = true;
  const all = column(line);
  all.splice(all.indexOf(line) + 1, 0, made);
  if (line.base !== undefined) g.setAttribute("transform", line.g.getAttribute("transform") || "");
  moveLine(made, pitch);
  moveBelow(made, pitch);
  for (const other of lines.slice(lines.indexOf(line) + 1))
    if (other.p === place.p && other !== made) {
      // the rest of the paragraph
      Object.assign(other, { p: name, s: other.s - place.o, e: other.e - place.o });
      for (const text of other.texts) text.s -= place.o;
    }
}

/** The lines of a paragraph go on from the end of another, whose words end at `by`. */
function joinLines(story, p, by, next) {
  const lines = linesOf(story),
    own = lines.filter((one) => one.p === p),
    others = lines.filter((one) => one.p === next);
  for (const other of others) {
    Object.assign(other, { p, s: other.s + by, e: other.e + by });
    for (const text of other.texts) text.s += by;
  }
  dropLines(own.filter((one) => one.s >= by && one.s > 0 && own[0] !== one)); // lines that are empty now
  const end = own.filter((one) => one.s < by || one === own[0]).pop(),
    begin = others[0];
  if (!end || !begin || end.stops || begin.stops) return;
  if (end.frame !== begin.frame || end.page !== begin.page) {
    end.last = false;
    return;
  }
  const x = xAt(end, by) - begin.x,
    dropped = begin.y - end.y;
  for (const text of begin.texts) {
    if (text.node) {
      end.g.append(text.node);
      if (!text.k) shiftNode(text.node, x);
      text.node.setAttribute("y", end.base ?? end.y);
    }
    end.texts.push(text);
  }
  begin.texts = [];
  [end.e, end.last] = [begin.e, begin.last];
  dropLine(begin, dropped);
}

function shiftNode(node, by) {
  node.setAttribute("x", Number(node.getAttribute("x")) + by);
}

function dropLines(lines) {
  for (const line of [...lines].reverse()) dropLine(line, pitchOf(line));
}

function dropLine(line, pitch) {
  if (line.stops) return;
  moveBelow(line, -pitch);
  const all = column(line),
    at = all.indexOf(line);
  if (at >= 0) all.splice(at, 1);
  line.g.remove();
}
