// Adjustments of single records, as Merge and the board list them.
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
