// Styles of tables: their rules, grounds, insets, and the paragraph styles of their words.
import { element } from "../dom.js";
import { ask, input, labelled, select } from "../notice.js";
import { parseLength } from "./numbers.js";
import { send, state } from "./store.js";

const RULES = [["outer", "Outside"], ["head", "Heads"], ["rows", "Rows"], ["columns", "Columns"], ["sides", "Sides"]];
const GROUNDS = [["head_fill", "Heads"], ["fill", "Rows"], ["other", "In turn"]];
const STANDS = [["top", "at the head of their cell"], ["centre", "in the middle"], ["bottom", "at the foot"]];
const PLAIN = { name: "", outer: { weight: 0.75 }, head: { weight: 0.5 }, rows: { weight: 0.25 }, columns: { weight: 0 }, sides: { weight: 0 }, head_fill: { swatch: "", tint: 1 }, fill: { swatch: "", tint: 1 }, other: { swatch: "", tint: 1 }, every: 1, beside: 4, over: 2.5, vertical: "top", head_style: "", body_style: "", uses: 0 };

/** A swatch and its tint, side by side; `none` is what no swatch means. */
export function ground(fill, none) {
  const swatch = select([["", none], ...state.swatches.map(({ id, name }) => [id, name])], fill?.swatch || ""), tint = input(`${Math.round((fill?.tint ?? 1) * 100)} %`);
  tint.setAttribute("aria-label", "Tint");
  const told = () => {
    const part = Number(tint.value.replace(/[%\s]/g, "")) / 100;
    if (!(part >= 0 && part <= 1)) throw new Error("A tint is between 0 and 100 %.");
    return { swatch: swatch.value, tint: part };
  };
  return { row: element("span", { class: "table-ground" }, swatch, tint), swatch, tint, told };
}

function fields(style) {
  const paragraphs = state.styles.map(({ id, name }) => [id, name]);
  const name = input(style.name, "Counts"), every = input(String(style.every)), beside = input(`${style.beside} pt`), over = input(`${style.over} pt`);
  const vertical = select(STANDS, style.vertical), head = select([["", "running text, bold"], ...paragraphs], style.head_style), body = select([["", "running text, plainer"], ...paragraphs], style.body_style);
  every.title = "Rows after which the grounds take turns";
  over.title = "Points over and below the words of a cell";
  beside.title = "Points beside the words of a cell";
  const rules = RULES.map(([key, word]) => {
    const weight = input(`${style[key]?.weight ?? 0} pt`), swatch = select([["", "colour of the words"], ...state.swatches.map((one) => [one.id, one.name])], style[key]?.swatch || "");
    weight.setAttribute("aria-label", `${word}: weight`);
    return { key, row: labelled(word, element("span", { class: "table-ground" }, swatch, weight)), told: () => ({ ...style[key], weight: parseLength(weight.value, "pt"), swatch: swatch.value || null }) };
  });
  const grounds = GROUNDS.map(([key, word]) => { const made = ground(style[key], "none"); return { key, row: labelled(word, made.row), told: made.told }; });
  const rows = [labelled("Name", name), element("h3", { class: "sub mt-1 font-semibold", text: "Rules" }), ...rules.map(({ row }) => row), element("h3", { class: "sub mt-1 font-semibold", text: "Grounds" }), ...grounds.map(({ row }) => row), labelled("After", every),
    element("h3", { class: "sub mt-1 font-semibold", text: "Words" }), labelled("Beside", beside), labelled("Over", over), labelled("Stand", vertical), labelled("Heads", head), labelled("Others", body)];
  const said = () => ({
    id: style.id, name: name.value, ...Object.fromEntries([...rules, ...grounds].map(({ key, told }) => [key, told()])), every: Math.round(Number(every.value)) || 1,
    beside: parseLength(beside.value, "pt"), over: parseLength(over.value, "pt"), vertical: vertical.value, head_style: head.value, body_style: body.value,
  });
  return { rows, said };
}

/** Set styles of tables up; resolves with the one that was kept, or nothing. */
export async function setUpTableStyles(id = "") {
  const fresh = { ...PLAIN, id: `k${crypto.randomUUID().replaceAll("-", "").slice(0, 12)}` };
  const all = [...state.tableStyles, fresh];
  const which = select([...state.tableStyles.map((one) => [one.id, `${one.name}, ${one.uses} table${one.uses === 1 ? "" : "s"}`]), [fresh.id, "a new style"]], id || fresh.id);
  const body = element("div", { class: "grid gap-2" }), away = element("input", { type: "checkbox" }), out = element("label", { class: "check" }, away, "Delete this style; its tables become plain");
  let form = null;
  const lay = () => {
    const style = all.find((one) => one.id === which.value);
    form = fields(style);
    away.checked = false;
    out.hidden = style === fresh;
    body.replaceChildren(...form.rows, out);
  };
  which.addEventListener("change", lay);
  lay();
  let kept = null;
  const agreed = await ask("Styles of tables", "Rules are drawn outside, below head rows (and above foot rows), between rows and columns, at the sides; the first come before the others.", "Keep it", [labelled("Style", which), body], async () => {
    kept = away.checked ? "" : which.value;
    await send([away.checked ? { do: "remove-table-style", style: which.value } : { do: "put-table-style", style: form.said() }]);
  });
  return agreed ? kept : null;
}
