// Guides: pulled out of the rulers, moved, dragged off, listed with exact places, made for columns and rows; and the page grid.
import { askFor } from "./asking.js";
import { numbers } from "./rooms.js";
import { register } from "../commands.js";
import { ask, input, select } from "../notice.js";
import { element } from "../dom.js";
import { draw } from "./frames.js";
import { magnets, pull, sketch, tell } from "./gestures.js";
import { parseLength } from "./numbers.js";
import { ORIGINS, across, down, originName, originOf } from "./origin.js";
import { RULER, board, pageAt, pageX, point, spreadWith, spreadsShown, view } from "./sheet.js";
import { activeLayer, emit, send, state, toast } from "./store.js";

const NEAR = 4; // pixels within which a guide is caught
let locked = localStorage.getItem("lexigon-guides-locked") === "on";

const own = (index) =>
  state.pages[index].lines.guides
    .filter((guide) => guide.own)
    .map(({ axis, at, side, layer = null }) => ({ axis, at, side, layer }));
/** The layer of a new guide: the one that is worked on, where there are several. */
const layerOf = () => (state.layers.length > 1 ? activeLayer().id : null);
const held = (index) =>
  new Set(
    state.pages[index].lines.guides.filter((guide) => guide.held || guide.seen === false).map(({ layer }) => layer),
  );
const put = (index, guides) => send([{ do: "put-guides", page: state.pages[index].id, guides }]).catch(() => {});
export const fine = (at) => Math.round(at * 1000) / 1000;

/** The page's own guide at a point of the spread, with its page and its place among them. */
export function guideAt(at) {
  if (locked || !state.guides || state.clean) return null;
  const { index, x, y } = pageAt(at);
  const all = own(index);
  const still = held(index);
  const found = all.findIndex(
    (guide) => !still.has(guide.layer) && Math.abs((guide.axis === "x" ? x : y) - guide.at) * view.scale <= NEAR,
  );
  return found < 0 ? null : { index, n: found, ...all[found] };
}

/** Follow the pointer with a guide. Let go beside the board, or on a ruler, it is none; `done(place, event)` hears where it was let go. */
function carry(event, axis, done) {
  const target = event.currentTarget;
  target.setPointerCapture(event.pointerId);
  let place = null;
  const moved = (e) => {
    const box = board.getBoundingClientRect();
    const edge = board.querySelector(".ruler:not([hidden])") ? RULER : 0;
    const off =
      e.clientX < box.left || e.clientY < box.top + edge || e.clientX > box.right - edge || e.clientY > box.bottom;
    const spot = point(e);
    const { index, x, y } = pageAt(spot);
    let at = axis === "x" ? x : y;
    if (!e.altKey) {
      const near = pull([at], axis === "x" ? magnets(index, "").xs : magnets(index, "").ys);
      at += near?.shift || 0;
    }
    place = off ? null : { index, at: fine(at) };
    const px = pageX(index);
    sketch.lines = off
      ? []
      : [axis === "x" ? { x1: px + at, x2: px + at, y1: -2000, y2: 4000 } : { x1: -2000, x2: 6000, y1: at, y2: at }];
    tell(e, off ? "release here to discard the guide" : (axis === "x" ? across : down)(index, at));
    draw();
  };
  const stop = (e) => {
    for (const [name, listener] of Object.entries(listeners)) target.removeEventListener(name, listener);
    removeEventListener("keydown", escape, true);
    sketch.lines = [];
    numbers.hidden = true;
    draw();
    if (e?.type === "pointerup") done(place, e);
  };
  const escape = (key) => {
    if (key.key === "Escape") {
      key.preventDefault();
      key.stopPropagation();
      stop(null);
    }
  };
  const listeners = { pointermove: moved, pointerup: stop, pointercancel: stop };
  for (const [name, listener] of Object.entries(listeners)) target.addEventListener(name, listener);
  addEventListener("keydown", escape, true);
}

export function pullOut(event, ruler) {
  event.preventDefault();
  const axis = ruler === "x" ? "y" : "x"; // a guide lies along the ruler that it is pulled from
  carry(event, axis, (place, last) => {
    if (!place) return;
    const guide = { axis, at: place.at, side: "both", layer: layerOf() };
    const pages = last.ctrlKey || last.metaKey ? spreadWith(place.index) : [place.index]; // with Ctrl it is the whole spread's
    send(
      pages.map((index) => ({ do: "put-guides", page: state.pages[index].id, guides: [...own(index), guide] })),
    ).catch(() => {});
  });
}

/** Take hold of a guide under the pointer: it is moved, or dragged off. Whether there was one. */
export function holdGuide(event) {
  const guide = guideAt(point(event));
  if (!guide) return false;
  carry(event, guide.axis, (place) => {
    const rest = own(guide.index).filter((_, n) => n !== guide.n);
    if (!place) put(guide.index, rest);
    else if (place.index !== guide.index) {
      put(guide.index, rest);
      put(place.index, [...own(place.index), { axis: guide.axis, at: place.at, side: "both", layer: guide.layer }]);
    } else if (place.at !== guide.at)
      put(guide.index, [...rest, { axis: guide.axis, at: place.at, side: guide.side, layer: guide.layer }]);
  });
  return true;
}

/** The guides of the pages in view in a list: each with its place, to be typed, taken away, or added to. */
async function typeGuides() {
  const list = element("div", { class: "guide-rows" });
  const pages = state.view.map((index) => [
    String(index),
    state.master ? (state.pages[index].side === "recto" ? "right" : "left") : state.pages[index].label,
  ]);
  const spreads = spreadsShown()
    .filter((one) => one.length > 1)
    .map((one) => [`spread ${one.join(" ")}`, `both, ${one.map((index) => state.pages[index].label).join("–")}`]);
  const rows = [];
  const row = (guide, index) => {
    const axis = select(
      [
        ["x", "vertical"],
        ["y", "horizontal"],
      ],
      guide?.axis || "x",
    );
    const place = input(guide ? (guide.axis === "x" ? across : down)(index, guide.at) : "", "20 mm");
    const on = select(guide ? pages : [...pages, ...(spreads.length ? spreads : [])], String(index));
    for (const [field, word] of /** @type {[HTMLElement, string][]} */ ([
      [axis, "Direction"],
      [place, "Position"],
      [on, "Pages"],
    ]))
      field.setAttribute("aria-label", `Guide ${rows.length + 1}: ${word.toLowerCase()}`);
    place.autofocus = !rows.length;
    const one = { guide, index, axis, place, on, was: place.value, gone: false };
    const drop = element("button", {
      type: "button",
      class: "quiet",
      text: "×",
      "aria-label": `Delete guide ${rows.length + 1}`,
      click: () => {
        one.gone = true;
        box.remove();
      },
    });
    const box = element("div", { class: "guide-row" }, axis, place, on, drop);
    rows.push(one);
    list.append(box);
    return place;
  };
  for (const index of state.view) for (const guide of own(index)) row(guide, index);
  const another = element("button", {
    type: "button",
    class: "link",
    text: "Add guide",
    click: () => row(null, state.view[state.view.length - 1]).focus(),
  });
  if (!rows.length) row(null, state.view[state.view.length - 1]);
  await ask(
    "Guides",
    `Guides of the pages in view, measured from ${ORIGINS.find(([name]) => name === originName())[1]}.`,
    "Apply",
    [list, another],
    async () => {
      const wanted = new Map(state.view.map((index) => [index, []]));
      for (const { guide, index, axis, place, on, was, gone } of rows) {
        if (gone || !place.value.trim()) continue;
        const targets = on.value.startsWith("spread") ? on.value.split(" ").slice(1).map(Number) : [Number(on.value)];
        for (const target of targets) {
          const kept = guide && place.value === was && axis.value === guide.axis;
          const at = kept ? guide.at : fine(originOf(target)[axis.value] + parseLength(place.value, state.sheet.unit));
          wanted
            .get(target)
            .push(
              guide && target === index
                ? { ...guide, axis: axis.value, at }
                : { axis: axis.value, at, side: "both", layer: guide ? guide.layer : layerOf() },
            );
        }
      }
      const intents = state.view
        .filter((index) => JSON.stringify(wanted.get(index)) !== JSON.stringify(own(index)))
        .map((index) => ({ do: "put-guides", page: state.pages[index].id, guides: wanted.get(index) }));
      if (intents.length) await send(intents);
    },
  );
}

/** The page grid: how far its lines are apart, into how many parts, from where. */
export async function askGrid() {
  const now = state.sheet.squares;
  const shown = ({ grid }) => Boolean(grid);
  const spacing = (word, value) => ({ word, kind: "length", value, when: shown });
  await askFor(
    "Page grid",
    "Horizontal and vertical lines on every page, to align objects to. The grid never prints.",
    "Apply",
    {
      grid: {
        word: "Grid",
        kind: "choice",
        choices: [
          ["yes", "Show on every page"],
          ["", "none"],
        ],
        value: "yes",
      },
      across: spacing("Horizontal spacing", now?.across ?? 28.346),
      down: spacing("Vertical spacing", now?.down ?? 28.346),
      parts: {
        word: "Subdivisions",
        kind: "count",
        value: now?.parts ?? 1,
        when: shown,
        title: "Subdivisions: number of parts that each space is divided into; 1 for none",
      },
      x: spacing("Start from left", now?.x ?? 0),
      y: spacing("Start from top", now?.y ?? 0),
    },
    ({ grid, ...values }) => send([{ do: "put-page-grid", grid: grid ? values : null }]),
  );
}

/** Guides for columns and rows, on the pages in view or on all. */
async function divide() {
  await askFor(
    "Columns and rows of guides",
    "Equal columns and rows, with a guide on either side of each gap.",
    "Apply",
    {
      columns: { word: "Columns", kind: "count", value: 3 },
      gutter: { word: "Column gap", kind: "length", value: 12 },
      rows: { word: "Rows", kind: "count", value: 1 },
      row_gutter: { word: "Row gap", kind: "length", value: 12 },
      to: {
        word: "Area",
        kind: "choice",
        choices: [
          ["margins", "the margins"],
          ["page", "the page"],
          ["bleed", "the bleed"],
        ],
      },
      where: {
        word: "Pages",
        kind: "choice",
        choices: [
          ["view", state.view.length > 1 ? "the pages in view" : "the page in view"],
          ...(state.master ? [] : [["all", "every page"]]),
        ],
      },
      keep: {
        word: "Guides",
        kind: "choice",
        choices: [
          ["", "replace existing guides"],
          ["1", "add to existing guides"],
        ],
      },
    },
    ({ where, keep, ...values }) =>
      send([
        {
          do: "divide-by-guides",
          pages: where === "all" ? [] : state.view.map((index) => state.pages[index].id),
          keep: Boolean(keep),
          ...values,
        },
      ]),
  );
}

function toggleLock() {
  locked = !locked;
  localStorage.setItem("lexigon-guides-locked", locked ? "on" : "off");
  toast(locked ? "Guides are locked." : "Guides are unlocked.");
  emit("view");
}

register(
  { word: "Edit guides by position…", keys: [], run: () => typeGuides().catch(() => {}) },
  { word: "Set up page grid…", keys: [], run: () => askGrid().catch(() => {}) },
  { word: "Add guides in columns and rows…", keys: [], run: () => divide().catch(() => {}) },
  { word: "Lock or unlock guides", keys: [], run: toggleLock },
  {
    word: "Delete all guides of the page",
    keys: [],
    when: () => state.view.some((index) => own(index).length),
    run: () => {
      for (const index of state.view) if (own(index).length) put(index, []);
    },
  },
);
