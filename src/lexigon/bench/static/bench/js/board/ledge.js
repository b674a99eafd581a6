// The ledge below the board: the spread with its neighbours as miniatures, what is on or off, and the zoom.
import { register } from "../commands.js";
import { element, icon } from "../dom.js";
import { toggles, turning } from "./rooms.js";
import { fit, zoom } from "./sheet.js";
import { leaveMaster, on, show, state } from "./store.js";

/**
 * Something that is on or off, or has a menu of its own: a button, and a command where the finder has a word for it. They stand as they
 * come in ORDER. `on` says whether it is; `key` is a key with how the page of keys shows it.
 * @param {{id: string, word: string, title?: string, command?: string, keys?: string[], shown?: string[], help?: string, menu?: boolean, on: () => boolean, run: () => void}} one
 */
export function toggle({ id, word, title, command, menu, on: isOn, run, ...more }) {
  const button = element("button", {
    type: "button",
    id,
    class: "toggle",
    title,
    text: word,
    "aria-pressed": String(isOn()),
    ...(menu ? { "aria-haspopup": "menu" } : {}),
  });
  const press = () => {
    run();
    button.setAttribute("aria-pressed", String(isOn()));
  };
  button.addEventListener("click", press);
  button.addEventListener("mousedown", (event) => event.preventDefault()); // the caret stays in the text
  toggles.querySelector(`[data-toggle=${id}]`).replaceWith(button);
  if (command) register({ word: command, run: press, ...more });
  return { button, press };
}

const ORDER = ["proof", "texture", "marks", "invisibles", "guides", "clean"];
toggles.append(...ORDER.map((id) => element("span", { "data-toggle": id })));

const percent = element("button", {
  type: "button",
  id: "zoom",
  class: "w-14 whitespace-nowrap rounded px-1 py-1 text-center text-graphite hover:bg-act-soft",
  title: "Fit spread in window",
  text: "100 %",
  click: () => fit(),
});
const zoomer = (id, word, sign, by) =>
  element("button", { type: "button", id, class: "quiet", "aria-label": word, click: () => zoom(by) }, icon(sign));
toggles.append(zoomer("zoom-out", "Zoom out", "minus", 0.8), percent, zoomer("zoom-in", "Zoom in", "plus", 1.25));
on("zoom", (is) => {
  percent.textContent = `${is} %`;
});

// Miniatures

/** What is done before another spread is shown. @type {() => void} */
let leaving = () => {};
/** @param {() => void} before */
export function beforeTurning(before) {
  leaving = before;
}

export function turn(by) {
  if (state.master) return;
  const target = by > 0 ? state.view[state.view.length - 1] + 1 : state.view[0] - 1;
  if (target >= 0 && target < state.count) {
    leaving();
    show(target);
  }
}

const spreadOf = (index) =>
  (!state.sheet.facing ? [index] : index === 0 ? [0] : index % 2 ? [index, index + 1] : [index - 1, index]).filter(
    (page) => page >= 0 && page < state.count,
  );

function miniature(spread, fresh) {
  const images = spread.map((index) =>
    element("img", {
      alt: "",
      height: 28,
      width: Math.round((28 * state.sheet.width) / state.sheet.height),
      src: `/job/${state.key}/flatplan/${index}-r${fresh}.webp`,
    }),
  );
  const label = spread
    .map((index) => state.labels[index] ?? index + 1)
    .filter((_, n, all) => !n || n === all.length - 1)
    .join("–");
  const now = spread === state.view ? { "aria-current": "true" } : {};
  return element(
    "button",
    {
      type: "button",
      class: "thumb",
      "aria-label": `Pages ${label}`,
      ...now,
      click: () => {
        leaving();
        show(spread[0]);
      },
    },
    element("span", { class: "pic" }, ...images),
    element("span", { text: label }),
  );
}

/** The spread with its neighbours; of a master page the way back. */
function lay(fresh) {
  if (state.master) {
    turning.replaceChildren(
      element("button", {
        type: "button",
        class: "button",
        text: "Close master page",
        click: () => {
          leaving();
          leaveMaster();
        },
      }),
    );
    return;
  }
  const first = state.view[0],
    behind = state.view[state.view.length - 1] + 1;
  const [before, after] = [first > 0 && spreadOf(first - 1), behind < state.count && spreadOf(behind)];
  const arrow = (by, word, there) =>
    element("button", {
      type: "button",
      class: "quiet",
      text: by < 0 ? "‹" : "›",
      disabled: !there,
      "aria-label": word,
      click: () => turn(by),
    });
  turning.replaceChildren(
    arrow(-1, "Previous spread", before),
    ...[before, state.view, after].filter(Boolean).map((spread) => miniature(spread, fresh)),
    arrow(1, "Next spread", after),
  );
}

const SETTLED = 1200; // milliseconds after the last change, when miniatures are made anew
let timer = 0;
let shown = state.revision;

on("pages", ({ turned }) => {
  clearTimeout(timer);
  if (turned) lay(shown || state.revision);
  timer = setTimeout(() => {
    if (shown !== state.revision) {
      shown = state.revision;
      lay(shown);
    }
  }, SETTLED);
});

export const layLedge = () => lay(shown);
