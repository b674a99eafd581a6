// The caret of the board: where it stands, what is selected, and the field that has the keys. text.js types at it, moving.js and cells.js move it.
import { typing as field } from "./rooms.js";
import { Known } from "./known.js";
import { areaOf, caretAt, lineAt, transformOf, xAt } from "./lines.js";
import { make, marks, pageX, reveal, view } from "./sheet.js";
import * as frames from "./frames.js";
import { linesOf } from "./standing.js";
import { emit, idle, state, toast, wordsAround } from "./store.js";
import { holding, unwound, watchCaret, whenUnwound } from "../typing/tape.js";
import { statusOf } from "../errors.js";

export { holding, inTurn, postponed } from "../typing/tape.js";

export const caret = { story: "", anchor: null, focus: null, column: null };
/** The words of stories as they are with all that was typed. */
export const known = new Known();
export const same = (a, b) => a && b && a.p === b.p && a.o === b.o;
export const active = () => Boolean(caret.focus);
export const selected = () => active() && !same(caret.anchor, caret.focus);
watchCaret(active);
/** The words that are selected within one paragraph; "" for none. */
export function selectedWords() {
  if (!selected()) return "";
  const [from, to] = ends(),
    row = known.row(caret.story, from.p);
  if (from.p !== to.p || !row) return "";
  return [...row.text].slice(from.o, to.o).join("").replace(/\s+/g, " ").trim();
}

/** The id of the table at the caret; "" if the caret is in text. */
export const tableAtCaret = () => (active() && linesOf(caret.story).find(({ p }) => p === caret.focus.p)?.table) || "";

/** Where the caret stands, once all that was typed is kept; null where there is none. */
export async function caretPlace() {
  if (!active()) return null;
  await quiet();
  return { story: caret.story, place: { paragraph: caret.focus.p, offset: caret.focus.o } };
}

/** The two ends of the selection in reading order, as far as what is known here tells (the server sorts the rest). */
export function ends() {
  const { story, anchor: a, focus: b } = caret;
  const rank = (place) =>
    place.p === "^"
      ? -1
      : place.p === "$"
        ? Infinity
        : (known.rank(story, place.p) ?? (place.page < state.view[0] ? -0.5 : 1e9));
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
  if (state.record) {
    toast("The board shows a record. Click “Done” to type in the design.");
    return;
  }
  if (caret.story !== story) endSession();
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
        if (line.stops)
          make(
            "polygon",
            {
              class: "selection",
              points: areaOf(line, begins ? from.o : line.s, stops ? to.o : line.e).join(" "),
              transform: transformOf(line),
            },
            marks,
          );
        else {
          const x0 = begins ? xAt(line, from.o) : line.x;
          const x1 = stops ? xAt(line, to.o) : xAt(line, line.e) + (line.last ? 3 : 0);
          make(
            "rect",
            {
              class: "selection",
              x: pageX(line.page) + x0,
              y: line.y - line.a,
              width: Math.max(x1 - x0, 0.5),
              height: line.a + line.d,
              transform: transformOf(line),
            },
            marks,
          );
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

let session = 0;
const started = Date.now().toString(36);
/** What is typed until then is one step to undo; what comes is another. */
export const endSession = () => {
  session += 1;
};
/** The name of the step that what is typed belongs to. */
export const groupNow = () => `${started}-${session}`;

/** Ask for the words around the caret, and go on with them. */
export function learn(next) {
  holding(async () => {
    await idle();
    try {
      known.add(await wordsAround(caret.story, caret.focus));
    } catch (error) {
      if (!statusOf(error)) throw error;
    }
    return next;
  });
}

/** Once all that was typed is answered. */
export const sentAll = idle;
/** Once that is so, and no key waits. */
export const quiet = async () => {
  do {
    await whenUnwound();
    await idle();
  } while (!unwound());
};
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

/** Give the keys back to the text. A dialog that closes gives the field its focus, but not the selection that input needs: so it is left first. */
export function focusText() {
  field.blur();
  field.focus({ preventScroll: true });
}

export function selectAll() {
  caret.anchor = { p: "^", o: 0, page: -1 };
  caret.focus = { p: "$", o: 0, page: 1e9 };
  draw();
  emit("text");
}
