// The strip above the board: whether all is saved, what undo would take back, how large and how many the pages are, what waits on Press.
import { element, tellPages } from "../dom.js";
import { on, state } from "./state.js";
import { redo, undo } from "./store.js";
import { quiet } from "./text.js";

const saved = document.getElementById("saved");
const size = document.getElementById("job-size");
const steps = [{ name: "undo", word: "Undo", run: undo }, { name: "redo", word: "Redo", run: redo }].map((step) => ({ ...step, button: /** @type {HTMLButtonElement} */ (document.getElementById(step.name)) }));
const press = document.querySelector('.strip-places a[href$="/press/"]');

for (const { run, button } of steps) button.addEventListener("click", () => quiet().then(run));

on("saved", (words) => { saved.textContent = words; });

on("taken", ({ sheet, waiting }) => {
  tellPages(state.count);
  for (const { name, word, button } of steps) {
    const label = state[name];
    button.disabled = !label;
    button.title = label ? `${word}: ${label.toLowerCase()}` : `Nothing to ${name}`;
  }
  if (sheet) size.textContent = sheet.size;
  if (waiting !== undefined) tellWaiting(waiting);
});

/** How much is to be looked at before a file is made. */
function tellWaiting(count) {
  press.querySelector(".count")?.remove();
  if (count) press.append(element("b", { class: "count", text: String(count), title: `${count} to look at before a file is made` }));
}
