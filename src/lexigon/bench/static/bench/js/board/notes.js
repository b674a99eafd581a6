// Kinds of notes: where they stand, how they are numbered, what sets them off; which kind a note is of.
import { formOf } from "./asking.js";
import { partBy } from "./values.js";
import { register } from "../commands.js";
import { element } from "../dom.js";
import { ask, labelled, select } from "../notice.js";
import { send, state, toast } from "./store.js";
import { active } from "./caret.js";
import { putIn } from "./text.js";

const SIGNS = [
  ["1", "1, 2, 3"],
  ["*", "*, †, ‡, §"],
  ["a", "a, b, c"],
  ["A", "A, B, C"],
  ["i", "i, ii, iii"],
  ["I", "I, II, III"],
  ["none", "no number"],
];
const PLACES = [
  ["foot", "at the bottom of the column"],
  ["margin", "in the margin, beside the line"],
  ["gathered", "in a listing only (endnotes)"],
];
const kept = () => state.noteKinds.filter(({ ready }) => !ready),
  ready = () => state.noteKinds.filter((one) => one.ready);

/** What can be put in at the caret: a note of each kind that the job has, and of those that are ready. */
export function noteChoices() {
  const first = kept().length ? [] : [["note/", "footnote"]];
  const known = kept().map(({ id, name, place }, n) => [
    `note/${n ? id : ""}`,
    `note: ${name}${place === "margin" ? ", in the margin" : place === "foot" ? ", at the foot" : ", gathered"}`,
  ]);
  return [
    ...first,
    ...known,
    ...ready().map(({ id, place }) => [`note/${id}`, place === "margin" ? "margin note" : "endnote"]),
  ];
}

function fields(kind) {
  const styles = state.styles.map(({ id, name }) => [id, name]);
  /** @param {Record<string, any>} held */
  const foot = ({ place }) => place === "foot";
  const margin = ({ place }) => place === "margin";
  const space = (word, value, when) => ({ word, kind: "length", value, when });
  return formOf({
    name: { word: "Name", value: kind.name, empty: "Footnotes" },
    place: { word: "Position", kind: "choice", choices: PLACES, value: kind.place },
    signs: { word: "Numbers", kind: "choice", choices: SIGNS, value: kind.signs },
    counted: {
      word: "Numbering",
      kind: "choice",
      choices: [
        ["text", "continuous through the story"],
        ["page", "restart on each page"],
        ["heading", "restart after each heading"],
      ],
      value: kind.counted,
      when: ({ signs }) => signs !== "none",
    },
    heading: {
      word: "Headings",
      kind: "choice",
      choices: styles,
      value: kind.heading || state.styles.find(({ level }) => level)?.id || "",
      when: ({ signs, counted }) => signs !== "none" && counted === "heading",
    },
    style: { word: "Style", kind: "choice", choices: [["", "style of notes"], ...styles], value: kind.style },
    together: { word: "Short notes share a line where there is room", kind: "check", value: kind.together, when: foot },
    divided: {
      word: "A note without room continues in the next column",
      kind: "check",
      value: kind.divided,
      when: foot,
    },
    kept: {
      word: "Lines kept together",
      kind: "count",
      value: kind.kept,
      title: "Lines kept together: fewest lines on either side where a note is split",
      when: (held) => foot(held) && held.divided,
    },
    goes_on: {
      word: "Split notes",
      kind: "text or none",
      value: kind.goes_on,
      empty: "optional, for example: continued overleaf",
      when: (held) => foot(held) && held.divided,
    },
    rule: {
      word: "Rule",
      value: `${Math.round(kind.rule * 100)} %`,
      read: partBy("The width of the rule is 0 to 100 % of the column."),
      when: foot,
    },
    rule_weight: { word: "Weight", kind: "points", value: kind.rule_weight, when: foot },
    gap: space("Space before", kind.gap, ({ place }) => place !== "gathered"),
    width: space("Width", kind.width, margin),
    away: space("Space after", kind.away, margin),
  });
}

/** A kind as its fields say; what is not asked of it stays. */
function said(kind, form) {
  const { heading = "", counted = "text", ...values } = form.values();
  const { name, place, signs, style, together, divided, kept, goes_on, rule, rule_weight, gap, width, away } = {
    ...kind,
    ...values,
  };
  return {
    id: kind.id,
    name,
    place,
    signs,
    counted,
    heading: counted === "heading" ? heading : "",
    style,
    together: Boolean(together),
    divided,
    kept,
    goes_on: goes_on || "",
    rule,
    rule_weight,
    gap,
    width,
    away,
  };
}

const BARE = {
  name: "",
  place: "foot",
  signs: "1",
  counted: "text",
  heading: "",
  style: "",
  divided: true,
  kept: 2,
  rule: 1 / 3,
  rule_weight: 0.5,
  gap: 6,
  width: 90,
  away: 12,
  uses: 0,
};
const fresh = (values) => ({
  ...BARE,
  ...values,
  id: values.id || `k${crypto.randomUUID().replaceAll("-", "").slice(0, 12)}`,
});

/** Set the kinds of notes up. */
export async function setUpNotes(id = "") {
  const kinds = kept().length ? kept() : [fresh({ id: "foot", name: "Footnotes" })];
  const offered = ready();
  const all = [...kinds, ...offered, fresh({ name: "" })];
  const which = select(
    [
      ...kinds.map((one) => [one.id, `${one.name}, ${one.uses} note${one.uses === 1 ? "" : "s"}`]),
      ...offered.map((one) => [one.id, `${one.name}, a new kind`]),
      [all.at(-1).id, "new kind"],
    ],
    id || kinds[0].id,
  );
  const body = element("div", { class: "grid gap-2" }),
    away = element("input", { type: "checkbox" }),
    out = element("label", { class: "check" }, away, "Delete kind; its notes take the first kind");
  let form = null,
    kind = null;
  const lay = () => {
    kind = all.find((one) => one.id === which.value);
    form = fields(kind);
    away.checked = false;
    out.hidden = !kept().some((one) => one.id === kind.id) || kept().length < 2;
    body.replaceChildren(...form.boxes, out);
  };
  which.addEventListener("change", lay);
  lay();
  let put = null;
  const agreed = await ask(
    "Notes",
    "Each kind of note has its own position, numbering and rule. The text of notes follows its paragraph style.",
    "Save",
    [labelled("Kind", which), body],
    async () => {
      put = away.checked ? null : said(kind, form);
      await send([put ? { do: "put-note-kind", kind: put } : { do: "remove-note-kind", kind: which.value }]);
    },
  );
  if (agreed && put?.place === "gathered")
    toast("These notes are shown only in a listing. Add the listing “Notes” and insert it after the story.");
}

const beside = () => state.noteKinds.find(({ place }) => place === "margin");

/** Cite a note at the caret. */
export const cite = (kind = "") => putIn({ do: "add-note", kind });

register(
  {
    word: "Insert footnote",
    keys: [],
    help: "insert a footnote at the caret; Esc returns from it",
    when: active,
    now: true,
    run: () => cite(),
  },
  {
    word: "Insert margin note",
    keys: [],
    when: () => active() && Boolean(beside()),
    now: true,
    run: () => cite(beside().id),
  },
  { word: "Set up notes…", keys: [], run: () => setUpNotes().catch(() => {}) },
);
