// Single letters as shortcuts: only while the board has the focus and an object is selected, so that nobody runs commands who means to type.
import { byKey } from "../commands.js";
import { current } from "./frames.js";
import { sheet } from "./rooms.js";
import { toast } from "./store.js";

const EXPLAINED = "lexigon-letters-explained";
export const isLetter = (key) => /^\p{L}$/u.test(key);

/** Whether a letter runs its command now. The first letter ever pressed in this browser explains itself instead. */
export function takesLetters({ key, target }) {
  const frame = current();
  if (target !== sheet || !frame) return false;
  const command = byKey(key);
  if (!command || localStorage.getItem(EXPLAINED)) return Boolean(command);
  localStorage.setItem(EXPLAINED, "1");
  const typed = frame.story && !frame.field ? " Press Enter to type in the frame." : "";
  toast(
    `“${key.toUpperCase()}” is a shortcut: ${command.word}. Letter keys run commands while an object is selected.${typed} Press the key again to run it.`,
  );
  return false;
}
