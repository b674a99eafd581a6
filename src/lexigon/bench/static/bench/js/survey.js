// What was found in a manuscript: its styles, what clean-ups would do, its parts; each row with its choice.
import { counted } from "./numerals.js";

export const plural = (count, word, many = `${word}s`) => `${counted(count)} ${count === 1 ? word : many}`;

/** What stands for a style that is still to be made. */
export const NEW = "+";

function part(tag, words, name = "") {
  return Object.assign(document.createElement(tag), {
    textContent: words,
    className: name,
    title: name.includes("truncate") ? words : "",
  });
}

function choiceOf(label, options, value, changed) {
  const choice = document.createElement("select");
  choice.className = "field";
  choice.setAttribute("aria-label", label);
  choice.append(...options.map(({ id, name }) => new Option(name, id)), new Option("New style…", NEW));
  choice.value = value;
  choice.addEventListener("change", () => {
    const chosen = choice.value;
    if (chosen === NEW) choice.value = value;
    changed(chosen);
  });
  return choice;
}

/** Each style of the document with its own words in their own look, what it becomes, and why. `chosen(name, style)` is told of another. */
export function layUses(place, uses, targets, mapping, chosen) {
  place.replaceChildren(
    ...uses.map((use) => {
      const row = part("div", "", "use");
      const choice = choiceOf(`“${use.name}” becomes`, targets, use.target, (style) => chosen(use.name, style));
      row.append(
        part("b", use.name, "truncate"),
        part("span", plural(use.count, "paragraph"), "aside"),
        part("span", use.sample || "…", `truncate sample ${use.look}`),
        choice,
        part("span", mapping[use.name] ? "your choice" : use.why, "aside why"),
      );
      return row;
    }),
  );
}

const SIGNS = { " ": "·", "\t": "→", "\n": "¶", "\u2028": "↵", "\u00a0": "°", "\u202f": "°", "\u00ad": "‐" };
const visible = (text) => text.replace(/[ \t\n\u2028\u00a0\u202f\u00ad]/g, (sign) => SIGNS[sign]);
const plain = (text) => text.replace(/[\n\u2028]/g, " ");

/** What each clean-up found, with examples as they are and as they would be. `switched(id, on)` is told when one is wanted or not. */
export function layFound(place, found, switched) {
  const open = new Set([...place.querySelectorAll("details[open]")].map((one) => one.dataset.id));
  place.replaceChildren(
    ...found.map((one) => {
      const row = part("div", "", "cleaned");
      const label = part("label", "", "check");
      const box = Object.assign(document.createElement("input"), { type: "checkbox", checked: one.on });
      box.addEventListener("change", () => switched(one.id, box.checked));
      label.append(
        box,
        part("span", `${one.word} `),
        part(
          "span",
          `${counted(one.count)}${one.doubtful ? `, ${counted(one.doubtful)} doubtful` : ""} → ${one.became}`,
          "aside",
        ),
      );
      const more = document.createElement("details");
      Object.assign(more, { open: open.has(one.id) });
      more.dataset.id = one.id;
      more.append(
        part("summary", "before and after"),
        ...one.examples.map(({ before, was, now, behind }) => {
          const line = part("p", "", "example");
          line.append(
            part("span", plain(before)),
            part("del", visible(was)),
            part("ins", visible(now)),
            part("span", plain(behind)),
          );
          return line;
        }),
      );
      row.append(label, more);
      return row;
    }),
  );
}

/** The parts as a tree: each heading with its words, how it goes on, what is odd about it, and what else it may be. */
export function layParts(place, headings, before, offered, restyled, chosen) {
  const rows = headings.map(({ n, style, text, depth, words, begins, odd }) => {
    const row = part("li", "", `part-row ${style === "title" ? "" : `deep-${Math.min(depth, 2)}`}`);
    const said = part("span", "", "min-w-0");
    said.append(
      part("b", text || "…", "truncate block"),
      part("span", odd ? `Odd: ${odd}` : begins, odd ? "odd truncate block" : "aside truncate block"),
    );
    row.append(
      said,
      part("span", words ? plural(words, "word") : "", "aside"),
      choiceOf(`Style of “${text}”`, offered, restyled[n] || style, (id) => chosen(n, id)),
    );
    return row;
  });
  if (before) {
    const row = part("li", "", "part-row");
    const said = part("span", "", "min-w-0");
    said.append(
      part("b", "Before the first heading", "truncate block"),
      part("span", before.begins, "aside truncate block"),
    );
    row.append(said, part("span", plural(before.words, "word"), "aside"), part("span", ""));
    rows.unshift(row);
  }
  place.replaceChildren(...rows);
}
