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
  if (all.some((f) => f.master)) { toast("Part of this belongs to the master page: take it over first."); return []; }
  if (all.some((f) => inText(f))) { toast("Part of this is in the lines of a story, and moves with its words."); return []; }
  return all;
}

/** Carry out an intent on all that is chosen; what is new by it is chosen then. */
export async function arrange(intent, all = own()) {
  if (!all.length) return;
  try {
    const answer = await send([{ objects: named(all), ...intent }]);
    const made = standing().filter((f) => answer.made.includes(f.id));
    if (made.length) selectThese(made);
  } finally { draw(); emit("frame"); }
}

const quietly = (intent) => arrange(intent).catch(() => {});
const some = (count = 1) => needing(count > 1 ? `Select ${count} objects or more first.` : "Select an object first.", () => chosen().length >= count && !chosen().some((f) => f.master || inText(f)));

export const order = (to) => quietly({ do: "order-objects", to });
export const duplicate = (dx = BESIDE, dy = BESIDE) => quietly({ do: "duplicate-objects", dx, dy });

/** Ask for rows and columns, and how far they are apart. */
export async function repeat() {
  const all = own();
  if (!all.length) return;
  const box = { w: Math.max(...all.map((f) => f.x + f.w)) - Math.min(...all.map((f) => f.x)), h: Math.max(...all.map((f) => f.y + f.h)) - Math.min(...all.map((f) => f.y)) };
  await askFor("Repeat", "In columns and rows, itself counted, with gaps between.", "Repeat it", {
    columns: { word: "Columns", kind: "count", value: 3 }, rows: { word: "Rows", kind: "count", value: 1 },
    across: { word: "Gap across", kind: "length", value: BESIDE }, down: { word: "Gap down", kind: "length", value: BESIDE },
  }, ({ columns, rows, across, down }) => arrange({ do: "repeat-objects", columns, rows, dx: box.w + across, dy: box.h + down }, all));
}

const transform = (how) => quietly({ do: "transform-objects", ...how });

/** Ask how far to turn and to lean all that is chosen. */
async function turnAndLean() {
  const all = own();
  if (!all.length) return;
  await askFor("Turn and lean", "About the centre of the selection, in degrees: clockwise, and to the right.", "Do it",
    { turn: { word: "Turn", kind: "degrees", value: 0 }, skew: { word: "Lean", kind: "degrees", value: 0 } }, (values) => arrange({ do: "transform-objects", ...values }, all));
}

/** How many stand there, itself counted: one alone is no repeat. */
function readCopies(text) {
  const count = KINDS.count.read(text);
  if (count < 2) throw new Error("Type a number of copies: two or more.");
  return count;
}

/** Ask how many copies stand round a point, and where that is. */
async function repeatRound() {
  const all = own();
  if (!all.length) return;
  const box = around(all.map(bounds));
  await askFor("Repeat round a point", "In equal steps, itself counted.", "Repeat it", {
    count: { word: "Copies", kind: "count", value: 8, read: readCopies }, over: { word: "Over", kind: "degrees", value: 360, title: "Degrees, over which they stand" },
    x: { word: "Left", kind: "length", value: box.x + box.w / 2 }, y: { word: "Top", kind: "length", value: box.y + box.h + 72 },
    turned: { word: "Each", kind: "choice", choices: [["yes", "turned with it"], ["no", "upright"]] },
  }, ({ x, y, turned, ...values }) => arrange({ do: "repeat-round", about: [x, y], turned: turned === "yes", ...values }, all));
}

/** Choose what is like what is chosen, on the pages in view. */
async function alike(by) {
  const [first] = chosen();
  const { ids } = await inquire("alike", { page: holderOf(first), object: first.id, by });
  selectThese(standing().filter((f) => ids.includes(f.id) && !f.master && !f.field && !f.held));
}

const EDGES = { left: "left edges", centre: "centres, across", right: "right edges", head: "heads", middle: "middles, down", foot: "feet" };
const AREAS = [["margins", "the margins", "margins"], ["page", "the page", "page"], ["bleed", "the bleed", "bleed"], ["panel", "its panel", "panel"], ["column", "its column", "column"], ["spread", "the spread", "spread"]];

/** What there is on the pages in view to align things to and to make them fill, each as [area, its words, a short word]. */
export function areas() {
  const pages = state.view.map((index) => state.pages[index].lines);
  const there = { panel: pages.some(({ panels }) => panels?.length), column: pages.some(({ columns, panels }) => columns > 1 && !panels), spread: spreadsShown().some((one) => one.length > 1) };
  return AREAS.filter(([id]) => there[id] ?? true);
}
const offered = (area) => areas().some(([id]) => id === area);

/** Select everything that can be selected on the spread. */
export const selectAll = () => selectThese(standing().filter((f) => !f.master && !f.field && !f.held && !inText(f)));

register(
  { word: "Duplicate the selection", keys: ["d"], shown: ["D"], help: "a copy of the selection; Ctrl and a drag makes one, too", when: some(), run: () => duplicate(), menu: 1 },
  { word: "Repeat in columns and rows …", keys: [], when: some(), run: () => repeat().catch(() => {}), menu: 1 },
  { word: "One forward", keys: ["f"], shown: ["F"], when: some(), run: () => order("forward"), menu: 2 },
  { word: "One backward", keys: ["b"], shown: ["B"], when: some(), run: () => order("backward"), menu: 2 },
  { word: "To the front", keys: ["F"], shown: ["Shift F"], when: some(), run: () => order("front"), menu: 2 },
  { word: "To the back", keys: ["B"], shown: ["F", "B", "Shift F", "Shift B"], help: "one forward, one backward, to the front, to the back", when: some(), run: () => order("back"), menu: 2 },
  { word: "Repeat round a point …", keys: [], when: some(), run: () => repeatRound().catch(() => {}) },
  { word: "Turn a quarter clockwise", keys: [], when: some(), run: () => transform({ turn: 90 }), menu: 6 },
  { word: "Turn a quarter counter-clockwise", keys: [], when: some(), run: () => transform({ turn: -90 }) },
  { word: "Mirror left and right", keys: [], when: some(), run: () => transform({ mirror: "across" }), menu: 6 },
  { word: "Mirror head and foot", keys: [], when: some(), run: () => transform({ mirror: "down" }), menu: 6 },
  { word: "Turn and lean …", keys: [], when: some(), run: () => turnAndLean().catch(() => {}) },
  { word: "Let two things change places", keys: [], when: () => some(2)() && chosen().length < 3, run: () => quietly({ do: "swap-places" }) },
  { word: "Join the selected frames into one story", keys: [], when: () => some(2)() && chosen().every((f) => f.story), run: () => quietly({ do: "join-texts" }) },
  ...[["kind", "kind"], ["fill", "fill"], ["edge", "edge"], ["style", "frame style"], ["layer", "layer"]].map(([by, word]) => ({ word: `Select all of the same ${word}`, keys: [], when: some(), run: () => alike(by).catch(() => {}) })),
  ...Object.entries(EDGES).map(([edge, word]) => ({ word: `Align ${word}`, keys: [], when: some(2), run: () => quietly({ do: "align-objects", edge, to: "selection" }), menu: 3 })),
  { word: "Even gaps across", keys: [], when: some(3), run: () => quietly({ do: "spread-objects", axis: "across" }), menu: 3 },
  { word: "Even gaps down", keys: [], when: some(3), run: () => quietly({ do: "spread-objects", axis: "down" }), menu: 3 },
  { word: "Same width", keys: [], when: some(2), run: () => quietly({ do: "match-sizes", height: false }) },
  { word: "Same height", keys: [], when: some(2), run: () => quietly({ do: "match-sizes", width: false }) },
  ...AREAS.map(([to, word]) => ({ word: `Fill ${word}`, keys: [], when: () => some()() && offered(to), run: () => quietly({ do: "fill-area", to }), menu: ["bleed", "panel"].includes(to) ? 4 : 0 })),
  { word: "Select everything on the spread", keys: ["a"], shown: ["Ctrl A"], help: "select everything on the spread", run: selectAll },
);

