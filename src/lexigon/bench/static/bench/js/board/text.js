// Typing on the board: caret, selection, composition. A key is painted at once and confirmed by the reply.
import { typing as field } from "./rooms.js";
import { points } from "./characters.js";
import { cellOf, stepCell } from "./cells.js";
import { areaOf, caretAt, lineAt, lineText, paintLocally, transformOf, xAt } from "./lines.js";
import { frames as standing, linesOf } from "./standing.js";
import { board, make, marks, pageX, reveal, sheet, view } from "./sheet.js";
import { emit, on, send, setTool, showPlace, state } from "./store.js";
import * as frames from "./frames.js";
import { move, moveColumn, moveLine, moveParagraph, stepped, toLineEdge, toStoryEdge } from "./moving.js";

export const caret = { story: "", anchor: null, focus: null, column: null };
let ops = [];
let flying = false;
let hold = false;
let later = [];
let session = 0;
let lastKey = 0;
const started = Date.now().toString(36);
const PAUSE = 4000; // after a rest in typing, undo has a new step
let composing = "";
let coming = false; // a frame that is being made will take what is typed meanwhile

const LINE_BREAK = "\u2028";
const same = (a, b) => a && b && a.p === b.p && a.o === b.o;
export const active = () => Boolean(caret.focus);
export const selected = () => active() && !same(caret.anchor, caret.focus);

/** The words that are selected within one paragraph, as they are painted; "" for none. */
export function selectedWords() {
  if (!selected()) return "";
  const [from, to] = ends();
  if (from.p !== to.p) return "";
  const own = linesOf(caret.story).filter(({ p }) => p === from.p);
  const begin = own[0]?.s || 0;
  let text = "";
  for (const line of own) text += " ".repeat(Math.max(line.s - begin - points(text), 0)) + lineText(line);
  return [...text].slice(from.o - begin, to.o - begin).join("").replace(/\s+/g, " ").trim();
}

/** The table that the caret stands at, by its id; "" where it stands in words. */
export const tableAtCaret = () => (active() && linesOf(caret.story).find(({ p }) => p === caret.focus.p)?.table) || "";

/** Where the caret stands, once all that was typed is kept; null where there is none. */
export async function caretPlace() {
  if (!active()) return null;
  await quiet();
  return { story: caret.story, place: { paragraph: caret.focus.p, offset: caret.focus.o } };
}

/** The two ends of the selection in reading order, as far as the visible lines tell (the server sorts the rest). */
export function ends() {
  const lines = linesOf(caret.story);
  const rank = (place) => {
    if (place.p === "^") return -1;
    if (place.p === "$") return Infinity;
    const line = lineAt(lines, place);
    return line ? lines.indexOf(line) + 1 : place.page < state.view[0] ? 0 : lines.length + 1;
  };
  const [a, b] = [caret.anchor, caret.focus];
  const [ra, rb] = [rank(a), rank(b)];
  return ra < rb || (ra === rb && a.o <= b.o) ? [a, b] : [b, a];
}

export function leave() {
  if (!active()) return;
  caret.anchor = caret.focus = null;
  marks.replaceChildren();
  field.blur();
  emit("text");
}

export function put(story, place, { extend = false, keepColumn = false } = {}) {
  if (caret.story !== story) session += 1;
  caret.story = story;
  caret.focus = { p: place.p, o: place.o, page: place.page ?? state.view[0] };
  if (!extend || !caret.anchor) caret.anchor = caret.focus;
  if (!keepColumn) caret.column = null;
  draw();
  if (document.activeElement !== field) field.focus({ preventScroll: true });
  emit("text");
}

/** Draw the caret or the selection from the painted lines. */
export function draw() {
  marks.replaceChildren();
  if (!active()) return;
  const lines = linesOf(caret.story);
  if (selected()) {
    const [from, to] = ends();
    let inside = from.p === "^" || (!lineAt(lines, from) && from.page < state.view[0]);
    for (const line of lines) {
      const begins = lineAt(lines, from) === line;
      const stops = lineAt(lines, to) === line;
      if (begins) inside = true;
      if (inside) {
        if (line.stops) make("polygon", { class: "selection", points: areaOf(line, begins ? from.o : line.s, stops ? to.o : line.e).join(" "), transform: transformOf(line) }, marks);
        else {
          const x0 = begins ? xAt(line, from.o) : line.x;
          const x1 = stops ? xAt(line, to.o) : xAt(line, line.e) + (line.last ? 3 : 0);
          make("rect", { class: "selection", x: pageX(line.page) + x0, y: line.y - line.a, width: Math.max(x1 - x0, 0.5), height: line.a + line.d, transform: transformOf(line) }, marks);
        }
      }
      if (stops) inside = false;
    }
  }
  const line = lineAt(lines, caret.focus);
  if (line) {
    const own = caretAt(line, caret.focus.o);
    if (!selected()) make("line", { class: "caret", ...own, transform: transformOf(line) }, marks);
    field.style.left = `${own.x1 * view.scale + view.x}px`;
    field.style.top = `${own.y1 * view.scale + view.y}px`;
    field.style.fontSize = `${(line.a + line.d) * view.scale * 0.8}px`;
  }
}

// Changing the text

function operation(start, end, text) {
  return { do: "replace-text", story: caret.story, start: { paragraph: start.p, offset: start.o }, end: { paragraph: end.p, offset: end.o }, text };
}

export function postponed(action) {
  if (!hold) return false;
  later.push(action);
  return true;
}

/** Whether the caret stands in words along an outline. */
const curved = () => Boolean(lineAt(linesOf(caret.story), caret.focus)?.stops);

/** Put text where the caret is. What is `typed` gets the language's quotation marks, unless that is switched off. */
export function insert(text, typed = false) {
  if (!active() || postponed(() => insert(text, typed))) return;
  if (curved()) text = text.replace(/\s*[\n\u2028]\s*/g, " "); // it is one line
  const own = typed && state.marks;
  const [from, to] = ends();
  const within = from.p === to.p && !/\n/.test(text) && from.p.length > 1;
  if (within && same(from, to) && tableAtCaret()) { // a table stands alone: a paragraph is made before or behind it, to type in
    ops.push({ ...operation(from, to, "\n"), marks: false, after: from.o, structural: true, before: from.o === 0 });
    hold = true;
    later.push(() => insert(text, typed));
    flush();
    return;
  }
  const last = ops[ops.length - 1];
  if (within && same(from, to) && last && last.start.paragraph === from.p && last.after === from.o && last.marks === own) {
    last.text += text;
    last.after += points(text);
  } else {
    ops.push({ ...operation(from, to, text), marks: own, after: from.o + points(text), structural: !within });
  }
  if (within) {
    paintLocally(caret.story, from, to.o - from.o, text.replace(/\t/g, "\u2003"));
    caret.focus = caret.anchor = { p: from.p, o: from.o + points(text), page: from.page };
    draw();
    followCaret();
  } else {
    hold = true;
  }
  flush();
}

/** A new paragraph, or line; what runs along an outline is one line, and done with. */
function newLine(sign) {
  if (postponed(() => newLine(sign))) return;
  if (curved()) leaveFor(); else insert(sign);
}

function remove(from, to) {
  if (from.p === to.p && from.o >= 0 && to.o >= from.o) {
    const last = ops[ops.length - 1];
    if (last && last.start.paragraph === from.p && last.after === to.o && points(last.text) >= to.o - from.o && !last.structural) {
      const chars = [...last.text];
      last.text = chars.slice(0, chars.length - (to.o - from.o)).join("");
      last.after = from.o;
      if (!last.text && same({ p: last.start.paragraph, o: last.start.offset }, { p: last.end.paragraph, o: last.end.offset })) ops.pop();
    } else {
      ops.push({ ...operation(from, to, ""), after: from.o, structural: false });
    }
    paintLocally(caret.story, from, to.o - from.o, "");
    caret.focus = caret.anchor = { ...from };
    draw();
  } else {
    ops.push({ ...operation(from, to, ""), after: from.o, structural: true });
    hold = true;
  }
  flush();
}

export function erase(forward, byWord) {
  if (!active() || postponed(() => erase(forward, byWord))) return;
  if (selected()) { const [from, to] = ends(); remove(from, to); return; }
  const here = caret.focus;
  const lines = linesOf(caret.story).filter((line) => line.p === here.p);
  const line = lineAt(lines, here);
  if (!line) return;
  const step = stepped(here, forward ? 1 : -1, byWord, lines);
  const there = step || { p: here.p, o: forward ? here.o + 1 : -1 };
  if (!step && !forward && here.o > 0) { remove({ ...here, o: here.o - 1 }, here); return; }
  remove(forward ? here : there, forward ? there : here);
}

async function flush() {
  if (flying || !ops.length) return;
  const sent = ops;
  ops = [];
  flying = true;
  if (Date.now() - lastKey > PAUSE) session += 1;
  lastKey = Date.now();
  const group = `${started}-${session}`;
  const structural = sent.some((op) => op.structural);
  try {
    const answer = await send(sent.map(({ after, structural: _, before: _b, ...intent }) => intent), { group, keep: () => ops.length > 0 });
    flying = false;
    if (structural && answer.caret) {
      hold = false;
      if (sent.some((op) => op.text.includes("\n"))) session += 1; // each paragraph is a step of its own to undo
      const ahead = sent.find((op) => op.before);
      caret.focus = caret.anchor = ahead ? { p: ahead.start.paragraph, o: 0, page: caret.focus.page } : { p: answer.caret.p, o: answer.caret.offset, page: answer.caret.page ?? caret.focus.page };
      draw();
      followCaret();
      const waiting = later;
      later = [];
      for (const action of waiting) action();
    } else if (!ops.length) {
      draw();
      followCaret();
    }
    emit("text");
  } catch {
    // What could not be put in is offered for the clipboard, with what was typed behind it: nothing typed is lost.
    const lost = [...sent, ...ops].map((op) => op.text).join("");
    flying = false;
    hold = false;
    later = [];
    ops = [];
    draw();
    if (lost.trim()) emit("unplaced", lost);
  }
  flush();
}

/** Put something that is no typed word where the caret is: `intent` says what (standing copy, a note, a frame). */
export async function putIn(intent) {
  if (!active()) return;
  await holding(async () => { // what is typed meanwhile goes where the caret goes
    await sentAll();
    const [from, to] = ends();
    const place = ({ p, o }) => ({ paragraph: p, offset: o });
    session += 1;
    const answer = await send([{ ...intent, story: caret.story, start: place(from), end: place(to) }]);
    if (answer.caret) goInto(answer.caret.story, { p: answer.caret.p, o: answer.caret.offset, page: answer.caret.page ?? from.page });
  });
}

/** The caret goes on in another text, whose frame is chosen. */
function goInto(story, place) {
  const frame = frames.frameOf(story, place.page);
  if (story !== caret.story && frame) frames.select(frame);
  put(story, place);
  followCaret();
}

/** Leave the text; out of a note, back to where it is cited. */
function leaveFor() {
  const note = standing().find((f) => f.story === caret.story && f.cited);
  if (note?.cell) { emit("cells", { from: note, to: note }); return; }
  if (note) { goInto(note.cited.story, { p: note.cited.p, o: note.cited.o, page: note.page }); return; }
  leave();
  setTool("select");
  sheet.focus();
}

const until = async (done) => { while (!done()) await new Promise((wait) => setTimeout(wait, 10)); };
export const sentAll = () => until(() => !flying && !ops.length);
export const quiet = () => until(() => !flying && !ops.length && !hold);
export const endSession = () => { session += 1; };

/** Keep the caret in view. Words that were just typed run over the line's end until the lines are set anew: as far as the
 *  frame goes, so that the view does not slide with them. */
export function followCaret() {
  if (!active()) return; // it was left before the answer came
  const line = lineAt(linesOf(caret.story), caret.focus);
  if (!line) return;
  const frame = frames.frameOfLine(line);
  const right = line.map || !frame ? Infinity : frame.x + frame.w;
  const own = caretAt(line, caret.focus.o);
  reveal(Math.min(own.x1, pageX(line.page) + right), line.stops ? own.y1 : line.y);
}

/** Keys typed while something is fetched or put in wait until it is there, and until what that gives to do next is done. */
export async function holding(action) {
  hold = true;
  let first = null;
  try { first = await action(); } finally {
    hold = false;
    const waiting = later;
    later = [];
    first?.();
    for (const next of waiting) next();
  }
}

/** Select a stretch of a story wherever it stands, and show it. */
export async function goToPlace(story, p, start, end) {
  const answer = await showPlace(story, p, start);
  const page = answer.caret?.page ?? undefined;
  setTool("text");
  const frame = frames.frameOf(story, page);
  if (frame) frames.select(frame);
  put(story, { p, o: start, page });
  if (end > start) put(story, { p, o: end, page }, { extend: true });
  followCaret();
}
on("typeAt", ({ story, p, o }) => goToPlace(story, p, o, o));

export const focusText = () => field.focus({ preventScroll: true });

export function selectAll() {
  caret.anchor = { p: "^", o: 0, page: -1 };
  caret.focus = { p: "$", o: 0, page: 1e9 };
  draw();
  emit("text");
}

// Events

field.addEventListener("keydown", (event) => {
  if (coming) { event.stopPropagation(); return; }
  if (event.isComposing) return;
  const control = event.ctrlKey || event.metaKey;
  const extend = event.shiftKey;
  const keys = {
    ArrowLeft: () => move(-1, { byWord: control || event.altKey, extend }), ArrowRight: () => move(1, { byWord: control || event.altKey, extend }),
    ArrowUp: () => (control ? moveParagraph(-1, extend) : event.altKey ? moveColumn(-1, extend) : moveLine(-1, extend)),
    ArrowDown: () => (control ? moveParagraph(1, extend) : event.altKey ? moveColumn(1, extend) : moveLine(1, extend)),
    Home: () => (control ? toStoryEdge(false, extend) : toLineEdge(false, extend)), End: () => (control ? toStoryEdge(true, extend) : toLineEdge(true, extend)),
    Backspace: () => erase(false, control || event.altKey), Delete: () => erase(true, control || event.altKey),
    Enter: () => newLine(event.shiftKey ? LINE_BREAK : "\n"),
    Escape: leaveFor,
  };
  if (control && event.key.toLowerCase() === "a") { event.preventDefault(); selectAll(); return; }
  if (control && event.shiftKey && event.key.toLowerCase() === "v") return; // what is pasted comes plain
  if (control && ["i", "b"].includes(event.key.toLowerCase())) { event.preventDefault(); emit("cut", event.key.toLowerCase() === "i" ? "italic" : "bold"); return; }
  if (keys[event.key]) { event.preventDefault(); event.stopPropagation(); keys[event.key](); }
  else if (!control && (event.key.length === 1 || event.key === "Tab")) {
    event.stopPropagation();
    if (event.key === "Tab") { event.preventDefault(); if (cellOf(caret.story)) stepCell(event.shiftKey); else insert("\t"); }
  }
});
field.addEventListener("input", (event) => {
  if (event.isComposing || coming) return;
  const text = field.value;
  field.value = "";
  if (text) insert(text, true);
});
field.addEventListener("compositionstart", () => { if (coming) return; if (selected()) erase(true, false); composing = ""; });
field.addEventListener("compositionupdate", (event) => {
  // What is being composed is only painted; the finished text is what is sent.
  if (!active() || hold || coming) return;
  paintLocally(caret.story, caret.focus, points(composing), event.data);
  composing = event.data;
  draw();
});
field.addEventListener("compositionend", (event) => {
  if (coming) return;
  if (composing) paintLocally(caret.story, caret.focus, points(composing), "");
  composing = "";
  field.value = "";
  if (event.data) insert(event.data, true);
});
field.addEventListener("blur", () => { marks.classList.add("away"); });
field.addEventListener("focus", () => { marks.classList.remove("away"); });

/** An empty page of a story: the caret goes to the end of its text. */
export async function comeBackTo(frame) {
  const answer = await showPlace(frame.story, "$", 0);
  if (answer.caret) put(frame.story, { p: answer.caret.p, o: answer.caret.offset, page: answer.caret.page });
}

/** Keep what is typed while `reach` is on its way to put the caret somewhere, and put it in there: nobody has to wait for it. */
export async function awaiting(reach) {
  coming = true;
  field.focus({ preventScroll: true });
  try { await reach(); } finally {
    coming = false;
    const typed = field.value;
    field.value = "";
    if (!active()) field.blur();
    else if (typed) insert(typed, true);
  }
}

export async function enter(frame) {
  setTool("text");
  const lines = linesOf(frame.story).filter((line) => line.frame === frame.id && line.page === frame.page);
  if (lines.length) put(frame.story, { p: lines[0].p, o: lines[0].s, page: frame.page });
  else await awaiting(() => comeBackTo(frame));
}

on("painted", () => { if (active()) draw(); });
on("view", () => { if (active()) draw(); });
on("stepped", (there) => {
  if (!active()) return;
  if (there && there.story === caret.story) {
    put(there.story, { p: there.p, o: there.offset, page: there.page });
    followCaret();
  } else if (caret.focus.p.length > 1 && !linesOf(caret.story).some((line) => line.p === caret.focus.p)) leave();
  else draw();
});
board.addEventListener("focusin", draw);
