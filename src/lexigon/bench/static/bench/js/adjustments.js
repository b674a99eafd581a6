// Adjustments of single records, as Merge and the board list and make them.
import { element } from "./dom.js";

/** A row for an adjustment, with a button that removes it: `change` carries out an intent. */
export const adjustmentRow = ({ id, words }, change) =>
  element(
    "div",
    { class: "flex items-center gap-2 py-1" },
    element("span", { class: "min-w-0 flex-1", text: words }),
    element("button", {
      type: "button",
      class: "quiet",
      "data-key": `adjustment-${id}`,
      "aria-label": `Remove adjustment: ${words}`,
      title: "Remove adjustment",
      text: "×",
      click: () => change({ do: "remove-record-adjustment", id }),
    }),
  );

const LINE_BREAK = "\u2028";
const SHOWN_BREAK = " ⏎ ";
export const ONLY_THIS_RECORD =
  "Only this record changes. The adjustment stays when the records are reloaded, as long as the key field names it the same.";

/** A field for the words of an object, with a line for each paragraph. */
export function wordsField(paragraphs) {
  const field = /** @type {HTMLTextAreaElement} */ (
    element("textarea", { class: "field", rows: "5", "aria-label": "Words" })
  );
  field.value = paragraphs.join("\n").replaceAll(LINE_BREAK, SHOWN_BREAK);
  return field;
}

/** The paragraphs in such a field; null if they are what they were. */
export function wordsIn(field, before) {
  const now = field.value.replaceAll(SHOWN_BREAK, LINE_BREAK).split("\n");
  return now.join("\n") === before.join("\n") ? null : now;
}
