// The cells of a table as the caret goes through them: Tab to the next and back, the arrows to those beside, above and below.
import { get } from "../http.js";
import { select } from "./frames.js";
import { offsetAt } from "./lines.js";
import { frames, linesOf } from "./standing.js";
import { send, showPlace, state } from "./store.js";
import { caret, followCaret, holding, postponed, put, sentAll } from "./text.js";

/** A cell by its text's name: its table, its row, and which of the row's own cells it is; null for any other text. */
export function cellOf(story) {
  const found = /^([^/]+)\/(\d+)\.(\d+)$/.exec(story);
  return found && { table: found[1], row: Number(found[2]), number: Number(found[3]) };
}

const named = ({ table, row, number }) => `${table}/${row}.${number}`;
const frameOfCell = (key) => frames().filter((f) => f.story === key).sort((a, b) => a.number - b.number)[0];

/** The caret goes to a cell's end or beginning, turning to its page if need be. */
async function enter(key, end) {
  let frame = frameOfCell(key);
  if (!frame) {
    const answer = await showPlace(key, end ? "$" : "^", 0);
    frame = frameOfCell(key);
    if (!frame && answer.caret) { put(key, { p: answer.caret.p, o: answer.caret.offset }); return; }
  }
  if (!frame) return;
  select(frame);
  const own = linesOf(key).filter((line) => line.frame === frame.id);
  const line = own[end ? own.length - 1 : 0];
  put(key, { p: line.p, o: end ? line.e : line.s, page: line.page });
  followCaret();
}

/** On to the next cell, or back to the one before; behind the last a row is added. */
export function stepCell(back) {
  if (postponed(() => stepCell(back))) return;
  holding(async () => {
    await sentAll();
    const at = cellOf(caret.story);
    const { rows } = await get(`/job/${state.key}/tables/${at.table}/`);
    let { row, number } = at;
    number += back ? -1 : 1;
    if (number < 0) { row -= 1; number = (rows[row]?.length || 0) - 1; }
    while (row < rows.length && rows[row] && number >= rows[row].length) { row += 1; number = 0; }
    if (row < 0 || number < 0) return;
    if (row < rows.length) { await enter(named({ table: at.table, row, number }), true); return; }
    await send([{ do: "add-table-row", table: at.table }]);
    const { rows: now, foots } = await get(`/job/${state.key}/tables/${at.table}/`);
    await enter(named({ table: at.table, row: now.length - 1 - (now.length > foots ? foots : 0), number: 0 }), false);
  });
}

/** From a cell's edge on: to the cell beside, above or below it; from the table's edge behind or before it in its text. */
export async function onFromCell(direction, down) {
  await sentAll();
  const here = frames().find((f) => f.story === caret.story), at = cellOf(caret.story);
  if (!here || !at) return;
  if (!down) { await walk(direction, here); return; }
  const x = Math.min(Math.max(caret.column ?? here.x + here.w / 2, here.x), here.x + here.w), { column } = caret;
  const others = frames().filter((f) => f.role === "cell" && f.page === here.page && cellOf(f.story)?.table === at.table && f.x <= x && x <= f.x + f.w && (direction > 0 ? f.y >= here.y + here.h - 0.01 : f.y + f.h <= here.y + 0.01));
  const next = others.sort((a, b) => direction * (a.y - b.y))[0];
  if (!next) { await walk(direction, here, true); return; }
  select(next);
  const lines = next.lines, line = lines[direction > 0 ? 0 : lines.length - 1];
  put(next.story, { p: line.p, o: column === null ? line.s : offsetAt(line, column), page: line.page }, { keepColumn: true });
  followCaret();
}

/** The cell before or behind, in the order they are read; `rows` whole rows on. */
async function walk(direction, here, rows = false) {
  const at = cellOf(here.story);
  const answer = await get(`/job/${state.key}/tables/${at.table}/`);
  let { row, number } = at;
  if (rows) row += direction; else number += direction;
  if (!rows && number < 0) { row -= 1; number = (answer.rows[row]?.length || 0) - 1; }
  if (!rows && answer.rows[row] && number >= answer.rows[row].length) { row += 1; number = 0; }
  if (row >= 0 && row < answer.rows.length && number >= 0) {
    await enter(named({ table: at.table, row, number: Math.min(number, answer.rows[row].length - 1) }), direction < 0);
    return;
  }
  const { cited } = here;
  const host = frames().find((f) => f.story === cited.story && f.page === here.page && f.role !== "cell");
  if (host) select(host);
  put(cited.story, { p: cited.p, o: direction > 0 ? cited.o : 0, page: here.page });
  followCaret();
}
