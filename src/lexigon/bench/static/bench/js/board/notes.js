// Kinds of notes: where they stand, how they are numbered, what sets them off; which kind a note is of.
import { register } from "../commands.js";
import { element } from "../dom.js";
import { ask, input, labelled, select } from "../notice.js";
import { parseLength } from "./numbers.js";
import { send, state, toast } from "./store.js";
import { active, putIn } from "./text.js";

const SIGNS = [["1", "1, 2, 3"], ["*", "*, †, ‡, §"], ["a", "a, b, c"], ["A", "A, B, C"], ["i", "i, ii, iii"], ["I", "I, II, III"], ["none", "no number"]];
const PLACES = [["foot", "at the foot of the column"], ["margin", "in the margin, beside the line"], ["gathered", "nowhere but in a listing of notes"]];
const kept = () => state.noteKinds.filter(({ ready }) => !ready), ready = () => state.noteKinds.filter((one) => one.ready);

/** What can be put in at the caret: a note of each kind that the job has, and of those that are ready. */
export function noteChoices() {
  const first = kept().length ? [] : [["note/", "note at the foot of the column"]];
  const known = kept().map(({ id, name, place }, n) => [`note/${n ? id : ""}`, `note: ${name}${place === "margin" ? ", in the margin" : place === "foot" ? ", at the foot" : ", gathered"}`]);
  return [...first, ...known, ...ready().map(({ id, place }) => [`note/${id}`, place === "margin" ? "note in the margin" : "endnote"])];
}

const length = (points) => `${Number((points / state.sheet.points).toFixed(state.sheet.decimals))} ${state.sheet.unit}`;

function fields(kind) {
  const box = (checked, word) => { const field = element("input", { type: "checkbox", checked }); return { field, row: element("label", { class: "check" }, field, word) }; };
  const styles = state.styles.map(({ id, name }) => [id, name]);
  const one = {
    name: input(kind.name, "Footnotes"), place: select(PLACES, kind.place), signs: select(SIGNS, kind.signs),
    counted: select([["text", "through the text"], ["page", "anew on each page"], ["heading", "anew behind each heading"]], kind.counted),
    heading: select(styles, kind.heading || state.styles.find(({ level }) => level)?.id || ""), style: select([["", "that of notes"], ...styles], kind.style),
    kept: input(String(kind.kept)), goesOn: input(kind.goes_on || "", "nothing; for example: goes on overleaf"), rule: input(`${Math.round(kind.rule * 100)} %`), ruleWeight: input(`${kind.rule_weight} pt`), gap: input(length(kind.gap)), width: input(length(kind.width)), away: input(length(kind.away)),
  };
  const divided = box(kind.divided, "One that has no room goes on in the next column");
  const together = box(Boolean(kind.together), "Short ones share a line as far as they have room");
  const rows = {
    name: labelled("Name", one.name), place: labelled("Place", one.place), signs: labelled("Numbers", one.signs), counted: labelled("Counted", one.counted), heading: labelled("Headings", one.heading), style: labelled("Style", one.style),
    together: together.row, divided: divided.row, kept: labelled("Together", one.kept), goesOn: labelled("Divided", one.goesOn), rule: labelled("Rule", one.rule), ruleWeight: labelled("Weight", one.ruleWeight), gap: labelled("Space", one.gap), width: labelled("Width", one.width), away: labelled("Away", one.away),
  };
  const show = () => {
    const foot = one.place.value === "foot", margin = one.place.value === "margin";
    rows.heading.hidden = one.counted.value !== "heading";
    rows.counted.hidden = one.signs.value === "none";
    for (const row of [rows.together, rows.divided, rows.rule, rows.ruleWeight]) row.hidden = !foot;
    for (const row of [rows.kept, rows.goesOn]) row.hidden = !foot || !divided.field.checked;
    rows.gap.hidden = !foot && !margin;
    for (const row of [rows.width, rows.away]) row.hidden = !margin;
  };
  for (const field of [one.place, one.signs, one.counted, divided.field]) field.addEventListener("change", show);
  show();
  const said = () => {
    const points = (field, what) => { const found = parseLength(field.value, state.sheet.unit); if (!(found >= 0)) throw new Error(`${what} is a length, such as ${length(6)}.`); return found; };
    const part = Number(one.rule.value.replace(/[%\s]/g, "")) / 100;
    if (!(part >= 0 && part <= 1)) throw new Error("The rule crosses 0 to 100 % of the column.");
    return {
      id: kind.id, name: one.name.value, place: one.place.value, signs: one.signs.value, counted: one.signs.value === "none" ? "text" : one.counted.value, heading: one.counted.value === "heading" ? one.heading.value : "", style: one.style.value,
      together: together.field.checked, divided: divided.field.checked, kept: Math.round(Number(one.kept.value)) || 2, goes_on: one.goesOn.value.trim(), rule: part, rule_weight: parseLength(one.ruleWeight.value, "pt"), gap: points(one.gap, "The space"), width: points(one.width, "The width"), away: points(one.away, "The distance"),
    };
  };
  return { rows: Object.values(rows), said };
}

const BARE = { name: "", place: "foot", signs: "1", counted: "text", heading: "", style: "", divided: true, kept: 2, rule: 1 / 3, rule_weight: 0.5, gap: 6, width: 90, away: 12, uses: 0 };
const fresh = (values) => ({ ...BARE, ...values, id: values.id || `k${crypto.randomUUID().replaceAll("-", "").slice(0, 12)}` });

/** Set the kinds of notes up. */
export async function setUpNotes(id = "") {
  const kinds = kept().length ? kept() : [fresh({ id: "foot", name: "Footnotes" })];
  const offered = ready();
  const all = [...kinds, ...offered, fresh({ name: "" })];
  const which = select([...kinds.map((one) => [one.id, `${one.name}, ${one.uses} note${one.uses === 1 ? "" : "s"}`]), ...offered.map((one) => [one.id, `${one.name}, a new kind`]), [all.at(-1).id, "a kind of your own"]], id || kinds[0].id);
  const body = element("div", { class: "grid gap-2" }), away = element("input", { type: "checkbox" }), out = element("label", { class: "check" }, away, "Delete this kind; its notes become those of the first");
  let form = null;
  const lay = () => {
    const kind = all.find((one) => one.id === which.value);
    form = fields(kind);
    away.checked = false;
    out.hidden = !kept().some((one) => one.id === kind.id) || kept().length < 2;
    body.replaceChildren(...form.rows, out);
  };
  which.addEventListener("change", lay);
  lay();
  let put = null;
  const agreed = await ask("Notes", "Each kind has its own place, numbers and rule. A note’s words are in the style of its paragraphs.", "Keep it", [labelled("Kind", which), body], async () => {
    put = away.checked ? null : form.said();
    await send([put ? { do: "put-note-kind", kind: put } : { do: "remove-note-kind", kind: which.value }]);
  });
  if (agreed && put?.place === "gathered") toast("These notes stand in no text until a listing gathers them: make the listing “Notes” and put it behind the text.");
}

const beside = () => state.noteKinds.find(({ place }) => place === "margin");

/** Cite a note at the caret. */
export const cite = (kind = "") => putIn({ do: "add-note", kind });

register(
  { word: "Note: cite one here", keys: [], help: "a note at the foot of the column, cited at the caret; Esc goes back from it", when: active, now: true, run: () => cite() },
  { word: "Note in the margin: cite one here", keys: [], when: () => active() && Boolean(beside()), now: true, run: () => cite(beside().id) },
  { word: "Notes: how they stand and are numbered …", keys: [], run: () => setUpNotes().catch(() => {}) },
);
