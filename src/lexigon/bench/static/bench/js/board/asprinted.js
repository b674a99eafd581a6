// Regions of the page that are shown as they print (core/paint/blended.py) show the page as it was: they are hidden while something below
// them changes. While something is dragged or sent that is all of them (styles/board.css); while words are typed, those over their frames.
import { frames } from "./standing.js";
import { board, sheet } from "./sheet.js";
import { on } from "./state.js";

const MOVED = 3; // pixels from which on a press is a drag

const regions = () => document.querySelectorAll(".as-printed");

/** Hide the regions over the frames of a story until the answer to what was typed in it. */
export function hideOver(story) {
  const found = [...regions()];
  if (!found.length) return;
  const boxes = frames()
    .filter((one) => one.story === story)
    .map(({ group }) => group.getBoundingClientRect());
  for (const region of found) {
    const r = region.getBoundingClientRect();
    if (boxes.some((b) => b.left < r.right && b.right > r.left && b.top < r.bottom && b.bottom > r.top))
      region.classList.add("outdated");
  }
}

on("pages", () => {
  for (const region of regions()) region.classList.remove("outdated");
});

sheet.addEventListener(
  "pointerdown",
  (press) => {
    const moved = (event) => {
      if (Math.hypot(event.clientX - press.clientX, event.clientY - press.clientY) >= MOVED)
        board.classList.add("by-hand");
    };
    const end = () => {
      removeEventListener("pointermove", moved, true);
      for (const name of ["pointerup", "pointercancel"]) removeEventListener(name, end, true);
      board.classList.remove("by-hand");
    };
    addEventListener("pointermove", moved, true);
    for (const name of ["pointerup", "pointercancel"]) addEventListener(name, end, true);
  },
  true,
);
