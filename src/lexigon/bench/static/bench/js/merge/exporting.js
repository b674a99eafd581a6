// Exporting a merge: one PDF, a file for each record, or sheets; in the background, with progress.
import { element } from "../dom.js";
import { HttpError, messageOf } from "../errors.js";
import { get, post } from "../http.js";
import { counted } from "../numerals.js";
import { plural } from "../survey.js";
import { exportFields, exportRooms, tabs } from "./rooms.js";
import { on, state } from "./state.js";

const { recipe, form, name, sheet, gap, order, flip, marks, records, range } = exportFields;
const { problem, note, sheetNote, running, words, list, bar, button, stop } = exportRooms;
const FORMS = { one: "one PDF", each: "a file for each record", sheets: "sheets" };
let open = null;

function showFields() {
  const paged = "paged" in recipe.selectedOptions[0].dataset; // files of single pages: of each record by itself
  for (const one of form.options) one.disabled = paged && ["one", "sheets"].includes(one.value);
  if (form.selectedOptions[0].disabled) form.value = "each";
  for (const one of /** @type {NodeListOf<HTMLElement>} */ (document.querySelectorAll("[data-form]")))
    one.hidden = one.dataset.form !== form.value;
  /** @type {HTMLElement} */ (document.querySelector("[data-records]")).hidden = records.value !== "range";
  tell();
  tellSheet();
}
recipe.addEventListener("change", showFields);
form.addEventListener("change", showFields);
records.addEventListener("change", showFields);

const withErrors = () => [...state.verdicts.values()].filter(({ level }) => level === "error").map((one) => one.number);

let asked = 0;

/** How many pieces are on a sheet, and what becomes of their bleed. */
async function tellSheet() {
  if (form.value !== "sheets") return;
  const own = ++asked;
  let text;
  try {
    text = (await get(`${location.pathname}sheet/?${new URLSearchParams({ sheet: sheet.value, gap: gap.value })}`))
      .words;
  } catch (error) {
    text = messageOf(error);
  }
  if (own === asked) sheetNote.textContent = text;
}
sheet.addEventListener("change", tellSheet);
gap.addEventListener("input", tellSheet);

/** What is not as it should be before it is exported. */
function tell() {
  const errors = withErrors().length;
  const unchecked = state.checked.total - state.checked.count;
  const parts = [];
  if (errors && records.value !== "ready") parts.push(`${plural(errors, "record")} with errors.`);
  if (!state.checked.done && unchecked > 0) parts.push(`${counted(unchecked)} not checked yet.`);
  note.textContent = parts.join(" ");
}

/** The numbers of the records to be exported, null for all. */
function numbers() {
  const errors = new Set(withErrors());
  switch (records.value) {
    case "ready":
      return [...state.verdicts.keys()].filter((number) => !errors.has(number)).sort((a, b) => a - b);
    case "shown":
      return state.numbers;
    case "one":
      return state.record >= 0 ? [state.record] : [];
    default:
      return null;
  }
}

button.addEventListener("click", async () => {
  problem.textContent = "";
  if (records.value === "ready" && !state.checked.done) {
    problem.textContent = "Not all records are checked yet. Wait a moment, then export again.";
    return;
  }
  const whole = form.value === "job";
  try {
    const row = await post(`${location.pathname}${whole ? "as-job" : "start"}/`, {
      set: state.set,
      recipe: recipe.value,
      form: whole ? "one" : form.value,
      numbers: numbers(),
      changed: records.value === "changed",
      records: records.value === "range" ? range.value : "",
      name: name.value,
      sheet: sheet.value,
      gap: gap.value,
      order: order.value,
      flip: flip.value,
      marks: marks.checked,
    });
    if (whole) {
      location.href = row.board;
      return;
    }
    state.outputs = [row, ...state.outputs];
    follow(row);
  } catch (error) {
    problem.textContent = messageOf(error);
  }
});

const isRunning = (row) => ["running", "waiting"].includes(row.state);

async function follow(row) {
  open = row;
  while (isRunning(open) && open.id === row.id) {
    running.hidden = false;
    button.hidden = true;
    const { done, total } = open;
    if (done) bar.value = total ? done / total : 0;
    else bar.removeAttribute("value");
    words.textContent = open.state === "waiting" ? "waiting to start…" : `${counted(done)} of ${counted(total)}`;
    await new Promise((resolve) => setTimeout(resolve, 300));
    try {
      const now = await get(row.status);
      if (open.id !== row.id || !isRunning(open)) break;
      open = now;
      state.outputs = state.outputs.map((other) => (other.id === now.id ? now : other));
    } catch (error) {
      if (!(error instanceof HttpError) || error.status) throw error;
    }
  }
  running.hidden = true;
  button.hidden = false;
  layOutputs();
}

stop.addEventListener("click", async () => {
  if (!open) return;
  await post(open.stop, {});
  open = { ...open, state: "stopped" };
  state.outputs = state.outputs.filter(({ id }) => id !== open.id);
});

function layOutputs() {
  const rows = state.outputs.filter(({ state: now }) => now === "ready" || now === "failed");
  list.replaceChildren(
    ...rows.map((row) => {
      if (row.state === "failed") return element("p", { class: "note bad mb-2", role: "alert", text: row.error });
      const size = (row.facts ?? []).find(([word]) => word === "Size")?.[1] ?? "";
      return element(
        "div",
        { class: "merge-output" },
        element(
          "span",
          {},
          element("b", { class: "block", text: `${plural(row.records, "record")}, ${FORMS[row.form]}` }),
          element("span", {
            class: "sub",
            text: [row.name, size, row.old ? "older than the job" : ""].filter(Boolean).join(" · "),
          }),
        ),
        element("a", { class: "button", href: row.file, download: "", text: "Download" }),
      );
    }),
  );
}

for (const one of tabs)
  one.tab.addEventListener("click", () => {
    for (const { tab, panel } of tabs) {
      tab.setAttribute("aria-selected", String(tab === one.tab));
      panel.hidden = tab !== one.tab;
    }
  });

on("verdicts", tell);
on("rows", tell);
on("sets", () => {
  button.disabled = !state.set;
});
showFields();
layOutputs();
const left = state.outputs.find(isRunning);
if (left) follow(left);
