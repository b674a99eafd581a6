// The slip: what is selected, in groups, each number a field that takes units and sums. Its parts register themselves in slip/.
import { parseLength } from "./numbers.js";
import { caret, active, quiet, selected as selected_ } from "./caret.js";
import { cellsMeant } from "./cells.js";
import * as actions from "./frameactions.js";
import * as frames from "./frames.js";
import { busy, context, emit, idle, on, propose, state } from "./store.js";
import { target } from "./specline.js";
import { queryOf, recall, remember } from "./slipcache.js";
import { assembled, fillParts } from "./slip/parts.js";
import "./slip/grouping.js"; // first: the others ask whether a group is selected
import "./slip/position.js";
import "./slip/frame.js";
import "./slip/arrange.js";
import "./slip/picture.js";
import "./slip/code.js";
import "./slip/cells.js";
import "./slip/text.js";
import "./slip/pages.js";
import "./slip/copies.js";
import "./slip/history.js";
import { messageOf } from "../errors.js";

const SOON = 60; // milliseconds
const LATER = 180; // keys that move something come faster: what they do goes first

let request = 0;

const pagesShown = () =>
  state.view[0] < 0
    ? ""
    : `Page${state.view.length > 1 ? "s" : ""} ${state.view
        .map((index) => state.pages[index]?.label)
        .filter((_, n, all) => !n || n === all.length - 1)
        .join("–")}`;

/** What is selected, as the server is asked for it: the frame, the words or the cells. */
function selection() {
  const query = queryOf(frames.current());
  if (active())
    Object.assign(query, {
      story: caret.story,
      p: caret.anchor.p,
      offset: caret.anchor.o,
      p2: caret.focus.p,
      offset2: caret.focus.o,
    });
  return Object.assign(query, cellsMeant());
}

/** Everything that the slip shows, to be compared. */
const wordsOf = (answer, shown) =>
  JSON.stringify([answer, shown, state.count, state.view, frames.chosen().length, Boolean(active())]);

export function slip() {
  return assembled({
    several: 0,
    shown: null,
    frame: null,
    text: null,
    page: null,
    master: null,
    problem: "",
    pagesWord: pagesShown(),
    masterOf: "",
    count: state.count,
    rows: [],
    versions: [],
    historyWord: "Show",
    get idle() {
      return !this.frame && !this.text;
    },
    get idlePage() {
      return this.idle && Boolean(this.page);
    },
    get idleMaster() {
      return this.idle && Boolean(this.master);
    },
    get title() {
      if (this.several > 1 && this.cells) return this.cells.name;
      if (this.text && !this.frame) return this.text.heading || "Text";
      if (this.group) return this.group.name;
      if (this.frame) return this.frame.name;
      return this.master ? this.master.name : this.pagesWord;
    },
    get subtitle() {
      if (this.frame && this.frame.field) return "from the master page";
      if (this.group)
        return `group of ${this.several} object${this.several === 1 ? "" : "s"}; all fields but Position apply to each object`;
      if (this.several > 1 && this.cells) return `${this.cells.count} cells: changes apply to all`;
      if (this.cells && this.text)
        return `of “${this.cells.name}”; ${this.typing ? "Esc selects it" : "Enter types in it"}`;
      if (this.several > 1) return `and ${this.several - 1} other${this.several > 2 ? "s" : ""}: changes apply to all`;
      if (this.frame)
        return [
          this.frame.story && `story “${this.frame.story}”`,
          this.frame.of > 1 && `frame ${this.frame.number} of ${this.frame.of}`,
          this.frame.inherited ? "from the master page" : this.frame.taken ? "overrides the master page" : "",
        ]
          .filter(Boolean)
          .join(", ");
      if (this.text?.note)
        return `${{ foot: "at the bottom of the column that cites it", margin: "in the margin, beside its line", gathered: "gathered by a listing" }[this.text.note.place]}; Esc returns`;
      if (this.master)
        return this.master.using ? `master page, used by ${this.master.using}` : "master page, not used yet";
      return [`of ${this.count}`, this.page?.section && `section “${this.page.section}”`, this.page?.panels]
        .filter(Boolean)
        .join(", ");
    },
    get specced() {
      return Boolean(this.text || (this.frame && !this.frame.field));
    },
    get spec() {
      return this.shown ? this.shown.line : [this.text?.spec, this.frame?.spec].filter(Boolean).join("; ");
    },
    get various() {
      return this.shown?.various.length ? `Mixed: ${this.shown.various.join("; ")}` : "";
    },
    init() {
      this.layVersions(state.versions);
      for (const name of /** @type {const} */ (["frame", "text", "pages", "lists", "master"]))
        on(name, () => this.refresh());
      on("cut", (kind) => this.cut(kind));
      this.refresh();
    },
    refresh() {
      this.showKnown();
      clearTimeout(this.timer);
      this.timer = setTimeout(() => this.ask(), actions.nudging() ? LATER : SOON);
    },
    /** Show what is known here of what has been selected, until the server confirms it. */
    showKnown() {
      if (busy()) return;
      const query = selection();
      const key = JSON.stringify(query);
      if (key === this.showing) return;
      const answer = recall(query);
      if (!answer) return;
      this.showing = key;
      request += 1; // what was asked before is of another selection
      this.show(answer, frames.chosen().length > 1 ? { line: "", various: [] } : null);
      this.$nextTick(() => this.fill());
    },
    show(answer, shown) {
      this.words = wordsOf(answer, shown);
      this.shown = shown;
      this.several = active() ? 1 : frames.chosen().filter((f) => !f.field).length;
      this.frame = answer.frame || null;
      this.text = answer.text || null;
      this.cells = answer.cells || null;
      this.page = answer.page || null;
      this.count = state.count;
      this.pagesWord = pagesShown();
      this.masterOf = this.page ? `of page ${this.page.label}${state.view.length > 1 ? ", on the left" : ""}` : "";
      this.master = answer.master || null;
      emit("spec", this.spec);
    },
    async ask() {
      await quiet();
      await idle();
      const number = ++request;
      const selected = frames.current();
      const query = selection();
      try {
        const answer = await context(query);
        if (busy() || number !== request) {
          if (number === request) this.refresh();
          return;
        } // more was typed: asked again when that is saved
        const meant = target();
        const many =
          meant.frames.length > 1 ||
          meant.texts?.length > 1 ||
          meant.texts?.some(({ start, end }) => start.paragraph !== end.paragraph) ||
          (active() && selected_());
        const shown = many && !selected?.field ? await propose("spec", { ...meant, line: "", show: true }) : null;
        if (number !== request || !this.$root) return;
        if (busy()) {
          this.refresh();
          return;
        } // something was set meanwhile, which this does not know of
        remember(query, answer);
        if (this.words !== wordsOf(answer, shown)) this.show(answer, shown);
        this.showing = JSON.stringify(query);
        this.problem = "";
        // A field that was changed between the answer and this tick is newer than the answer.
        this.$nextTick(() => (busy() ? this.refresh() : this.fill()));
      } catch (error) {
        if (number !== request) return;
        if (busy()) this.refresh();
        else this.problem = messageOf(error);
      }
    },
    keys(event) {
      if (event.key === "Escape") {
        event.target.value = event.target.dataset.was || "";
        event.target.blur();
      } else if (event.key === "Enter") event.target.blur();
      event.stopPropagation();
    },
    read(event, unit) {
      return this.readBy(parseLength, event, unit);
    },
    readBy(reader, event, unit) {
      try {
        this.problem = "";
        return reader(event.target.value, unit);
      } catch (error) {
        this.problem = messageOf(error);
        event.target.value = event.target.dataset.was || "";
        return null;
      }
    },
    async tried(action) {
      try {
        this.problem = "";
        await action();
      } catch (error) {
        this.problem = messageOf(error);
      }
      this.refresh();
    },
    fill() {
      if (this.$root) fillParts(this); // else the window is being left
    },
  });
}
