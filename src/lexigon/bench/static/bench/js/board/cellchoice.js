// Cells of a table chosen together: by a drag over them, with Shift, by keys; what is done to all of them at once.
import { needing, register } from "../commands.js";
import { messageOf } from "../errors.js";
import { get } from "../http.js";
import { cellOf, cellsMeant, rangeOf } from "./cells.js";
import { goesOut, onItsWay } from "./clipboard.js";
import { chosen as many, select, selectThese } from "./frames.js";
import { sheet } from "./sheet.js";
import { frames, linesOf } from "./standing.js";
import { on, send, setTool, showCell, state, toast } from "./store.js";
import { caret, leave, put } from "./caret.js";
import { enter, insert } from "./text.js";

const ofTable = (table) => frames().filter((f) => f.role === "cell" && cellOf(f.story).table === table);
const meets = ({ top, left, bottom, right }, { row, column, across, down }) =>
  row <= bottom && row + down > top && column <= right && column + across > left;

/** The rectangle grown round the cells in view that it cuts through. */
function grown(span) {
  const all = ofTable(span.table).map(({ cell }) => cell);
  for (let before = ""; before !== JSON.stringify(span);) {
    before = JSON.stringify(span);
    for (const cell of all.filter((one) => meets(span, one)))
      span = {
        ...span,
        top: Math.min(span.top, cell.row),
        left: Math.min(span.left, cell.column),
        bottom: Math.max(span.bottom, cell.row + cell.down - 1),
        right: Math.max(span.right, cell.column + cell.across - 1),
      };
  }
  return span;
}

/** Choose the cells between two places of a table's grid; `from` stays where it is as the choice grows. */
function choose(table, from, to) {
  const span = grown({
    table,
    top: Math.min(from.row, to.row),
    left: Math.min(from.column, to.column),
    bottom: Math.max(from.row, to.row),
    right: Math.max(from.column, to.column),
  });
  leave();
  selectThese(
    ofTable(table).filter(({ cell }) => meets(span, cell)),
    { ...span, from, to },
  );
  sheet.focus({ preventScroll: true });
}

const cornerOf = ({ cell: { row, column } }) => ({ row, column });
/** How many rows and columns a table has, as its cells in view tell. */
const sizeOf = (table) => ofTable(table)[0]?.cell ?? { rows: 1, columns: 1 };
const within = (value, count) => Math.min(Math.max(value, 0), count - 1);

/** Cells are dragged over, or reached with Shift: from the one that was first to another of its table. */
on("cells", ({ from, to, anew }) =>
  choose(cellOf(to.story).table, (!anew && state.cells?.from) || cornerOf(from), cornerOf(to)),
);

/** With Shift from the cell at hand to another of its table; false where there is none. */
export function reach(frame) {
  const at = cellsMeant();
  if (!at || frame.role !== "cell" || cellOf(frame.story).table !== at.table) return false;
  choose(at.table, state.cells?.from ?? { row: at.top, column: at.left }, cornerOf(frame));
  return true;
}

const at = (table, { row, column }) =>
  ofTable(table).find(({ cell }) => meets({ top: row, bottom: row, left: column, right: column }, cell));

/** To the cell beside, above or below, on whatever page; with Shift the choice grows or shrinks by a row or a column. */
async function go(more, down, across) {
  if (!state.cells) return;
  const { table, from, to, ...span } = state.cells,
    { rows, columns } = sizeOf(table);
  const place = more
    ? { row: within(to.row + down, rows), column: within(to.column + across, columns) }
    : {
        row: down > 0 ? span.bottom + 1 : down < 0 ? span.top - 1 : from.row,
        column: across > 0 ? span.right + 1 : across < 0 ? span.left - 1 : from.column,
      };
  if (place.row < 0 || place.column < 0 || place.row >= rows || place.column >= columns) return;
  if (!at(table, place)) await showCell(table, place);
  const next = at(table, place);
  if (more) choose(table, from, place);
  else if (next) choose(table, cornerOf(next), cornerOf(next));
}

let going = Promise.resolve();
/** One step after the other, though keys come faster than pages. */
function step({ shiftKey }, down, across) {
  going = going.catch(() => {}).then(() => go(shiftKey, down, across));
  return going;
}

/** The whole of the rows or columns that are chosen, or of the table. */
export function chooseWhole(way) {
  const span = cellsMeant();
  if (!span) return;
  const from = { row: way === "rows" ? span.top : 0, column: way === "columns" ? span.left : 0 },
    { rows, columns } = sizeOf(span.table);
  choose(span.table, from, {
    row: way === "rows" ? span.bottom : rows - 1,
    column: way === "columns" ? span.right : columns - 1,
  });
}

/** What leaves other cells than there were. */
const OTHER_CELLS = ["put-in-cells", "take-out-cells", "join-cells", "part-cells"];

/** Something done to the cells that are chosen, or to the one that the caret is in. */
export async function doCells(intent) {
  const cells = cellsMeant();
  if (!cells) return;
  const { from, to } = state.cells ?? {};
  await onItsWay(); // what was copied just before is as it was then
  await send([{ ...intent, cells }]);
  const { table, top, left } = cells;
  if (OTHER_CELLS.includes(intent.do)) again(table, top, left, intent, cells);
  else if (from) choose(table, from, to); // else the caret stays
}

/** What is chosen once rows, columns or cells have come or gone: what was put in or parted, else what stands where the first stood. */
function again(table, top, left, intent, cells) {
  const rows = intent.way !== "columns",
    put = intent.do === "put-in-cells";
  const place = {
    row: put && intent.behind && rows ? cells.bottom + 1 : top,
    column: put && intent.behind && !rows ? cells.right + 1 : left,
  };
  const size =
    put || intent.do === "part-cells" ? { row: cells.bottom - top, column: cells.right - left } : { row: 0, column: 0 };
  if (!ofTable(table).length) return;
  const all = sizeOf(table),
    row = within(place.row, all.rows),
    column = within(place.column, all.columns);
  choose(table, { row, column }, { row: row + size.row, column: column + size.column });
}

/** Chosen cells put on the clipboard; resolves with what went there, null where it could not be had. */
async function taken(cut) {
  const cells = rangeOf(state.cells),
    { table, ...sides } = cells;
  const asked = get(
    `/job/${state.key}/tables/${table}/cells/?${new URLSearchParams(Object.entries(sides).map(([side, value]) => [side, String(value)]))}`,
  );
  const part = (name, type) => asked.then((answer) => new Blob([answer[name]], { type }));
  const out = navigator.clipboard
    .write([new ClipboardItem({ "text/plain": part("text", "text/plain"), "text/html": part("html", "text/html") })])
    .then(
      () => true,
      () => false,
    );
  try {
    const answer = await asked;
    if (!(await out))
      await navigator.clipboard
        .writeText(answer.text)
        .catch(() => toast("The browser does not allow this to be copied.", true));
    if (cut) await send([{ do: "clear-cells", cells }]); // those that were copied, whatever is chosen by now
    return answer;
  } catch (error) {
    toast(messageOf(error) || "The cells could not be copied. Try again, or copy fewer cells.", true);
  }
  return null;
}

/** Copy or cut the chosen cells; false where none are chosen. */
export function copyCells(cut) {
  if (!state.cells) return false;
  goesOut(taken(cut));
  return true;
}

/** What was copied goes into the chosen cells, from the first one on. */
export async function pasteCells(words) {
  const { table, from, to } = state.cells,
    first = ofTable(table).find(({ cell }) => meets(state.cells, cell));
  if (!first || !words.trim()) return;
  const { row, number } = cellOf(first.story);
  await send([{ do: "fill-cells", table, row, number, words }]);
  choose(table, from, to);
}

/** A picture or a code of a natural size into a cell, no wider than its words may be. */
export function inCell(frame, { width, height }, content) {
  const { table, row, number } = cellOf(frame.story),
    part = Math.min(frame.cell.room / width, 1);
  return {
    do: "show-in-cell",
    table,
    row,
    number,
    width: Math.max(width * part, 4),
    height: Math.max(height * part, 4),
    ...content,
  };
}

/** Type in the first of the chosen cells: behind its words, what was pressed already. */
async function typeIn(typed = "") {
  const { table } = state.cells,
    first = ofTable(table).find(({ cell }) => meets(state.cells, cell));
  if (!first) return;
  select(first);
  await enter(first);
  const line = linesOf(first.story)
    .filter((one) => one.frame === first.id)
    .pop();
  if (!typed || !line) return;
  put(first.story, { p: line.p, o: line.e, page: line.page });
  insert(typed, true);
}

/** A key that writes something is meant for the chosen cells, but for those that lead to the spec line and to the page of keys. */
export function takesKey(key) {
  if (!chosen() || key.length !== 1 || " /?".includes(key)) return false;
  typeIn(key).catch((error) => {
    if (!error.status) throw error;
  });
  return true;
}

/** From the chosen cells to the frame that their table stands in. */
function out() {
  const [first] = ofTable(state.cells.table),
    host =
      first?.cited && frames().find((f) => f.story === first.cited.story && f.page === first.page && f.role !== "cell");
  setTool("select");
  select(host || null);
}

const chosen = () => Boolean(state.cells) && !caret.focus;
const tried = (run) => (event) => {
  Promise.resolve(run(event)).catch((error) => {
    if (!error.status) throw error;
  });
};
const inTable = needing("Click into a table or select cells first.", () => Boolean(cellsMeant()));

register(
  { keys: ["ArrowUp"], over: true, when: chosen, run: tried((e) => step(e, -1, 0)) },
  { keys: ["ArrowDown"], over: true, when: chosen, run: tried((e) => step(e, 1, 0)) },
  { keys: ["ArrowLeft"], over: true, when: chosen, run: tried((e) => step(e, 0, -1)) },
  { keys: ["ArrowRight"], over: true, when: chosen, run: tried((e) => step(e, 0, 1)) },
  { keys: ["Enter"], over: true, when: chosen, run: tried(() => typeIn()) },
  { keys: ["Escape"], over: true, when: chosen, run: out },
  { keys: ["Delete", "Backspace"], over: true, when: chosen, run: tried(() => doCells({ do: "clear-cells" })) },
  {
    shown: ["Esc"],
    help: "in a table: select the cell; arrow keys then move, with Shift they extend the selection, Enter types in it",
  },
  { shown: ["Drag", "Shift"], help: "across cells of a table, or Shift-click: select several cells" },
  {
    word: "Merge cells",
    keys: [],
    when: needing("Select two or more cells first.", () => Boolean(state.cells) && many().length > 1),
    run: tried(() => doCells({ do: "join-cells" })),
    menu: 4,
  },
  { word: "Split cells", keys: [], menu: 4, when: inTable, run: tried(() => doCells({ do: "part-cells" })) },
  ...[
    ["rows", "row", "above", "below"],
    ["columns", "column", "before", "after"],
  ].flatMap(([way, word, before, after]) => [
    {
      word: `Insert ${word} ${before}`,
      keys: [],
      menu: 4,
      when: inTable,
      run: tried(() => doCells({ do: "put-in-cells", way })),
    },
    {
      word: `Insert ${word} ${after}`,
      keys: [],
      menu: 4,
      when: inTable,
      run: tried(() => doCells({ do: "put-in-cells", way, behind: true })),
    },
    {
      word: `Delete table ${way}`,
      keys: [],
      menu: 4,
      when: inTable,
      run: tried(() => doCells({ do: "take-out-cells", way })),
    },
    { word: `Select whole ${way}`, keys: [], when: inTable, run: () => chooseWhole(way) },
  ]),
  { word: "Select whole table", keys: [], when: inTable, run: () => chooseWhole("table") },
);
on("painted", () => {
  if (state.cells && !ofTable(state.cells.table).length) state.cells = null;
});
