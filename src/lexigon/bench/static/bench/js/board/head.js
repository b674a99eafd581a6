// The strip above the board: whether all is saved, what undo would take back, how large and how many the pages are, what waits on Press.
import { element } from "../dom.js";
import { onSteps, tellPages, tellSaved, tellSize, tellStep } from "../strip.js";
import { on, state } from "./state.js";
import { redo, undo } from "./store.js";
import { takeBack } from "./text.js";

const press = document.querySelector('.strip-places a[href$="/press/"]');

onSteps((name) => takeBack(name === "undo" ? undo : redo));

on("saved", tellSaved);

on("taken", ({ sheet, waiting }) => {
  tellPages(state.count);
  tellStep("undo", state.undo);
  tellStep("redo", state.redo);
  if (sheet) tellSize(sheet.size);
  if (waiting !== undefined) tellWaiting(waiting);
});

/** How much is to be looked at before a file is made. */
function tellWaiting(count) {
  press.querySelector(".count")?.remove();
  if (count)
    press.append(element("b", { class: "count", text: String(count), title: `${count} to check before exporting` }));
}
