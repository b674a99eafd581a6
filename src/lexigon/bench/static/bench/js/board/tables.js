// A table's cells, typed into a sheet of its own: Tab goes on and adds rows, what is copied from a spreadsheet fills from a cell on.
import { register } from "../commands.js";
import { element } from "../dom.js";
import { get } from "../http.js";
import { on, send, state, toast } from "./store.js";
import { cellAt, fillFrom, gridOf, join, part, putIn, rowsOf, takeOut } from "./tablegrid.js";
import { tableAtCaret } from "./text.js";

const dialog = /** @type {HTMLDialogElement} */ (document.getElementById("table"));
const sheet = dialog.querySelector(".table-sheet"), heads = /** @type {HTMLInputElement} */ (dialog.querySelector("[data-heads]")), problem = dialog.querySelector(".problem");
let key = "";
let grid = { rows: 0, columns: 0, cells: [] };
let at = { row: 0, col: 0 };

/** Open a table. */
async function open(id) {
  const { rows, heads: count, name } = await get(`/job/${state.key}/tables/${id}/`);
  key = id;
  grid = gridOf(rows);
  at = { row: 0, col: 0 };
  heads.value = String(count);
  dialog.querySelector("h2").textContent = name;
  problem.textContent = "";
  lay();
  dialog.showModal();
  focus();
}

const current = () => cellAt(grid, at.row, at.col) || grid.cells[0];

function lay() {
  const count = Number(heads.value) || 0;
  const body = element("tbody");
  rowsOf(grid).forEach((_, row) => {
    const line = element("tr", { class: row < count ? "head" : "" });
    for (const cell of grid.cells.filter((one) => one.row === row).sort((a, b) => a.col - b.col)) {
      const box = element("div", { contenteditable: "plaintext-only", role: "textbox", "aria-label": `Row ${row + 1}, column ${cell.col + 1}`, text: cell.words, input: () => { cell.words = box.innerText.replace(/\n$/, ""); }, focus: () => { at = { row: cell.row, col: cell.col }; } });
      box.dataset.at = `${cell.row},${cell.col}`;
      line.append(element("td", { colspan: String(cell.across), rowspan: String(cell.down) }, box));
    }
    body.append(line);
  });
  sheet.replaceChildren(element("table", {}, body));
}

function focus() {
  const cell = current(), box = /** @type {HTMLElement | null} */ (sheet.querySelector(`[data-at="${cell.row},${cell.col}"]`));
  if (!box) return;
  box.focus();
  getSelection().selectAllChildren(box);
}

function go(row, col) { at = { row, col }; focus(); }

function step(back) {
  const order = [...grid.cells].sort((a, b) => a.row - b.row || a.col - b.col);
  const next = order.indexOf(current()) + (back ? -1 : 1);
  if (next >= order.length) { putIn(grid, "row", grid.rows); lay(); go(grid.rows - 1, 0); } else if (next >= 0) go(order[next].row, order[next].col);
}

sheet.addEventListener("keydown", (/** @type {KeyboardEvent} */ event) => {
  const cell = current();
  const moves = { ArrowUp: [cell.row - 1, cell.col], ArrowDown: [cell.row + cell.down, cell.col] };
  if (event.key === "Tab") { event.preventDefault(); step(event.shiftKey); }
  else if (event.altKey && moves[event.key]) { event.preventDefault(); const [row, col] = moves[event.key]; if (row >= 0 && row < grid.rows) go(row, col); }
  event.stopPropagation(); // no key of the board acts here
});
sheet.addEventListener("paste", (/** @type {ClipboardEvent} */ event) => {
  const text = event.clipboardData.getData("text/plain").replace(/\r\n?/g, "\n").replace(/\n$/, "");
  if (!text.includes("\t") && !text.includes("\n")) return;
  event.preventDefault();
  const { row, col } = current();
  fillFrom(grid, row, col, text.split("\n").map((line) => line.split("\t")));
  lay();
  go(row, col);
});

const ACTS = {
  "row-above": () => putIn(grid, "row", current().row), "row-below": () => { const { row, down } = current(); putIn(grid, "row", row + down); at.row = row + down; },
  "col-left": () => putIn(grid, "col", current().col), "col-right": () => { const { col, across } = current(); putIn(grid, "col", col + across); at.col = col + across; },
  "row-out": () => { takeOut(grid, "row", current().row); at.row = Math.min(at.row, grid.rows - 1); }, "col-out": () => { takeOut(grid, "col", current().col); at.col = Math.min(at.col, grid.columns - 1); },
  "join-right": () => { if (!join(grid, current(), "col")) toast("These cells do not make a rectangle together.", true); }, "join-below": () => { if (!join(grid, current(), "row")) toast("These cells do not make a rectangle together.", true); }, part: () => part(grid, current()),
};
dialog.addEventListener("click", (event) => {
  const act = /** @type {HTMLElement} */ (event.target).closest("[data-act]")?.getAttribute("data-act");
  if (act) { ACTS[act](); lay(); focus(); }
});
heads.addEventListener("input", () => lay());
dialog.querySelector(".keep").addEventListener("click", async () => {
  problem.textContent = "";
  try {
    await send([{ do: "change-table", table: key, rows: rowsOf(grid), heads: Math.max(0, Math.round(Number(heads.value)) || 0) }]);
    dialog.close();
  } catch (error) { problem.textContent = error.message; }
});

on("table", (id) => { open(id).catch((error) => toast(error.message, true)); });
register({ word: "Table: edit the cells of the one at the caret …", keys: [], help: "a double click on a table opens its cells", when: () => Boolean(tableAtCaret()), run: () => open(tableAtCaret()) });
