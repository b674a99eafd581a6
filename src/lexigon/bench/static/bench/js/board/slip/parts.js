// The slip is put together from parts, a module a subject: each brings its values and handlers, and fills its own fields.
import { showRows } from "./rows.js";

const parts = [];

/**
 * Register a part of the slip. `members` (getters, handlers) become members of the component; `fill(slip, { one, all })` shows what is
 * selected in elements that it looks up by `one` and `all`. `rows` are fields made from descriptions (`rows.js`), shown where there is
 * something to tell in them (`about`).
 * @param {{members: Record<string, any> & ThisType<any>, fill?: (slip: any, within: any) => void, rows?: Record<string, import("./rows.js").Row[]>, about?: (slip: any) => boolean}} one
 */
export function part(one) {
  parts.push(one);
}

/** The component with the members of every part. */
export function assembled(core) {
  for (const { members } of parts) Object.defineProperties(core, Object.getOwnPropertyDescriptors(members));
  return core;
}

export function fillParts(slip) {
  const root = slip.$root;
  const within = {
    one: (selector) => root.querySelector(selector),
    all: (selector) => root.querySelectorAll(selector),
  };
  for (const { fill, rows, about } of parts) {
    fill?.(slip, within);
    if (rows && about(slip)) showRows(slip, rows);
  }
}
