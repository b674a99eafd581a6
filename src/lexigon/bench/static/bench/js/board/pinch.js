// Two fingers on the board move and zoom the view; what one of them had begun is given up.
import { board, pan, sheet, zoom } from "./sheet.js";

const touches = new Map();
let before = null;

/** The middle of the two fingers on the board, and how far they are apart, in pixels. */
function held() {
  const [a, b] = [...touches.values()];
  const box = board.getBoundingClientRect();
  return {
    x: (a.x + b.x) / 2 - box.left,
    y: (a.y + b.y) / 2 - box.top,
    apart: Math.max(Math.hypot(a.x - b.x, a.y - b.y), 1),
  };
}

sheet.addEventListener(
  "pointerdown",
  (event) => {
    if (event.pointerType !== "touch") return;
    touches.set(event.pointerId, { x: event.clientX, y: event.clientY });
    if (touches.size < 2) return;
    event.stopImmediatePropagation();
    if (touches.size === 2)
      for (const pointerId of touches.keys())
        sheet.dispatchEvent(new PointerEvent("pointercancel", { pointerId, pointerType: "pinch", bubbles: true }));
    before = held();
  },
  true,
);

addEventListener(
  "pointermove",
  (event) => {
    if (!touches.has(event.pointerId)) return;
    touches.set(event.pointerId, { x: event.clientX, y: event.clientY });
    if (!before || touches.size < 2) return;
    event.stopImmediatePropagation();
    const now = held();
    pan(now.x - before.x, now.y - before.y);
    zoom(now.apart / before.apart, now.x, now.y);
    before = now;
  },
  true,
);

for (const name of /** @type {("pointerup" | "pointercancel")[]} */ (["pointerup", "pointercancel"]))
  addEventListener(
    name,
    (event) => {
      if (event.pointerType === "pinch" || !touches.delete(event.pointerId)) return; // what was begun hears of its end
      if (before) event.stopImmediatePropagation();
      if (!touches.size) before = null; // the finger that stays begins nothing
    },
    true,
  );
