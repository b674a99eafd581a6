// The Flatplan: choosing, moving and setting up pages by pointer and by keyboard.
import { spreadList as list } from "./rooms.js";
import { onSteps } from "../strip.js";
import { dragPages } from "./drag.js";
import { open } from "./menu.js";
import { duplicate, fill, remove } from "./slip.js";
import { drawThread, lay, leafAt, mark } from "./spreads.js";
import { boardOf, chosen, onChange, send, state, step } from "./store.js";

function choose(index, { range = false, add = false } = {}) {
  const { pages } = state.plan;
  if (index < 0 || index >= pages.length) return;
  if (range) {
    const [from, to] = [Math.min(state.anchor, index), Math.max(state.anchor, index)];
    state.chosen = new Set(pages.slice(from, to + 1).map((page) => page.id));
  } else {
    if (!add) state.chosen.clear();
    if (add && state.chosen.has(pages[index].id)) state.chosen.delete(pages[index].id);
    else state.chosen.add(pages[index].id);
    state.anchor = index;
  }
  state.cursor = index;
  mark();
  fill();
  leafAt(index)?.focus({ preventScroll: true });
  leafAt(index)?.scrollIntoView({ block: "nearest" });
}

list.addEventListener("pointerdown", (event) => {
  const leaf = event.target.closest(".leaf[data-index]");
  if (!leaf || event.button !== 0) return;
  event.preventDefault();
  const index = Number(leaf.dataset.index);
  const on = state.chosen.has(state.plan.pages[index].id);
  const options = { range: event.shiftKey, add: event.ctrlKey || event.metaKey };
  if (!on || options.range || options.add) choose(index, options);
  dragPages(event, leafAt(index), () => {
    if (on && !options.range && !options.add) choose(index);
  });
});
list.addEventListener("contextmenu", (event) => {
  const leaf = event.target.closest(".leaf[data-index]");
  if (!leaf) return;
  event.preventDefault();
  const index = Number(leaf.dataset.index);
  if (!state.chosen.has(state.plan.pages[index].id)) choose(index);
  const box = leaf.getBoundingClientRect();
  open(event.clientX || box.left + 20, event.clientY || box.top + 40, { duplicate, remove }); // from the keyboard there is no pointer
});
list.addEventListener("dblclick", (event) => {
  const leaf = event.target.closest(".leaf[data-index]");
  if (leaf) location.href = boardOf(Number(leaf.dataset.index));
});

/** Pages in one row of the window, for the arrows up and down. */
function rowLength() {
  const tops = [...list.children].map((row) => row.offsetTop);
  const inFirst = tops.filter((top) => top === tops[0]).length;
  return inFirst * (state.plan.facing ? 2 : 1);
}

function shift(by) {
  const pages = chosen();
  if (!pages.length) return;
  const at = by < 0 ? pages[0].index + by : pages[pages.length - 1].index + 1 + by;
  if (at >= 0 && at <= state.plan.pages.length) send({ do: "move-pages", pages: pages.map((page) => page.id), at });
}

const keys = {
  ArrowLeft: () => -1,
  ArrowRight: () => 1,
  ArrowUp: () => -rowLength(),
  ArrowDown: () => rowLength(),
  Home: () => -state.cursor,
  End: () => state.plan.pages.length - 1 - state.cursor,
};
document.addEventListener("keydown", (event) => {
  if (event.target.closest("input, select, textarea, dialog, summary, button")) return;
  const control = event.ctrlKey || event.metaKey;
  if (control && event.key.toLowerCase() === "z") {
    event.preventDefault();
    step(event.shiftKey ? "redo" : "undo");
    return;
  }
  if (control && event.key.toLowerCase() === "a") {
    event.preventDefault();
    state.chosen = new Set(state.plan.pages.map((page) => page.id));
    mark();
    fill();
    return;
  }
  if (control) return;
  if (keys[event.key]) {
    event.preventDefault();
    const by = keys[event.key]();
    if (event.altKey) shift(by);
    else choose(Math.min(Math.max(state.cursor + by, 0), state.plan.pages.length - 1), { range: event.shiftKey });
  } else if (event.key === "Enter" && state.chosen.size) {
    event.preventDefault();
    location.href = boardOf(chosen()[0].index);
  } else if (event.key === "Delete" || event.key === "Backspace") {
    event.preventDefault();
    remove();
  } else if (event.key.toLowerCase() === "d") {
    event.preventDefault();
    duplicate();
  } else if (/^[1-9]$/.test(event.key) && state.chosen.size) {
    const master = state.plan.masters[Number(event.key) - 1];
    if (master) send({ do: "apply-master", master: master.id, pages: [...state.chosen] });
  } else if (event.key === "Escape") {
    state.chosen.clear();
    mark();
    fill();
  }
});
onSteps(step);
onChange(() => {
  lay();
  fill();
});
document.addEventListener("lexigon:go", (event) => {
  const { page } = /** @type {CustomEvent} */ (event).detail;
  if (page === null || !leafAt(page)) return;
  event.preventDefault();
  choose(page);
  leafAt(page).scrollIntoView({ block: "center" });
});
addEventListener("resize", drawThread);
lay();
fill();
