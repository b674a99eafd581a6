// A table's cells, typed into a sheet of its own: Tab goes on and adds rows, what is copied from a spreadsheet fills from a cell on.
import { askFor } from "./asking.js";
import { tableDialog as dialog } from "./rooms.js";
import { needing, register } from "../commands.js";
import { element } from "../dom.js";
import { messageOf } from "../errors.js";
import { get, upload } from "../http.js";
import { on, send, state, toast, undo } from "./store.js";
import { cellAt, fillFrom, gridOf, join, part, putIn, rowsOf, takeOut } from "./tablegrid.js";
import { ALIGNS, SIZES, STANDS, WIDTHS } from "./tablewords.js";
import { offer } from "./values.js";
import { ground, setUpTableStyles } from "./tablestyles.js";
import { tableAtCaret } from "./caret.js";

const one = (name) => /** @type {HTMLInputElement & HTMLSelectElement} */ (dialog.querySelector(`[data-${name}]`));
const sheet = dialog.querySelector(".table-sheet"),
  heads = one("heads"),
  foots = one("foots"),
  look = one("look"),
  goes = one("continued"),
  problem = dialog.querySelector(".problem");
let key = "";
let grid = { rows: 0, columns: 0, cells: [] };
let at = { row: 0, col: 0 };
let sizes = []; // of columns in turn: as long as it must be
let cellGround = null;
/** While the sheet is open: what it has changed so far is one step to undo, which Cancel does. */
let visit = { group: "", changed: false };

/** Send what the sheet changes. */
async function change(intents) {
  await send(intents, { group: visit.group });
  visit.changed = true;
}

const sizeOf = (col) => sizes[col] || { size: "content", value: 0, align: null };
const whole = (field) => Math.max(0, Math.round(Number(field.value)) || 0);

/** Open a table. */
async function open(id) {
  const {
    rows,
    heads: count,
    foots: feet,
    style,
    sizes: columns,
    continued,
    name,
    source,
    divide,
    overset,
  } = await get(`/job/${state.key}/tables/${id}/`);
  key = id;
  grid = gridOf(rows);
  at = { row: 0, col: 0 };
  heads.value = String(count);
  foots.value = String(feet);
  goes.value = continued;
  one("divide").checked = divide;
  sizes = columns;
  layStyles(style);
  one("overset").textContent = overset;
  one("overset").hidden = !overset;
  one("source").textContent = source ? `Cells from “${source}”` : "Cells typed here";
  one("from").textContent = source ? "Update from the file…" : "Import cells from a file…";
  dialog.querySelector("h2").textContent = name;
  problem.textContent = "";
  lay();
  if (!dialog.open) {
    visit = { group: crypto.randomUUID(), changed: false };
    dialog.showModal();
  }
  focus();
}

function layStyles(chosen) {
  look.replaceChildren(new Option("plain", ""), ...state.tableStyles.map((style) => new Option(style.name, style.id)));
  look.value = chosen;
}

/** What is set of the column and the cell at hand. */
function layHand() {
  const cell = current(),
    column = sizeOf(cell.col),
    kind = one("size"),
    value = one("value"),
    align = one("align"),
    stands = one("stands");
  one("column").textContent = `Column ${cell.col + 1}`;
  kind.value = column.size;
  value.hidden = !(column.size in WIDTHS);
  value.value = WIDTHS[column.size]?.show(column.value) ?? "";
  align.value = column.align || "";
  stands.value = cell.vertical || "";
  cellGround = ground(cell.fill, "as the style");
  cellGround.tint.hidden = !cellGround.swatch.value;
  for (const field of [cellGround.swatch, cellGround.tint]) field.addEventListener("change", setGround);
  cellGround.swatch.setAttribute("aria-label", "Ground of the cell");
  one("ground").replaceChildren(cellGround.row);
}

function setSize(values) {
  const { col } = current();
  while (sizes.length <= col) sizes.push(sizeOf(sizes.length));
  sizes[col] = { ...sizes[col], ...values };
  layHand();
}

function setGround() {
  try {
    const told = cellGround.told();
    current().fill = told.swatch ? told : null;
    problem.textContent = "";
    layHand();
  } catch (error) {
    problem.textContent = messageOf(error);
  }
}

for (const [name, choices] of Object.entries({ size: SIZES, align: ALIGNS, stands: STANDS })) offer(one(name), choices);
one("size").addEventListener("change", () =>
  setSize({ size: one("size").value, value: WIDTHS[one("size").value]?.first(state.sheet.points) ?? 0 }),
);
one("value").addEventListener("change", () => {
  try {
    const told = WIDTHS[sizeOf(current().col).size].read(one("value").value);
    problem.textContent = "";
    setSize({ value: told });
  } catch (error) {
    problem.textContent = messageOf(error);
  }
});
one("align").addEventListener("change", () => setSize({ align: one("align").value || null }));
one("stands").addEventListener("change", () => {
  current().vertical = one("stands").value || null;
});
one("styles").addEventListener("click", async () => {
  const kept = await setUpTableStyles(look.value, change);
  if (kept !== null) layStyles(kept);
});

const current = () => cellAt(grid, at.row, at.col) || grid.cells[0];

function lay() {
  const count = whole(heads),
    feet = grid.rows - whole(foots);
  const body = element("tbody");
  rowsOf(grid).forEach((_, row) => {
    const line = element("tr", { class: row < count || row >= feet ? "head" : "" });
    for (const cell of grid.cells.filter((one) => one.row === row).sort((a, b) => a.col - b.col)) {
      const box = element("div", {
        contenteditable: "plaintext-only",
        role: "textbox",
        "aria-label": `Row ${row + 1}, column ${cell.col + 1}`,
        text: cell.words,
        input: () => {
          cell.words = box.innerText.replace(/\n$/, "");
        },
        focus: () => {
          at = { row: cell.row, col: cell.col };
          layHand();
        },
      });
      box.dataset.at = `${cell.row},${cell.col}`;
      line.append(element("td", { colspan: String(cell.across), rowspan: String(cell.down) }, box));
    }
    body.append(line);
  });
  sheet.replaceChildren(element("table", {}, body));
}

function focus() {
  const cell = current(),
    box = /** @type {HTMLElement | null} */ (sheet.querySelector(`[data-at="${cell.row},${cell.col}"]`));
  if (!box) return;
  box.focus();
  getSelection().selectAllChildren(box);
}

function go(row, col) {
  at = { row, col };
  focus();
}

function step(back) {
  const order = [...grid.cells].sort((a, b) => a.row - b.row || a.col - b.col);
  const next = order.indexOf(current()) + (back ? -1 : 1);
  if (next >= order.length) {
    putIn(grid, "row", grid.rows);
    lay();
    go(grid.rows - 1, 0);
  } else if (next >= 0) go(order[next].row, order[next].col);
}

sheet.addEventListener("keydown", (/** @type {KeyboardEvent} */ event) => {
  const cell = current();
  const moves = { ArrowUp: [cell.row - 1, cell.col], ArrowDown: [cell.row + cell.down, cell.col] };
  if (event.key === "Tab") {
    event.preventDefault();
    step(event.shiftKey);
  } else if (event.altKey && moves[event.key]) {
    event.preventDefault();
    const [row, col] = moves[event.key];
    if (row >= 0 && row < grid.rows) go(row, col);
  }
  event.stopPropagation(); // no key of the board acts here
});
sheet.addEventListener("paste", (/** @type {ClipboardEvent} */ event) => {
  const text = event.clipboardData.getData("text/plain").replace(/\r\n?/g, "\n").replace(/\n$/, "");
  if (!text.includes("\t") && !text.includes("\n")) return;
  event.preventDefault();
  const { row, col } = current();
  fillFrom(
    grid,
    row,
    col,
    text.split("\n").map((line) => line.split("\t")),
  );
  lay();
  go(row, col);
});

const ACTS = {
  "row-above": () => putIn(grid, "row", current().row),
  "row-below": () => {
    const { row, down } = current();
    putIn(grid, "row", row + down);
    at.row = row + down;
  },
  "col-left": () => {
    sizes.splice(current().col, 0, ...(sizes.length > current().col ? [sizeOf(-1)] : []));
    putIn(grid, "col", current().col);
  },
  "col-right": () => {
    const { col, across } = current();
    sizes.splice(col + across, 0, ...(sizes.length > col + across ? [sizeOf(-1)] : []));
    putIn(grid, "col", col + across);
    at.col = col + across;
  },
  "sort-up": () => sort(false),
  "sort-down": () => sort(true),
  "row-out": () => {
    takeOut(grid, "row", current().row);
    at.row = Math.min(at.row, grid.rows - 1);
  },
  "col-out": () => {
    sizes.splice(current().col, 1);
    takeOut(grid, "col", current().col);
    at.col = Math.min(at.col, grid.columns - 1);
  },
  "join-right": () => {
    if (!join(grid, current(), "col")) toast("These cells do not form a rectangle.", true);
  },
  "join-below": () => {
    if (!join(grid, current(), "row")) toast("These cells do not form a rectangle.", true);
  },
  part: () => part(grid, current()),
};
dialog.addEventListener("click", (event) => {
  const act = /** @type {HTMLElement} */ (event.target).closest("[data-act]")?.getAttribute("data-act");
  if (act) {
    ACTS[act]();
    if (!act.startsWith("sort")) {
      lay();
      focus();
    }
  }
});
for (const field of [heads, foots]) field.addEventListener("input", () => lay());

/** The table as it is in the sheet. */
const told = () => ({
  do: "change-table",
  table: key,
  rows: rowsOf(grid),
  heads: whole(heads),
  foots: whole(foots),
  style: look.value,
  sizes,
  continued: goes.value,
  divide: one("divide").checked,
});

one("from").addEventListener("click", () => one("file").click());
one("file").addEventListener("change", async () => {
  const [file] = one("file").files;
  one("file").value = "";
  if (!file) return;
  problem.textContent = "";
  try {
    await change([told()]); // what was typed before is saved with it
    const answer = await taken(key, file);
    if (!answer) {
      await open(key);
      return;
    }
    if (answer.words !== null) await change([refreshIntent(key, answer)]);
    await open(key);
    report(answer);
  } catch (error) {
    problem.textContent = messageOf(error);
  }
});

const refreshIntent = (key, { source, words, parted, merged }) => ({
  do: "refresh-table",
  table: key,
  source,
  words,
  parted,
  merged,
});
/** Say what a file did to a table, and what is missing from it. */
const report = ({ source, told: what, warning }) =>
  toast(`“${source}”: ${what}.${warning ? ` ${warning}` : ""}`, Boolean(warning));
/** The files that a table is filled from. */
export const TABLE_FILES = ".csv,.tsv,.txt,.xlsx,text/csv";

/** Fill a table that was just inserted from a file, as one step with inserting it; if the file cannot be read, the table is removed again. */
export async function fillFromFile(key, file, group) {
  try {
    const answer = await taken(key, file);
    if (!answer) {
      await undo();
      return;
    }
    if (answer.words !== null) await send([refreshIntent(key, answer)], { group });
    report(answer);
  } catch (error) {
    await undo();
    toast(messageOf(error), true);
  }
}

/** What the server reads in a file; of a workbook with several sheets it is asked which one is meant. Null where none is. */
async function taken(key, file) {
  const sent = (sheet) => {
    const data = new FormData();
    data.append("file", file);
    data.append("sheet", sheet);
    return upload(`/job/${state.key}/tables/${key}/file/`, data);
  };
  const answer = await sent("");
  if (!answer.sheets) return answer;
  const chosen = await askFor(
    "Select a sheet",
    `“${file.name}” has several sheets. The table takes its cells from one of them.`,
    "Import",
    { sheet: { word: "Sheet", kind: "choice", choices: answer.sheets.map((name) => [name, name]) } },
  );
  return chosen && sent(chosen.sheet);
}

/** The rows in the order of the column at hand; what was typed before is kept with it. */
async function sort(descending) {
  const place = at;
  problem.textContent = "";
  try {
    await change([told(), { do: "sort-table", table: key, column: current().col, descending }]);
    await open(key);
    go(Math.min(place.row, grid.rows - 1), place.col);
  } catch (error) {
    problem.textContent = messageOf(error);
  }
}

dialog.querySelector(".keep").addEventListener("click", async () => {
  problem.textContent = "";
  try {
    await change([told()]);
    dialog.close();
  } catch (error) {
    problem.textContent = messageOf(error);
  }
});

/** Close the sheet, and undo what was done in it. */
async function cancel() {
  dialog.close();
  if (visit.changed) await undo();
}
dialog.querySelector(".cancel").addEventListener("click", cancel);
dialog.addEventListener("cancel", (event) => {
  if (event.target === dialog) {
    event.preventDefault();
    cancel();
  }
});

on("table", (id) => {
  open(id).catch((error) => toast(error.message, true));
});
register({ word: "Edit table styles…", keys: [], run: () => setUpTableStyles().catch(() => {}) });
register({
  word: "Edit table at the caret…",
  keys: [],
  help: "double-click a table to edit its cells",
  when: needing("Click into a table first.", () => Boolean(tableAtCaret())),
  run: () => open(tableAtCaret()),
});
