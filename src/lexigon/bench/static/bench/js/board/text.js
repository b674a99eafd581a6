// Typing on the board: caret, selection, composition. What is typed is put into the words that are known here and painted at once; it is sent in
// order (`store.js`, `typing/queue.js`), and painted again on each answer that does not have it yet.
import { typing as field } from "./rooms.js";
import { HttpError, statusOf } from "../errors.js";
import { points } from "../typing/characters.js";
import {
  active,
  caret,
  draw,
  endSession,
  ends,
  followCaret,
  groupNow,
  known,
  learn,
  leave,
  put,
  same,
  selectAll,
  selected,
} from "./caret.js";
import { cellOf, stepCell } from "./cells.js";
import { lineAt } from "./lines.js";
import { hideOver } from "./asprinted.js";
import { eraseWithin, insertWithin, paintEdit } from "./provisional.js";
import { frames as standing, linesOf } from "./standing.js";
import { board, marks, sheet } from "./sheet.js";
import { VIEW_ONLY, emit, idle, on, send, sendTyped, setTool, showPlace, state, toast } from "./store.js";
import { holding, inTurn, tearOff, unwound } from "../typing/tape.js";
import * as frames from "./frames.js";
import { move, moveColumn, moveLine, moveParagraph, stepped, toLineEdge, toStoryEdge } from "./moving.js";
import { clean, freshId, shiftPlace } from "../typing/words.js";

export * from "./caret.js";

let lastKey = 0;
const PAUSE = 4000; // after a rest in typing, undo has a new step
const MOST_LINES = 200; // paragraphs inserted at once here; for more the server chooses the ids
const LINE_BREAK = "\u2028";
let composing = "";

const placeOf = ({ p, o }) => ({ paragraph: p, offset: o });

/** Whether the caret is in words along an outline: they are one line. */
const curved = () => Boolean(lineAt(linesOf(caret.story), caret.focus)?.stops);

/** Whether the text may only be read; then that is said. */
function refused() {
  if (state.role === "view") toast(VIEW_ONLY, true);
  return state.role === "view";
}

/** Put text where the caret is. What is `typed` gets the language's quotation marks, unless that is switched off. */
export function insert(text, typed = false) {
  if (refused()) return;
  inTurn(() => {
    if (!active()) {
      lose(text);
      return;
    }
    const words = clean(text);
    replace(...ends(), curved() ? words.replace(/\s*[\n\u2028]\s*/g, " ") : words, typed && state.marks);
  }, text);
}

/** A new paragraph, or line; what runs along an outline is one line, and done with. */
const newLine = (sign) =>
  refused() ||
  inTurn(() => {
    if (curved()) leaveFor();
    else if (active()) replace(...ends(), sign, false);
  }, sign);

/** Put words where a stretch of the text is: at once where all of it is known here. */
function replace(from, to, text, marks, asked = false) {
  const { story } = caret,
    lines = text.split("\n").length - 1;
  const [a, b] = [from, to].map((place) => known.resolve(story, place));
  const real = from.p.length > 1 && to.p.length > 1;
  if ((!a || !b) && real && !asked) {
    learn(() => replace(...ends(), text, marks, true));
    return;
  } // which others may have moved meanwhile
  if (!a || !b || lines > MOST_LINES) {
    byServer(from, to, text, marks);
    return;
  }
  if (!text && same(a, b)) return;
  if (known.atTable(story, a.p, b.p)) {
    besideTable(a, b, text, marks);
    return;
  }
  const typed = {
    do: "replace-text",
    story,
    start: placeOf(a),
    end: placeOf(b),
    text,
    marks,
    ids: Array.from({ length: lines }, freshId),
  };
  const step = paint(typed);
  if (!step) {
    byServer(from, to, text, marks);
    return;
  }
  caret.focus = caret.anchor = {
    p: step.caret.paragraph,
    o: step.caret.offset,
    page: pageOf(step.caret.paragraph) ?? from.page,
  };
  caret.column = null;
  if (Date.now() - lastKey > PAUSE) endSession();
  lastKey = Date.now();
  sendTyped(typed, groupNow()).then(confirmed, () => {});
  if (lines) endSession(); // each paragraph is a step of its own to undo
  draw();
  followCaret();
  emit("text");
}

const pageOf = (p) => linesOf(caret.story).find((line) => line.p === p)?.page;

/** Carry out an edit in the words that are known here, and paint it. @returns {any} what it did; null where not all of it is known */
function paint(typed) {
  const rows = known.rowsOf(typed.story, typed.start.paragraph);
  const step = rows && known.replace(typed);
  if (!step) return null;
  const [a, b] = [typed.start, typed.end].map(({ paragraph, offset }) => ({
    p: paragraph,
    o: offset,
    at: rows.findIndex(({ id }) => id === paragraph),
  }));
  const [from, to] = a.at < b.at || (a.at === b.at && a.o <= b.o) ? [a, b] : [b, a];
  paintEdit(typed.story, rows, step, from, to, typed.text);
  hideOver(typed.story);
  return step;
}

/** The answer to what was typed last: which page the caret is on now. */
function confirmed(answer) {
  if (!answer?.caret || !active() || answer.caret.story !== caret.story || answer.caret.p !== caret.focus.p) return;
  if (answer.caret.page !== null) caret.focus.page = caret.anchor.page = answer.caret.page;
  draw();
  followCaret();
  emit("text");
}

/** What is about words that are not known here: the server does it, and says where the caret is; keys wait for that. */
function byServer(from, to, text, marks) {
  holding(async () => {
    endSession();
    try {
      const answer = await send([
        { do: "replace-text", story: caret.story, start: placeOf(from), end: placeOf(to), text, marks },
      ]);
      caretFrom(answer.caret, from.page);
    } catch (error) {
      if (!statusOf(error)) throw error;
      lose(text + tearOff());
    }
  });
}

function caretFrom(there, page) {
  if (!there) return;
  put(there.story, { p: there.p, o: there.offset, page: there.page ?? page });
  followCaret();
}

/** A table stands alone: a paragraph is made before or after it, to type in. */
function besideTable(a, b, text, marks) {
  if (!same(a, b) || !known.row(caret.story, a.p).table || !text || text === "\n") {
    byServer(a, b, text, marks);
    return;
  }
  holding(async () => {
    const at = placeOf(a);
    try {
      const answer = await send([{ do: "replace-text", story: caret.story, start: at, end: at, text: "\n" }]);
      caretFrom(a.o === 0 ? { ...answer.caret, p: a.p, offset: 0 } : answer.caret, caret.focus.page);
      return () => replace(caret.focus, caret.focus, text, marks);
    } catch (error) {
      if (!statusOf(error)) throw error;
      lose(text + tearOff());
      return null;
    }
  });
}

/** Delete what is selected, or the character or word beside the caret. */
export function erase(forward, byWord) {
  if (refused()) return;
  inTurn(async () => {
    if (!active()) return;
    if (selected()) {
      replace(...ends(), "", false);
      return;
    }
    const here = caret.focus,
      there = stepped(here, forward ? 1 : -1, byWord);
    if (there) replace(forward ? here : there, forward ? there : here, "", false);
    else if (there === undefined) learn(() => erase(forward, byWord));
  });
}

let unplaced = "";
/** Words that could not be inserted are kept in sight, all of them together: nothing typed is lost. */
function lose(words) {
  if (!unplaced)
    setTimeout(() => {
      if (unplaced.trim()) emit("unplaced", unplaced);
      unplaced = "";
    });
  unplaced += words;
}

/** Where typing that was refused began: the caret goes back there. @type {{p: string, o: number} | null} */
let displaced = null;
on("refused", ({ lost }) => {
  if (!lost.length) return;
  const { paragraph: p, offset: o } = lost[0].asked.intents[0].start;
  if (lost[0].story === caret.story) displaced = { p, o };
  endSession();
  known.forget(lost[0].story);
  const words =
    lost
      .flatMap(({ asked }) => asked.intents)
      .map(({ text }) => text)
      .join("") + tearOff();
  if (words.trim()) emit("unplaced", words); // at once, so that it gets the next keys
});
const moved = (at, shift) => {
  const { paragraph: p, offset: o } = shiftPlace(placeOf(at), shift);
  return { ...at, p, o };
};
/** Places where somebody pressed while something was under way, until their turn comes. @type {Set<{story: string, at: any}>} */
const waitingPresses = new Set();
on("shift", (shift) => {
  if (active() && caret.story === shift[0])
    for (const side of ["anchor", "focus"]) caret[side] = moved(caret[side], shift);
  for (const one of waitingPresses) if (one.story === shift[0]) one.at = moved(one.at, shift);
});

/** Put the caret where somebody presses while something is under way: that place, wherever it is by then, and nowhere else. */
export function putInTurn(story, at, extend) {
  const one = { story, at };
  waitingPresses.add(one);
  inTurn(() => {
    waitingPresses.delete(one);
    endSession();
    const frame = frames.frameOf(one.story, linesOf(one.story).find(({ p }) => p === one.at.p)?.page);
    if (frame) frames.select(frame);
    put(one.story, one.at, { extend });
  });
}

/** The cell of a table that a paragraph is in by now: rows may have come or gone since its text was named. */
function cellNow(story, p) {
  const at = cellOf(story);
  if (!at) return story;
  const found = standing().find(
    (f) => f.role === "cell" && cellOf(f.story)?.table === at.table && f.lines.some((line) => line.p === p),
  );
  return found?.story ?? story;
}
on("answered", ({ answer, entry }) => known.answered(answer, entry));

/** Whether a paragraph is that of a cell without words, whose name is made from its place. */
const emptyCell = (p) => /\.\d+\.\d+$/.test(p);

/** After each drawing: what was typed since it was asked for is put into its words and painted. */
function replay() {
  if (active() && !emptyCell(caret.focus.p)) caret.story = cellNow(caret.story, caret.focus.p);
  for (const one of waitingPresses) if (!emptyCell(one.at.p)) one.story = cellNow(one.story, one.at.p);
  for (const typed of known.drawn(active() ? [caret.story] : [])) paint(typed);
  if (composing && active()) insertWithin(caret.story, caret.focus, composing);
  if (!active()) return;
  if (displaced || (known.count(caret.story) && !known.resolve(caret.story, caret.focus) && unwound())) findAgain();
  displaced = null;
}

/** Back to where refused typing began; where that paragraph, or the caret's, is gone, to the end of what is shown of the story. */
function findAgain() {
  const { story, focus } = caret,
    back = displaced && known.resolve(story, { ...displaced, page: focus.page });
  if (back) {
    caret.focus = caret.anchor = back;
    return;
  }
  const lines = linesOf(story),
    line = lines.filter(({ p }) => p === focus.p).pop() || (displaced && lines.pop());
  if (line) caret.focus = caret.anchor = { p: line.p, o: line.e, page: line.page };
  else if (displaced) leave();
}

/** Put something that is no typed word where the caret is: `intent` says what (standing copy, a note, a frame). */
export async function putIn(intent) {
  if (!active()) return;
  await holding(async () => {
    // what is typed meanwhile goes where the caret goes
    await idle();
    const [from, to] = ends();
    const place = ({ p, o }) => ({ paragraph: p, offset: o });
    endSession();
    let answer;
    try {
      answer = await send([{ ...intent, story: caret.story, start: place(from), end: place(to) }]);
    } catch (error) {
      if (!(error instanceof HttpError)) throw error;
      return; // the reason was shown
    }
    if (answer.caret)
      goInto(answer.caret.story, { p: answer.caret.p, o: answer.caret.offset, page: answer.caret.page ?? from.page });
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
  if (note?.cell) {
    emit("cells", { from: note, to: note });
    return;
  }
  if (note) {
    goInto(note.cited.story, { p: note.cited.p, o: note.cited.o, page: note.page });
    return;
  }
  leave();
  setTool("select");
  sheet.focus();
}

/** Italic or bold by key: of what is selected when its turn comes, else of the paragraph. */
function emphasise(look) {
  if (!selected()) {
    emit("cut", look);
    return;
  }
  const [from, to] = ends();
  endSession();
  send([{ do: "toggle-emphasis", story: caret.story, start: placeOf(from), end: placeOf(to), look }]).catch((error) => {
    if (!error.status) throw error;
  });
}

/** Undo or redo, after all that was done before it; keys wait for it. */
export function takeBack(step) {
  inTurn(() => {
    endSession();
    holding(async () => {
      await idle();
      await step();
    });
  });
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

// Events

field.addEventListener("keydown", (event) => {
  if (event.isComposing) return;
  const control = event.ctrlKey || event.metaKey;
  const extend = event.shiftKey;
  const keys = {
    ArrowLeft: () => move(-1, { byWord: control || event.altKey, extend }),
    ArrowRight: () => move(1, { byWord: control || event.altKey, extend }),
    ArrowUp: () => (control ? moveParagraph(-1, extend) : event.altKey ? moveColumn(-1, extend) : moveLine(-1, extend)),
    ArrowDown: () => (control ? moveParagraph(1, extend) : event.altKey ? moveColumn(1, extend) : moveLine(1, extend)),
    Home: () => (control ? toStoryEdge(false, extend) : toLineEdge(false, extend)),
    End: () => (control ? toStoryEdge(true, extend) : toLineEdge(true, extend)),
    Backspace: () => erase(false, control || event.altKey),
    Delete: () => erase(true, control || event.altKey),
    Enter: () => newLine(event.shiftKey ? LINE_BREAK : "\n"),
    Escape: () => inTurn(leaveFor),
  };
  if (control && event.key.toLowerCase() === "a") {
    event.preventDefault();
    inTurn(selectAll);
    return;
  }
  if (control && event.shiftKey && event.key.toLowerCase() === "v") return; // what is pasted comes plain
  if (control && ["i", "b"].includes(event.key.toLowerCase())) {
    event.preventDefault();
    inTurn(() => emphasise(event.key.toLowerCase() === "i" ? "italic" : "bold"));
    return;
  }
  if (keys[event.key]) {
    event.preventDefault();
    event.stopPropagation();
    keys[event.key]();
  } else if (!control && (event.key.length === 1 || event.key === "Tab")) {
    event.stopPropagation();
    if (event.key === "Tab") {
      event.preventDefault();
      inTurn(() => {
        if (cellOf(caret.story)) stepCell(event.shiftKey);
        else insert("\t");
      }, "\t");
    }
  }
});
field.addEventListener("input", (event) => {
  if (event.isComposing) return;
  const text = field.value;
  field.value = "";
  if (text) insert(text, true);
});
field.addEventListener("compositionstart", () => {
  if (selected()) erase(true, false);
  composing = "";
});
field.addEventListener("compositionupdate", (event) => {
  // What is being composed is only painted; the finished text is what is sent.
  if (!active() || !unwound()) return;
  uncompose();
  composing = event.data;
  insertWithin(caret.story, caret.focus, composing);
  draw();
});
field.addEventListener("compositionend", (event) => {
  uncompose();
  field.value = "";
  if (event.data) insert(event.data, true);
});

/** What is being composed is no longer painted. */
function uncompose() {
  const { p, o } = caret.focus || {};
  if (composing && active()) eraseWithin(caret.story, p, o, o + points(composing));
  composing = "";
}

field.addEventListener("blur", () => {
  marks.classList.add("away");
});
// A dialog that closes gives the field its focus, but not the selection without which it takes no input.
field.addEventListener("focus", () => {
  marks.classList.remove("away");
  field.setSelectionRange(field.value.length, field.value.length);
});

/** An empty page of a story: the caret goes to the end of its text. */
export async function comeBackTo(frame) {
  const answer = await showPlace(frame.story, "$", 0);
  if (answer.caret) put(frame.story, { p: answer.caret.p, o: answer.caret.offset, page: answer.caret.page });
}

/** Keep what is typed while `reach` is on its way to put the caret somewhere, and put it in there: nobody has to wait for it. */
export async function awaiting(reach) {
  field.focus({ preventScroll: true });
  await holding(async () => {
    await reach();
    return () => {
      if (!active()) {
        field.blur();
        lose(tearOff());
      }
    };
  });
}

export async function enter(frame) {
  if (state.record) return emit("record-words", { story: frame.story });
  setTool("text");
  const lines = linesOf(frame.story).filter((line) => line.frame === frame.id && line.page === frame.page);
  if (lines.length) put(frame.story, { p: lines[0].p, o: lines[0].s, page: frame.page });
  else await awaiting(() => comeBackTo(frame));
}

on("painted", () => {
  replay();
  if (active()) draw();
});
on("view", () => {
  if (active()) draw();
});
on("stepped", (there) => {
  if (!active()) return;
  if (there && there.story === caret.story) {
    put(there.story, { p: there.p, o: there.offset, page: there.page });
    followCaret();
  } else if (caret.focus.p.length > 1 && !linesOf(caret.story).some((line) => line.p === caret.focus.p)) leave();
  else draw();
});
board.addEventListener("focusin", draw);
