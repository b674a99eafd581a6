// The slip's part about cells of a table: those that are chosen, or the one that is typed in.
import { chooseWhole, doCells } from "../cellchoice.js";
import { cellsMeant } from "../cells.js";
import { emit, state } from "../store.js";
import { parseLength } from "../numbers.js";
import { readTint } from "../tablestyles.js";
import { ALIGNS, SIZES, STANDS, WIDTHS } from "../tablewords.js";
import { KINDS, swatchChoices } from "../values.js";
import { part } from "./parts.js";

const VARIOUS = "various";
const TURNS = [
  ["0", "upright"],
  ["90", "90° clockwise"],
  ["180", "180°"],
  ["270", "90° anticlockwise"],
];
const EDGES = [
  ["head right foot left", "outside"],
  ["head", "top"],
  ["foot", "bottom"],
  ["left", "left"],
  ["right", "right"],
  ["across", "between rows"],
  ["down", "between columns"],
  ["head right foot left across down", "all"],
];
const AS_STYLE = "style";

/** Choices, with a line for what is not the same in all cells. */
const orVarious = (rows, value) => (value === VARIOUS ? [[VARIOUS, "various"], ...rows] : rows);

/** What some rules have in common: null as the style has them. */
function ruleOf(rules, edges) {
  const said = edges
    .split(" ")
    .map((edge) => rules[edge])
    .filter((one) => one !== "");
  return said.every((one) => JSON.stringify(one) === JSON.stringify(said[0])) ? (said[0] ?? null) : VARIOUS;
}

/** Which of their rules are told of and drawn. */
let edges = EDGES[0][0];

const swatches = swatchChoices;
const common = (value) => (value === VARIOUS ? "" : value);
/** A row of choices that says where not all cells are alike. */
const choice = (id, word, title, value, choices, set) => ({
  id,
  word,
  title,
  kind: "choice",
  wide: true,
  value: ({ cells }) => String(value(cells)),
  choices: ({ cells }) => orVarious(choices(), value(cells)),
  set: (slip, chosen) => {
    if (chosen !== VARIOUS) set(slip, chosen);
  },
});
const setCells = (slip, values) => slip.tried(() => doCells({ do: "set-cells", ...values }));
const setColumns = (slip, values) => slip.tried(() => doCells({ do: "set-columns", ...values }));
const groundOf = ({ fill }) => (fill === VARIOUS ? VARIOUS : fill ? fill.swatch : AS_STYLE);
const drawnOf = ({ rules }) => {
  const rule = ruleOf(rules, edges);
  return rule === VARIOUS ? VARIOUS : rule ? rule.swatch : AS_STYLE;
};
const weightOf = ({ rules }) => {
  const rule = ruleOf(rules, edges);
  return rule && rule !== VARIOUS ? rule.weight : "";
};

function draw(slip, swatch, weight) {
  setCells(slip, {
    edges: edges.split(" "),
    ...(swatch === AS_STYLE ? {} : { rule: { weight, swatch: [VARIOUS, ""].includes(swatch) ? null : swatch } }),
  });
}

const ROWS = [
  {
    ...choice(
      "cg",
      "Fill",
      "background of the cells",
      groundOf,
      () => [[AS_STYLE, "as the table’s style"], ["", "none"], ...swatches()],
      (slip, swatch) =>
        setCells(
          slip,
          swatch === AS_STYLE ? { as_style: ["fill"] } : { fill: { swatch, tint: slip.cells.fill?.tint ?? 1 } },
        ),
    ),
    and: {
      id: "cgt",
      word: "Tint",
      kind: "percent",
      when: ({ cells }) => Boolean(cells.fill?.swatch),
      value: ({ cells }) => cells.fill?.tint ?? 1,
      read: readTint,
      set: (slip, tint) => setCells(slip, { fill: { swatch: slip.cells.fill.swatch, tint } }),
    },
  },
  choice(
    "cv",
    "Vertical alignment",
    "position of the text in the height of the cells",
    (cells) => cells.vertical,
    () => STANDS,
    (slip, vertical) => setCells(slip, vertical ? { vertical } : { as_style: ["vertical"] }),
  ),
  choice(
    "ct",
    "Rotation",
    "rotation of the text inside the cells, as in heads of narrow columns",
    (cells) => cells.turn,
    () => TURNS,
    (slip, turn) => setCells(slip, { turn: Number(turn) }),
  ),
  {
    id: "ch",
    word: "Row height",
    title: "the least height of the rows; leave empty to fit the text",
    kind: "length",
    wide: true,
    empty: ({ cells }) => (cells.height === VARIOUS ? VARIOUS : "fits the text"),
    value: ({ cells }) => common(cells.height),
    read: (text) => (text.trim() ? KINDS.length.read(text) : 0),
    set: (slip, height) => setCells(slip, { height }),
  },
  {
    ...choice(
      "cs",
      "Column width",
      "how the width of the columns is found",
      (cells) => cells.size,
      () => SIZES,
      (slip, size) => setColumns(slip, { size, value: WIDTHS[size]?.first(state.sheet.points) ?? 0 }),
    ),
    and: {
      id: "csv",
      word: "Width",
      kind: "length",
      when: ({ cells }) => cells.size in WIDTHS,
      value: ({ cells }) => String(common(cells.value)),
      read: (text, { cells }) => WIDTHS[cells.size].read(text),
      set: (slip, value) => setColumns(slip, { size: slip.cells.size, value }),
    },
  },
  choice(
    "ca",
    "Alignment",
    "of the text in these columns, unless its paragraphs are set differently",
    (cells) => cells.align,
    () => ALIGNS,
    (slip, align) => setColumns(slip, align ? { align } : { as_words: true }),
  ),
  {
    id: "cr",
    word: "Rules",
    title: "which rules of the selected cells the next fields change",
    kind: "choice",
    wide: true,
    choices: EDGES,
    value: () => edges,
    set(slip, chosen) {
      edges = chosen;
      slip.fill();
    },
  },
  {
    ...choice(
      "crs",
      "Rule colour",
      "colour of the rules selected above",
      drawnOf,
      () => [[AS_STYLE, "as the style"], ["", "colour of the text"], ...swatches()],
      (slip, swatch) => draw(slip, swatch, parseLength(weightOf(slip.cells) || "0.5", "pt")),
    ),
    more: { "aria-label": "Ink of the rules" },
    and: {
      id: "crw",
      word: "Weight of the rules",
      kind: "points",
      value: ({ cells }) => weightOf(cells),
      empty: ({ cells }) => (drawnOf(cells) === VARIOUS ? VARIOUS : "style"),
      set: (slip, weight) => draw(slip, drawnOf(slip.cells) === AS_STYLE ? "" : drawnOf(slip.cells), weight),
    },
  },
];

/** Rows or columns put in and taken out, whole ones chosen. */
const WAYS = [
  {
    word: "Rows:",
    kind: "links",
    choices: [
      ["rows", "insert above"],
      ["rows behind", "below"],
      ["rows out", "delete"],
    ],
    set: changeLines,
  },
  {
    word: "Columns:",
    kind: "links",
    choices: [
      ["columns", "insert before"],
      ["columns behind", "after"],
      ["columns out", "delete"],
    ],
    set: changeLines,
  },
  {
    word: "Select:",
    kind: "links",
    choices: [
      ["rows", "rows"],
      ["columns", "columns"],
      ["table", "table"],
    ],
    set: (_, what) => chooseWhole(what),
  },
];

function changeLines(slip, chosen) {
  const [way, where] = chosen.split(" ");
  slip.tried(() =>
    doCells(where === "out" ? { do: "take-out-cells", way } : { do: "put-in-cells", way, behind: where === "behind" }),
  );
}

part({
  about: (slip) => slip.hasCells,
  rows: { cells: ROWS, "cells ways": WAYS },
  members: {
    cells: null,
    get hasCells() {
      return Boolean(this.cells);
    },
    get cellsWord() {
      return this.cells && this.cells.count > 1 ? `${this.cells.count} cells` : "Cell";
    },
    get cellsTold() {
      return this.cells ? `of “${this.cells.name}”` : "";
    },
    get severalCells() {
      return Boolean(this.cells) && this.cells.count > 1;
    },
    get joinedCells() {
      return Boolean(this.cells) && this.cells.joined;
    },
    joinCells() {
      this.tried(() => doCells({ do: "join-cells" }));
    },
    partCells() {
      this.tried(() => doCells({ do: "part-cells" }));
    },
    openSheet() {
      const meant = cellsMeant();
      if (meant) emit("table", meant.table);
    },
  },
});
