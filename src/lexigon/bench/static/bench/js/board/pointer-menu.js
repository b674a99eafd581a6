// The menu at the pointer: what fits what is chosen, with its keys; made from the commands.
import { commands } from "../commands.js";
import { open } from "../menu.js";
import { chosen, current, is, select } from "./frames.js";
import { frameAt, pageX, point, sheet, view } from "./sheet.js";
import { placeNear } from "./lines.js";
import { emit, state } from "./store.js";
import { mistakeAt, remediesFor } from "./spelling.js";
import * as text from "./text.js";

const sign = ({ shown, keys }) => {
  const [key = ""] = shown?.length === 1 ? shown : keys || [];
  return /^[A-Z]$/.test(key) && shown?.length !== 1 ? `Shift ${key}` : key.length === 1 ? key.toUpperCase() : key;
};

/** The commands that belong to the menu, in their groups, with a line between. */
function items() {
  const found = commands()
    .filter(({ menu, needs }) => menu && !needs)
    .sort((a, b) => a.menu - b.menu);
  return found.flatMap((one, n) => [
    ...(n && found[n - 1].menu !== one.menu ? [null] : []),
    [one.word, one.run, sign(one)],
  ]);
}

sheet.addEventListener("contextmenu", async (event) => {
  event.preventDefault();
  let { clientX: x, clientY: y } = event;
  const held = current();
  if (event.button === 2 || event.detail) {
    // by the pointer: what is under it is meant
    const top = state.tool === "text" || state.cells ? frameAt(point(event), { cells: true }) : null,
      cell = top?.cell ? top : null;
    if (cell && !chosen().some((f) => is(f, cell))) emit("cells", { from: cell, to: cell, anew: true });
    const frame = cell || frameAt(point(event));
    if (!frame) {
      if (held) select(null);
    } else if (!chosen().some((f) => is(f, frame))) {
      text.leave();
      select(frame);
    }
  } else if (held) {
    // by the keyboard: at what is chosen
    const box = sheet.getBoundingClientRect();
    x = box.left + (pageX(held.page) + held.x) * view.scale + view.x + 12;
    y = box.top + held.y * view.scale + view.y + 12;
  }
  const story = text.active() ? text.caret.story : current()?.story;
  const mistake = story && event.detail !== undefined ? mistakeAt(placeNear(story, point(event))) : undefined;
  const all = [...(mistake ? await remediesFor(mistake) : []), ...items()];
  if (all.length) open(x, y, all, sheet);
});
