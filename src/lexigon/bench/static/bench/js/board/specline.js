// The spec line: a setting typed as designers write it. What it says is shown before it is done; what is not
// understood is underlined, and nothing is changed.
import { needing, register } from "../commands.js";
import { rangeOf } from "./cells.js";
import * as frames from "./frames.js";
import { active, caret, focusText } from "./caret.js";
import { ofWords } from "./standing.js";
import { on, perform, propose, state, toast } from "./store.js";
import { messageOf } from "../errors.js";

/** What a spec line is meant for: the selected words, or the paragraphs of the selected frames, and those frames. */
export function target() {
  const selected = frames.chosen();
  const own = selected.filter((f) => !f.field && !ofWords(f)).map((f) => ({ page: frames.holderOf(f), id: f.id }));
  const place = ({ p, o }) => ({ paragraph: p, offset: o });
  if (state.cells && !active()) return { cells: rangeOf(state.cells), frames: [] };
  if (active()) return { story: caret.story, start: place(caret.anchor), end: place(caret.focus), frames: own };
  const texts = frames.standing(selected).map(({ story, first, last }) => ({
    story,
    start: { paragraph: first, offset: 0 },
    end: { paragraph: last, offset: 0 },
    whole: true,
  }));
  return { texts, frames: own };
}

/** Whether the line in a field is still the one that was put there, edited in place, or was typed anew over all of it. */
export function inPlace(field) {
  const watch = { edited: true };
  field.addEventListener("beforeinput", () => {
    if (field.selectionStart === 0 && field.selectionEnd === field.value.length) watch.edited = false;
  });
  field.addEventListener("input", () => {
    if (!field.value.trim()) watch.edited = false;
  });
  return watch;
}

/** The field that it is typed in. @type {HTMLTextAreaElement | null} */
let line = null;
register({
  word: "Type in the spec line",
  also: "font size leading tracking kerning letter spacing indent alignment weight typeface caps",
  keys: ["/"],
  help: "type formatting in the spec line; Enter applies it",
  when: needing("Select words or an object first.", () => Boolean(line?.offsetParent)),
  run: () => line.focus(),
});

export function specline() {
  let timer = 0;
  let asked = 0;
  return {
    said: "",
    offers: [],
    chosen: -1,
    bad: false,
    begun: false,
    was: "",
    known: "",
    get field() {
      return this.$root.querySelector("textarea");
    },
    get back() {
      return this.$root.querySelector(".spec-back");
    },
    get open() {
      return this.offers.length > 0;
    },
    init() {
      line = this.field;
      this.watch = inPlace(line);
      on("spec", (words) => {
        this.was = words;
        if (this.field && document.activeElement !== this.field) this.fill(words);
      });
      if (state.spec !== undefined) this.fill(state.spec);
    },
    fill(line) {
      this.field.value = line;
      this.watch.edited = true;
      this.said = "";
      this.offers = [];
      this.bad = false;
      this.mirror([]);
    },
    /** The same words behind the field, with what was not understood underlined. */
    mirror(unknown) {
      const line = this.field.value;
      this.back.replaceChildren();
      let at = 0;
      for (const [start, end] of unknown) {
        this.back.append(line.slice(at, start));
        const mark = document.createElement("u");
        mark.textContent = line.slice(start, end);
        this.back.append(mark);
        at = end;
      }
      this.back.append(line.slice(at));
    },
    focused() {
      this.field.select();
    },
    left() {
      setTimeout(() => {
        if (document.activeElement !== this.field) {
          this.offers = [];
          if (!this.bad && !this.said) this.fill(this.was);
        }
      }, 150);
    },
    typed() {
      clearTimeout(timer);
      timer = setTimeout(() => this.read(), 90);
    },
    async read() {
      const number = ++asked;
      const line = this.field.value;
      try {
        const answer = await propose("spec", {
          ...target(),
          line,
          was: this.watch.edited ? this.was : "",
          caret: this.field.selectionStart,
        });
        if (number !== asked) return null;
        this.known = line;
        this.offers = document.activeElement === this.field ? answer.offers : [];
        this.chosen = -1;
        const last = answer.unknown[answer.unknown.length - 1];
        // A word that is being typed and may still become something is no mistake yet.
        this.begun =
          answer.unknown.length === 1 &&
          this.offers.length > 0 &&
          last[1] >= [...line.slice(0, this.field.selectionStart)].length;
        this.bad = answer.unknown.length > 0 && !this.begun;
        this.said = this.bad
          ? `Not understood: ${answer.unknown.map(([a, b]) => `“${[...line].slice(a, b).join("")}”`).join(", ")}. Nothing is changed.`
          : answer.said.join(" · ");
        this.mirror(this.begun ? [] : answer.unknown);
        return answer;
      } catch (error) {
        toast(messageOf(error), true);
        return null;
      }
    },
    keys(event) {
      event.stopPropagation();
      if (event.key === "ArrowDown" && this.open) {
        event.preventDefault();
        this.chosen = (this.chosen + 1) % this.offers.length;
      } else if (event.key === "ArrowUp" && this.open) {
        event.preventDefault();
        this.chosen = (this.chosen - 1 + this.offers.length) % this.offers.length;
      } else if (event.key === "Tab" && this.open && !event.shiftKey) {
        event.preventDefault();
        this.take(this.offers[Math.max(this.chosen, 0)]);
      } else if (event.key === "Enter") {
        event.preventDefault();
        const begun = this.begun && this.open && this.known === this.field.value; // not of what stood there while more was typed
        if (this.chosen >= 0 || begun) this.take(this.offers[Math.max(this.chosen, 0)]);
        else this.apply();
      } else if (event.key === "Escape") {
        this.fill(this.was);
        this.field.blur();
        if (active()) focusText();
      }
    },
    pick(event) {
      event.preventDefault();
      this.take(this.offers[Number(event.currentTarget.dataset.n)]);
    },
    take(offer) {
      const field = this.field;
      const caretAt = field.selectionStart;
      field.value = [...field.value].slice(0, offer.start).join("") + offer.text + field.value.slice(caretAt);
      const at = [...field.value].slice(0, offer.start).join("").length + offer.text.length;
      field.setSelectionRange(at, at);
      this.offers = [];
      this.read();
    },
    async apply() {
      clearTimeout(timer);
      const meant = { ...target(), line: this.field.value, was: this.watch.edited ? this.was : "" }; // whatever is chosen or typed until it is read
      const answer = await this.read();
      if (!answer) return; // it could not be read, or another line is being typed
      const line = meant.line.trim();
      if (answer.unknown.length && !this.bad) {
        this.bad = true;
        this.said = `Not understood: “${[...this.field.value].slice(...answer.unknown[0]).join("")}”. Nothing is changed.`;
        this.mirror(answer.unknown);
      }
      this.offers = [];
      if (answer.unknown.length) return;
      if (!answer.does) {
        toast(
          answer.said.length
            ? "This does not apply to the selection."
            : line
              ? "The selection already has this formatting."
              : "Type formatting, such as 12/16, bold or justified.",
        );
        return;
      }
      try {
        await perform("spec", { ...meant, do: true });
        this.said = "";
        this.field.blur();
        if (active()) focusText();
      } catch {
        /* told already; the line stays as it was typed */
      }
    },
    rowClass(n) {
      return n === this.chosen ? "on" : "";
    },
  };
}
