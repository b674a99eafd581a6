// What the pointer draws on the board before it is done: a draft, the lines it snaps to, the numbers beside the pointer.
import { board, pageX, sheet, view } from "./sheet.js";
import { frames } from "./standing.js";
import { emit, state } from "./store.js";

const numbers = document.getElementById("numbers");
const SNAP = 5;
export const sketch = { draft: null, lines: [] };

/** Show words beside the pointer. */
export function tell(event, words) {
  const box = board.getBoundingClientRect();
  numbers.textContent = words;
  numbers.hidden = false;
  numbers.style.left = `${Math.min(event.clientX - box.left + 16, box.width - numbers.offsetWidth - 8)}px`;
  numbers.style.top = `${Math.min(event.clientY - box.top + 16, box.height - 30)}px`;
}

/** Where edges like to go: margins, trim, bleed, centres, other frames. Page coordinates. */
export function magnets(page, except) {
  const { bleed } = state.sheet;
  const { side, lines: own } = state.pages[page];
  const { w: width, h: height, area } = own;
  const left = side === "recto" ? bleed.inner : bleed.outer;
  const right = side === "recto" ? bleed.outer : bleed.inner;
  const xs = [0, width, width / 2, -left, width + right, area.x, area.x + area.w];
  const ys = [0, height, height / 2, -bleed.head, height + bleed.foot, area.y, area.y + area.h];
  if (!own.panels) {
    const step = (area.w + own.gutter) / own.columns;
    for (let i = 0; i < own.columns; i += 1) xs.push(area.x + i * step, area.x + (i + 1) * step - own.gutter);
    const down = (area.h + own.rowGutter) / own.rows;
    for (let i = 0; i < own.rows; i += 1) ys.push(area.y + i * down, area.y + (i + 1) * down - own.rowGutter);
  }
  for (const panel of own.panels || []) {
    xs.push(panel.x, panel.x + panel.w, panel.x + panel.w / 2, panel.safe.x, panel.safe.x + panel.safe.w);
    ys.push(panel.y, panel.y + panel.h, panel.y + panel.h / 2, panel.safe.y, panel.safe.y + panel.safe.h);
  }
  for (const { axis, at } of own.guides) (axis === "x" ? xs : ys).push(at);
  for (const f of frames()) if (f.page === page && f.id !== except && !f.field) { xs.push(f.x, f.x + f.w); ys.push(f.y, f.y + f.h); }
  return { xs, ys };
}

/** How far to shift so that one of `edges` lies on a magnet; and the magnet. */
export function pull(edges, targets) {
  let best = null;
  for (const edge of edges) for (const target of targets) {
    const shift = target - edge;
    if (Math.abs(shift) * view.scale <= SNAP && (!best || Math.abs(shift) < Math.abs(best.shift))) best = { shift, target };
  }
  return best;
}

/** Show the magnets that something lies on. */
export function snapLines(page, x, y) {
  sketch.lines = [];
  const px = pageX(page);
  if (x) sketch.lines.push({ x1: px + x.target, x2: px + x.target, y1: -2000, y2: 4000 });
  if (y) sketch.lines.push({ x1: -2000, x2: 6000, y1: y.target, y2: y.target });
}

/** Follow the pointer until it is let go: then `done(event, draft)`. Esc, or a lost pointer, leaves everything as it was: `left()`. */
export function drag(event, moved, done, left = () => {}) {
  sheet.setPointerCapture(event.pointerId);
  const stop = (last) => {
    for (const [name, listener] of Object.entries(listeners)) sheet.removeEventListener(name, listener);
    removeEventListener("keydown", escape, true);
    numbers.hidden = true;
    sketch.lines = [];
    const result = sketch.draft;
    sketch.draft = null;
    if (last) done(last, result); else { left(); emit("sketch"); }
  };
  const escape = (key) => { if (key.key === "Escape") { key.preventDefault(); key.stopPropagation(); stop(null); } };
  const listeners = { pointermove: moved, pointerup: (last) => stop(last), pointercancel: () => stop(null) };
  for (const [name, listener] of Object.entries(listeners)) sheet.addEventListener(name, listener);
  addEventListener("keydown", escape, true);
}
