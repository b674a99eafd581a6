// Rows of fields made from descriptions: each value is said once, with its word, what it shows of what is selected, and what is done with
// what is typed. A part of the slip brings them by the names of their places (`data-rows`) in its template.
import { element, tooltip } from "../../dom.js";
import { KINDS, offer, showIn, typedField } from "../values.js";
import { messageOf } from "../../errors.js";

/**
 * @typedef {object} Row
 * @property {string} [id] - of its field
 * @property {string} word - before it; of a field without a label what it is called
 * @property {string} [title] - what it means
 * @property {string} kind - `choice`, `check`, `range`, `buttons`, `links`, or a typed one (`values.js`)
 * @property {any[][] | ((slip: any) => any[][])} [choices] - [value, word, title] each
 * @property {(slip: any) => any} [value] - as it is selected; what is written already stays as it is. Of buttons which are pressed
 * @property {(slip: any, value: any) => void} set - does what was typed or chosen
 * @property {(text: string, slip: any) => any} [read] - where it is typed otherwise than its kind is
 * @property {(slip: any) => boolean} [when] - whether it is shown at all
 * @property {string | ((slip: any) => string)} [empty] - what an empty field stands for
 * @property {boolean} [wide] - its word is a long one
 * @property {boolean} [full] - it has a row to itself: its choices are long
 * @property {Row} [and] - a second field in the same row
 * @property {{word: string, title: string, run: (slip: any) => void}} [beside] - a button behind it
 * @property {Record<string, string | number>} [more] - attributes of its field
 *
 * @typedef {{row: Row, box: HTMLElement, show: (slip: any) => void}} Shown
 */

const LONG = 9; // letters of a label that fit the narrow column of labels

/** @param {Row} row */
const choicesOf = ({ choices }, slip) => (typeof choices === "function" ? choices(slip) : (choices ?? []));

/** Do what was chosen, or say why not: what is selected is shown anew then. */
function take(row, slip, value) {
  try {
    slip.problem = "";
    row.set(slip, value);
  } catch (error) {
    slip.problem = messageOf(error);
    slip.fill();
  }
}

/** Buttons for the choices of a row. @param {Row} row */
const buttonsOf = (row, slip, name = undefined) =>
  choicesOf(row, slip).map(([value, word, title]) =>
    element("button", {
      type: "button",
      class: name,
      title,
      "data-value": value,
      text: word,
      click: () => take(row, slip, value),
    }),
  );

/** How each kind of row is made: its field, and what shows in it what is selected.
    @type {Record<string, (row: Row, slip: any) => {field: HTMLElement, show: (slip: any) => void}>} */
const MAKERS = {
  choice(row, slip) {
    const field = /** @type {HTMLSelectElement} */ (
      element("select", { class: "field", id: row.id, ...row.more, change: () => take(row, slip, field.value) })
    );
    return {
      field,
      show: () => {
        if (field !== document.activeElement) {
          offer(field, choicesOf(row, slip));
          field.value = String(row.value(slip));
        }
      },
    };
  },
  check(row, slip) {
    const field = /** @type {HTMLInputElement} */ (
      element("input", { type: "checkbox", id: row.id, change: () => take(row, slip, field.checked) })
    );
    return {
      field,
      show: () => {
        field.checked = row.value(slip);
      },
    };
  },
  range(row, slip) {
    const field = /** @type {HTMLInputElement} */ (
      element("input", {
        class: "w-full",
        type: "range",
        id: row.id,
        ...row.more,
        change: () => take(row, slip, Number(field.value)),
      })
    );
    return {
      field,
      show: () => {
        if (!field.matches(":active")) field.value = String(row.value(slip));
      },
    };
  },
  buttons(row, slip) {
    const field = element("div", { class: "seg", role: "group", "aria-label": row.word }, ...buttonsOf(row, slip));
    return {
      field,
      show() {
        const pressed = row.value?.(slip);
        if (pressed !== undefined)
          for (const button of field.children)
            button.setAttribute(
              "aria-pressed",
              String([pressed].flat().includes(/** @type {HTMLElement} */ (button).dataset.value)),
            );
      },
    };
  },
  links(row, slip) {
    const field = element("p", { class: "sub", role: "group", "aria-label": row.word.replace(/:$/, "") });
    let known = "";
    return {
      field,
      show() {
        const now = JSON.stringify(choicesOf(row, slip));
        if (now === known) return;
        known = now;
        field.replaceChildren(
          `${row.word} `,
          ...buttonsOf(row, slip, "link").flatMap((button, n) => (n ? [" · ", button] : [button])),
        );
      },
    };
  },
};

/** A field to type in. */
function typed(row, slip) {
  const kind = KINDS[row.kind];
  const read = row.read ? (text) => row.read(text, slip) : kind.read;
  const field = typedField(
    { ...kind, read },
    (value) => {
      slip.problem = "";
      row.set(slip, value);
    },
    (problem) => {
      slip.problem = problem;
    },
    { id: row.id, ...row.more },
  );
  return {
    field,
    show() {
      if (row.empty !== undefined) field.placeholder = typeof row.empty === "function" ? row.empty(slip) : row.empty;
      const value = row.value(slip);
      showIn(field, typeof value === "string" ? value : kind.show(value));
    },
  };
}

const plain = (row, slip) => (MAKERS[row.kind] ?? typed)(row, slip);

/** A row with its word and all that stands in it.
    @param {Row} row @returns {Shown} */
function built(row, slip) {
  const { field, show } = plain(row, slip);
  if (row.kind === "check")
    return {
      row,
      show,
      box: element("label", { class: "check", title: tooltip(row.word, row.title) }, field, ` ${row.word}`),
    };
  if (["buttons", "links"].includes(row.kind)) return { row, show, box: field };
  const label = element("label", { for: row.id, title: tooltip(row.word, row.title), text: row.word });
  const box = (...inside) =>
    element(
      "div",
      { class: `labelled${row.wide ? " wide" : ""}${row.full || row.word.length > LONG ? " long" : ""}` },
      label,
      ...inside,
    );
  if (row.beside)
    return {
      row,
      show,
      box: box(
        element(
          "div",
          { class: "flex gap-1" },
          field,
          element("button", {
            type: "button",
            class: "button tight",
            title: row.beside.title,
            text: row.beside.word,
            click: () => row.beside.run(slip),
          }),
        ),
      ),
    };
  if (!row.and) return { row, show, box: box(field) };
  const second = plain({ ...row.and, more: { "aria-label": row.and.word, ...row.and.more } }, slip);
  return {
    row,
    box: box(element("span", { class: "table-ground" }, field, second.field)),
    show() {
      show(slip);
      second.field.hidden = Boolean(row.and.when && !row.and.when(slip));
      if (!second.field.hidden) second.show(slip);
    },
  };
}

/** @type {WeakMap<Element, Shown[]>} */
const made = new WeakMap();

/** Show what is selected in the rows of the places that are there; a field that somebody types in is left alone.
    @param {Record<string, Row[]>} places */
export function showRows(slip, places) {
  for (const [name, rows] of Object.entries(places)) {
    const place = slip.$root.querySelector(`[data-rows="${name}"]`);
    if (!place) continue;
    if (!made.has(place)) {
      made.set(
        place,
        rows.map((row) => built(row, slip)),
      );
      place.replaceChildren(...made.get(place).map(({ box }) => box));
    }
    for (const { row, box, show } of made.get(place)) {
      box.hidden = Boolean(row.when && !row.when(slip));
      if (!box.hidden) show(slip);
    }
  }
}
