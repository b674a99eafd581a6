// The cells of a table as the caret goes through them: Tab to the next and back, the arrows to those beside, above and below.
import { statusOf } from "../errors.js";
import { get } from "../http.js";
import { select } from "./frames.js";
import { offsetAt } from "./lines.js";
import { frames, linesOf } from "./standing.js";
import { send, showPlace, state } from "./store.js";
import { caret, followCaret, holding, postponed, put, sentAll } from "./caret.js";

/** A cell by its text's name: its table, its row, and which of the row's own cells it is; null for any other text. */
export function cellOf(story) {
  const found = /^([^/]+)\/(\d+)\.(\d+)$/.exec(story);
  return found && { table: found[1], row: Number(found[2]), number: Number(found[3]) };
}

/** A rectangle of cells as edits name it. */
export const rangeOf = ({ table, top, left, bottom, right }) => ({ table, top, left, bottom, right });

/** The cells that are chosen, or the one that the caret is in; null where there are none. */
export function cellsMeant() {
  if (state.cells) return rangeOf(state.cells);
  const at = caret.focus ? cellOf(caret.story) : null,
    frame = at && frameOfCell(caret.story);
  return frame ? boxOf(at.table, frame, frame) : null;
}

const boxOf = (table, { cell: a }, { cell: b }) => ({
  table,
  top: Math.min(a.row, b.row),
  left: Math.min(a.column, b.column),
  bottom: Math.max(a.row + a.down, b.row + b.down) - 1,
  right: Math.max(a.column + a.across, b.column + b.across) - 1,
});

const named = ({ table, row, number }) => `${table}/${row}.${number}`;
const frameOfCell = (key) =>
  frames()
    .filter((f) => f.story === key)
    .sort((a, b) => a.number - b.number)[0];

/** The caret goes to the end or beginning of a cell whose frame is in view. */
function enterFrame(key, frame, end) {
  select(frame);
  const own = linesOf(key).filter((line) => line.frame === frame.id);
  const line = own[end ? own.length - 1 : 0];
  put(key, { p: line.p, o: end ? line.e : line.s, page: line.page });
  followCaret();
}

/** The caret goes to a cell's end or beginning, turning to its page if need be. */
async function enter(key, end) {
  let frame = frameOfCell(key);
  if (!frame) {
    const answer = await showPlace(key, end ? "$" : "^", 0);
    frame = frameOfCell(key);
    if (!frame && answer.caret) {
      put(key, { p: answer.caret.p, o: answer.caret.offset });
      return;
    }
  }
  if (frame) enterFrame(key, frame, end);
}

/** The cell before or after one in the order they are read, as far as those in view tell. All cells of a row are on one page. */
function besideInView({ table, row, number }, direction) {
  const there = (r, n) => frameOfCell(named({ table, row: r, number: n }));
  if (number + direction >= 0 && there(row, number + direction))
    return named({ table, row, number: number + direction });
  return direction > 0 && there(row + 1, 0) ? named({ table, row: row + 1, number: 0 }) : "";
}

/** The same, asking the server where those in view do not tell; "" where the table ends there. */
async function beside({ table, row, number }, direction) {
  const next = besideInView({ table, row, number }, direction);
  if (next) return next;
  const { rows } = await get(`/job/${state.key}/tables/${table}/`);
  const order = rows.flatMap((cells, r) => cells.map((_, n) => named({ table, row: r, number: n })));
  return order[order.indexOf(named({ table, row, number })) + direction] || "";
}

/** On to the next cell, or back to the one before; behind the last a row is added. What was typed need not be answered for that. */
export async function stepCell(back) {
  if (postponed(() => stepCell(back))) return;
  const at = cellOf(caret.story),
    near = at && besideInView(at, back ? -1 : 1);
  if (!at) return;
  if (near) {
    enterFrame(near, frameOfCell(near), true);
    return;
  }
  try {
    await holding(async () => {
      await sentAll();
      const next = await beside(at, back ? -1 : 1);
      if (next) {
        await enter(next, true);
        return;
      }
      if (back) return;
      await send([{ do: "add-table-row", table: at.table }]);
      const { rows, foots } = await get(`/job/${state.key}/tables/${at.table}/`);
      await enter(
        named({ table: at.table, row: rows.length - 1 - (rows.length > foots ? foots : 0), number: 0 }),
        false,
      );
    });
  } catch (error) {
    if (!statusOf(error)) throw error;
  } // told
}

/** From a cell's edge on: to the cell beside, above or below it; from the table's edge behind or before it in its text. */
export async function onFromCell(direction, down) {
  await sentAll();
  const here = frames().find((f) => f.story === caret.story),
    at = cellOf(caret.story);
  if (!here || !at) return;
  if (!down) {
    await walk(direction, here);
    return;
  }
  const x = Math.min(Math.max(caret.column ?? here.x + here.w / 2, here.x), here.x + here.w),
    { column } = caret;
  const others = frames().filter(
    (f) =>
      f.role === "cell" &&
      f.page === here.page &&
      cellOf(f.story)?.table === at.table &&
      f.x <= x &&
      x <= f.x + f.w &&
      (direction > 0 ? f.y >= here.y + here.h - 0.01 : f.y + f.h <= here.y + 0.01),
  );
  const next = others.sort((a, b) => direction * (a.y - b.y))[0];
  if (!next) {
    await walk(direction, here, true);
    return;
  }
  select(next);
  const lines = next.lines,
    line = lines[direction > 0 ? 0 : lines.length - 1];
  put(
    next.story,
    { p: line.p, o: column === null ? line.s : offsetAt(line, column), page: line.page },
    { keepColumn: true },
  );
  followCaret();
}

/** The cell before or behind in the order they are read, or one in the row above or below that stands on another page (`rows`); from the
    table's edge out of it. */
async function walk(direction, here, rows = false) {
  const at = cellOf(here.story);
  let next = "";
  if (rows) {
    const answer = await get(`/job/${state.key}/tables/${at.table}/`),
      row = at.row + direction;
    if (answer.rows[row]?.length)
      next = named({ table: at.table, row, number: Math.min(at.number, answer.rows[row].length - 1) });
  } else next = await beside(at, direction);
  if (next) {
    await enter(next, direction < 0);
    return;
  }
  const { cited } = here;
  const host = frames().find((f) => f.story === cited.story && f.page === here.page && f.role !== "cell");
  if (host) select(host);
  put(cited.story, { p: cited.p, o: direction > 0 ? cited.o : 0, page: here.page });
  followCaret();
}
