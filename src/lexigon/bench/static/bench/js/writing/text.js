// The text in the writing view: its paragraphs as the server sent them, with what was typed since; shown, and the caret in it.
import { room } from "../dom.js";
import { HttpError } from "../errors.js";
import { post } from "../http.js";
import { offerWords, toast } from "../notice.js";
import { steps, tellSaved } from "../strip.js";
import { OFFLINE, Queue, SAVED } from "../typing/queue.js";
import { tearOff } from "../typing/tape.js";
import { keepUnsent } from "../typing/unsent.js";
import { applyTyping, shiftPlace } from "../typing/words.js";
import { OBJECT, offsetOf, paragraphOf, placeOf, rowElement } from "./page.js";
import { isFolded } from "./structure.js";

export const root = room("writing", false);
export const field = root?.querySelector(".written");
export const base = location.pathname;

/** What is written in: the story, its styles, its paragraphs with all that was typed. */
export const text = { story: "", revision: 0, rows: [], styles: [] };
let confirmed = []; // its paragraphs as the last answer made them
let elements = new Map();
let composing = false;
let reopen = async () => {};
const listeners = [];

export const indexOf = (id) => text.rows.findIndex((row) => row.id === id);
export const blockOf = (id) => elements.get(id)?.block;
const styleName = (id) => text.styles.find((one) => one.id === id)?.name || id;

/** Hear of each answer. */
export const onAnswered = (listener) => listeners.push(listener);

// Showing

function marginOf(row) {
  if (!row.notes && !row.queries) return null;
  const margin = document.createElement("div");
  margin.className = "beside";
  margin.contentEditable = "false";
  for (const note of row.notes || []) {
    const card = Object.assign(document.createElement("div"), { className: "note-card" });
    const number = Object.assign(document.createElement("b"), { textContent: note.number });
    const words = Object.assign(document.createElement("span"), { className: "note-words", textContent: note.text });
    if (note.one) {
      words.contentEditable = "plaintext-only";
      words.setAttribute("role", "textbox");
      words.setAttribute("aria-label", `Note ${note.number}`);
      words.addEventListener("focusout", () => writeNote(note, words.textContent));
      words.addEventListener("keydown", (event) => {
        event.stopPropagation();
        if (event.key === "Enter") {
          event.preventDefault();
          field.focus();
        }
      });
    }
    card.append(number, words);
    margin.append(card);
  }
  for (const query of row.queries || [])
    margin.append(Object.assign(document.createElement("div"), { className: "query-card", textContent: query }));
  return margin;
}

function build(row) {
  const block = document.createElement("div");
  block.className = "written-row";
  const name = Object.assign(document.createElement("span"), {
    className: "style",
    textContent: styleName(row.style),
    title: styleName(row.style),
  });
  name.contentEditable = "false";
  const paragraph = paragraphOf(row);
  block.append(name, paragraph);
  const margin = marginOf(row);
  if (margin) block.append(margin);
  return { row, block, paragraph };
}

const looksSame = (one, other) =>
  one === other ||
  (one.text === other.text &&
    one.style === other.style &&
    JSON.stringify([one.spans, one.notes, one.queries]) === JSON.stringify([other.spans, other.notes, other.queries]));

/** Show the paragraphs as they are now; those that look the same stay as they are. Whether any was built, which may have taken the caret's place
 *  from it. */
function show() {
  if (composing) return false; // an input method has the words in hand
  const old = elements;
  elements = new Map();
  const ids = new Set(text.rows.map(({ id }) => id));
  for (const [id, { block }] of old) if (!ids.has(id)) block.remove(); // first, so that the others stay where they are
  let at = field.firstChild,
    rebuilt = old.size !== text.rows.length;
  for (const row of text.rows) {
    let one = old.get(row.id);
    if (one && looksSame(one.row, row)) one.row = row;
    else {
      if (one) {
        if (at === one.block) at = at.nextSibling;
        one.block.remove();
        rebuilt = true;
      }
      one = build(row);
    }
    elements.set(row.id, one);
    if (one.block === at) at = at.nextSibling;
    else {
      field.insertBefore(one.block, at);
      rebuilt = true;
    }
  }
  while (at) {
    const next = at.nextSibling;
    at.remove();
    at = next;
  }
  if (rebuilt) fold();
  return rebuilt;
}

export function fold() {
  let hidden = 0;
  for (const row of text.rows) {
    if (row.level && (!hidden || row.level <= hidden)) hidden = 0;
    elements.get(row.id).block.hidden = Boolean(hidden);
    if (row.level && isFolded(row.id) && !hidden) hidden = row.level;
  }
}

// The caret

/** Where the selection is: its two ends, in the order of the text. @returns {{start: {p: string, o: number}, end: {p: string, o: number}} | null} */
export function places() {
  const selection = getSelection();
  if (!selection.rangeCount || !field.contains(selection.anchorNode)) return null;
  return rangePlaces(selection.getRangeAt(0));
}

export function rangePlaces(range) {
  const at = (node, offset) => {
    let element = rowElement(node);
    if (!element) {
      // between paragraphs, or in a margin
      const block =
        (node.nodeType === 1 ? node : node.parentElement)?.closest(".written-row") ||
        field.children[Math.min(offset, field.children.length - 1)];
      element = block?.querySelector("[data-p]");
      return element ? { p: element.dataset.p, o: 0 } : null;
    }
    return { p: element.dataset.p, o: offsetOf(element, node, offset) };
  };
  const start = at(range.startContainer, range.startOffset),
    end = at(range.endContainer, range.endOffset);
  return start && end ? { start, end } : null;
}

export function putCaret(p, offset) {
  const paragraph = elements.get(p)?.paragraph;
  if (!paragraph) return;
  const [node, at] = placeOf(paragraph, offset);
  getSelection().collapse(node, at);
  const box = paragraph.getBoundingClientRect();
  if (box.top < 60 || box.bottom > innerHeight - 20) paragraph.scrollIntoView({ block: "nearest" });
}

export function reselect({ start, end }) {
  if (!elements.has(start.p) || !elements.has(end.p)) return;
  if (start.p === end.p && start.o === end.o) {
    putCaret(start.p, start.o);
    return;
  }
  const [a, ao] = placeOf(elements.get(start.p).paragraph, start.o),
    [b, bo] = placeOf(elements.get(end.p).paragraph, end.o);
  getSelection().setBaseAndExtent(a, ao, b, bo);
}

const place = ({ p, o }) => ({ paragraph: p, offset: o });

// What is typed, and its answers

const lostWords = (entries) =>
  entries
    .flatMap(({ asked }) => asked.intents || [])
    .map(({ text: words }) => words || "")
    .join("");

let refused = false; // the last edit was
export const queue = new Queue({
  post: ({ name, asked, token, group, typed, from }) =>
    post(`${base}${name}/`, {
      story: text.story,
      intents: [],
      ...asked,
      painted: typed,
      base: from ?? text.revision,
      group,
      token: name.startsWith("step/") ? "" : token,
    }),
  onAnswer: take,
  async onRefusal(error, entry, lost) {
    refused = true;
    toast(error.message, true);
    const words = lostWords(lost.length ? lost : [entry]) + tearOff();
    const here = places();
    await reopen();
    if (here) putCaret(here.start.p, Math.min(here.start.o, text.rows[indexOf(here.start.p)]?.text.length ?? 0));
    if (words.trim()) offerWords(words);
  },
  onState(state, error) {
    document.documentElement.dataset.queue = state;
    if (state === OFFLINE) toast(error.message, true);
    tellSaved(
      ...(state === SAVED ? (refused ? ["not saved"] : []) : [state === OFFLINE ? "not saved yet" : "saving…"]),
    );
    if (state !== "sending") unsent.keep();
  },
});
const unsent = keepUnsent(queue, `writing-${location.pathname}`, () => text.revision);

/** Send what earlier windows had left. */
export const sendLeft = unsent.send;

/** Begin with a story as the server sent it. */
export function begin(answer) {
  Object.assign(text, { story: answer.story, revision: answer.revision, styles: answer.styles });
  confirmed = marked(answer.rows);
  replay();
  show();
}
export function whenRefused(open) {
  reopen = open;
}

/** Rows with what typing must know of them: whether they are a table's. */
const marked = (rows) =>
  rows.map((row) => (row.text === OBJECT && row.spans?.[0]?.[3] === "table" ? { ...row, table: true } : row));

function replay() {
  text.rows = [...confirmed];
  for (const typed of queue.typing(text.story)) {
    const step = applyTyping(text.rows, typed);
    if (step) text.rows.splice(step.at, step.remove, ...step.rows);
  }
}

/** Put an edit into the words that are shown, and send it. False where it is about what is not known here. */
export function type(typed, group) {
  const step = applyTyping(text.rows, typed);
  if (!step) return false;
  text.rows.splice(step.at, step.remove, ...step.rows);
  show();
  putCaret(step.caret.paragraph, step.caret.offset);
  queue.type("write", typed, group);
  return true;
}

/** Make of the text in the window what the server has made of it, and what was typed since. */
function take(answer, entry) {
  refused = false;
  text.revision = answer.revision;
  steps.undo.disabled = false;
  if (entry.name === "step/undo") steps.redo.disabled = false;
  const here = places();
  if (answer.rows) confirmed = marked(answer.rows);
  else for (const { at, remove, rows } of answer.steps) confirmed.splice(at, remove, ...marked(rows));
  for (const row of answer.again || []) {
    const at = confirmed.findIndex(({ id }) => id === row.id);
    if (at >= 0) confirmed[at] = row;
  }
  if (answer.numbers) confirmed = confirmed.map((row) => (row.notes ? numbered(row, answer.numbers) : row));
  replay();
  const rebuilt = show();
  if (here && !composing) {
    const moved = (at) => {
      const { paragraph: p, offset: o } = (answer.shifts || []).reduce(
        (one, shift) => (shift[0] === text.story ? shiftPlace(one, shift) : one),
        place(at),
      );
      return { p, o };
    };
    const [start, end] = [moved(here.start), moved(here.end)];
    if (rebuilt || start.p !== here.start.p || start.o !== here.start.o || end.p !== here.end.p || end.o !== here.end.o)
      reselect({ start, end });
  }
  for (const listener of listeners) listener(answer, entry);
}

/** A row whose notes have other numbers. */
function numbered(row, numbers) {
  const notes = row.notes.map((note) => ({ ...note, number: numbers[note.story] ?? note.number }));
  let n = 0;
  const spans = row.spans.map((span) => {
    if (span[3] !== "note") return span;
    n += 1;
    return [...span.slice(0, 4), notes[n - 1]?.number ?? span[4]];
  });
  return { ...row, notes, spans };
}

function writeNote(note, written) {
  const words = written.replace(/\s*\n\s*/g, " ");
  if (words === note.text) return;
  queue
    .add({
      name: "write",
      asked: {
        intents: [
          {
            do: "replace-text",
            story: note.story,
            start: { paragraph: note.p, offset: 0 },
            end: { paragraph: note.p, offset: [...note.text].length },
            text: words,
          },
        ],
      },
    })
    .catch((error) => {
      if (!(error instanceof HttpError)) throw error;
    });
  note.text = words;
}

// Input methods

/** @type {{id: string, text: string} | null} */
let before = null;

/** An input method begins to compose: what it does to the page is left to it until it is done. */
export function beginComposing() {
  composing = true;
  const element = rowElement(getSelection().anchorNode),
    row = element && text.rows[indexOf(element.dataset.p)];
  before = row ? { id: row.id, text: row.text } : null;
}

/** What an input method has put into a paragraph, found by what is there now. @returns {{start: any, end: any, words: string} | null} */
export function endComposing(line) {
  composing = false;
  const element = before && elements.get(before.id)?.paragraph;
  if (!element) {
    show();
    return null;
  }
  let now = "";
  const walk = (node) => {
    if (node.nodeType === 3) now += node.data;
    else if (node.dataset?.one !== undefined) now += node.classList.contains("line-end") ? line : OBJECT;
    else node.childNodes.forEach(walk);
  };
  element.childNodes.forEach(walk);
  const [old, fresh] = [[...before.text], [...now]];
  let head = 0,
    tail = 0;
  while (head < Math.min(old.length, fresh.length) && old[head] === fresh[head]) head += 1;
  while (
    tail < Math.min(old.length, fresh.length) - head &&
    old[old.length - 1 - tail] === fresh[fresh.length - 1 - tail]
  )
    tail += 1;
  elements.get(before.id).row = { ...text.rows[indexOf(before.id)], text: "\0" }; // the page has other words than the row: built anew
  return {
    start: { p: before.id, o: head },
    end: { p: before.id, o: old.length - tail },
    words: fresh.slice(head, fresh.length - tail).join(""),
  };
}
