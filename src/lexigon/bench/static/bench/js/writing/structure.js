// The structure beside a text: its headings with their words and pages, folded, and moved with all that stands under them.
import { counted } from "../numerals.js";
import { room } from "../dom.js";
import { HttpError } from "../errors.js";
import { plural } from "../survey.js";

const beside = room("structure", false);
const folded = new Set();
let headings = [];
let text = null; // what the writing view lends: block, go, write, settled, refresh, before

export const isFolded = (id) => folded.has(id);

/** Tie it to a text. */
export function tie(view) {
  text = view;
}

export function showStructure(found) {
  headings = found;
  lay();
}

/** How many headings after this one stand under it. */
function under(n) {
  let count = 0;
  while (headings[n + 1 + count] && headings[n + 1 + count].level > headings[n].level) count += 1;
  return count;
}

const least = () => Math.min(...headings.map((one) => one.level));

function lay() {
  const top = least();
  let hidden = 0;
  beside.querySelector(".aside").textContent = plural(headings.length, "heading");
  beside.querySelector(".headings").replaceChildren(
    ...headings.map((one, n) => {
      const row = document.createElement("li");
      if (one.level && (!hidden || one.level <= hidden)) hidden = 0;
      row.hidden = Boolean(hidden);
      if (folded.has(one.id) && !hidden) hidden = one.level;
      row.className = `heading-row deep-${Math.min(one.level - top, 2)}`;
      row.draggable = true;
      row.dataset.p = one.id;
      const folds = document.createElement("button");
      Object.assign(folds, {
        type: "button",
        className: "fold",
        textContent: folded.has(one.id) ? "▸" : "▾",
        title: folded.has(one.id) ? "Unfold" : "Fold",
      });
      folds.setAttribute("aria-label", `${folded.has(one.id) ? "Unfold" : "Fold"} ${one.text}`);
      folds.setAttribute("aria-expanded", String(!folded.has(one.id)));
      folds.addEventListener("click", () => {
        if (folded.has(one.id)) folded.delete(one.id);
        else folded.add(one.id);
        text.fold();
        lay();
      });
      const go = document.createElement("button");
      Object.assign(go, {
        type: "button",
        className: "go truncate",
        textContent: one.text || "…",
        title: `${one.text}: ${plural(one.words, "word")}. Drag, or Alt with the arrow keys, to move it with all under it`,
      });
      go.addEventListener("click", () => {
        text.go(one.id);
      });
      go.addEventListener("keydown", (event) => {
        if (!event.altKey || !["ArrowUp", "ArrowDown"].includes(event.key)) return;
        event.preventDefault();
        const peers = headings.map((_, i) => i).filter((i) => headings[i].level <= one.level);
        const place = peers.indexOf(n);
        const to =
          event.key === "ArrowUp"
            ? peers[place - 1]
            : (peers[place + 2] ?? (peers[place + 1] === undefined ? undefined : -1));
        if (to !== undefined) move(n, to === -1 ? null : headings[to].id);
      });
      const words = Object.assign(document.createElement("span"), {
        className: "aside",
        textContent: one.words ? counted(one.words) : "",
        title: "words",
      });
      const page = document.createElement("a");
      Object.assign(page, {
        className: "aside link",
        textContent: one.label ? `p. ${one.label}` : "",
        href: `${location.pathname.replace("manuscript/", "board/")}?page=${(one.page ?? 0) + 1}`,
        title: "Show on the board",
      });
      row.append(folds, go, words, page);
      return row;
    }),
  );
}

/** Move a heading with all that stands under it before another heading, or to the end. */
async function move(n, before) {
  await text.settled();
  const first = headings[n].id,
    next = headings[n + 1 + under(n)];
  const last = next ? text.before(next.id) : text.before(null);
  if (before === first) return;
  try {
    await text.write([{ do: "move-paragraphs", story: text.story(), first, last, before }]);
  } catch (error) {
    if (!(error instanceof HttpError)) throw error;
    return;
  }
  await text.refresh();
  beside.querySelector(`[data-p="${first}"] .go`)?.focus();
  text.block(first)?.scrollIntoView({ block: "center" });
}

let carried = "";
beside?.addEventListener("dragstart", (event) => {
  carried = event.target.closest("[data-p]")?.dataset.p || "";
  event.dataTransfer.setData("text/plain", "");
  event.dataTransfer.effectAllowed = "move";
});
beside?.addEventListener("dragover", (event) => {
  const row = event.target.closest(".heading-row");
  if (!carried || !row) return;
  event.preventDefault();
  for (const other of beside.querySelectorAll(".over, .over-foot")) other.classList.remove("over", "over-foot");
  row.classList.add(event.offsetY > row.offsetHeight / 2 ? "over-foot" : "over");
});
beside?.addEventListener("drop", (event) => {
  const row = event.target.closest(".heading-row");
  if (!carried || !row) return;
  event.preventDefault();
  const from = headings.findIndex((one) => one.id === carried),
    to = headings.findIndex((one) => one.id === row.dataset.p);
  const behind = row.classList.contains("over-foot");
  const target = behind ? headings[to + 1 + (folded.has(row.dataset.p) ? under(to) : 0)] : headings[to];
  carried = "";
  for (const other of beside.querySelectorAll(".over, .over-foot")) other.classList.remove("over", "over-foot");
  if (to > from && to <= from + under(from)) return; // into itself
  move(from, target ? target.id : null);
});
beside?.addEventListener("dragend", () => {
  carried = "";
  for (const other of beside.querySelectorAll(".over, .over-foot")) other.classList.remove("over", "over-foot");
});
