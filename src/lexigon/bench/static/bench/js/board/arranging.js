// Objects arranged: aligned, spread, made alike, ordered, duplicated, repeated; by command, by the slip, by the menu at the pointer.
import { register } from "../commands.js";
import { ask, input, labelled, select as choice } from "../notice.js";
import { chosen, draw, holderOf, named, selectThese } from "./frames.js";
import { parseLength } from "./numbers.js";
import { around, bounds, spreadsShown } from "./sheet.js";
import { frames as standing, inText } from "./standing.js";
import { emit, inquire, length, send, state, toast } from "./store.js";

const BESIDE = 12; // points that a copy stands beside what it was made of

/** What is chosen and may be arranged; says why where it may not. */
export function own() {
  const all = chosen();
  if (all.some((f) => f.master)) { toast("Part of this belongs to the master page: take it over first."); return []; }
  if (all.some((f) => inText(f))) { toast("Part of this stands in a text, and goes with its words."); return []; }
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
const some = (count = 1) => () => chosen().length >= count && !chosen().some((f) => f.master || inText(f));

export const order = (to) => quietly({ do: "order-objects", to });
export const duplicate = (dx = BESIDE, dy = BESIDE) => quietly({ do: "duplicate-objects", dx, dy });

/** Ask for rows and columns, and how far they are apart. */
export async function repeat() {
  const all = own();
  if (!all.length) return;
  const box = { w: Math.max(...all.map((f) => f.x + f.w)) - Math.min(...all.map((f) => f.x)), h: Math.max(...all.map((f) => f.y + f.h)) - Math.min(...all.map((f) => f.y)) };
  const columns = input("3");
  const rows = input("1");
  const across = input(length(BESIDE));
  const down = input(length(BESIDE));
  await ask("Repeat", "In columns and rows, itself counted, with gaps between.", "Repeat it", [labelled("Columns", columns), labelled("Rows", rows), labelled("Gap across", across), labelled("Gap down", down)], async () => {
    const count = (field, word) => { const n = Number.parseInt(field.value, 10); if (!(n >= 1)) throw new Error(`Type a number of ${word}.`); return n; };
    const { unit } = state.sheet;
    await arrange({ do: "repeat-objects", columns: count(columns, "columns"), rows: count(rows, "rows"), dx: box.w + parseLength(across.value, unit), dy: box.h + parseLength(down.value, unit) }, all);
  });
}

const transform = (how) => quietly({ do: "transform-objects", ...how });

/** Ask how far to turn and to lean all that is chosen. */
async function turnAndLean() {
  const all = own();
  if (!all.length) return;
  const degrees = (field, word) => { const value = Number(field.value.replace(",", ".").replace("°", "").trim() || "0"); if (!Number.isFinite(value)) throw new Error(`Type how far to ${word}, in degrees.`); return value; };
  const turn = input("0");
  const lean = input("0");
  await ask("Turn and lean", "About the middle of all that is chosen, in degrees: clockwise, and to the right.", "Do it", [labelled("Turn", turn), labelled("Lean", lean)], async () => {
    await arrange({ do: "transform-objects", turn: degrees(turn, "turn"), skew: degrees(lean, "lean") }, all);
  });
}

/** Ask how many copies stand round a point, and where that is. */
async function repeatRound() {
  const all = own();
  if (!all.length) return;
  const box = around(all.map(bounds));
  const count = input("8");
  const whole = input("360");
  const x = input(length(box.x + box.w / 2));
  const y = input(length(box.y + box.h + 72));
  const turned = choice([["yes", "turned with it"], ["no", "upright"]], "yes");
  await ask("Repeat round a point", "In equal steps, itself counted.", "Repeat it", [labelled("Copies", count), labelled("Over", whole), labelled("Left", x), labelled("Top", y), labelled("Each", turned)], async () => {
    const { unit } = state.sheet;
    const n = Number.parseInt(count.value, 10);
    if (!(n >= 2)) throw new Error("Type a number of copies.");
    await arrange({ do: "repeat-round", count: n, over: Number(whole.value.replace("°", "")), about: [parseLength(x.value, unit), parseLength(y.value, unit)], turned: turned.value === "yes" }, all);
  });
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

register(
  { word: "Duplicate what is chosen", keys: ["d"], shown: ["D"], help: "a copy of what is chosen; Ctrl and a drag carries one", when: some(), run: () => duplicate(), menu: 1 },
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
  { word: "Make one text of the chosen frames", keys: [], when: () => some(2)() && chosen().every((f) => f.story), run: () => quietly({ do: "join-texts" }) },
  ...[["kind", "kind"], ["fill", "fill"], ["edge", "edge"], ["style", "frame style"], ["layer", "layer"]].map(([by, word]) => ({ word: `Select all of the same ${word}`, keys: [], when: some(), run: () => alike(by).catch(() => {}) })),
  ...Object.entries(EDGES).map(([edge, word]) => ({ word: `Align ${word}`, keys: [], when: some(2), run: () => quietly({ do: "align-objects", edge, to: "selection" }), menu: 3 })),
  { word: "Even gaps across", keys: [], when: some(3), run: () => quietly({ do: "spread-objects", axis: "across" }), menu: 3 },
  { word: "Even gaps down", keys: [], when: some(3), run: () => quietly({ do: "spread-objects", axis: "down" }), menu: 3 },
  { word: "Same width", keys: [], when: some(2), run: () => quietly({ do: "match-sizes", height: false }) },
  { word: "Same height", keys: [], when: some(2), run: () => quietly({ do: "match-sizes", width: false }) },
  ...AREAS.map(([to, word]) => ({ word: `Fill ${word}`, keys: [], when: () => some()() && offered(to), run: () => quietly({ do: "fill-area", to }), menu: ["bleed", "panel"].includes(to) ? 4 : 0 })),
  { word: "Select everything on the spread", keys: ["a"], shown: ["A"], help: "select everything on the spread", run: () => selectThese(standing().filter((f) => !f.master && !f.field && !f.held && !inText(f))) },
);

