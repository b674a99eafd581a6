// Merge: many pieces from one design and the records of a table.
import { counted } from "../numerals.js";
import "./importing.js";
import "./table.js";
import "./piece.js";
import "./exporting.js";
import { progress } from "./rooms.js";
import { check, chooseFirst, on, state } from "./state.js";

on("rows", check);
on("verdicts", () => {
  const { count, total, done } = state.checked;
  progress.textContent = done ? "" : `checking ${counted(count)} of ${counted(total)}…`;
});
chooseFirst();
document.documentElement.dataset.merge = "ready"; // every control answers now
