// Questions made from descriptions: each value is said once, with its word and its kind; what was typed comes back read.
import { element } from "../dom.js";
import { ask } from "../notice.js";
import { KINDS, offer } from "./values.js";

/**
 * @typedef {object} Asked
 * @property {string} [word]
 * @property {string} [kind] - `choice`, `list` (choices in groups, searched by typing), `check`, or a typed one (`values.js`); words as they are typed without
 * @property {any} [value] - what stands there first
 * @property {any[][]} [choices] - [value, word] each
 * @property {[string, any[][]][]} [groups] - of a list: the name of each group with its choices, [value, word, further words to find it by] each
 * @property {string} [empty] - what an empty field stands for, or an example
 * @property {string} [title]
 * @property {number} [lines] - how many of a field, or a list, are seen
 * @property {(values: any) => boolean} [when] - whether it is asked, by the values of the other fields
 * @property {(text: string) => any} [read] - where it is typed otherwise than its kind is
 * @property {(values: Record<string, any>) => void} [changed] - told when another value stands there
 * @property {HTMLElement | SVGElement} [shows] - something that is looked at, in place of a field
 * @property {Asked & {name: string}} [and] - a second field in the same row, under its own name
 */

/** Words, as they are typed. @type {(typeof KINDS)[string]} */
const WORDS = { show: (value) => value ?? "", read: (text) => text };

/** A list of choices in groups that is filtered by typing; the arrow keys move through it. @param {Asked} one */
function searchableList(one) {
  const field = /** @type {HTMLSelectElement} */ (
    element("select", { class: "field list", size: String(one.lines ?? 9), "aria-label": one.word })
  );
  const search = /** @type {HTMLInputElement} */ (
    element("input", {
      type: "search",
      class: "field",
      placeholder: "type to search",
      autocomplete: "off",
      "aria-label": "Search the list",
    })
  );
  const lay = (wanted) => {
    const before = field.value;
    const groups = one.groups.map(([name, choices]) => ({
      name,
      found: choices.filter(([, word, also = ""]) =>
        wanted.every((part) => `${word} ${also} ${name}`.toLowerCase().includes(part)),
      ),
    }));
    field.replaceChildren(
      ...groups
        .filter(({ found }) => found.length)
        .map(({ name, found }) =>
          element("optgroup", { label: name }, ...found.map(([value, word]) => new Option(word, String(value)))),
        ),
    );
    field.value = before;
    if (field.selectedIndex < 0) field.selectedIndex = 0;
    field.dispatchEvent(new Event("change"));
  };
  search.addEventListener("input", () => lay(search.value.toLowerCase().split(/\s+/).filter(Boolean)));
  search.addEventListener("keydown", (event) => {
    const by = { ArrowDown: 1, ArrowUp: -1 }[event.key];
    if (!by) return;
    event.preventDefault();
    field.selectedIndex = Math.min(Math.max(field.selectedIndex + by, 0), field.length - 1);
    field.dispatchEvent(new Event("change"));
  });
  lay([]);
  if (one.value !== undefined) field.value = String(one.value);
  return {
    box: element("div", { class: "grid gap-2" }, search, field),
    field,
    held: () => field.value,
    read: () => {
      if (!field.value) throw new Error("Nothing in the list matches. Clear the search and select an item.");
      return field.value;
    },
  };
}

const labelled = (one, field) =>
  element("label", { class: "labelled", title: one.title }, element("span", { text: one.word }), field);

/** @param {Asked} one @returns {{box: HTMLElement | SVGElement, field?: any, held: () => any, read: () => any, within?: boolean}} */
function made(one) {
  if (one.shows) return { box: one.shows, held: () => undefined, read: () => undefined };
  if (one.kind === "check") {
    const field = /** @type {HTMLInputElement} */ (element("input", { type: "checkbox" }));
    field.checked = Boolean(one.value);
    return {
      box: element("label", { class: "check", title: one.title }, field, ` ${one.word}`),
      field,
      held: () => field.checked,
      read: () => field.checked,
    };
  }
  if (one.kind === "list") return searchableList(one);
  if (one.kind === "choice") {
    const field = /** @type {HTMLSelectElement} */ (
      element("select", { class: "field", ...(one.lines ? { size: one.lines } : {}) })
    );
    offer(field, one.choices ?? []);
    if (one.value !== undefined) field.value = String(one.value);
    return { box: labelled(one, field), field, held: () => field.value, read: () => field.value };
  }
  const kind = KINDS[one.kind] ?? WORDS;
  const shown = typeof one.value === "string" || one.value === undefined ? (one.value ?? "") : kind.show(one.value);
  const more = {
    class: "field",
    placeholder: one.empty ?? "",
    autocomplete: "off",
    ...(kind.figures ? { inputmode: "decimal" } : {}),
  };
  const field = /** @type {any} */ (
    one.lines ? element("textarea", { ...more, rows: one.lines }) : element("input", more)
  );
  field.value = shown;
  return {
    box: labelled(one, field),
    field,
    held: () => field.value,
    read: () => (one.read ?? kind.read)(field.value),
  };
}

/**
 * Fields for what is asked, by name. `values()` are those that are asked, read by their kinds; it throws with what to type instead.
 * @param {Record<string, Asked>} asked
 */
export function formOf(asked) {
  const rows = Object.entries(asked).flatMap(([name, one]) => {
    const first = { name, one, ...made(one) };
    if (!one.and) return [first];
    const second = { name: one.and.name, one: one.and, ...made(one.and) },
      pair = element("span", { class: "table-ground" });
    first.field.replaceWith(pair);
    pair.append(first.field, second.field);
    second.field.setAttribute("aria-label", one.and.word);
    return [first, { ...second, box: second.field, within: true }];
  });
  const held = () => Object.fromEntries(rows.map((row) => [row.name, row.held()]));
  const show = () => {
    const now = held();
    for (const { one, box } of rows) if (one.when) /** @type {HTMLElement} */ (box).hidden = !one.when(now);
  };
  for (const { one, field } of rows)
    field?.addEventListener("change", () => {
      show();
      one.changed?.(held());
    });
  show();
  return {
    boxes: rows.filter(({ within }) => !within).map(({ box }) => box),
    fields: Object.fromEntries(rows.map(({ name, field }) => [name, field])),
    held,
    /** @returns {Record<string, any>} */
    values: () =>
      Object.fromEntries(
        rows
          .filter(({ one, box }) => !one.shows && !(/** @type {HTMLElement} */ (box).hidden))
          .map((row) => [row.name, row.read()]),
      ),
  };
}

/**
 * Ask for values in a dialog; resolves with them, null where it was left. It stays until `run` is done with them: what is refused is said
 * in it, and what was typed stays.
 * @param {string} title @param {string} about @param {string} yes @param {ReturnType<typeof formOf>} form
 * @param {(values: Record<string, any>) => any} [run]
 */
export async function askForm(title, about, yes, form, run = () => {}) {
  let values = null;
  const agreed = await ask(title, about, yes, form.boxes, async () => {
    values = form.values();
    await run(values);
  });
  return agreed ? values : null;
}

/** The same of descriptions, where nobody looks at the fields meanwhile.
    @param {string} title @param {string} about @param {string} yes @param {Record<string, Asked>} asked @param {(values: Record<string, any>) => any} [run] */
export const askFor = (title, about, yes, asked, run) => askForm(title, about, yes, formOf(asked), run);
