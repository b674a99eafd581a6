// Rows of fields made from descriptions: each value is said once, with its word, what it shows of what is selected, and what is done with
// what is typed. A part of the slip brings them by the names of their places (`data-rows`) in its template.
import { element } from "../../dom.js";
import { parseLength, readChange } from "../numbers.js";
import { state } from "../store.js";

/**
 * @typedef {object} Row
 * @property {string} id - of its field
 * @property {string} word
 * @property {string} [title]
 * @property {"choice" | "check" | "degrees" | "percent" | "points" | "length" | "change"} kind
 * @property {string[][] | ((slip: any) => string[][])} [choices] - [value, word] each
 * @property {(slip: any) => any} value - as it is selected; a length as it is written
 * @property {(slip: any, value: any) => void} set - does what was typed, read by its kind
 * @property {(slip: any) => boolean} [when] - whether it is shown at all
 */

/** A number with what may stand behind it. Throws with what to type. */
function number(text, words) {
  const value = Number(text.replace(",", ".").replace(/[%°]/, "").trim() || NaN);
  if (!Number.isFinite(value)) throw new Error(words);
  return value;
}

/** Kinds of values: how one is shown in a field, and read from it.
    @type {Record<string, {show: (field: any, value: any) => void, read: (field: any) => any, typed?: boolean, figures?: boolean}>} */
const KINDS = {
  choice: { show: (field, value) => { field.value = value; }, read: (field) => field.value },
  check: { show: (field, value) => { field.checked = value; }, read: (field) => field.checked },
  degrees: { show: (field, value) => { field.value = value; }, read: (field) => number(field.value, "Type degrees, such as 15 or -7.5."), typed: true, figures: true },
  percent: { show: (field, value) => { field.value = `${value} %`; }, read: (field) => number(field.value, "Type a part of the whole, such as 85 %.") / 100, typed: true, figures: true },
  points: { show: (field, value) => { field.value = value; }, read: (field) => parseLength(field.value || "0", "pt"), typed: true },
  length: { show: (field, value) => { field.value = value; }, read: (field) => parseLength(field.value || "0", state.sheet.unit), typed: true },
  change: { show: (field, value) => { field.value = value; }, read: (field) => readChange(field.value, state.sheet.unit), typed: true }, // +2 mm, *0.5
};

/** @param {Row} row */
function built(row, slip) {
  const kind = KINDS[row.kind];
  const change = (event) => {
    const field = event.currentTarget;
    try { slip.problem = ""; row.set(slip, kind.read(field)); } catch (error) {
      slip.problem = error.message;
      field.value = field.dataset.was ?? "";
    }
  };
  if (row.kind === "check") {
    const box = element("input", { type: "checkbox", id: row.id, change });
    return { row, field: box, box: element("label", { class: "check", title: row.title }, box, ` ${row.word}`) };
  }
  const field = /** @type {any} */ (element(row.kind === "choice" ? "select" : "input", { class: "field", id: row.id, change, ...(kind.typed ? { autocomplete: "off", keydown: (event) => slip.keys(event) } : {}), ...(kind.figures ? { inputmode: "numeric" } : {}) }));
  return { row, field, box: element("div", { class: "labelled" }, element("label", { for: row.id, title: row.title, text: row.word }), field) };
}

/** @type {WeakMap<Element, {row: Row, field: any, box: HTMLElement}[]>} */
const made = new WeakMap();

/** Show what is selected in the rows of one place; a field that somebody types in is left alone.
    @param {Record<string, Row[]>} places */
export function showRows(slip, places) {
  for (const [name, rows] of Object.entries(places)) {
    const place = slip.$root.querySelector(`[data-rows="${name}"]`);
    if (!place) continue;
    if (!made.has(place)) {
      made.set(place, rows.map((row) => built(row, slip)));
      place.replaceChildren(...made.get(place).map(({ box }) => box));
    }
    for (const { row, field, box } of made.get(place)) {
      box.hidden = Boolean(row.when && !row.when(slip));
      if (box.hidden || (field === document.activeElement && field.type !== "checkbox")) continue;
      if (row.choices) choose(field, typeof row.choices === "function" ? row.choices(slip) : row.choices);
      KINDS[row.kind].show(field, row.value(slip));
      if (field.type !== "checkbox") field.dataset.was = field.value;
    }
  }
}

function choose(field, choices) {
  const known = JSON.stringify(choices);
  if (field.dataset.choices === known) return;
  field.replaceChildren(...choices.map(([value, word]) => new Option(word, value)));
  field.dataset.choices = known;
}
