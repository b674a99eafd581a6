// The pointer in text: it puts the caret, selects words and paragraphs, goes over the cells of a table, and carries what is selected.
import { points, units } from "../typing/characters.js";
import { unwound } from "../typing/tape.js";
import { cellOf } from "./cells.js";
import { frameUnder } from "./frames.js";
import { caretAt, lineText, placeNear, transformOf } from "./lines.js";
import { words } from "./moving.js";
import { make, marks, point, sheet } from "./sheet.js";
import { linesOf } from "./standing.js";
import { emit, send, state } from "./store.js";
import { caret, draw, endSession, ends, holding, leave, put, quiet, selected, tableAtCaret } from "./caret.js";
import { comeBackTo, putInTurn } from "./text.js";

function selectWord(place) {
  const line = place.line;
  const text = lineText(line);
  const at = units(text, place.o - line.s);
  for (const piece of words.segment(text)) {
    if (piece.index <= at && at < piece.index + piece.segment.length) {
      put(caret.story, { ...place, o: line.s + points(text, piece.index) });
      put(caret.story, { ...place, o: line.s + points(text, piece.index + piece.segment.length) }, { extend: true });
      return;
    }
  }
}

function selectParagraph(place) {
  const own = linesOf(caret.story).filter((line) => line.p === place.p);
  put(caret.story, { p: place.p, o: own[0].s, page: own[0].page });
  put(caret.story, { p: place.p, o: own[own.length - 1].e, page: own[own.length - 1].page }, { extend: true });
}

/** A press in the text: place the caret, drag to select, double and triple click for words and paragraphs. */
export function press(event, frame, clicks) {
  if (state.record) {
    emit("record-words", { story: frame.story });
    return;
  }
  const at = point(event);
  const place = placeNear(frame.story, at, frame) || placeNear(frame.story, at);
  if (!unwound() && place) {
    putInTurn(frame.story, place, event.shiftKey && caret.story === frame.story);
    return;
  }
  if (!place) {
    holding(() => comeBackTo(frame));
    return;
  }
  if (clicks === 1 && !event.shiftKey && caret.story === frame.story && inSelection(event)) {
    dragWords(event, place);
    return;
  }
  endSession();
  put(frame.story, place, { extend: event.shiftKey && caret.story === frame.story });
  if (clicks >= 2 && tableAtCaret()) emit("table", tableAtCaret());
  else if (clicks === 2) selectWord(place);
  else if (clicks >= 3) selectParagraph(place);
  let across = false; // over several cells of a table
  const moved = (other) => {
    if (clicks !== 1) return;
    const over = frame.cell ? frameUnder(point(other)) : null;
    if (over?.cell && (across || over.id !== frame.id) && cellOf(over.story).table === cellOf(frame.story).table) {
      across = true;
      emit("cells", { from: frame, to: over });
    }
    if (across) return;
    const there = placeNear(caret.story, point(other));
    if (there) put(caret.story, there, { extend: true });
  };
  const done = () => {
    sheet.removeEventListener("pointermove", moved);
    sheet.removeEventListener("pointerup", done);
  };
  sheet.addEventListener("pointermove", moved);
  sheet.addEventListener("pointerup", done);
}

/** Whether the pointer is on the painted selection. */
function inSelection(event) {
  if (!selected() || caret.anchor.p.length === 1) return false;
  return [...marks.querySelectorAll(".selection")].some((rect) => {
    const box = rect.getBoundingClientRect();
    return (
      event.clientX >= box.left && event.clientX <= box.right && event.clientY >= box.top && event.clientY <= box.bottom
    );
  });
}

/** Carry the selected words to where the pointer is let go; with Ctrl a copy of them. */
function dragWords(event, place) {
  const [from, to] = ends();
  const { story } = caret;
  let target = null;
  const show_ = (there) => {
    for (const old of marks.querySelectorAll(".drop-caret")) old.remove();
    if (!there) return;
    const line = there.line;
    make("line", { class: "caret drop-caret", ...caretAt(line, there.o), transform: transformOf(line) }, marks);
  };
  const begun = { x: event.clientX, y: event.clientY };
  let dragging = false;
  const moved = (other) => {
    if (!dragging && Math.hypot(other.clientX - begun.x, other.clientY - begun.y) < 4) return;
    dragging = true;
    sheet.classList.add("carrying");
    const at = point(other);
    const over_ = frameUnder(at);
    target = over_?.story ? { story: over_.story, ...placeNear(over_.story, at, over_) } : null;
    show_(target?.line ? target : null);
  };
  const done = async (other) => {
    sheet.removeEventListener("pointermove", moved);
    sheet.removeEventListener("pointerup", done);
    sheet.removeEventListener("pointercancel", done);
    sheet.classList.remove("carrying");
    show_(null);
    if (!dragging) {
      endSession();
      put(story, place);
      return;
    }
    if (other.type !== "pointerup" || !target?.line) return;
    const at = ({ p, o }) => ({ paragraph: p, offset: o });
    await quiet();
    try {
      await send([
        {
          do: "move-text",
          story,
          start: at(from),
          end: at(to),
          to_story: target.story,
          to: at(target),
          copy: other.ctrlKey || other.altKey,
        },
      ]);
      leave();
    } catch {
      draw();
    }
  };
  sheet.setPointerCapture(event.pointerId);
  sheet.addEventListener("pointermove", moved);
  sheet.addEventListener("pointerup", done);
  sheet.addEventListener("pointercancel", done);
}
