// The clipboard of typed text: words go out with their looks, and come in as a manuscript does, or plain.
import { cellOf } from "./cells.js";
import { copied, propose, send, toast } from "./store.js";
import { active, caret, draw, endSession, ends, erase, followCaret, insert, put, quiet, selected } from "./text.js";

const field = document.getElementById("typing");
let plainPaste = false;
field.addEventListener("keydown", (event) => { if ((event.ctrlKey || event.metaKey) && event.shiftKey && event.key.toLowerCase() === "v") plainPaste = true; });

async function copySelection(cut) {
  if (!selected()) return;
  const [from, to] = ends();
  const place = ({ p, o }) => ({ paragraph: p, offset: o });
  try {
    await quiet();
    const { text, html } = await copied({ story: caret.story, start: place(from), end: place(to) });
    const item = new ClipboardItem({ "text/plain": new Blob([text], { type: "text/plain" }), "text/html": new Blob([html], { type: "text/html" }) });
    await navigator.clipboard.write([item]).catch(() => navigator.clipboard.writeText(text));
    if (cut) erase(true, false);
  } catch (error) { toast(error.message || "The words could not be copied.", true); }
}
field.addEventListener("copy", (event) => { event.preventDefault(); copySelection(false); });
field.addEventListener("cut", (event) => { event.preventDefault(); copySelection(true); });
field.addEventListener("paste", (event) => {
  event.preventDefault();
  const text = event.clipboardData.getData("text/plain").replace(/\r\n?/g, "\n");
  const html = event.clipboardData.getData("text/html");
  const cell = cellOf(caret.story);
  if (cell && (text.includes("\t") || /<table/i.test(html)) && !plainPaste) fillCells(cell, text);
  else if (html && !plainPaste) pasteRich(html, text);
  else if (text) insert(text);
  plainPaste = false;
});

/** Cells copied from a spreadsheet go into those of the table, from the one that the caret is in on. */
async function fillCells(cell, text) {
  await quiet();
  endSession();
  try { await send([{ do: "fill-cells", ...cell, words: text }]); draw(); } catch { /* told */ }
}

/** Text with its emphasis, cleaned by the server; where that has nothing to say, the plain words. */
async function pasteRich(html, text) {
  await quiet();
  if (!active()) return;
  const [from, to] = ends();
  const place = ({ p, o }) => ({ paragraph: p, offset: o });
  const { story } = caret;
  if (html.length > 200000) toast("Putting the text in …");
  try {
    const { told, ...words } = await propose("paste", { html });
    if (told.length) toast(`${told.join("; ")}.`);
    if (!words.paragraphs.length) { if (text) insert(text); return; }
    endSession();
    const answer = await send([{ do: "insert-rich", story, start: place(from), end: place(to), ...words }]);
    endSession();
    if (answer.caret) put(story, { p: answer.caret.p, o: answer.caret.offset, page: answer.caret.page ?? from.page });
    followCaret();
  } catch (error) { if (!error.status) throw error; }
}
