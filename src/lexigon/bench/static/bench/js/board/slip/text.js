// The slip's part about text: its paragraphs and its type.
import { valueOf } from "../../numerals.js";
import { askFor } from "../asking.js";
import { rangeOf } from "../cells.js";
import * as frames from "../frames.js";
import { sectionsIn } from "../fields.js";
import { emit, send, state } from "../store.js";
import { active, caret } from "../text.js";
import { setUpNotes } from "../notes.js";
import { KINDS, number, swatchChoices } from "../values.js";
import { part } from "./parts.js";

const rows = (all) => all.map(({ id, name }) => [id, name]);

const NUMBERED = [
  ["none", "none"],
  ["•", "• bullets"],
  ["–", "– dashes"],
  ["#.", "1. numbers"],
  ["a#)", "a) letters"],
];
const CASES = [
  ["none", "as typed"],
  ["upper", "capitals"],
  ["small", "small capitals"],
  ["all small", "all small capitals"],
  ["reduced", "reduced capitals"],
  ["lower", "lower case"],
  ["title", "title case"],
];
const FIGURES = [
  ["default", "font default"],
  ["oldstyle", "old-style"],
  ["lining", "lining"],
  ["tabular", "tabular"],
  ["tabular oldstyle", "tabular old-style"],
  ["tabular lining", "tabular lining"],
];

/** A length of a paragraph, in points. */
const length = (id, word, title, name, of) => ({
  id,
  word,
  title,
  kind: "points",
  value: ({ text }) => text[of],
  set: (slip, value) => slip.paragraphsTo({ para: { [name]: value } }),
});
const flag = (name, word, title) => ({
  word,
  title,
  kind: "check",
  value: ({ text }) => text.flags[name],
  set: (slip, on) => slip.paragraphsTo({ para: { [name]: on } }),
});
const known = (families, family) => (families.includes(family) ? [] : [[family, `${family} (missing)`]]);

/** A leading: a length, or so many times the size of the type. */
function readLeading(text) {
  const [, times] = /^\s*(\d+(?:[.,]\d+)?)\s*%\s*$/.exec(text) || [];
  return times ? { leading: 0, leading_times: valueOf(times) / 100 } : { leading: KINDS.points.read(text) };
}

/** Give a paragraph a list of a form, with the room its signs need. */
function list(slip, form) {
  if (form === "none") {
    slip.paragraphsTo({ para: { list: { kind: "none" } } });
    return;
  }
  const made =
    form === "a#)"
      ? { kind: "number", form: "#)", numbers: "a" }
      : form.includes("#")
        ? { kind: "number", form }
        : { kind: "bullet", form };
  slip.paragraphsTo({ para: { list: made, indent_left: 18, indent_first: -18 } });
}

const ROWS = {
  "paragraph style": [
    {
      id: "ps",
      word: "Style",
      title: "the paragraph style",
      kind: "choice",
      choices: () => [["", "several"], ...rows(state.styles)],
      value: ({ text }) => text.style,
      set(slip, style) {
        if (style) slip.paragraphsTo({ style });
      },
      beside: {
        word: "Styles",
        title: "Styles: all styles, each shown in its formatting (S)",
        run: () => emit("styles"),
      },
    },
  ],
  alignment: [
    {
      word: "Alignment",
      kind: "buttons",
      choices: [
        ["left", "Left"],
        ["centre", "Centre"],
        ["right", "Right"],
        ["justified", "Justified"],
      ],
      value: ({ text }) => text.align,
      set: (slip, align) => slip.paragraphsTo({ para: { align } }),
    },
  ],
  paragraph: [
    {
      ...length(
        "pl",
        "Leading",
        "from one baseline to the next; a percentage follows the type size",
        "leading",
        "leading",
      ),
      read: readLeading,
      set: (slip, para) => slip.paragraphsTo({ para }),
    },
    length("pi", "Indent", "of the first line", "indent_first", "indent"),
    length("pb", "Space before", "Space before", "space_before", "before"),
    length("pa", "Space after", "Space after", "space_after", "after"),
    {
      id: "pd",
      word: "Drop cap",
      title: "a large initial letter, this many lines high",
      kind: "choice",
      choices: [["0", "none"], ...[2, 3, 4, 5, 6].map((lines) => [String(lines), `${lines} lines`])],
      value: ({ text }) => text.drop,
      set: (slip, lines) => slip.paragraphsTo({ para: { drop_lines: Number(lines) } }),
    },
    {
      id: "pn",
      word: "List",
      full: true,
      kind: "choice",
      choices: ({ text }) => [
        ...NUMBERED,
        ...(NUMBERED.some(([form]) => form === text.list) ? [] : [[text.list, text.list]]),
      ],
      value: ({ text }) => text.list,
      set: list,
    },
  ],
  "paragraph ways": [
    flag("hyphenate", "Hyphenation", "words may be divided at the ends of lines"),
    flag(
      "optical",
      "Optical margins",
      "hyphens and punctuation hang slightly outside the column, so that its edge looks straight",
    ),
    flag("keep_next", "Keep with next", "never leaves this paragraph alone at the foot of a column"),
    flag("span", "Span columns", "the paragraph runs across all columns of the frame"),
  ],
  note: [
    {
      id: "pk",
      word: "Note",
      title: "the kind of note; each kind has its own position, numbering and rule",
      kind: "choice",
      when: (slip) => Boolean(slip.note),
      choices: () => rows(state.noteKinds),
      value: ({ note }) => note.kind,
      set: (slip, kind) => slip.tried(() => send([{ do: "set-note-kind", kind, notes: [slip.note.id] }])),
      beside: {
        word: "Set up…",
        title: "Notes: position and numbering of this kind of note",
        run: (slip) => {
          setUpNotes(slip.note?.kind || "").catch(() => {});
        },
      },
    },
  ],
  type: [
    {
      id: "tf",
      word: "Font",
      kind: "choice",
      choices: ({ text }) => [
        ...state.families.map((family) => [family, family]),
        ...known(state.families, text.family),
      ],
      value: ({ text }) => text.family,
      set: (slip, family) => slip.typeTo({ family }),
      beside: {
        word: "Fonts",
        title: "Fonts: all fonts, each shown in its own letters; import others",
        run: (slip) => emit("fonts", { current: slip.text.family, apply: (family) => slip.typeTo({ family }) }),
      },
    },
  ],
  letters: [
    {
      id: "ttr",
      word: "Tracking",
      title: "space added between letters, in thousandths of an em",
      kind: "whole",
      value: ({ text }) => text.tracking,
      read: (text) => number(text, "Tracking is a number of thousandths of an em, such as 20."),
      set: (slip, tracking) => slip.typeTo({ tracking }),
    },
    {
      id: "tcol",
      word: "Colour",
      kind: "choice",
      choices: swatchChoices,
      value: ({ text }) => text.swatch,
      set: (slip, swatch) => slip.typeTo({ swatch }),
    },
    {
      id: "tca",
      word: "Case",
      full: true,
      kind: "choice",
      choices: CASES,
      value: ({ text }) => text.caps,
      set: (slip, caps) => slip.typeTo({ caps }),
    },
    {
      id: "tfi",
      word: "Figures",
      full: true,
      title:
        "old-style figures have ascenders and descenders, lining figures are as high as capitals, tabular figures are all equally wide",
      kind: "choice",
      choices: FIGURES,
      value: ({ text }) => text.figures,
      set: (slip, figures) => slip.typeTo({ figures }),
    },
  ],
  "character style": [
    {
      id: "tcs",
      word: "Character style",
      title: "formatting of words within a paragraph, under a name",
      kind: "choice",
      choices: () => [["", "none"], ...rows(state.characterStyles)],
      value: ({ text }) => text.character_style,
      set: (slip, style) => slip.wordsIn(style),
    },
  ],
  size: [
    {
      id: "ts",
      word: "Size",
      kind: "points",
      value: ({ text }) => text.size,
      set: (slip, size) => slip.typeTo({ size }),
    },
    {
      word: "Emphasis",
      kind: "buttons",
      choices: [
        ["italic", "Italic"],
        ["bold", "Bold"],
      ],
      value: ({ text }) => [text.italic && "italic", text.weight >= 600 && "bold"],
      set: (slip, kind) => slip.cut(kind),
    },
  ],
};

function fill(slip, { all }) {
  const { text } = slip;
  if (!text) return;
  for (const container of all("[data-sections=para], [data-sections=type]")) {
    const of = container.dataset.sections;
    const put = (values) => (of === "para" ? slip.paragraphsTo({ para: values }) : slip.typeTo(values));
    // What is set as the style has it is no local setting any more.
    const back = (names) => put(Object.fromEntries(names.map((name) => [name, slip.text.below[of][name]])));
    sectionsIn(container, put, back).update(text.raw[of], {
      told: text.sections,
      own: text.own[of],
      offered: text.features,
    });
  }
}

part({
  fill,
  about: (slip) => Boolean(slip.text),
  rows: ROWS,
  members: {
    get wordsFirst() {
      return Boolean(this.text) && (active() || this.several < 2);
    },
    get typing() {
      return Boolean(this.text) && active();
    },
    get atTable() {
      return Boolean(this.text && this.text.table) && !this.cells;
    },
    get note() {
      return this.text ? this.text.note : null;
    },
    openTable() {
      emit("table", this.text.table);
    },
    get localWords() {
      return this.text ? this.text.local_words : "";
    },
    get fallbacks() {
      return this.text ? this.text.fallbacks : "";
    },
    get wordsLocal() {
      return this.typing && this.text.words_local;
    },
    get redefineWord() {
      return this.text && this.text.character_style ? "Update style" : "Save as style…";
    },
    get merit() {
      return this.text ? this.text.merit : "";
    },
    get paragraphs() {
      return this.text && this.text.count > 1 ? `${this.text.count} paragraphs` : "";
    },
    get local() {
      return Boolean(this.text) && this.text.local;
    },
    get paragraphTold() {
      return this.text
        ? `${this.text.style_name}, ${{ left: "left-aligned", right: "right-aligned", centre: "centred" }[this.text.align] || this.text.align}`
        : "";
    },
    get typeTold() {
      return this.text
        ? `${this.text.size.replace(" pt", "")}/${this.text.leading.replace(" pt", "")} ${this.text.family}`
        : "";
    },
    get scope() {
      return this.text && this.text.selected ? "selected words" : "whole paragraph";
    },
    redefine() {
      const place = active()
        ? { paragraph: caret.focus.p, offset: caret.focus.o }
        : this.span() && { paragraph: this.span().first, offset: 0 };
      const story = active() ? caret.story : this.span()?.story;
      if (place) this.tried(() => send([{ do: "redefine-style", story, at: place }]));
    },
    /** The place within the words meant: the selection's beginning, or the character before the caret. */
    wordPlace() {
      const { p, o } = caret.anchor.p === caret.focus.p && caret.anchor.o > caret.focus.o ? caret.focus : caret.anchor;
      return { paragraph: p, offset: this.text.selected ? o : Math.max(o - 1, 0) };
    },
    clearWords() {
      const place = ({ p, o }) => ({ paragraph: p, offset: o });
      if (this.text.selected)
        this.tried(() =>
          send([
            { do: "format-text", story: caret.story, start: place(caret.anchor), end: place(caret.focus), style: "" },
          ]),
        );
      else this.problem = "Select the words whose formatting is to be cleared.";
    },
    async redefineWords() {
      let name = null;
      if (!this.text.character_style) {
        const agreed = await askFor(
          "New character style",
          "The style takes the formatting of the selected words and is applied to them.",
          "Save style",
          { name: { word: "Name", empty: "Bird name" } },
        );
        if (!agreed) return;
        ({ name } = agreed);
      }
      this.tried(() =>
        send([
          {
            do: "redefine-style",
            story: caret.story,
            at: this.wordPlace(),
            character: true,
            ...(name === null ? {} : { name }),
          },
        ]),
      );
    },
    /** Set the selected words in a character style. */
    wordsIn(style) {
      const place = ({ p, o }) => ({ paragraph: p, offset: o });
      if (active() && this.text.selected)
        this.tried(() =>
          send([{ do: "format-text", story: caret.story, start: place(caret.anchor), end: place(caret.focus), style }]),
        );
      else {
        this.$root.querySelector("#tcs").value = this.text.character_style;
        this.problem = "Select some words first: a character style is for words within a paragraph.";
      }
    },
    /** The paragraphs meant: those the selection runs over, else those that stand in each selected frame. */
    spans() {
      if (active()) return [{ story: caret.story, first: caret.anchor.p, last: caret.focus.p }];
      return frames.standing(frames.chosen());
    },
    span() {
      return this.spans()[0] || null;
    },
    paragraphsTo(values) {
      if (state.cells && !active()) {
        this.tried(() => send([{ do: "set-cell-words", cells: rangeOf(state.cells), ...values }]));
        return;
      }
      const intents = this.spans().map((span) => ({ do: "set-paragraphs", ...span, ...values }));
      if (intents.length) this.tried(() => send(intents));
    },
    /** Character settings go to the selected words, or to the whole paragraph where none are selected. */
    typeTo(values) {
      if (this.text.selected && active()) {
        const place = ({ p, o }) => ({ paragraph: p, offset: o });
        this.tried(() =>
          send([
            {
              do: "format-text",
              story: caret.story,
              start: place(caret.anchor),
              end: place(caret.focus),
              type: values,
            },
          ]),
        );
      } else this.paragraphsTo({ type: values });
    },
    cut(kind) {
      if (!this.text) return;
      this.typeTo(kind === "italic" ? { italic: !this.text.italic } : { weight: this.text.weight >= 600 ? 400 : 700 });
    },
    clear() {
      this.paragraphsTo({ clear: true });
    },
  },
});
