// The table of records: only the rows in view are there, so that 10,000 scroll smoothly. Cells are edited in place.
import { element } from "../dom.js";
import { messageOf } from "../errors.js";
import { toast } from "../notice.js";
import { counted } from "../numerals.js";
import { tableRooms } from "./rooms.js";
import { ask, change, choose, columns, current, emit, on, state } from "./state.js";

const HEIGHT = 30;
const PAGE = 200; // rows in one request
const AHEAD = 12; // rows beyond those in view
const LEVELS = { ready: "ready", warning: "warning", error: "error" };
const { table, head, body, shows, search } = tableRooms;

const query = { search: "", sort: "", descending: false, show: "all" };
/** Rows by their place in the table: number, whether it is merged, values. @type {Map<number, [number, boolean, string[]]>} */
const rows = new Map();
/** What was typed and is not saved yet, by the number of the record and the column. @type {Map<string, string>} */
const unsaved = new Map();
let total = 0;
let at = { row: 0, column: 0 };
let asked = 0;
const under = new Set(); // pages on their way

const widths = (from) => {
  const sample = [...from.values()].slice(0, 60);
  return columns().map((name, column) => {
    const longest = Math.max(name.length, ...sample.map(([, , values]) => (values[column] ?? "").length));
    return Math.min(Math.max(longest * 7 + 22, 76), 240);
  });
};
let wide = [];
/** The width of the numbers of records, which have up to six digits and a separator. */
const numberWide = () => (total < 1000 ? 54 : 74);

/** Fetch a page of rows into a map of them. */
async function fetchPage(start, signal = asked, into = rows) {
  if (under.has(start)) return;
  under.add(start);
  try {
    const answer = await ask("rows", {
      search: query.search,
      sort: query.sort,
      descending: query.descending ? "1" : "",
      show: query.show,
      start: String(start),
      count: String(PAGE),
    });
    if (signal !== asked) return;
    answer.rows.forEach((row, n) => into.set(start + n, row));
    total = answer.total;
    state.numbers = answer.numbers;
    if (start === 0) wide = widths(into);
  } catch (error) {
    if (signal === asked) toast(messageOf(error), true);
  } finally {
    under.delete(start);
  }
}

/** Fetch what is in view anew. */
async function load() {
  if (!current()) {
    lay();
    return;
  }
  asked += 1;
  under.clear();
  const mine = asked;
  const first = Math.floor(table.scrollTop / HEIGHT / PAGE) * PAGE;
  // What is there stays until the answer comes: whoever types on meanwhile types into it.
  const fresh = new Map();
  await Promise.all([...new Set([0, first])].map((start) => fetchPage(start, mine, fresh)));
  if (mine !== asked) return;
  rows.clear();
  for (const [n, row] of fresh) rows.set(n, row);
  for (const [place, text] of unsaved) write(place, text);
  lay();
  emit("numbers");
  if (!state.numbers.includes(state.record)) choose(state.numbers[0] ?? -1);
  else paint();
}

function lay() {
  const own = current();
  table.hidden = !own;
  if (!own) return;
  const names = columns();
  head.replaceChildren(
    cell("", 38, { role: "columnheader", title: "Whether the record is merged" }),
    cell("#", numberWide(), { role: "columnheader" }),
    cell("Verdict", 92, { role: "columnheader" }),
    ...names.map((name, column) => {
      const sorted = query.sort === name;
      return element("button", {
        type: "button",
        role: "columnheader",
        class: own.fields.includes(name) ? "" : "computed",
        "data-wide": String(wide[column] ?? 120),
        "aria-sort": sorted ? (query.descending ? "descending" : "ascending") : "none",
        title: `${name}${own.fields.includes(name) ? "" : ", computed"}. Click to sort.`,
        text: `${name}${name === own.key ? " (key)" : ""}${sorted ? (query.descending ? " ▾" : " ▴") : ""}`,
        click: () => sort(name),
      });
    }),
  );
  for (const one of head.children) one.style.width = `${one.dataset.wide}px`;
  body.style.height = `${total * HEIGHT}px`;
  body.style.width = `${130 + numberWide() + wide.reduce((sum, one) => sum + one, 0)}px`;
  table.setAttribute("aria-rowcount", String(total));
  paint();
}

function sort(name) {
  if (query.sort !== name) Object.assign(query, { sort: name, descending: false });
  else if (!query.descending) query.descending = true;
  else Object.assign(query, { sort: "", descending: false });
  load();
}

function cell(text, width, more = {}) {
  return element("span", { "data-wide": String(width), text, ...more });
}

/** Paint the rows in view. */
/** The rows that are there, by their place in the table. @type {Map<number, HTMLElement>} */
let painted = new Map();
/** The verdict that each row shows. @type {WeakMap<HTMLElement, object | undefined>} */
const verdicts = new WeakMap();

/** Paint the rows in view; while the table is scrolled, those that are there already stay. */
function paint(scrolled = false) {
  if (table.hidden) return;
  const first = Math.max(Math.floor(table.scrollTop / HEIGHT) - AHEAD, 0);
  const last = Math.min(first + Math.ceil(table.clientHeight / HEIGHT) + 2 * AHEAD, total);
  const editing = body.querySelector("input.field");
  if (editing) return;
  /** @type {Map<number, HTMLElement>} */
  const lines = new Map();
  for (let n = first; n < last; n += 1) {
    const row = rows.get(n);
    if (row) lines.set(n, (scrolled && painted.get(n)) || line(n, row));
    else {
      const start = Math.floor(n / PAGE) * PAGE;
      if (!under.has(start)) fetchPage(start).then(() => paint());
    }
  }
  if (scrolled) {
    for (const [n, one] of painted) if (!lines.has(n)) one.remove();
    for (const [n, one] of lines) if (one.parentElement !== body) place(n, one);
  } else body.replaceChildren(...lines.values());
  painted = lines;
}

/** Paint anew the rows in view whose verdict is another now. */
function paintVerdicts() {
  if (state.checked.done || body.querySelector("input.field")) {
    paint(); // it waits for whoever types in a row
    return;
  }
  for (const [n, one] of painted) {
    if (verdicts.get(one) === state.verdicts.get(Number(one.dataset.number))) continue;
    one.remove();
    painted.delete(n);
  }
  paint(true);
}

/** Put a row where it belongs among those that are there: readers of the screen read them in order. */
function place(n, one) {
  const after = [...body.children].find((other) => Number(/** @type {HTMLElement} */ (other).dataset.row) > n);
  body.insertBefore(one, after ?? null);
}

function line(n, [number, merged, values]) {
  const verdict = state.verdicts.get(number);
  const wrong = new Set((verdict?.problems ?? []).map(({ field }) => field).filter(Boolean));
  const names = columns();
  const row = element("div", {
    class: `merge-row${merged ? "" : " off"}`,
    role: "row",
    "data-row": String(n),
    "data-number": String(number),
    "aria-selected": String(number === state.record),
    "aria-rowindex": String(n + 1),
  });
  row.style.top = `${n * HEIGHT}px`;
  const box = /** @type {HTMLInputElement} */ (
    element("input", { type: "checkbox", "aria-label": `Merge record ${number + 1}`, tabindex: "-1" })
  );
  box.checked = merged;
  box.addEventListener("change", () =>
    change("cells", { set: state.set, changes: [{ row: number, on: box.checked }] }),
  );
  const switched = element(
    "span",
    { class: "merge-cell", "data-wide": "38", role: "gridcell", "data-edits": true },
    box,
  );
  const level = verdict && merged ? LEVELS[verdict.level] : "";
  const parts = [
    switched,
    cell(counted(number + 1), numberWide(), { class: "merge-cell number", role: "gridcell" }),
    element(
      "span",
      { class: "merge-cell", "data-wide": "92", role: "gridcell" },
      element("span", {
        class: `merge-level ${level}`,
        text: merged ? level || (state.checked.done ? "" : "…") : "off",
        title: (verdict?.problems ?? []).map(({ text }) => text).join("\n"),
      }),
    ),
    ...names.map((name, column) => {
      const text = values[column] ?? "";
      return element("span", {
        class: `merge-cell${wrong.has(name) && merged ? " wrong" : ""}${at.row === n && at.column === column ? " at" : ""}`,
        "data-wide": String(wide[column] ?? 120),
        "data-column": String(column),
        role: "gridcell",
        title: text.length > 24 ? text : "",
        text: text.replace(/\s*\n\s*/g, " ⏎ "),
      });
    }),
  ];
  for (const one of parts) one.style.width = `${one.dataset.wide}px`;
  row.append(...parts);
  verdicts.set(row, verdict);
  return row;
}

/** Put the cursor on a cell, and show its record. */
function go(row, column) {
  if (!total) return;
  at = {
    row: Math.min(Math.max(row, 0), total - 1),
    column: Math.min(Math.max(column, 0), Math.max(columns().length - 1, 0)),
  };
  const top = at.row * HEIGHT,
    header = head.offsetHeight;
  if (top < table.scrollTop) table.scrollTop = top;
  else if (top + HEIGHT > table.scrollTop + table.clientHeight - header)
    table.scrollTop = top + HEIGHT - table.clientHeight + header;
  const number = state.numbers[at.row];
  paint();
  if (number !== undefined) choose(number);
  body.querySelector(".at")?.scrollIntoView({ block: "nearest", inline: "nearest" });
}

/** Write into a cell that is on the screen. */
function write(place, text) {
  const [number, column] = place.split("/").map(Number);
  for (const row of rows.values()) if (row[0] === number) row[2][column] = text;
}

/** Edit the cell at the cursor; `typed` replaces its text. */
function edit(typed = null) {
  const own = current(),
    row = rows.get(at.row),
    name = columns()[at.column];
  if (!own || !row || document.body.dataset.role === "view") return;
  if (!own.fields.includes(name)) {
    toast(`“${name}” is computed. Change it in Computed fields.`);
    return;
  }
  const place = body.querySelector(`[data-row="${at.row}"] [data-column="${at.column}"]`);
  if (!place) return;
  const before = row[2][at.column] ?? "";
  const field = /** @type {HTMLInputElement} */ (
    element("input", { class: "field", "aria-label": `${name} of record ${row[0] + 1}` })
  );
  field.value = typed ?? before.replaceAll("\n", " ⏎ ");
  place.replaceChildren(field);
  field.focus();
  if (typed === null) field.select();
  let over = false;
  const end = (save, by = [0, 0]) => {
    if (over) return;
    over = true;
    const value = field.value.replaceAll(" ⏎ ", "\n");
    field.remove();
    if (save && value !== before) {
      const place = `${row[0]}/${at.column}`;
      unsaved.set(place, value); // seen at once, also where the rows are fetched anew meanwhile
      write(place, value);
      change("cells", { set: state.set, changes: [{ row: row[0], field: name, value }] }).then((made) => {
        if (unsaved.get(place) === value) unsaved.delete(place);
        if (!made) write(place, before);
        paint();
      });
    }
    table.focus({ preventScroll: true });
    go(at.row + by[0], at.column + by[1]);
  };
  field.addEventListener("keydown", (event) => {
    event.stopPropagation();
    if (event.key === "Enter") end(true, [event.shiftKey ? -1 : 1, 0]);
    else if (event.key === "Tab") end(true, [0, event.shiftKey ? -1 : 1]);
    else if (event.key === "Escape") end(false);
    else return;
    event.preventDefault();
  });
  field.addEventListener("blur", () => end(true));
}

body.addEventListener("click", ({ target }) => {
  const place = /** @type {HTMLElement} */ (target);
  const row = /** @type {HTMLElement | null} */ (place.closest(".merge-row"));
  if (!row || place.closest("input")) return;
  const column = /** @type {HTMLElement | null} */ (place.closest("[data-column]"));
  table.focus({ preventScroll: true });
  go(Number(row.dataset.row), column ? Number(column.dataset.column) : at.column);
});
body.addEventListener("dblclick", ({ target }) => {
  if (/** @type {HTMLElement} */ (target).closest("[data-column]")) edit();
});
table.addEventListener("keydown", (event) => {
  const moves = { ArrowDown: [1, 0], ArrowUp: [-1, 0], ArrowRight: [0, 1], ArrowLeft: [0, -1] };
  const page = Math.max(Math.floor(table.clientHeight / HEIGHT) - 2, 1);
  if (event.target !== table || event.ctrlKey || event.metaKey || event.altKey) return;
  if (moves[event.key]) go(at.row + moves[event.key][0], at.column + moves[event.key][1]);
  else if (event.key === "PageDown") go(at.row + page, at.column);
  else if (event.key === "PageUp") go(at.row - page, at.column);
  else if (event.key === "Home") go(0, at.column);
  else if (event.key === "End") go(total - 1, at.column);
  else if (event.key === "Enter" || event.key === "F2") edit();
  else if (event.key === "Delete") edit("");
  else if (event.key.length === 1 && event.key !== " ") edit(event.key);
  else return;
  event.preventDefault();
});
let frame = 0;
table.addEventListener("scroll", () => {
  cancelAnimationFrame(frame);
  frame = requestAnimationFrame(() => paint(true));
});
addEventListener("resize", () => paint());

let timer = 0;
search.addEventListener("input", () => {
  clearTimeout(timer);
  timer = setTimeout(() => {
    query.search = search.value;
    table.scrollTop = 0;
    load();
  }, 150);
});

const SHOWS = [
  ["all", "All"],
  ["error", "Errors"],
  ["warning", "Warnings"],
  ["ready", "Ready"],
  ["off", "Off"],
];
function layShows() {
  const counts = { error: 0, warning: 0, ready: 0 };
  for (const { level } of state.verdicts.values()) counts[level] += 1;
  const own = current();
  const off = own && state.checked.total ? own.count - state.checked.total : 0;
  const number = { all: own?.count ?? 0, off, ...counts };
  shows.replaceChildren(
    ...SHOWS.map(([name, word]) =>
      element("button", {
        type: "button",
        "aria-pressed": String(query.show === name),
        text: `${word} ${counted(number[name])}`,
        click: () => {
          query.show = name;
          table.scrollTop = 0;
          layShows();
          load();
        },
      }),
    ),
  );
}

on("rows", () => {
  layShows();
  load();
});
on("verdicts", () => {
  layShows();
  if (["all", "off"].includes(query.show)) paintVerdicts();
  else if (state.checked.done) load();
});
on("record", () => {
  const n = state.numbers.indexOf(state.record);
  if (n >= 0 && n !== at.row) go(n, at.column);
  else paint();
});

/** The numbers of the records in the table. */
export const shownNumbers = () => state.numbers;
