// The writing view: a text is typed, styled, ordered by its headings; what is typed shows at once and is saved a moment later.
import { steps, tellPages } from "../strip.js";
import { room } from "../dom.js";
import { HttpError, messageOf } from "../errors.js";
import { get, post } from "../http.js";
import { toast } from "../notice.js";
import { points, units } from "../typing/characters.js";
import { holding, inTurn, postponed, unwound, watchCaret } from "../typing/tape.js";
import { clean, freshId } from "../typing/words.js";
import { plural } from "../survey.js";
import { inSentence } from "../wording.js";
import { gatherAnew, tieListings } from "./listings.js";
import { LINE, offsetOf, rowElement } from "./page.js";
import { showStructure, tie } from "./structure.js";
import {
  base,
  begin,
  beginComposing,
  blockOf,
  endComposing,
  field,
  fold,
  indexOf,
  onAnswered,
  places,
  putCaret,
  queue,
  rangePlaces,
  reselect,
  root,
  sendLeft,
  text,
  type,
  whenRefused,
} from "./text.js";

const IDLE = 900;
const PAUSE = 1500; // after a rest in typing, undo has a new step

let group = "",
  groupAt = 0,
  idle = 0;

const place = ({ p, o }) => ({ paragraph: p, offset: o });
/** What the queue reports by itself is not reported again. */
const ignoreReported = (error) => {
  if (!(error instanceof HttpError)) throw error;
};
const write = (intents) => queue.add({ name: "write", asked: { intents } });

// Writing

function groupNow() {
  if (Date.now() - groupAt > PAUSE) group = crypto.randomUUID();
  groupAt = Date.now();
  return group;
}

/** Put words where a stretch is. */
function replace({ start, end }, words, typed = false) {
  const put = clean(words).replaceAll(LINE, "\u2028"),
    lines = put.split("\n").length - 1;
  const intent = {
    do: "replace-text",
    story: text.story,
    start: place(start),
    end: place(end),
    text: put,
    marks: typed && localStorage.getItem("lexigon-marks") !== "off",
    ids: Array.from({ length: lines }, freshId),
  };
  if (besideTable(start, end) || !type(intent, groupNow())) throughServer(intent);
  if (lines) group = crypto.randomUUID(); // each paragraph is a step of its own to undo
}

/** Whether an edit is about a table, which is alone in its paragraph. */
function besideTable(start, end) {
  const [a, b] = [indexOf(start.p), indexOf(end.p)].sort((one, other) => one - other);
  return text.rows.slice(Math.max(a, 0), b + 1).some(({ table }) => table);
}

/** What the window cannot foresee the server does; what is typed meanwhile waits. */
function throughServer({ ids: _, ...intent }) {
  const { start, end } = intent,
    here = start.paragraph === end.paragraph && start.offset === end.offset;
  const beside = here && intent.text && intent.text !== "\n" && text.rows[indexOf(start.paragraph)]?.table; // a paragraph is made to type in
  holding(async () => {
    try {
      const { steps: done } = await write([beside ? { ...intent, text: "\n" } : intent]);
      const fresh = done?.[done.length - 1]?.rows || [];
      const last = fresh[beside && start.offset === 0 ? 0 : fresh.length - 1];
      if (last) putCaret(last.id, beside ? 0 : points(last.text));
      return beside && last
        ? () => replace({ start: { p: last.id, o: 0 }, end: { p: last.id, o: 0 } }, intent.text, intent.marks)
        : null;
    } catch (error) {
      ignoreReported(error);
      return null;
    }
  });
}

const segmenters = {
  word: new Intl.Segmenter(undefined, { granularity: "word" }),
  grapheme: new Intl.Segmenter(undefined, { granularity: "grapheme" }),
};

/** The stretch that a delete key takes from a caret: a character, a word, the rest of the line, or the end of the paragraph beside it. */
function reach(at, kind) {
  const n = indexOf(at.p),
    { text: words } = text.rows[n],
    long = points(words),
    back = kind.includes("Backward");
  if (back ? at.o > 0 : at.o < long) {
    if (kind.includes("Line"))
      return back ? { start: { p: at.p, o: 0 }, end: at } : { start: at, end: { p: at.p, o: long } };
    const here = units(words, at.o),
      byWord = kind.includes("Word");
    const pieces = [...segmenters[byWord ? "word" : "grapheme"].segment(words)].filter(
      (piece) => !byWord || piece.isWordLike,
    );
    const begins = pieces.map(({ index }) => index).filter((index) => index < here),
      ends = pieces.map(({ index, segment }) => index + segment.length).filter((end) => end > here);
    return back
      ? { start: { p: at.p, o: points(words, begins.pop() ?? 0) }, end: at }
      : { start: at, end: { p: at.p, o: points(words, ends[0] ?? words.length) } };
  }
  const other = back ? text.rows[n - 1] : text.rows[n + 1];
  if (!other) return { start: at, end: at };
  return back ? { start: { p: other.id, o: points(other.text) }, end: at } : { start: at, end: { p: other.id, o: 0 } };
}

/** A press on a sign puts the caret behind it; the browser would put it nowhere. */
function onSign(event) {
  const sign = event.target.closest(".sign"),
    paragraph = sign && rowElement(sign);
  if (paragraph) putCaret(paragraph.dataset.p, offsetOf(paragraph, sign, 0) + 1);
}

/** Carry out an input on a stretch of the text. */
function act(kind, words, stretch) {
  const { start, end } = stretch,
    nothing = start.p === end.p && start.o === end.o;
  if (kind === "insertParagraph") replace(stretch, "\n");
  else if (kind === "insertLineBreak") replace(stretch, LINE);
  else if (kind.startsWith("insert")) {
    if (words) replace(stretch, words, kind === "insertText");
  } else if (kind.startsWith("delete")) {
    if (!nothing) replace(stretch, "");
  } else if (kind === "formatItalic") format("italic");
  else if (kind === "formatBold") format("bold");
}

/** Paste with its formatting, notes and frames: cleaned by the server, then inserted like any other words. */
const paste = (html, stretch) =>
  holding(async () => {
    try {
      const { told: reported, ...rich } = await post(`${base.replace("manuscript/", "")}paste/`, { html });
      if (reported.length) toast(`${reported.join("; ")}.`);
      if (!rich.paragraphs.length) return;
      const after = points(text.rows[indexOf(stretch.end.p)]?.text || "") - stretch.end.o;
      const { steps: done } = await write([
        { do: "insert-rich", story: text.story, start: place(stretch.start), end: place(stretch.end), ...rich },
      ]);
      const last = done?.[done.length - 1]?.rows.at(-1);
      if (last) putCaret(last.id, Math.max(points(last.text) - after, 0));
    } catch (error) {
      ignoreReported(error);
      toast(messageOf(error), true);
    }
  });

/** What an input is about: what is selected when its turn comes. */
function actNow(kind, words, html) {
  const now = places();
  if (!now) return;
  const same = now.start.p === now.end.p && now.start.o === now.end.o;
  if (html) paste(html, now);
  else act(kind, words, same && kind.startsWith("delete") ? reach(now.start, kind) : now);
}

/** Inputs about other words than those that are selected: a suggestion is taken, words are dragged. */
const ELSEWHERE = ["insertReplacementText", "insertFromDrop", "deleteByDrag"];

function input(event) {
  if (event.isComposing || event.inputType === "insertCompositionText" || event.target.closest(".note-words")) return;
  event.preventDefault();
  const kind = event.inputType,
    words = event.data ?? event.dataTransfer?.getData("text/plain") ?? "";
  const html = kind === "insertFromPaste" || kind === "insertFromDrop" ? event.dataTransfer?.getData("text/html") : "";
  if (postponed(() => actNow(kind, words, html), kind.startsWith("insert") ? words : "")) return;
  // Browsers say where an input goes, but are wrong about paragraphs that have just become empty: only what is not the selection is asked for.
  const range = ELSEWHERE.includes(kind) && event.getTargetRanges()[0],
    found = range ? rangePlaces(range) : places();
  if (!found) return;
  const same = found.start.p === found.end.p && found.start.o === found.end.o;
  if (html) paste(html, found);
  else act(kind, words, same && kind.startsWith("delete") ? reach(found.start, kind) : found);
}

const MOVES = {
  ArrowLeft: ["backward", "character"],
  ArrowRight: ["forward", "character"],
  ArrowUp: ["backward", "line"],
  ArrowDown: ["forward", "line"],
  Home: ["backward", "lineboundary"],
  End: ["forward", "lineboundary"],
};

/** While something waits, keys that move the caret wait behind it. */
function moveInTurn(event) {
  const move = MOVES[event.key];
  if (!move || unwound()) return;
  event.preventDefault();
  const { shiftKey, ctrlKey } = event,
    [way, step] = move;
  inTurn(() =>
    getSelection().modify(shiftKey ? "extend" : "move", way, ctrlKey && step === "character" ? "word" : step),
  );
}

function composed(event) {
  if (event.target.closest(".note-words")) return;
  const found = endComposing(LINE);
  if (found) replace(found, found.words);
}

function format(look) {
  const found = places();
  if (!found || (found.start.p === found.end.p && found.start.o === found.end.o)) return;
  write([{ do: "toggle-emphasis", story: text.story, start: place(found.start), end: place(found.end), look }]).then(
    () => reselect(found),
    ignoreReported,
  );
}

// Beside it

const choice = /** @type {HTMLSelectElement} */ (room("written-style", false)),
  about = room("written-words", false),
  quietly = room("quiet", false);

function follow() {
  const found = places();
  if (!found) return;
  choice.value = text.rows[indexOf(found.start.p)]?.style ?? "";
  choice.disabled = false;
}

let kept = null; // the stretch that was chosen last: the list of styles takes the focus from it

choice?.addEventListener("change", () => {
  const found = places() || kept;
  if (!found) return;
  write([
    { do: "set-paragraphs", story: text.story, first: found.start.p, last: found.end.p, style: choice.value },
  ]).then(() => {
    field.focus();
    putCaret(found.start.p, found.start.o);
  }, ignoreReported);
});

function later() {
  clearTimeout(idle);
  idle = setTimeout(look_, IDLE);
}

/** The structure with its words and pages, after a pause. */
async function look_() {
  if (queue.busy) {
    later();
    return;
  }
  try {
    const answer = await get(`${base}text/?structure=1`);
    tellPages(answer.pages);
    about.textContent = `${plural(answer.words, "word")} on ${plural(answer.pages, "page")}`;
    showStructure(answer.structure);
    gatherAnew();
  } catch (error) {
    if (!(error instanceof HttpError)) throw error;
  }
}

// Undo goes on in the window

function step(name) {
  inTurn(() =>
    holding(async () => {
      await queue.idle();
      group = "";
      try {
        const answer = await queue.add({ name: `step/${name}`, asked: {} });
        toast(
          answer.label
            ? `${name === "undo" ? "Undone" : "Redone"}: ${inSentence(answer.label)}`
            : `Nothing to ${name}.`,
        );
        const done = answer.steps?.at(-1)?.rows[0];
        const now = places();
        if (done && (!now || !blockOf(now.start.p))) putCaret(done.id, points(done.text));
      } catch (error) {
        ignoreReported(error);
      }
    }),
  );
}

export async function open() {
  const answer = await get(`${base}text/`);
  begin(answer);
  choice.replaceChildren(...answer.styles.map(({ id, name }) => new Option(name, id)));
  showStructure(answer.structure);
  root.removeAttribute("aria-busy");
}

function quiet() {
  const on = document.body.classList.toggle("quiet-writing");
  quietly.setAttribute("aria-pressed", String(on));
  if (on) toast("Quiet view. Press Esc to leave it.");
}

/** The caret at the beginning of a paragraph, which comes into view. */
function go(id) {
  blockOf(id)?.scrollIntoView({ block: "start" });
  putCaret(id, 0);
  field.focus({ preventScroll: true });
}

if (root) {
  field.addEventListener("click", onSign);
  tieListings({
    go: (id) => {
      if (!blockOf(id)) return false;
      go(id);
      return true;
    },
    board: (page) => `${location.pathname.replace("manuscript/", "board/")}?page=${(page ?? 0) + 1}`,
  });
  tie({
    go,
    write,
    settled: () => queue.idle(),
    fold,
    refresh: look_,
    story: () => text.story,
    block: blockOf,
    before: (id) => text.rows[(id === null ? text.rows.length : indexOf(id)) - 1].id,
  });
  watchCaret(() => Boolean(places()));
  whenRefused(open);
  onAnswered(later);
  open().then(sendLeft);
  field.addEventListener("beforeinput", input);
  field.addEventListener("compositionstart", beginComposing);
  field.addEventListener("compositionend", composed);
  field.addEventListener("keydown", moveInTurn);
  document.addEventListener("selectionchange", () => {
    const found = places();
    if (found) {
      kept = found;
      follow();
    }
  });
  for (const [name, button] of Object.entries(steps))
    button?.addEventListener(
      "click",
      (event) => {
        event.stopImmediatePropagation();
        step(name);
      },
      true,
    );
  document.addEventListener(
    "keydown",
    (event) => {
      if (!(event.ctrlKey || event.metaKey) || event.key.toLowerCase() !== "z") return;
      event.preventDefault();
      event.stopImmediatePropagation();
      step(event.shiftKey ? "redo" : "undo");
    },
    true,
  );
  quietly.addEventListener("click", quiet);
  document.addEventListener("keydown", (event) => {
    if (event.key === "Escape" && document.body.classList.contains("quiet-writing")) quiet();
  });
}
