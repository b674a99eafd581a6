// The list of findings, the gravest first.
import { element } from "../dom.js";
import { counted } from "../numerals.js";
import { empty, list, shows } from "./rooms.js";
import { choose, onChange, rows, select, state } from "./state.js";

const SHOWS = /** @type {const} */ ([
  ["all", "All"],
  ["error", "Errors"],
  ["warning", "Warnings"],
  ["note", "Notes"],
  ["accepted", "Accepted"],
]);
const NONE = {
  all: "Nothing is left to check.",
  error: "There are no errors.",
  warning: "There are no warnings.",
  note: "There are no notes.",
  accepted: "No finding is accepted. Select one and click “Accept…” if it is all right as it is.",
};

export const placeOf = ({ label }) => (label ? `page ${label}` : "");

function layShows() {
  shows.replaceChildren(
    ...SHOWS.map(([show, word]) =>
      element("button", {
        type: "button",
        "aria-pressed": String(state.show === show),
        text: `${word} ${counted(rows(show).length)}`,
        click: () => choose(show),
      }),
    ),
  );
}

const row = (one) =>
  element(
    "div",
    {
      class: "check-row",
      role: "option",
      id: `finding-${one.mark}`,
      "aria-selected": String(one.mark === state.mark),
      click: () => select(one.mark),
    },
    element("i", { class: `check-mark ${one.level}`, title: one.level }),
    element("b", {}, element("span", { class: "sr-only", text: `${one.level}: ` }), one.title),
    element("small", { text: placeOf(one) }),
    element("span", { text: one.text }),
  );

let laid = /** @type {unknown[]} */ ([]); // what the list shows: thousands of rows are laid again only if it changes

function lay() {
  const own = rows();
  const now = [state.open, state.accepted, state.show];
  if (now.some((one, at) => one !== laid[at])) {
    layShows();
    list.replaceChildren(...own.map(row));
    laid = now;
  } else {
    for (const one of list.querySelectorAll("[aria-selected=true]")) one.setAttribute("aria-selected", "false");
    list.querySelector(`[id="finding-${state.mark}"]`)?.setAttribute("aria-selected", "true");
  }
  list.hidden = !own.length;
  empty.hidden = Boolean(own.length);
  empty.textContent = NONE[state.show];
  if (state.mark) list.setAttribute("aria-activedescendant", `finding-${state.mark}`);
  else list.removeAttribute("aria-activedescendant");
}

list.addEventListener("keydown", (event) => {
  const own = rows();
  const at = own.findIndex(({ mark }) => mark === state.mark);
  const next = { ArrowDown: at + 1, ArrowUp: at - 1, Home: 0, End: own.length - 1 }[event.key];
  if (next === undefined) return;
  event.preventDefault();
  const one = own[Math.min(Math.max(next, 0), own.length - 1)];
  if (!one) return;
  select(one.mark);
  list.querySelector("[aria-selected=true]")?.scrollIntoView({ block: "nearest" });
});

onChange(lay);
