// What the pointer draws on the board before it is done: a draft, the lines it snaps to, the numbers beside the pointer.
import { numbers } from "./rooms.js";
import { board, bounds, pageX, sheet, view } from "./sheet.js";
import { evenGaps, pulled, targets } from "./snapping.js";
import { frames, inText } from "./standing.js";
import { emit, length, state } from "./store.js";

const SNAP = 5;
export const sketch = { draft: null, lines: [], bars: [] };

/** Show words beside the pointer. */
export function tell(event, words) {
  const box = board.getBoundingClientRect();
  numbers.textContent = words;
  numbers.hidden = false;
  numbers.style.left = `${Math.min(event.clientX - box.left + 16, box.width - numbers.offsetWidth - 8)}px`;
  numbers.style.top = `${Math.min(event.clientY - box.top + 16, box.height - 30)}px`;
}

const KEPT = "lexigon-snaps-off";
const off = new Set(JSON.parse(localStorage.getItem(KEPT) || '["grid"]')); // its lines are so near each other that nothing could stand between them

/** Whether a kind of things is snapped to; and to switch it. */
export const snapsTo = (kind) => !off.has(kind);
export function setSnap(kind, on) {
  if (on) off.delete(kind);
  else off.add(kind);
  localStorage.setItem(KEPT, JSON.stringify([...off]));
}

/** Where edges like to go on a page: targets by axis, and the boxes of the other objects there. `except` are ids that move themselves. */
export function magnets(page, except) {
  const moving = new Set([except].flat());
  const others = frames()
    .filter((f) => f.page === page && !f.field && !f.held && !inText(f) && !moving.has(f.id))
    .map((f) => ({ ...bounds(f), name: f.name }));
  const { side, lines } = state.pages[page];
  return {
    ...targets(
      { lines, side, bleed: state.sheet.bleed, grid: state.sheet.grid, squares: state.sheet.squares },
      others,
      snapsTo,
    ),
    others,
  };
}

/** How far to shift so that one of `edges` lies on a magnet; and the magnet. */
export const pull = (edges, all) => pulled(edges, all, SNAP / view.scale);

/** The same for a box that is moved: to magnets, else to where gaps are equal. */
export function pullBox(box, { xs, ys, others }) {
  const gap = (axis) => (snapsTo("gaps") ? evenGaps(box, others, axis, SNAP / view.scale) : null);
  return {
    x: pull([box.x, box.x + box.w / 2, box.x + box.w], xs) || gap("x"),
    y: pull([box.y, box.y + box.h / 2, box.y + box.h], ys) || gap("y"),
  };
}

/** Show the magnets that something lies on, and why; equal gaps as bars with their length. */
export function snapLines(page, x, y) {
  sketch.lines = [];
  sketch.bars = [];
  const px = pageX(page);
  const bar = (one, axis) => {
    for (const { from, to, at } of one.bars)
      sketch.bars.push(
        axis === "x"
          ? { x1: px + from, x2: px + to, y1: at, y2: at, words: length(one.gap) }
          : { x1: px + at, x2: px + at, y1: from, y2: to, words: length(one.gap) },
      );
  };
  if (x?.bars) bar(x, "x");
  else if (x) sketch.lines.push({ x1: px + x.target, x2: px + x.target, y1: -2000, y2: 4000, why: x.why });
  if (y?.bars) bar(y, "y");
  else if (y) sketch.lines.push({ x1: -2000, x2: 6000, y1: y.target, y2: y.target, why: y.why });
}

/** Follow the pointer until it is let go: then `done(event, draft)`. Esc, or a lost pointer, leaves everything as it was: `left()`. */
export function drag(event, moved, done, left = () => {}) {
  sheet.setPointerCapture(event.pointerId);
  const stop = (last) => {
    for (const [name, listener] of Object.entries(listeners)) sheet.removeEventListener(name, listener);
    removeEventListener("keydown", escape, true);
    numbers.hidden = true;
    sketch.lines = [];
    sketch.bars = [];
    const result = sketch.draft;
    sketch.draft = null;
    if (last) done(last, result);
    else {
      left();
      emit("sketch");
    }
  };
  const escape = (key) => {
    if (key.key === "Escape") {
      key.preventDefault();
      key.stopPropagation();
      stop(null);
    }
  };
  const listeners = { pointermove: moved, pointerup: (last) => stop(last), pointercancel: () => stop(null) };
  for (const [name, listener] of Object.entries(listeners)) sheet.addEventListener(name, listener);
  addEventListener("keydown", escape, true);
}
