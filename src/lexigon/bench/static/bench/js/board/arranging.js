// Objects arranged: aligned, spread, made alike, ordered, duplicated, repeated; by command, by the slip, by the menu at the pointer.
import { askFor } from "./asking.js";
import { needing, register } from "../commands.js";
import { chosen, draw, holderOf, named, selectThese } from "./frames.js";
import { around, bounds, spreadsShown } from "./sheet.js";
import { frames as standing, inText } from "./standing.js";
import { emit, inquire, send, state, toast } from "./store.js";
import { KINDS } from "./values.js";

const BESIDE = 12; // points that a copy stands beside what it was made of

/** What is chosen and may be arranged; says why where it may not. */
export function own() {
  const all = chosen();
  if (all.some((f) => f.master)) {
    toast("Part of the selection belongs to the master page. Override it first.");
    return [];
  }
  if (all.some((f) => inText(f))) {
    toast("Part of the selection is anchored in a story and moves with its text.");
    return [];
  }
  return all;
}

/** Carry out an intent on all that is chosen; what is new by it is chosen then. */
export async function arrange(intent, all = own()) {
  if (!all.length) return;
  try {
    const answer = await send([{ objects: named(all), ...intent }]);
    const made = standing().filter((f) => answer.made.includes(f.id));
    if (made.length) selectThese(made);
  } finally {
    draw();
    emit("frame");
  }
}

const quietly = (intent) => arrange(intent).catch(() => {});
const some = (count = 1) =>
  needing(
    count > 1 ? `Select ${count} objects or more first.` : "Select an object first.",
    () => chosen().length >= count && !chosen().some((f) => f.master || inText(f)),
  );

export const order = (to) => quietly({ do: "order-objects", to });
export const duplicate = (dx = BESIDE, dy = BESIDE) => quietly({ do: "duplicate-objects", dx, dy });

/** Ask for rows and columns, and how far they are apart. */
export async function repeat() {
  const all = own();
  if (!all.length) return;
  const box = {
    w: Math.max(...all.map((f) => f.x + f.w)) - Math.min(...all.map((f) => f.x)),
    h: Math.max(...all.map((f) => f.y + f.h)) - Math.min(...all.map((f) => f.y)),
  };
  await askFor(
    "Repeat in columns and rows",
    "The original counts as the first.",
    "Repeat",
    {
      columns: { word: "Columns", kind: "count", value: 3 },
      rows: { word: "Rows", kind: "count", value: 1 },
      across: { word: "Horizontal gap", kind: "length", value: BESIDE },
      down: { word: "Vertical gap", kind: "length", value: BESIDE },
    },
    ({ columns, rows, across, down }) =>
      arrange({ do: "repeat-objects", columns, rows, dx: box.w + across, dy: box.h + down }, all),
  );
}

const transform = (how) => quietly({ do: "transform-objects", ...how });

/** Ask how far to turn and to lean all that is chosen. */
async function turnAndLean() {
  const all = own();
  if (!all.length) return;
  await askFor(
    "Rotate and skew",
    "In degrees, about the centre of the selection.",
    "Apply",
    {
      turn: { word: "Rotation", kind: "degrees", value: 0, title: "Rotation: degrees clockwise" },
      skew: { word: "Skew", kind: "degrees", value: 0, title: "Skew: degrees to the right" },
    },
    (values) => arrange({ do: "transform-objects", ...values }, all),
  );
}

/** How many stand there, itself counted: one alone is no repeat. */
function readCopies(text) {
  const count = KINDS.count.read(text);
  if (count < 2) throw new Error("Type the number of copies: 2 or more, the original included.");
  return count;
}

/** Ask how many copies stand round a point, and where that is. */
async function repeatRound() {
  const all = own();
  if (!all.length) return;
  const box = around(all.map(bounds));
  await askFor(
    "Repeat around a point",
    "In equal steps. The original counts as the first.",
    "Repeat",
    {
      count: { word: "Copies", kind: "count", value: 8, read: readCopies },
      over: { word: "Angle", kind: "degrees", value: 360, title: "Angle: degrees that the copies are spread over" },
      x: { word: "Centre, left", kind: "length", value: box.x + box.w / 2 },
      y: { word: "Centre, top", kind: "length", value: box.y + box.h + 72 },
      turned: {
        word: "Copies are",
        kind: "choice",
        choices: [
          ["yes", "rotated step by step"],
          ["no", "upright"],
        ],
      },
    },
    ({ x, y, turned, ...values }) =>
      arrange({ do: "repeat-round", about: [x, y], turned: turned === "yes", ...values }, all),
  );
}

/** Choose what is like what is chosen, on the pages in view. */
async function alike(by) {
  const [first] = chosen();
  const { ids } = await inquire("alike", { page: holderOf(first), object: first.id, by });
  selectThese(standing().filter((f) => ids.includes(f.id) && !f.master && !f.field && !f.held));
}

const EDGES = {
  left: "left edges",
  centre: "horizontal centres",
  right: "right edges",
  head: "top edges",
  middle: "vertical centres",
  foot: "bottom edges",
};
const AREAS = [
  ["margins", "the margins", "margins"],
  ["page", "the page", "page"],
  ["bleed", "the bleed", "bleed"],
  ["panel", "the panel", "panel"],
  ["column", "the column", "column"],
  ["spread", "the spread", "spread"],
];

/** What there is on the pages in view to align things to and to make them fill, each as [area, its words, a short word]. */
export function areas() {
  const pages = state.view.map((index) => state.pages[index].lines);
  const there = {
    panel: pages.some(({ panels }) => panels?.length),
    column: pages.some(({ columns, panels }) => columns > 1 && !panels),
    spread: spreadsShown().some((one) => one.length > 1),
  };
  return AREAS.filter(([id]) => there[id] ?? true);
}
const offered = (area) => areas().some(([id]) => id === area);

/** Select everything that can be selected on the spread. */
export const selectAll = () => selectThese(standing().filter((f) => !f.master && !f.field && !f.held && !inText(f)));

register(
  {
    word: "Duplicate",
    keys: ["d"],
    shown: ["D"],
    help: "duplicate the selection (also: drag with Ctrl)",
    also: "copy",
    when: some(),
    run: () => duplicate(),
    menu: 1,
  },
  {
    word: "Repeat in columns and rows…",
    also: "step and repeat grid",
    keys: [],
    when: some(),
    run: () => repeat().catch(() => {}),
    menu: 1,
  },
  { word: "Bring forward", keys: ["f"], shown: ["F"], when: some(), run: () => order("forward"), menu: 2 },
  { word: "Send backward", keys: ["b"], shown: ["B"], when: some(), run: () => order("backward"), menu: 2 },
  { word: "Bring to front", keys: ["F"], shown: ["Shift F"], when: some(), run: () => order("front"), menu: 2 },
  {
    word: "Send to back",
    keys: ["B"],
    shown: ["F", "B", "Shift F", "Shift B"],
    help: "bring forward, send backward, bring to front, send to back",
    when: some(),
    run: () => order("back"),
    menu: 2,
  },
  {
    word: "Repeat around a point…",
    also: "step and repeat circle",
    keys: [],
    when: some(),
    run: () => repeatRound().catch(() => {}),
  },
  { word: "Rotate 90° clockwise", keys: [], when: some(), run: () => transform({ turn: 90 }), menu: 6 },
  { word: "Rotate 90° anticlockwise", keys: [], when: some(), run: () => transform({ turn: -90 }) },
  { word: "Flip horizontally", keys: [], when: some(), run: () => transform({ mirror: "across" }), menu: 6 },
  { word: "Flip vertically", keys: [], when: some(), run: () => transform({ mirror: "down" }), menu: 6 },
  { word: "Rotate and skew…", keys: [], when: some(), run: () => turnAndLean().catch(() => {}) },
  {
    word: "Swap positions of two objects",
    keys: [],
    when: () => some(2)() && chosen().length < 3,
    run: () => quietly({ do: "swap-places" }),
  },
  {
    word: "Link selected frames into one story",
    keys: [],
    when: () => some(2)() && chosen().every((f) => f.story),
    run: () => quietly({ do: "join-texts" }),
  },
  ...[
    ["kind", "kind"],
    ["fill", "fill"],
    ["edge", "stroke"],
    ["style", "frame style"],
    ["layer", "layer"],
  ].map(([by, word]) => ({
    word: `Select all with the same ${word}`,
    keys: [],
    when: some(),
    run: () => alike(by).catch(() => {}),
  })),
  ...Object.entries(EDGES).map(([edge, word]) => ({
    word: `Align ${word}`,
    keys: [],
    when: some(2),
    run: () => quietly({ do: "align-objects", edge, to: "selection" }),
    menu: 3,
  })),
  {
    word: "Distribute horizontally",
    keys: [],
    when: some(3),
    run: () => quietly({ do: "spread-objects", axis: "across" }),
    menu: 3,
  },
  {
    word: "Distribute vertically",
    keys: [],
    when: some(3),
    run: () => quietly({ do: "spread-objects", axis: "down" }),
    menu: 3,
  },
  { word: "Match width", keys: [], when: some(2), run: () => quietly({ do: "match-sizes", height: false }) },
  { word: "Match height", keys: [], when: some(2), run: () => quietly({ do: "match-sizes", width: false }) },
  ...AREAS.map(([to, word]) => ({
    word: `Fill ${word}`,
    keys: [],
    when: () => some()() && offered(to),
    run: () => quietly({ do: "fill-area", to }),
    menu: ["bleed", "panel"].includes(to) ? 4 : 0,
  })),
  {
    word: "Select all on the spread",
    keys: ["a"],
    shown: ["Ctrl A"],
    help: "select all on the spread",
    run: selectAll,
  },
);
