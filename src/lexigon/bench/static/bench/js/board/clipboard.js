// What is on its way to the clipboard: the server puts together what was copied, and who pastes before it is there means that.

/** @typedef {{ text: string, html: string }} Copied */
/** @type {Promise<Copied | null> | null} */
let coming = null;

/** Something was copied: `parts` is there once the clipboard holds it, null where it could not be had.
    @param {Promise<Copied | null>} parts */
export function goesOut(parts) {
  const own = parts.catch(() => null);
  coming = own;
  own.then(() => {
    if (coming === own) coming = null;
  });
  return parts;
}

/** What is on its way; null where the clipboard holds what was copied last. */
export const onItsWay = () => coming;
