// The words of a story as they are typed, paragraph by paragraph: what an edit makes of them, before the server says so. What `applyTyping` does
// is what the core's ReplaceText does (held against it by tests/scripts/test_typing_agreement.py); ids of new paragraphs are made here, so that
// one can go on typing in them at once. Offsets count code points.
import { points, units } from "./characters.js";

/**
 * A paragraph: its id and words; whether it holds a table; in the writing view also its style and the looks in it.
 * @typedef {{id: string, text: string, table?: boolean, spans?: any[], notes?: any[]} & Record<string, any>} Row
 * @typedef {{paragraph: string, offset: number}} Place
 * @typedef {{story: string, start: Place, end: Place, text: string, ids?: string[], marks?: boolean}} Typed
 */

const HEX = "0123456789abcdef";
/** An id for a new paragraph. */
export const freshId = () =>
  `p${[...crypto.getRandomValues(new Uint8Array(10))].map((byte) => HEX[byte % 16]).join("")}`;

const CONTROLS = /(?!\n|\t|\x85)\p{Cc}|[\p{Cs}\ufffc\ufeff\ufffe\uffff]/gu;
/** Words as a story may hold them: one kind of line end, no control characters. The core's `clean`. */
export const clean = (text) => text.replace(/\r\n?|\x85|\u2029/g, "\n").replace(CONTROLS, "");

/** A row with other words from `start` to `end`. What is put in is set like what it replaces, or what is before it. @param {Row} row @returns {Row} */
export function withWords(row, start, end, put) {
  const a = units(row.text, start),
    b = units(row.text, end),
    long = points(put),
    by = long - (end - start),
    insertion = start === end;
  const from = (s) => (s < start || (s === start && !insertion) ? s : s >= end ? s + by : start + long);
  const to = (e, s, kind) =>
    e < start ? e : e === start ? e + (insertion && s < start && !kind ? long : 0) : e >= end ? e + by : start + long;
  const spans = (row.spans || [])
    .map(([s, e, ...rest]) => [from(s), to(e, s, rest[1]), ...rest])
    .filter(([s, e]) => e > s);
  return withSpans({ ...row, text: row.text.slice(0, a) + put + row.text.slice(b) }, spans);
}

function withSpans(row, spans) {
  const { spans: _, ...rest } = row;
  return spans.length ? { ...rest, spans } : rest;
}

/** The words of a row from one offset to another. @param {Row} row @returns {Row} */
function sliceRow(row, start, end) {
  const spans = (row.spans || [])
    .map(([s, e, ...rest]) => [Math.max(s, start) - start, Math.min(e, end) - start, ...rest])
    .filter(([s, e]) => e > s);
  const cut = withSpans({ ...row, text: row.text.slice(units(row.text, start), units(row.text, end)) }, spans);
  if (!row.notes) return cut;
  const before = (row.spans || []).filter(([s, , , kind]) => kind === "note" && s < start).length;
  const within = spans.filter(([, , , kind]) => kind === "note").length;
  const { notes: _, ...rest } = cut;
  return within ? { ...rest, notes: row.notes.slice(before, before + within) } : rest;
}

/** The words of one row after those of another, in the first one's style. @param {Row} first @param {Row} second @returns {Row} */
function joinRows(first, second) {
  const by = points(first.text);
  const spans = [...(first.spans || []), ...(second.spans || []).map(([s, e, ...rest]) => [s + by, e + by, ...rest])];
  const notes = [...(first.notes || []), ...(second.notes || [])];
  return { ...withSpans({ ...first, text: first.text + second.text }, spans), ...(notes.length ? { notes } : {}) };
}

/** Whether a row is a table's: nothing is typed beside it. */
const holdsTable = (row) => Boolean(row.table);

/**
 * What an edit makes of rows: from `at` on `remove` of them become `rows`, and the caret is behind what was typed. Null where a place is unknown.
 * @param {Row[]} rows @param {Typed} typed
 * @returns {{at: number, remove: number, rows: Row[], caret: Place} | null}
 */
export function applyTyping(rows, { start, end, text, ids = [] }) {
  let [first, last] = [start, end].map(({ paragraph }) => rows.findIndex(({ id }) => id === paragraph));
  if (first < 0 || last < 0) return null;
  let [a, b] = [start.offset, end.offset];
  if (first > last || (first === last && a > b)) [first, last, a, b] = [last, first, b, a];
  const [head, tail] = [rows[first], rows[last]],
    long = points(tail.text);
  if (a < 0 || b > long || a > points(head.text)) return null;
  const lines = text.split("\n"),
    at = first,
    remove = last - first + 1;
  const behind = (row, offset) => ({ paragraph: row.id, offset });
  if (lines.length === 1 && first === last)
    return { at, remove, rows: [withWords(head, a, b, text)], caret: behind(head, a + points(text)) };
  const before = withWords(sliceRow(head, 0, a), a, a, lines[0]),
    after = sliceRow(tail, b, long);
  if (lines.length === 1) {
    if (!before.text && after.text) return { at, remove, rows: [after], caret: behind(after, 0) };
    if (after.text && (holdsTable(before) || holdsTable(after)))
      return { at, remove, rows: [before, after], caret: behind(before, points(before.text)) };
    return { at, remove, rows: [joinRows(before, after)], caret: behind(before, points(before.text)) };
  }
  const { spans: _s, notes: _n, queries: _q, table: _t, ...plain } = head;
  const made = lines.slice(1).map((line, n) => ({ ...plain, id: ids[n], text: line }));
  const final = made.length - 1;
  if (after.text || first !== last)
    made[final] = {
      ...joinRows(made[final], after),
      ...(tail.style === undefined ? {} : { style: tail.style, level: tail.level }),
    };
  if (first === last && !before.text && after.text && !holdsTable(head)) {
    [before.id, made[final].id] = [made[final].id, head.id];
  } // what leads to a paragraph goes with its words
  return { at, remove, rows: [before, ...made], caret: behind(made[final], points(lines[final + 1])) };
}

/** A place moved past a change of the words: see the core's `Shift`. From within what changed it goes to the end of that. */
export function shiftPlace(place, [, paragraph, at, removed, inserted, to, by]) {
  if (place.paragraph !== paragraph) return place;
  if (place.offset <= at) return place;
  if (to) return { paragraph: to, offset: place.offset - at + by };
  return { ...place, offset: place.offset >= at + removed ? place.offset + inserted - removed : at + inserted };
}

/** Add an edit to those that wait to be sent: typed on from the last one it becomes a part of it. @param {Typed[]} typed @param {Typed} next */
export function append(typed, next) {
  const last = typed[typed.length - 1];
  if (last && last.story === next.story && !last.text.includes("\n") && !next.text.includes("\n")) {
    const { start, end } = last,
      reach = start.offset + points(last.text);
    const here =
      start.paragraph === end.paragraph &&
      [next.start, next.end].every(({ paragraph }) => paragraph === start.paragraph) &&
      start.offset <= end.offset;
    if (here && next.start.offset === reach && next.end.offset === reach && last.marks === next.marks) {
      last.text += next.text;
      return;
    }
    if (here && !next.text && next.end.offset === reach && next.start.offset >= start.offset) {
      last.text = [...last.text].slice(0, next.start.offset - start.offset).join("");
      if (!last.text && start.offset === end.offset) typed.pop();
      return;
    }
  }
  typed.push({ ...next });
}

/** A stretch of a story that is known here: paragraphs in a row, the first of them number `first` of `count`. */
export class Stretch {
  /** @param {string} story @param {number} first @param {number} count @param {Row[]} rows */
  constructor(story, first, count, rows) {
    this.story = story;
    this.first = first;
    this.count = count;
    this.rows = rows;
  }

  static of({ story, first, count, paragraphs }) {
    return new Stretch(
      story,
      first,
      count,
      paragraphs.map(([id, text, table]) => (table ? { id, text, table } : { id, text })),
    );
  }

  copy() {
    return new Stretch(this.story, this.first, this.count, [...this.rows]);
  }
  indexOf(paragraph) {
    return this.rows.findIndex(({ id }) => id === paragraph);
  }
  row(paragraph) {
    return this.rows[this.indexOf(paragraph)];
  }
  get whole() {
    return this.first === 0 && this.rows.length === this.count;
  }

  /** Carry out an edit; what it did, or null where it is about paragraphs that are not known. @param {Typed} typed */
  replace(typed) {
    const step = applyTyping(this.rows, typed);
    if (!step) return null;
    this.rows.splice(step.at, step.remove, ...step.rows);
    this.count += step.rows.length - step.remove;
    return step;
  }

  /** A real place for one past a paragraph's edge or for an end of the story; undefined where that is not known. @returns {{p: string, o: number} | undefined} */
  resolve({ p, o }) {
    const { rows } = this;
    if (p === "^") return this.first === 0 ? { p: rows[0].id, o: 0 } : undefined;
    if (p === "$")
      return this.first + rows.length === this.count
        ? { p: rows[rows.length - 1].id, o: points(rows[rows.length - 1].text) }
        : undefined;
    const at = this.indexOf(p);
    if (at < 0) return undefined;
    return { p, o: Math.min(Math.max(o, 0), points(rows[at].text)) };
  }

  /** The end of the paragraph before, or the beginning of the one after; null at the story's edge, undefined where it is not known. */
  beside(paragraph, direction) {
    const at = this.indexOf(paragraph),
      next = this.rows[at + direction];
    if (at < 0) return undefined;
    if (next) return { p: next.id, o: direction > 0 ? 0 : points(next.text) };
    const edge = direction > 0 ? this.first + this.rows.length >= this.count : this.first === 0;
    return edge ? null : undefined;
  }

  /** This stretch with what the server says of parts of it put over it; null where one of them does not fit. @param {Stretch[]} fresh */
  with(fresh) {
    const made = this.copy();
    for (const other of [...fresh].sort((a, b) => a.first - b.first)) {
      if (other.story !== made.story || other.count !== made.count) return null;
      const end = made.first + made.rows.length,
        stop = other.first + other.rows.length;
      if (other.first > end || stop < made.first) continue; // apart from it
      const head = made.rows.slice(0, Math.max(other.first - made.first, 0)),
        tail = made.rows.slice(Math.max(stop - made.first, 0));
      const over = made.rows.slice(head.length, made.rows.length - tail.length);
      if (over.some(({ id }, n) => id !== other.rows[Math.max(made.first - other.first, 0) + n]?.id)) return null;
      made.rows = [...head, ...other.rows, ...tail];
      made.first = Math.min(made.first, other.first);
    }
    return made;
  }
}
