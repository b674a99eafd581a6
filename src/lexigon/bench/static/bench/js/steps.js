// Undo and redo in the strip, on every place that does not repaint what it shows itself (the board, the flatplan): there it is loaded anew.
import { HttpError } from "./errors.js";
import { post } from "./http.js";
import { onSteps, steps, tellSaved } from "./strip.js";

export function undoOutsideTheBoard() {
  if (document.body.dataset.repaints || !steps.undo) return;
  onSteps(step);
  document.addEventListener("keydown", (event) => {
    if (
      !(event.ctrlKey || event.metaKey) ||
      event.key.toLowerCase() !== "z" ||
      event.target.closest("input, textarea, select")
    )
      return;
    event.preventDefault();
    step(event.shiftKey ? "redo" : "undo");
  });
}

/** Something was done that undo takes back. */
export function undoable(what = "") {
  steps.undo.disabled = false;
  steps.undo.title = what ? `Undo: ${what}` : "Undo";
}

/** @param {"undo" | "redo"} name */
async function step(name) {
  const button = steps[name];
  button.disabled = true;
  try {
    const answer = await post(button.dataset.url, {});
    if (answer.label) location.reload();
    else tellSaved(`nothing to ${name}`);
  } catch (error) {
    if (!(error instanceof HttpError)) throw error;
    tellSaved(error.message);
  }
  button.disabled = false;
}
