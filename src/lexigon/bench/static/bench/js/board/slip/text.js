// The slip's part about text: its paragraphs and its type.
import { rangeOf } from "../cells.js";
import * as frames from "../frames.js";
import { sectionsIn } from "../fields.js";
import { ask, input, labelled } from "../../notice.js";
import { emit, send, state } from "../store.js";
import { active, caret } from "../text.js";
import { setUpNotes } from "../notes.js";
import { part } from "./parts.js";

const rows = (all) => all.map(({ id, name }) => [id, name]);

function fill(slip, { one, all, set, choose, press }) {
  const { text } = slip;
  if (!text) return;
  choose("#ps", [["", "several"], ...rows(state.styles)], text.style);
  choose("#tcs", [["", "none"], ...rows(state.characterStyles)], text.character_style);
  choose("#tcol", rows(state.swatches), text.swatch);
  const missing = state.families.includes(text.family) ? [] : [[text.family, `${text.family} (not here)`]];
  choose("#tf", [...state.families.map((family) => [family, family]), ...missing], text.family);
  for (const [selector, value] of [["#ttr", text.tracking], ["#tca", text.caps], ["#tfi", text.figures], ["#pb", text.before], ["#pa", text.after], ["#pl", text.leading], ["#pi", text.indent], ["#ts", text.size]]) set(selector, value);
  if (text.note) choose("#pk", rows(state.noteKinds), text.note.kind);
  const drop = one("#pd");
  if (drop) drop.value = String(text.drop);
  const list = one("#pn");
  if (list) { if (![...list.options].some(({ value }) => value === text.list)) list.add(new Option(text.list, text.list)); list.value = text.list; }
  for (const box of all("[data-flag]")) box.checked = text.flags[box.dataset.flag];
  for (const button of all("[data-align]")) button.setAttribute("aria-pressed", String(button.dataset.align === text.align));
  press('[data-cut="italic"]', text.italic);
  press('[data-cut="bold"]', text.weight >= 600);
  for (const container of all("[data-sections=para], [data-sections=type]")) {
    const of = container.dataset.sections;
    const put = (values) => (of === "para" ? slip.paragraphsTo({ para: values }) : slip.typeTo(values));
    // What is set as the style has it is no local setting any more.
    const back = (names) => put(Object.fromEntries(names.map((name) => [name, slip.text.below[of][name]])));
    sectionsIn(container, put, back).update(text.raw[of], { told: text.sections, own: text.own[of], offered: text.features });
  }
}

part({
  fill,
  members: {
    get typing() { return Boolean(this.text) && active(); },
    get atTable() { return Boolean(this.text && this.text.table) && !this.cells; },
    get note() { return this.text ? this.text.note : null; },
    setNoteKind(event) { const kind = event.target.value; this.tried(() => send([{ do: "set-note-kind", kind, notes: [this.text.note.id] }])); },
    openNotes() { setUpNotes(this.text.note?.kind || "").catch(() => {}); },
    openTable() { emit("table", this.text.table); },
    get localWords() { return this.text ? this.text.local_words : ""; },
    get fallbacks() { return this.text ? this.text.fallbacks : ""; },
    get wordsLocal() { return this.typing && this.text.words_local; },
    get redefineWord() { return this.text && this.text.character_style ? "Make the style so" : "Make it a style"; },
    get merit() { return this.text ? this.text.merit : ""; },
    get paragraphs() { return this.text && this.text.count > 1 ? `${this.text.count} paragraphs` : ""; },
    get local() { return Boolean(this.text) && this.text.local; },
    get paragraphTold() { return this.text ? `${this.text.style_name}, ${{ left: "set left", right: "set right", centre: "centred" }[this.text.align] || this.text.align}` : ""; },
    get typeTold() { return this.text ? `${this.text.size.replace(" pt", "")}/${this.text.leading.replace(" pt", "")} ${this.text.family}` : ""; },
    get scope() { return this.text && this.text.selected ? "selected words" : "whole paragraph"; },
    openStyles() { emit("styles"); },
    openFonts() { emit("fonts", { current: this.text.family, apply: (family) => this.typeTo({ family }) }); },
    redefine() {
      const place = active() ? { paragraph: caret.focus.p, offset: caret.focus.o } : this.span() && { paragraph: this.span().first, offset: 0 };
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
      if (this.text.selected) this.tried(() => send([{ do: "format-text", story: caret.story, start: place(caret.anchor), end: place(caret.focus), style: "" }]));
      else this.problem = "Select the words to clear first.";
    },
    async redefineWords() {
      let name = null;
      if (!this.text.character_style) {
        const field = input("", "Bird name");
        if (!(await ask("New character style", "It is what these words are set in; they take it, and so can others.", "Make it", [labelled("Name", field)]))) return;
        name = field.value;
      }
      this.tried(() => send([{ do: "redefine-style", story: caret.story, at: this.wordPlace(), character: true, ...(name === null ? {} : { name }) }]));
    },
    setDrop(event) { this.paragraphsTo({ para: { drop_lines: Number(event.target.value) } }); },
    setList(event) {
      const form = event.target.value;
      if (form === "none") { this.paragraphsTo({ para: { list: { kind: "none" } } }); return; }
      const numbers = form === "a#)" ? { kind: "number", form: "#)", numbers: "a" } : form.includes("#") ? { kind: "number", form } : { kind: "bullet", form };
      this.paragraphsTo({ para: { list: numbers, indent_left: 18, indent_first: -18 } });
    },
    setFlag(event) { this.paragraphsTo({ para: { [event.target.dataset.flag]: event.target.checked } }); },
    setCharacterStyle(event) {
      const span = this.span();
      const place = ({ p, o }) => ({ paragraph: p, offset: o });
      if (active() && this.text.selected) this.tried(() => send([{ do: "format-text", story: caret.story, start: place(caret.anchor), end: place(caret.focus), style: event.target.value }]));
      else if (span) { this.problem = "Select some words first: a character style is for words within a paragraph."; event.target.value = this.text.character_style; }
    },
    setTracking(event) { const value = Number(event.target.value.replace(",", ".")); if (Number.isFinite(value)) this.typeTo({ tracking: value }); else { this.problem = "Tracking is a number of thousandths of an em, such as 20."; event.target.value = event.target.dataset.was; } },
    setColour(event) { this.typeTo({ swatch: event.target.value }); },
    setCase(event) { this.typeTo({ caps: event.target.value }); },
    setFigures(event) { this.typeTo({ figures: event.target.value }); },
    /** The paragraphs meant: those the selection runs over, else those that stand in each selected frame. */
    spans() {
      if (active()) return [{ story: caret.story, first: caret.anchor.p, last: caret.focus.p }];
      return frames.standing(frames.chosen());
    },
    span() { return this.spans()[0] || null; },
    paragraphsTo(values) {
      if (state.cells && !active()) { this.tried(() => send([{ do: "set-cell-words", cells: rangeOf(state.cells), ...values }])); return; }
      const intents = this.spans().map((span) => ({ do: "set-paragraphs", ...span, ...values }));
      if (intents.length) this.tried(() => send(intents));
    },
    /** Character settings go to the selected words, or to the whole paragraph where none are selected. */
    typeTo(values) {
      if (this.text.selected && active()) {
        const place = ({ p, o }) => ({ paragraph: p, offset: o });
        this.tried(() => send([{ do: "format-text", story: caret.story, start: place(caret.anchor), end: place(caret.focus), type: values }]));
      } else this.paragraphsTo({ type: values });
    },
    setStyle(event) { if (event.target.value) this.paragraphsTo({ style: event.target.value }); },
    setAlign(event) { this.paragraphsTo({ para: { align: event.currentTarget.dataset.align } }); },
    setPara(event) {
      const times = event.target.dataset.para === "leading" && /^\s*(\d+(?:[.,]\d+)?)\s*%\s*$/.exec(event.target.value);
      if (times) { this.paragraphsTo({ para: { leading: 0, leading_times: Number(times[1].replace(",", ".")) / 100 } }); return; }
      const value = this.read(event, "pt"); if (value !== null) this.paragraphsTo({ para: { [event.target.dataset.para]: value } });
    },
    setFamily(event) { this.typeTo({ family: event.target.value }); },
    setSize(event) { const value = this.read(event, "pt"); if (value !== null) this.typeTo({ size: value }); },
    setCut(event) { this.cut(event.currentTarget.dataset.cut); },
    cut(kind) {
      if (!this.text) return;
      this.typeTo(kind === "italic" ? { italic: !this.text.italic } : { weight: this.text.weight >= 600 ? 400 : 700 });
    },
    clear() { this.paragraphsTo({ clear: true }); },
  },
});
