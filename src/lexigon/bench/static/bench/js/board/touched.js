// What a line of the history changed, shown on the board while it is pointed at.
import { areaOf, transformOf } from "./lines.js";
import { make, pageX, turnOf, world } from "./sheet.js";
import { frames, linesOf } from "./standing.js";
import { inquire, on, show, state } from "./store.js";

const layer = make("g", { class: "touched" }, world);
const known = new Map();
let wanted = 0;

export const clear = () => {
  wanted = 0;
  layer.replaceChildren();
};

/** Show the page of a change, with what it touched marked. */
export async function pointOut(revision) {
  wanted = revision;
  const key = `${revision} in ${state.revision}`;
  if (!known.has(key)) known.set(key, await inquire("history/touched", { revision }));
  if (wanted !== revision) return;
  const { page, frames: changed, paragraphs } = known.get(key);
  if (page !== null && !state.view.includes(page) && page < state.count) await show(page);
  if (wanted !== revision) return;
  draw(new Set(changed), paragraphs);
}

function draw(changed, paragraphs) {
  layer.replaceChildren();
  for (const f of frames())
    if (changed.has(f.id))
      make("rect", { x: pageX(f.page) + f.x, y: f.y, width: f.w, height: f.h, transform: turnOf(f) }, layer);
  for (const [story, ids] of Object.entries(paragraphs)) {
    const wordy = new Set(ids);
    for (const line of linesOf(story))
      if (wordy.has(line.p))
        make("polygon", { points: areaOf(line, line.s, line.e).join(" "), transform: transformOf(line) }, layer);
  }
}

on("pages", () => layer.replaceChildren());
