// The clipboard of typed text: words go out with their looks, and come in as a manuscript does, or plain.
import { typing as field } from "./rooms.js";
import { cellOf } from "./cells.js";
import { goesOut, onItsWay } from "./clipboard.js";
import { copied, propose, send, toast } from "./store.js";
import {
  active,
  caret,
  draw,
  endSession,
  ends,
  followCaret,
  holding,
  postponed,
  put,
  selected,
  sentAll,
} from "./caret.js";
import { erase, insert } from "./text.js";
import { messageOf, statusOf } from "../errors.js";

let plainPaste = false;
field.addEventListener("keydown", (event) => {
  if ((event.ctrlKey || event.metaKey) && event.shiftKey && event.key.toLowerCase() === "v") plainPaste = true;
});

/** Copy what is selected; resolves with it, null where it could not be had. */
async function copySelection() {
  const [from, to] = ends();
  const place = ({ p, o }) => ({ paragraph: p, offset: o });
  try {
    await sentAll();
    const { text, html } = await copied({ story: caret.story, start: place(from), end: place(to) });
    const item = new ClipboardItem({
      "text/plain": new Blob([text], { type: "text/plain" }),
      "text/html": new Blob([html], { type: "text/html" }),
    });
    await navigator.clipboard.write([item]).catch(() => navigator.clipboard.writeText(text));
    return { text, html };
  } catch (error) {
    toast(messageOf(error) || "The text could not be copied. Try again.", true);
  }
  return null;
}

/** Take out what is selected once the clipboard has it; keys that are typed meanwhile wait. */
function cutSelection() {
  if (postponed(cutSelection) || !selected()) return;
  const out = goesOut(copySelection());
  holding(async () => ((await out) ? () => erase(true, false) : null));
}

field.addEventListener("copy", (event) => {
  event.preventDefault();
  if (selected()) goesOut(copySelection());
});
field.addEventListener("cut", (event) => {
  event.preventDefault();
  cutSelection();
});
field.addEventListener("paste", (event) => {
  event.preventDefault();
  const there = { text: event.clipboardData.getData("text/plain"), html: event.clipboardData.getData("text/html") };
  pasteIn(onItsWay() ?? there, there, plainPaste);
  plainPaste = false;
});

/** Put in what was copied last (`data`, or that it is on its way), or what the clipboard holds; keys that are typed meanwhile wait. */
function pasteIn(data, there, plain) {
  if (postponed(() => pasteIn(data, there, plain), there.text)) return;
  holding(async () => {
    await sentAll();
    const { text: given, html } = (await data) ?? there;
    const text = given.replace(/\r\n?/g, "\n");
    const cell = cellOf(caret.story);
    if (cell && text.trim() && (text.includes("\t") || /<table/i.test(html)) && !plain) await fillCells(cell, text);
    else if (!html || plain || !active() || !(await pasteRich(html))) return text ? () => insert(text) : null;
    return null;
  });
}

/** Cells copied from a spreadsheet go into those of the table, from the one that the caret is in on. */
async function fillCells(cell, text) {
  endSession();
  try {
    await send([{ do: "fill-cells", ...cell, words: text }]);
    draw();
  } catch {
    /* told */
  }
}

/** Text with its emphasis, cleaned by the server; false where that has nothing to say. */
async function pasteRich(html) {
  const [from, to] = ends();
  const place = ({ p, o }) => ({ paragraph: p, offset: o });
  const { story } = caret;
  if (html.length > 200000) toast("Pasting…");
  try {
    const { told, ...words } = await propose("paste", { html });
    if (told.length) toast(`${told.join("; ")}.`);
    if (!words.paragraphs.length) return false;
    endSession();
    const answer = await send([{ do: "insert-rich", story, start: place(from), end: place(to), ...words }]);
    endSession();
    if (answer.caret) put(story, { p: answer.caret.p, o: answer.caret.offset, page: answer.caret.page ?? from.page });
    followCaret();
  } catch (error) {
    if (!statusOf(error)) throw error;
  }
  return true;
}
