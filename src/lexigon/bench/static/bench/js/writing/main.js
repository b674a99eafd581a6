// The writing view: a text is typed, styled, ordered by its headings; what is typed shows at once and is kept a moment later.
import { steps, tellPages, tellSaved } from "../strip.js";
import { room } from "../dom.js";
import { HttpError, get, post } from "../http.js";
import { toast } from "../notice.js";
import { points } from "../board/characters.js";
import { plural } from "../survey.js";
import { gatherAnew, tieListings } from "./listings.js";
import { isFolded, showStructure, tie } from "./structure.js";
import { LINE, OBJECT, changed, offsetOf, paragraphOf, placeOf, rowElement } from "./page.js";

const root = room("writing", false);
const field = root?.querySelector(".written");
const base = location.pathname;
const IDLE = 900;

let story = "", revision = 0, rows = [], styles = [];
let elements = new Map();
let queue = [], sending = false, group = "", groupAt = 0, idle = 0;

const indexOf = (id) => rows.findIndex((row) => row.id === id);
const styleName = (id) => styles.find((one) => one.id === id)?.name || id;

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
      words.addEventListener("focusout", () => noteWritten(note, words.textContent));
      words.addEventListener("keydown", (event) => { event.stopPropagation(); if (event.key === "Enter") { event.preventDefault(); field.focus(); } });
    }
    card.append(number, words);
    margin.append(card);
  }
  for (const query of row.queries || []) margin.append(Object.assign(document.createElement("div"), { className: "query-card", textContent: query }));
  return margin;
}

function blockOf(row) {
  const block = document.createElement("div");
  block.className = "written-row";
  const name = Object.assign(document.createElement("span"), { className: "style", textContent: styleName(row.style), title: styleName(row.style) });
  name.contentEditable = "false";
  const paragraph = paragraphOf(row);
  block.append(name, paragraph);
  const margin = marginOf(row);
  if (margin) block.append(margin);
  elements.set(row.id, { block, paragraph });
  return block;
}

function showAll() {
  elements = new Map();
  field.replaceChildren(...rows.map(blockOf));
  fold();
}

function showAgain(row) {
  const old = elements.get(row.id)?.block;
  const block = blockOf(row);
  old?.replaceWith(block);
}

function fold() {
  let hidden = 0;
  for (const row of rows) {
    if (row.level && (!hidden || row.level <= hidden)) hidden = 0;
    elements.get(row.id).block.hidden = Boolean(hidden);
    if (row.level && isFolded(row.id) && !hidden) hidden = row.level;
  }
}

// The caret

function places() {
  const selection = getSelection();
  if (!selection.rangeCount || !field.contains(selection.anchorNode)) return null;
  return rangePlaces(selection.getRangeAt(0));
}

function rangePlaces(range) {
  const at = (node, offset) => {
    let element = rowElement(node);
    if (!element) { // between paragraphs, or in a margin
      const block = (node.nodeType === 1 ? node : node.parentElement)?.closest(".written-row") || field.children[Math.min(offset, field.children.length - 1)];
      element = block?.querySelector("[data-p]");
      return element ? { p: element.dataset.p, o: 0 } : null;
    }
    return { p: element.dataset.p, o: offsetOf(element, node, offset) };
  };
  const start = at(range.startContainer, range.startOffset), end = at(range.endContainer, range.endOffset);
  return start && end ? { start, end } : null;
}

function putCaret(p, offset) {
  const paragraph = elements.get(p)?.paragraph;
  if (!paragraph) return;
  const [node, at] = placeOf(paragraph, offset);
  getSelection().collapse(node, at);
  const box = paragraph.getBoundingClientRect();
  if (box.top < 60 || box.bottom > innerHeight - 20) paragraph.scrollIntoView({ block: "nearest" });
}

// Writing

function groupNow() {
  if (Date.now() - groupAt > 1500) group = crypto.randomUUID();
  groupAt = Date.now();
  return group;
}

/** Put words where a stretch is: at once in the window where it is within a paragraph. */
function replace({ start, end }, text, typed = false) {
  const one = start.p === end.p && !text.includes("\n");
  const intent = { do: "replace-text", story, start: { paragraph: start.p, offset: start.o }, end: { paragraph: end.p, offset: end.o }, text: text.replaceAll(LINE, "\u2028"), marks: typed && localStorage.getItem("lexigon-marks") !== "off" };
  if (one) {
    const at = indexOf(start.p);
    if (at < 0) return;
    rows[at] = changed(rows[at], start.o, end.o, text);
    showAgain(rows[at]);
    putCaret(start.p, start.o + points(text));
    send({ intents: [intent], group: typed || !text ? groupNow() : "", local: start.p, at: start.o + points(text), behind: points(rows[at].text) - start.o - points(text) });
    return;
  }
  send({ intents: [intent], then: ({ steps }) => caretAfter(steps, end, text) });
}

/** After paragraphs were parted or joined: behind what was put in, counted from the end of what came. */
function caretAfter(steps, end, text) {
  const step = steps[steps.length - 1];
  if (!step?.rows.length) return;
  const last = step.rows[step.rows.length - 1];
  putCaret(last.id, text.includes("\n") ? points(text.slice(text.lastIndexOf("\n") + 1)) : Math.max(points(last.text) - tailOf, 0));
}

let tailOf = 0; // characters behind the end of what is being replaced

function send(job) {
  queue.push(job);
  pump();
}

async function pump() {
  if (sending) return;
  sending = true;
  while (queue.length) {
    const job = queue[0];
    tellSaved("saving …");
    job.token ||= crypto.randomUUID();
    try {
      const answer = await post(`${base}${job.url || "write/"}`, { story, intents: job.intents || [], base: revision, group: job.group || "", token: job.url ? "" : job.token });
      queue.shift();
      take(answer, job);
      tellSaved();
      job.then?.(answer);
      if (!job.quiet) later();
    } catch (error) {
      if (!(error instanceof HttpError)) { sending = false; throw error; }
      if (error.status === 0 || error.status >= 502) {
        tellSaved("not saved yet");
        toast(error.message, true);
        await new Promise((wait) => setTimeout(wait, 1500));
        continue;
      }
      queue = [];
      tellSaved("not done");
      toast(error.message, true);
      await open();
    }
  }
  sending = false;
}

const same_ = (one, other) => one.text === other.text && one.style === other.style && JSON.stringify([one.spans, one.notes, one.queries]) === JSON.stringify([other.spans, other.notes, other.queries]);

/** Make of the text in the window what the server has made of it. */
function take(answer, job) {
  revision = answer.revision;
  steps.undo.disabled = false;
  if (job.url === "step/undo/") steps.redo.disabled = false;
  const caret = places();
  if (answer.rows) {
    rows = answer.rows;
    for (const { local, intents } of queue) { // what was typed since, and is on its way
      const at = local ? indexOf(local) : -1;
      if (at >= 0) rows[at] = changed(rows[at], intents[0].start.offset, intents[0].end.offset, intents[0].text);
    }
    showAll();
    if (caret && elements.has(caret.start.p)) putCaret(caret.start.p, caret.start.o);
    return;
  }
  const typed = new Set(queue.map((one) => one.local).filter(Boolean));
  for (const { at, remove, rows: fresh } of answer.steps) {
    const gone = rows.splice(at, remove, ...fresh);
    const same = gone.length === fresh.length && gone.every((row, n) => row.id === fresh[n].id);
    if (same) {
      fresh.forEach((row, n) => {
        if (typed.has(row.id)) { rows[at + n] = { ...row, text: gone[n].text, spans: gone[n].spans }; return; } // more was typed meanwhile
        if (same_(gone[n], row)) return;
        const here = places(); // what the window could not know: marks of the language, looks
        showAgain(row);
        if (!here || (here.start.p !== row.id && here.end.p !== row.id)) return;
        if (here.start.p !== here.end.p || here.start.o !== here.end.o) reselect(here);
        else putCaret(row.id, job.local === row.id && !queue.length && here.start.o === job.at ? Math.max(points(row.text) - job.behind, 0) : here.start.o);
      });
      continue;
    }
    const next = elements.get(rows[at + fresh.length]?.id)?.block || null;
    for (const row of gone) { elements.get(row.id)?.block.remove(); elements.delete(row.id); }
    for (const row of fresh) field.insertBefore(blockOf(row), next);
  }
  for (const row of answer.again || []) { const at = indexOf(row.id); if (at >= 0) { rows[at] = row; showAgain(row); } }
  if (answer.numbers) for (const row of rows) if (row.notes) {
    row.notes = row.notes.map((note) => ({ ...note, number: answer.numbers[note.story] ?? note.number }));
    let n = 0;
    row.spans.forEach((span) => { if (span[3] === "note") { span[4] = row.notes[n]?.number ?? span[4]; n += 1; } });
    showAgain(row);
  }
}

function noteWritten(note, text) {
  const words = text.replace(/\s*\n\s*/g, " ");
  if (words === note.text) return;
  send({ intents: [{ do: "replace-text", story: note.story, start: { paragraph: note.p, offset: 0 }, end: { paragraph: note.p, offset: points(note.text) }, text: words }] });
  note.text = words;
}

const settled = async () => { while (sending || queue.length) await new Promise((wait) => setTimeout(wait, 15)); };

let holding = false; // paragraphs are being parted or joined: what is typed meanwhile waits
let waiting = [];

/** Do a thing when nothing else is under way; what is typed until it is done follows behind it. */
async function held(task) {
  holding = true;
  await settled();
  await task();
  await settled();
  holding = false;
  while (waiting.length && !holding) {
    const [type, words] = waiting.shift();
    const now = places();
    if (now) act(type, words, now.start.o === now.end.o && now.start.p === now.end.p && type.startsWith("delete") ? reach(now.start, type) : now);
  }
}

/** What parts or joins paragraphs. */
const structural = (stretch, text) => held(() => {
  tailOf = points(rows[indexOf(stretch.end.p)]?.text || "") - stretch.end.o;
  replace(stretch, text);
});

/** The stretch that a delete key takes from a caret: a character, or the end of the paragraph beside it. */
function reach(at, type) {
  const n = indexOf(at.p), long = points(rows[n].text), back = type.includes("Backward");
  if (back && at.o > 0) return { start: { p: at.p, o: at.o - 1 }, end: at };
  if (!back && at.o < long) return { start: at, end: { p: at.p, o: at.o + 1 } };
  const other = back ? rows[n - 1] : rows[n + 1];
  if (!other) return { start: at, end: at };
  return back ? { start: { p: other.id, o: points(other.text) }, end: at } : { start: at, end: { p: other.id, o: 0 } };
}

const isTable = (p) => { const row = rows[indexOf(p)]; return row?.text === OBJECT && row.spans?.[0]?.[3] === "table"; };

/** A paragraph before or behind a table, to type in: a table stands alone in its own. */
function besideTable({ p, o }) {
  const place = { paragraph: p, offset: o };
  held(() => send({ intents: [{ do: "replace-text", story, start: place, end: place, text: "\n" }], then: ({ steps }) => {
    const fresh = steps?.[steps.length - 1]?.rows || [];
    if (fresh.length) putCaret(fresh[o ? fresh.length - 1 : 0].id, 0);
  } }));
}

/** A press on a sign puts the caret behind it; the browser would put it nowhere. */
function onSign(event) {
  const sign = event.target.closest(".sign"), paragraph = sign && rowElement(sign);
  if (paragraph) putCaret(paragraph.dataset.p, offsetOf(paragraph, sign, 0) + 1);
}

/** Carry out an input on a stretch of the text. */
function act(type, text, { start, end }) {
  const across = start.p !== end.p, nothing = !across && start.o === end.o;
  if (nothing && type.startsWith("insert") && type !== "insertParagraph" && isTable(start.p)) { besideTable(start); waiting.push([type, text]); return; }
  if (type === "insertParagraph") structural({ start, end }, "\n");
  else if (type === "insertLineBreak") { if (across) structural({ start, end }, LINE); else replace({ start, end }, LINE); }
  else if (type.startsWith("insert")) {
    const words = text.replace(/\r\n?/g, "\n");
    if (!words) return;
    if (across || words.includes("\n")) structural({ start, end }, words);
    else replace({ start, end }, words, type === "insertText");
  } else if (type.startsWith("delete")) {
    if (across) structural({ start, end }, "");
    else if (!nothing) replace({ start, end }, "");
  } else if (type === "formatItalic") look({ italic: true }, "i");
  else if (type === "formatBold") look({ weight: 700 }, "b");
}

/** Paste with its looks, notes and frames: cleaned by the server, then put in like any other words. */
const pasted = (html, stretch) => held(async () => {
  const answer = await post(`${base.replace("manuscript/", "")}paste/`, { html }).catch((error) => { toast(error.message, true); return null; });
  if (!answer) return;
  const { told, ...rich } = answer;
  if (told.length) toast(`${told.join("; ")}.`);
  if (!rich.paragraphs.length) return;
  tailOf = points(rows[indexOf(stretch.end.p)]?.text || "") - stretch.end.o;
  const place = ({ p, o }) => ({ paragraph: p, offset: o });
  send({ intents: [{ do: "insert-rich", story, start: place(stretch.start), end: place(stretch.end), ...rich }], then: ({ steps }) => caretAfter(steps || [], stretch.end, "") });
});

function input(event) {
  if (event.isComposing || event.inputType === "insertCompositionText" || event.target.closest(".note-words")) return;
  event.preventDefault();
  const type = event.inputType, text = event.data ?? event.dataTransfer?.getData("text/plain") ?? "";
  if (holding) { waiting.push([type, text]); return; }
  const range = event.getTargetRanges()[0];
  const found = range && rangePlaces(range);
  if (!found) return;
  const html = type === "insertFromPaste" || type === "insertFromDrop" ? event.dataTransfer?.getData("text/html") : "";
  if (html) { pasted(html, found); return; }
  const same = found.start.p === found.end.p && found.start.o === found.end.o;
  act(type, text, same && type.startsWith("delete") ? reach(found.start, type) : found);
}

/** What an input method has put into a paragraph, found by what is there now. */
function composed(event) {
  if (event.target.closest(".note-words")) return;
  const element = rowElement(getSelection().anchorNode);
  if (!element) return;
  const row = rows[indexOf(element.dataset.p)];
  let now = "";
  const walk = (node) => {
    if (node.nodeType === 3) now += node.data;
    else if (node.dataset?.one !== undefined) now += node.classList.contains("line-end") ? LINE : "\ufffc";
    else node.childNodes.forEach(walk);
  };
  element.childNodes.forEach(walk);
  const [before, after] = [[...row.text], [...now]];
  let head = 0, tail = 0;
  while (head < Math.min(before.length, after.length) && before[head] === after[head]) head += 1;
  while (tail < Math.min(before.length, after.length) - head && before[before.length - 1 - tail] === after[after.length - 1 - tail]) tail += 1;
  replace({ start: { p: row.id, o: head }, end: { p: row.id, o: before.length - tail } }, after.slice(head, after.length - tail).join(""));
}

async function look(type, name) {
  const found = places();
  if (!found || (found.start.p === found.end.p && found.start.o === found.end.o)) return;
  await settled();
  const { start, end } = found;
  const row = rows[indexOf(start.p)];
  const all = (row.spans || []).some(([s, e, classes]) => s <= start.o && e >= (start.p === end.p ? end.o : start.o + 1) && classes.split(" ").includes(name));
  const set = !all ? type : name === "i" ? { italic: false } : { weight: 400 };
  send({ intents: [{ do: "format-text", story, start: { paragraph: start.p, offset: start.o }, end: { paragraph: end.p, offset: end.o }, type: set }], then: () => reselect(found) });
}

function reselect({ start, end }) {
  const [a, ao] = placeOf(elements.get(start.p).paragraph, start.o), [b, bo] = placeOf(elements.get(end.p).paragraph, end.o);
  getSelection().setBaseAndExtent(a, ao, b, bo);
}

// Beside it

const choice = /** @type {HTMLSelectElement} */ (room("written-style", false)), told = room("written-words", false), quietly = room("quiet", false);

function follow() {
  const found = places();
  if (!found) return;
  choice.value = rows[indexOf(found.start.p)]?.style ?? "";
  choice.disabled = false;
}

let kept = null; // the stretch that was chosen last: the list of styles takes the focus from it

choice?.addEventListener("change", async () => {
  const found = places() || kept;
  if (!found) return;
  await settled();
  send({ intents: [{ do: "set-paragraphs", story, first: found.start.p, last: found.end.p, style: choice.value }], then: () => { field.focus(); putCaret(found.start.p, found.start.o); } });
});

function later() { clearTimeout(idle); idle = setTimeout(look_, IDLE); }

/** The structure with its words and pages, after a pause. */
async function look_() {
  if (sending) { later(); return; }
  try {
    const answer = await get(`${base}text/?structure=1`);
    tellPages(answer.pages);
    told.textContent = `${plural(answer.words, "word")} on ${plural(answer.pages, "page")}`;
    showStructure(answer.structure);
    gatherAnew();
  } catch (error) { if (!(error instanceof HttpError)) throw error; }
}

// Undo goes on in the window

async function step(name) {
  await settled();
  group = "";
  send({ url: `step/${name}/`, then: (answer) => { toast(answer.label ? `${name === "undo" ? "Taken back" : "Done again"}: ${answer.label.toLowerCase()}` : `Nothing to ${name}.`); } });
}

export async function open() {
  const answer = await get(`${base}text/`);
  ({ story, revision, rows, styles } = answer);
  choice.replaceChildren(...styles.map(({ id, name }) => new Option(name, id)));
  showAll();
  showStructure(answer.structure);
  root.removeAttribute("aria-busy");
}

function quiet() {
  const on = document.body.classList.toggle("quiet-writing");
  quietly.setAttribute("aria-pressed", String(on));
  if (on) toast("Only the text. Esc brings the rest back.");
}

/** The caret at the beginning of a paragraph, which comes into view. */
function go(id) {
  elements.get(id)?.block.scrollIntoView({ block: "start" });
  putCaret(id, 0);
  field.focus({ preventScroll: true });
}

if (root) {
  field.addEventListener("click", onSign);
  tieListings({ go: (id) => { if (!elements.has(id)) return false; go(id); return true; }, board: (page) => `${location.pathname.replace("manuscript/", "board/")}?page=${(page ?? 0) + 1}` });
  tie({
    go, send, settled, fold, refresh: look_, story: () => story, block: (id) => elements.get(id)?.block,
    before: (id) => rows[(id === null ? rows.length : indexOf(id)) - 1].id,
  });
  open();
  field.addEventListener("beforeinput", input);
  field.addEventListener("compositionend", composed);
  document.addEventListener("selectionchange", () => { const found = places(); if (found) { kept = found; follow(); } });
  for (const [name, button] of Object.entries(steps)) button?.addEventListener("click", (event) => { event.stopImmediatePropagation(); step(name); }, true);
  document.addEventListener("keydown", (event) => {
    if (!(event.ctrlKey || event.metaKey) || event.key.toLowerCase() !== "z") return;
    event.preventDefault();
    event.stopImmediatePropagation();
    step(event.shiftKey ? "redo" : "undo");
  }, true);
  quietly.addEventListener("click", quiet);
  document.addEventListener("keydown", (event) => { if (event.key === "Escape" && document.body.classList.contains("quiet-writing")) quiet(); });
  addEventListener("beforeunload", (event) => { if (queue.length || sending) event.preventDefault(); });
}
