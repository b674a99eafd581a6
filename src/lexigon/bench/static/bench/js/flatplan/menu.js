// The menu of a page: what can be done to the chosen pages, where the pointer is.
import { open as show } from "../menu.js";
import { boardOf, chosen, send, state } from "./store.js";

/** Open the menu at a point. `actions` are the slip's own: duplicate and remove. */
export function open(x, y, { duplicate, remove }) {
  const pages = chosen();
  const ids = pages.map((page) => page.id);
  const [first] = pages;
  const last = pages[pages.length - 1];
  const items = [
    [
      "Open on the board",
      () => {
        location.href = boardOf(first.index);
      },
    ],
    ["Add page before", () => send({ do: "add-pages", at: first.index, count: 1, master: first.master || null })],
    ["Add page after", () => send({ do: "add-pages", at: last.index + 1, count: 1, master: last.master || null })],
    ["Duplicate", duplicate],
    ["Delete", remove],
    [
      first.section ? "Merge with the section before" : "Start section here",
      () =>
        send({
          do: "put-section",
          page: first.id,
          section: first.section ? null : { name: "", start: null, style: "1", prefix: "", opens: "anywhere" },
        }),
    ],
    [
      pages.every((page) => page.shown) ? "Hide page number" : "Show page number",
      () => send({ do: "number-pages", pages: ids, shown: !pages.every((page) => page.shown) }),
    ],
    ...state.plan.masters.map((master) => [
      `Master page: ${master.name}`,
      () => send({ do: "apply-master", master: master.id, pages: ids }),
    ]),
  ];
  show(x, y, items, document.querySelector(".leaf.on"));
}
