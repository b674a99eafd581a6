// Undo and redo in the strip, on every place but the board and the flatplan (which repaint instead of reloading).
import { HttpError, post } from "./http.js";

export function undoOutsideTheBoard() {
  if (document.getElementById("board") || document.getElementById("plan")) return;
  for (const id of ["undo", "redo"]) {
    const button = document.getElementById(id);
    button?.addEventListener("click", () => step(button));
  }
  document.addEventListener("keydown", (event) => {
    if (!(event.ctrlKey || event.metaKey) || event.key.toLowerCase() !== "z" || event.target.closest("input, textarea, select")) return;
    const button = document.getElementById(event.shiftKey ? "redo" : "undo");
    if (button) { event.preventDefault(); step(button); }
  });
}

/** Something was done that undo takes back. */
export function undoable(what = "") {
  const button = /** @type {HTMLButtonElement} */ (document.getElementById("undo"));
  button.disabled = false;
  button.title = what ? `Undo: ${what}` : "Undo";
}

async function step(button) {
  const saved = document.getElementById("saved");
  button.disabled = true;
  try {
    const answer = await post(button.dataset.url, {});
    if (answer.label) location.reload();
    else saved.textContent = button.id === "undo" ? "nothing to undo" : "nothing to redo";
  } catch (error) {
    if (!(error instanceof HttpError)) throw error;
    saved.textContent = error.message;
  }
  button.disabled = false;
}
