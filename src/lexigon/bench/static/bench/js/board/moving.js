// The caret moved by the keys: by characters, words, lines, paragraphs, columns, and on over the spread's edge.
import { cellOf, onFromCell } from "./cells.js";
import { points, units } from "../typing/characters.js";
import { lineAt, lineText, offsetAt, xAt } from "./lines.js";
import { frames, linesOf } from "./standing.js";
import { show, showPlace, state } from "./store.js";
import { unwound } from "../typing/tape.js";
import {
  active,
  caret,
  endSession,
  ends,
  followCaret,
  holding,
  known,
  learn,
  postponed,
  put,
  selected,
  sentAll,
} from "./caret.js";

export const words = new Intl.Segmenter(undefined, { granularity: "word" });
const graphemes = new Intl.Segmenter(undefined, { granularity: "grapheme" });

/** The place one character or word on, in the next paragraph where this one ends; null at an edge of the story, undefined where the words are
 *  not known here. */
export function stepped(place, direction, byWord) {
  const row = known.row(caret.story, place.p);
  if (!row) return undefined;
  const { text } = row,
    at = units(text, place.o);
  let target = null;
  for (const piece of (byWord ? words : graphemes).segment(text)) {
    if (byWord && !piece.isWordLike) continue;
    const end = piece.index + piece.segment.length;
    if (direction < 0 && piece.index < at) target = piece.index;
    if (direction > 0 && end > at) {
      target = end;
      break;
    }
  }
  if (target === null && byWord && at !== (direction < 0 ? 0 : text.length)) target = direction < 0 ? 0 : text.length;
  return target === null ? known.beside(caret.story, place.p, direction) : { ...place, o: points(text, target) };
}

export async function move(direction, { byWord = false, extend = false } = {}) {
  if (postponed(() => move(direction, { byWord, extend }))) return;
  if (!active()) return;
  endSession();
  if (selected() && !extend) {
    const [from, to] = ends();
    if (from.p !== "^" && to.p !== "$") {
      put(caret.story, direction < 0 ? from : to);
      return;
    }
  }
  const there = stepped(caret.focus, direction, byWord);
  if (there === undefined) {
    learn(() => move(direction, { byWord, extend }));
    return;
  }
  if (there === null) {
    if (cellOf(caret.story)) await turn(direction, extend, false);
    return;
  }
  const line = linesOf(caret.story).find(({ p, s, e }) => p === there.p && s <= there.o && there.o <= e);
  put(caret.story, { ...there, page: line?.page ?? caret.focus.page }, { extend });
  if (line || !painted(caret.story)) followCaret();
  else if (unwound()) await show_(extend);
}

/** Whether any words of a story are in view. */
const painted = (story) => linesOf(story).length > 0;

/** The spread that the caret went to comes into view, if it is on any. */
const show_ = (extend) =>
  holding(async () => {
    const { focus } = caret,
      answer = await showPlace(caret.story, focus.p, focus.o);
    if (answer.caret?.page !== null && answer.caret)
      put(caret.story, { ...focus, page: answer.caret.page }, { extend: extend || selected() });
  });

export async function moveLine(direction, extend, tried = false) {
  if (postponed(() => moveLine(direction, extend, tried))) return;
  if (!active()) return;
  endSession();
  const lines = linesOf(caret.story);
  const line = lineOfCaret(() => moveLine(direction, extend, true), tried);
  if (!line) return;
  if (line.stops) return; // no line stands above or below it
  caret.column ??= xAt(line, caret.focus.o);
  const next = lines[lines.indexOf(line) + direction];
  if (!next) {
    await turn(direction, extend);
    return;
  }
  put(caret.story, { p: next.p, o: onLine(next, caret.column), page: next.page }, { extend, keepColumn: true });
  followCaret();
}

/** An offset that stands on this line and not at the head of the next. */
const onLine = (line, x) => {
  if (line.stops) return x >= 1e5 ? line.e : offsetAt(line, x);
  const o = offsetAt(line, x);
  return o === line.e && !line.last && o > line.s && lineText(line).length > o - line.s ? o - 1 : o;
};

/** On over the spread's edge: the neighbouring spread, caret on its first or last line. */
const turn = (direction, extend, down = true) =>
  holding(() => (cellOf(caret.story) && !goesOn(direction) ? onFromCell(direction, down) : turnTo(direction, extend)));

/** Whether a cell's words go on (or stand before) on a page that is not in view: its row is divided. */
function goesOn(direction) {
  const lines = linesOf(caret.story),
    line = lines[direction > 0 ? lines.length - 1 : 0];
  const own = line && frames().find((f) => f.id === line.frame && f.page === line.page);
  return Boolean(own?.cell && (direction > 0 ? own.cell.behind : own.cell.before));
}

async function turnTo(direction, extend) {
  const target = direction > 0 ? state.view[state.view.length - 1] + 1 : state.view[0] - 1;
  if (state.master || target < 0 || target >= state.count) return;
  const column = caret.column;
  await show(target);
  const lines = linesOf(caret.story);
  const line = direction > 0 ? lines[0] : lines[lines.length - 1];
  if (!line) return;
  put(
    caret.story,
    { p: line.p, o: column === null ? (direction > 0 ? line.s : line.e) : onLine(line, column), page: line.page },
    { extend, keepColumn: true },
  );
}

/** The line the caret is on. Where none is painted, answers and the caret's page are waited for, and then the key has its turn. */
function lineOfCaret(retry, tried) {
  const line = lineAt(linesOf(caret.story), caret.focus);
  if (!line && !tried)
    holding(async () => {
      await sentAll();
      if (!lineAt(linesOf(caret.story), caret.focus)) await findCaret();
      return retry;
    });
  return line;
}

async function findCaret() {
  const answer = await showPlace(caret.story, caret.focus.p, caret.focus.o);
  if (answer.caret) put(caret.story, { p: answer.caret.p, o: answer.caret.offset, page: answer.caret.page });
}

export function toLineEdge(end, extend, tried = false) {
  if (postponed(() => toLineEdge(end, extend, tried))) return;
  if (!active()) return;
  endSession();
  const line = lineOfCaret(() => toLineEdge(end, extend, true), tried);
  if (line)
    put(caret.story, { ...caret.focus, o: end ? (line.last ? line.e : onLine(line, 1e6)) : line.s }, { extend });
}

/** To the paragraph's beginning, or if there already the one before; or to the next one's. */
export async function moveParagraph(direction, extend, tried = false) {
  if (postponed(() => moveParagraph(direction, extend, tried))) return;
  if (!active()) return;
  endSession();
  const lines = linesOf(caret.story);
  const line = lineOfCaret(() => moveParagraph(direction, extend, true), tried);
  if (!line) return;
  const own = lines.filter((other) => other.p === line.p);
  if (direction < 0 && caret.focus.o > own[0].s) {
    put(caret.story, { p: line.p, o: own[0].s, page: own[0].page }, { extend });
    followCaret();
    return;
  }
  const next = lines[lines.indexOf(direction > 0 ? own[own.length - 1] : own[0]) + direction];
  if (!next) {
    caret.column = null;
    await turn(direction, extend);
    return;
  }
  const first = lines.find((other) => other.p === next.p);
  put(caret.story, { p: next.p, o: first.s, page: first.page }, { extend });
  followCaret();
}

/** To the head of the next column, or of this one and then the one before. */
export async function moveColumn(direction, extend, tried = false) {
  if (postponed(() => moveColumn(direction, extend, tried))) return;
  if (!active()) return;
  endSession();
  const lines = linesOf(caret.story);
  const line = lineOfCaret(() => moveColumn(direction, extend, true), tried);
  if (!line) return;
  const heads = lines.filter(
    (other, i) =>
      i === 0 || other.frame !== lines[i - 1].frame || other.page !== lines[i - 1].page || other.y < lines[i - 1].y - 1,
  );
  let here = heads.length - 1;
  while (here > 0 && lines.indexOf(heads[here]) > lines.indexOf(line)) here -= 1;
  const back = direction < 0 && (line !== heads[here] || caret.focus.o > line.s) ? 0 : direction;
  const next = heads[here + back];
  if (!next) {
    caret.column = null;
    await turn(direction, extend);
    return;
  }
  put(caret.story, { p: next.p, o: next.s, page: next.page }, { extend });
  followCaret();
}

export async function toStoryEdge(end, extend) {
  if (postponed(() => toStoryEdge(end, extend))) return;
  if (!active()) return;
  endSession();
  await holding(async () => {
    await sentAll();
    await storyEdge(end, extend);
  }); // what is pasted meanwhile waits, too
}

async function storyEdge(end, extend) {
  const answer = await showPlace(caret.story, end ? "$" : "^", 0);
  if (answer.caret) {
    put(caret.story, { p: answer.caret.p, o: answer.caret.offset, page: answer.caret.page }, { extend });
    followCaret();
  }
}
