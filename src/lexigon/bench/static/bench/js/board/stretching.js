// What becomes of a box, or of a point, when it is dragged. Plain reckoning: nothing here is drawn.

const LEAST = 4; // points

/** @typedef {{x: number, y: number, w: number, h: number}} Box */

/** A box whose handle at `u`, `v` (parts of its width and height) was dragged by so much. `keep`s its proportions, `centred` grows to both
    sides alike.
    @param {Box} box @returns {Box} */
export function stretched(box, u, v, dx, dy, { keep = false, centred = false } = {}) {
  const times = centred ? 2 : 1;
  let w = Math.max(box.w + (u === 0 ? -dx : u === 1 ? dx : 0) * times, LEAST);
  let h = Math.max(box.h + (v === 0 ? -dy : v === 1 ? dy : 0) * times, LEAST);
  if (keep) {
    const [across, down] = [w / box.w, h / box.h];
    const by = u === 0.5 ? down : v === 0.5 ? across : Math.max(across, down);
    [w, h] = [Math.max(box.w * by, LEAST), Math.max(box.h * by, LEAST)];
  }
  const at = (start, was, is, part) =>
    centred || (keep && part === 0.5) ? start + (was - is) / 2 : part === 0 ? start + was - is : start;
  return { x: at(box.x, box.w, w, u), y: at(box.y, box.h, h, v), w, h };
}

/** The same of a box that is turned by so many degrees: before its own eye, what lies opposite stays where it is. */
export function stretchedTurned(box, degrees, u, v, dx, dy, how = {}) {
  const angle = (degrees * Math.PI) / 180;
  const [c, s] = [Math.cos(angle), Math.sin(angle)];
  const made = stretched(box, u, v, dx * c + dy * s, -dx * s + dy * c, how);
  const [ox, oy] = [made.x + made.w / 2 - box.x - box.w / 2, made.y + made.h / 2 - box.y - box.h / 2];
  const [cx, cy] = [box.x + box.w / 2 + ox * c - oy * s, box.y + box.h / 2 + ox * s + oy * c];
  return { x: cx - made.w / 2, y: cy - made.h / 2, w: made.w, h: made.h };
}

const STEP = Math.PI / 4;

/** A point as far from another one as it is, in the nearest of eight directions.
    @param {number[]} from @param {number[]} to @returns {[number, number]} */
export function inSteps([x0, y0], [x, y]) {
  const angle = Math.round(Math.atan2(y - y0, x - x0) / STEP) * STEP;
  const far = Math.hypot(x - x0, y - y0);
  return [x0 + far * Math.cos(angle), y0 + far * Math.sin(angle)];
}
