// Styles of tables: their rules, grounds, insets, and the paragraph styles of their words.
import { formOf } from "./asking.js";
import { partBy } from "./values.js";
import { element } from "../dom.js";
import { ask, input, labelled, select } from "../notice.js";
import { send, state } from "./store.js";

const RULES = [
  ["outer", "Outside"],
  ["head", "Heads"],
  ["rows", "Rows"],
  ["columns", "Columns"],
  ["sides", "Sides"],
];
const GROUNDS = [
  ["head_fill", "Heads"],
  ["fill", "Rows"],
  ["other", "Alternate"],
];
const STANDS = [
  ["top", "top"],
  ["centre", "centre"],
  ["bottom", "bottom"],
];
const PLAIN = {
  name: "",
  outer: { weight: 0.75 },
  head: { weight: 0.5 },
  rows: { weight: 0.25 },
  columns: { weight: 0 },
  sides: { weight: 0 },
  head_fill: { swatch: "", tint: 1 },
  fill: { swatch: "", tint: 1 },
  other: { swatch: "", tint: 1 },
  every: 1,
  beside: 4,
  over: 2.5,
  vertical: "top",
  head_style: "",
  body_style: "",
  uses: 0,
};

/** A swatch and its tint, side by side; `none` is what no swatch means. */
export function ground(fill, none) {
  const swatch = select([["", none], ...state.swatches.map(({ id, name }) => [id, name])], fill?.swatch || ""),
    tint = input(`${Math.round((fill?.tint ?? 1) * 100)} %`);
  tint.setAttribute("aria-label", "Tint");
  const told = () => ({ swatch: swatch.value, tint: readTint(tint.value) });
  return { row: element("span", { class: "table-ground" }, swatch, tint), swatch, tint, told };
}

/** How strong a ground is, of the whole. */
export const readTint = partBy("A tint is a percentage from 0 to 100.");

const heading = (text) => ({ shows: element("h3", { class: "sub mt-1 font-semibold", text }) });
const among = (none) => [["", none], ...state.swatches.map(({ id, name }) => [id, name])];

function fields(style) {
  const paragraphs = state.styles.map(({ id, name }) => [id, name]);
  /** @type {(pair: string[]) => [string, Record<string, any>]} */
  const rule = ([key, word]) => [
    `${key} swatch`,
    {
      word,
      kind: "choice",
      choices: among("colour of the text"),
      value: style[key]?.swatch || "",
      and: { name: `${key} weight`, word: `${word}: weight`, kind: "points", value: style[key]?.weight ?? 0 },
    },
  ];
  /** @type {(pair: string[]) => [string, Record<string, any>]} */
  const ground_ = ([key, word]) => [
    `${key} swatch`,
    {
      word,
      kind: "choice",
      choices: among("none"),
      value: style[key]?.swatch || "",
      and: {
        name: `${key} tint`,
        word: "Tint",
        value: `${Math.round((style[key]?.tint ?? 1) * 100)} %`,
        read: readTint,
      },
    },
  ];
  return formOf({
    name: { word: "Name", value: style.name, empty: "Counts" },
    rules: heading("Rules"),
    ...Object.fromEntries(RULES.map(rule)),
    grounds: heading("Fills"),
    ...Object.fromEntries(GROUNDS.map(ground_)),
    every: {
      word: "Every",
      kind: "count",
      value: style.every,
      title: "Every: number of rows after which the fills alternate",
    },
    words: heading("Text"),
    beside: {
      word: "Side padding",
      kind: "points",
      value: style.beside,
      title: "Side padding: points between the text and the left and right of a cell",
    },
    over: {
      word: "Top padding",
      kind: "points",
      value: style.over,
      title: "Top padding: points above and below the text of a cell",
    },
    vertical: { word: "Vertical alignment", kind: "choice", choices: STANDS, value: style.vertical },
    head_style: {
      word: "Heads",
      kind: "choice",
      choices: [["", "running text, bold"], ...paragraphs],
      value: style.head_style,
    },
    body_style: {
      word: "Other cells",
      kind: "choice",
      choices: [["", "running text, plainer"], ...paragraphs],
      value: style.body_style,
    },
  });
}

/** A style as its fields say. */
function said(style, form) {
  const { name, every, beside, over, vertical, head_style, body_style, ...parts } = form.values();
  const rules = RULES.map(([key]) => [
    key,
    { ...style[key], weight: parts[`${key} weight`], swatch: parts[`${key} swatch`] || null },
  ]);
  const grounds = GROUNDS.map(([key]) => [key, { swatch: parts[`${key} swatch`], tint: parts[`${key} tint`] }]);
  return {
    id: style.id,
    name,
    ...Object.fromEntries([...rules, ...grounds]),
    every,
    beside,
    over,
    vertical,
    head_style,
    body_style,
  };
}

/** Set styles of tables up; resolves with the one that was saved, or nothing. `change` sends what is changed. */
export async function setUpTableStyles(id = "", change = send) {
  const fresh = { ...PLAIN, id: `k${crypto.randomUUID().replaceAll("-", "").slice(0, 12)}` };
  const all = [...state.tableStyles, fresh];
  const which = select(
    [
      ...state.tableStyles.map((one) => [one.id, `${one.name}, ${one.uses} table${one.uses === 1 ? "" : "s"}`]),
      [fresh.id, "new style"],
    ],
    id || fresh.id,
  );
  const body = element("div", { class: "grid gap-2" }),
    away = element("input", { type: "checkbox" }),
    out = element("label", { class: "check" }, away, "Delete style; its tables lose their rules and fills");
  let form = null,
    style = null;
  const lay = () => {
    style = all.find((one) => one.id === which.value);
    form = fields(style);
    away.checked = false;
    out.hidden = style === fresh;
    body.replaceChildren(...form.boxes, out);
  };
  which.addEventListener("change", lay);
  lay();
  let kept = null;
  const agreed = await ask(
    "Table styles",
    "Rules are drawn around the table, below head rows and above foot rows, between rows and columns, and at the sides. Where two meet, the one listed first is drawn.",
    "Save",
    [labelled("Style", which), body],
    async () => {
      kept = away.checked ? "" : which.value;
      await change([
        away.checked
          ? { do: "remove-table-style", style: which.value }
          : { do: "put-table-style", style: said(style, form) },
      ]);
    },
  );
  return agreed ? kept : null;
}
