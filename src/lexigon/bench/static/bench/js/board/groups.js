// A group that is selected whole: its box, how it is blended, and setting its position, size and rotation as one.
import { pageX } from "./sheet.js";
import { inText } from "./standing.js";
import { send, state } from "./store.js";

/** @typedef {{page: number, x: number, y: number, w: number, h: number, rotation: number}} Box */

/** The group that some objects are, all of them and nothing else; null where they are something else. Its box is that before it is rotated.
    @returns {{id: string, name: string, page: string, box: Box, opacity: number, blend: string, cut: boolean | string} | null} */
export function wholeGroup(objects) {
  const first = objects[0],
    id = first?.inGroup;
  if (!id || first.master || !objects.every((f) => f.inGroup === id && !inText(f))) return null;
  const at = first.groups.indexOf(id);
  const {
    box: [x, y, w, h, rotation],
    ...mix
  } = first.groupMixes[at];
  return {
    id,
    name: first.groupNames[at],
    page: state.pages[first.page].id,
    box: { page: first.page, x, y, w, h, rotation },
    opacity: 1,
    blend: "normal",
    cut: false,
    ...mix,
  };
}

/** Put a group into another box, with everything in it. */
export const placeGroup = (group, { x, y, w, h, rotation }) =>
  send([
    {
      do: "place-group",
      page: group.page,
      group: group.id,
      rect: { x, y, width: w, height: h },
      rotation: ((rotation % 360) + 360) % 360,
      strokes: option("strokes"),
    },
  ]);

const DEFAULTS = { proportions: true, strokes: false };
const key = (name) => `lexigon-scale-${name}`;

/** Whether groups, and several objects at once, keep their proportions when they are scaled; whether stroke weights are scaled with them.
    @param {"proportions" | "strokes"} name */
export const option = (name) => JSON.parse(localStorage.getItem(key(name)) ?? String(DEFAULTS[name]));
export const setOption = (name, on) => localStorage.setItem(key(name), String(on));

/** The ends of a rule on its page: from the left to the right of its box, along the middle, wherever that is rotated to. */
export function endsOf({ x, y, w, h, rotation = 0, mirrored = false }) {
  const [cx, cy, angle, half] = [x + w / 2, y + h / 2, (rotation * Math.PI) / 180, (mirrored ? -w : w) / 2];
  const [dx, dy] = [half * Math.cos(angle), half * Math.sin(angle)];
  return { start: { x: cx - dx, y: cy - dy }, end: { x: cx + dx, y: cy + dy } };
}

/** Where the ends of a rule are drawn, on what is shown. */
export const endsShown = (f) => Object.values(endsOf(f)).map(({ x, y }) => ({ x: x + pageX(f.page), y }));
