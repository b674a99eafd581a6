// The strip above the board: whether all is saved, what undo would take back, how large and how many the pages are, how many findings Check has.
import { onSteps, tellFindings, tellPages, tellSaved, tellSize, tellStep } from "../strip.js";
import { on, state } from "./state.js";
import { redo, undo } from "./store.js";
import { takeBack } from "./text.js";

onSteps((name) => takeBack(name === "undo" ? undo : redo));

on("saved", tellSaved);

on("taken", ({ sheet, waiting }) => {
  tellPages(state.count);
  tellStep("undo", state.undo);
  tellStep("redo", state.redo);
  if (sheet) tellSize(sheet.size);
  if (waiting !== undefined) tellFindings(waiting);
});
