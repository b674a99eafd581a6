// The slip is put together from parts, a module a subject: each brings its values and handlers, and fills its own fields.
import { showRows } from "./rows.js";

const parts = [];

/**
 * Register a part of the slip. `members` (getters, handlers) become members of the component; `fill(slip, fields)` puts what is selected
 * into the part's fields, through the helpers of `fieldsIn`. `rows` are fields made from descriptions (`rows.js`), shown where there is
 * something to tell in them (`about`).
 * @param {{members: Record<string, any> & ThisType<any>, fill?: (slip: any, fields: any) => void, rows?: Record<string, import("./rows.js").Row[]>, about?: (slip: any) => boolean}} one
 */
export function part(one) { parts.push(one); }

/** The component with the members of every part. */
export function assembled(core) {
  for (const { members } of parts) Object.defineProperties(core, Object.getOwnPropertyDescriptors(members));
  return core;
}

export function fillParts(slip) {
  const fields = fieldsIn(slip.$root);
  for (const { fill, rows, about } of parts) {
    fill?.(slip, fields);
    if (rows && about(slip)) showRows(slip, rows);
  }
}

/** What puts values into fields; one that somebody types in is left alone. */
function fieldsIn(root) {
  const one = (selector) => root.querySelector(selector);
  return {
    one,
    all: (selector) => root.querySelectorAll(selector),
  };
}
