// The slip: what is selected, in groups, each number a field that takes units and sums.
import { parseLength } from "./numbers.js";
import { caret, active, quiet } from "./text.js";
import * as frames from "./frames.js";
import { context, on, past, send, show, state, toast } from "./store.js";
import { clock } from "../http.js";

let request = 0;

export function slip() {
  return {
    frame: null, text: null, problem: "", rows: [], historyWord: "Show",
    get idle() { return !this.frame && !this.text; },
    get title() { return this.text && !this.frame ? "Text" : this.frame ? this.frame.name : `Page${state.view.length > 1 ? "s" : ""} ${this.labels}`; },
    get labels() { return state.view.map((index) => state.pages[index].label).join("–"); },
    get subtitle() {
      if (this.frame && this.frame.field) return "made by the master page";
      if (this.frame) return [this.frame.story && `text “${this.frame.story}”`, this.frame.of > 1 && `frame ${this.frame.number} of ${this.frame.of}`, this.frame.inherited ? "from the master page" : this.frame.taken ? "taken over from the master" : ""].filter(Boolean).join(", ");
      return `of ${state.count}`;
    },
    get pageCount() { return `1 to ${state.count}`; },
    get spec() { return this.text ? this.text.spec : ""; },
    get holds() { const f = frames.current(); return f && f.overset ? `+ ${f.overset} words do not fit` : ""; },
    get flow() {
      if (!this.frame) return "";
      const { before, after } = this.frame;
      return [before && `from ${before}`, after && `on to ${after}`].filter(Boolean).join(", ") || "the whole text stands here";
    },
    get notField() { return Boolean(this.frame) && !this.frame.field; },
    get isLed() { return Boolean(this.frame) && this.frame.led; },
    get isOwn() { return Boolean(this.frame) && !this.frame.inherited; },
    get removeWord() { return this.frame && this.frame.taken ? "Back to the master’s" : "Remove"; },
    get paragraphs() { return this.text && this.text.count > 1 ? `${this.text.count} paragraphs` : ""; },
    get local() { return Boolean(this.text) && this.text.local; },
    get scope() { return this.text && this.text.selected ? "selected words" : "whole paragraph"; },

    init() {
      for (const name of ["frame", "text", "pages"]) on(name, () => this.refresh());
      this.refresh();
    },
    show() {},
    refresh() {
      clearTimeout(this.timer);
      this.timer = setTimeout(() => this.ask(), 60);
    },
    async ask() {
      await quiet();
      const number = ++request;
      const selected = frames.current();
      if (!selected && !active()) { this.frame = null; this.text = null; this.problem = ""; return; }
      const query = { page: selected?.page ?? state.view[0], frame: selected?.id || "" };
      if (active()) Object.assign(query, { story: caret.story, p: caret.anchor.p, offset: caret.anchor.o, p2: caret.focus.p, offset2: caret.focus.o });
      else if (selected?.story && !selected.field) {
        const first = selected.group.querySelector(".ln");
        if (first) Object.assign(query, { story: selected.story, p: first.dataset.p, offset: first.dataset.s });
      }
      try {
        const answer = await context(query);
        if (number !== request) return;
        this.frame = answer.frame || null;
        this.text = answer.text || null;
        this.problem = "";
        this.$nextTick(() => this.fill());
      } catch (error) { if (number === request) this.problem = error.message; }
    },
    fill() {
      const set = (selector, value) => { const field = this.$root.querySelector(selector); if (field && field !== document.activeElement) { field.value = value; field.dataset.was = value; } };
      if (this.frame) {
        for (const name of ["x", "y", "width", "height"]) set(`[data-rect="${name}"]`, this.frame[name]);
        for (const name of ["columns", "insets"]) set(`[data-frame="${name}"]`, this.frame[name]);
      }
      if (this.text) {
        const styles = this.$root.querySelector("#ps");
        if (styles && styles.options.length < 2) for (const style of state.styles) styles.add(new Option(style.name, style.id));
        const families = this.$root.querySelector("#tf");
        if (families && !families.options.length) for (const family of state.families) families.add(new Option(family, family));
        set("#ps", this.text.style);
        set("#tf", this.text.family);
        set("#pl", this.text.leading);
        set("#pi", this.text.indent);
        set("#ts", this.text.size);
        for (const button of this.$root.querySelectorAll("[data-align]")) button.setAttribute("aria-pressed", String(button.dataset.align === this.text.align));
        this.$root.querySelector('[data-cut="italic"]')?.setAttribute("aria-pressed", String(this.text.italic));
        this.$root.querySelector('[data-cut="bold"]')?.setAttribute("aria-pressed", String(this.text.weight >= 600));
      }
    },
    keys(event) {
      if (event.key === "Escape") { event.target.value = event.target.dataset.was || ""; event.target.blur(); }
      else if (event.key === "Enter") event.target.blur();
      event.stopPropagation();
    },
    read(event, unit) {
      try { this.problem = ""; return parseLength(event.target.value, unit); } catch (error) {
        this.problem = error.message;
        event.target.value = event.target.dataset.was || "";
        return null;
      }
    },
    async tried(action) {
      try { this.problem = ""; await action(); } catch (error) { this.problem = error.message; }
      this.refresh();
    },
    place(event) {
      const value = this.read(event, state.sheet.unit);
      const f = frames.current();
      if (value === null || !f) return;
      const rect = { x: f.x, y: f.y, width: f.w, height: f.h };
      rect[event.target.dataset.rect] = value;
      this.tried(() => frames.change(f, { rect }));
    },
    setFrame(event) {
      const f = frames.current();
      const name = event.target.dataset.frame;
      const value = name === "columns" ? parseInt(event.target.value, 10) || 1 : this.read(event, state.sheet.unit);
      if (value !== null && f) this.tried(() => frames.change(f, { [name]: value }));
    },
    leadOn() { const f = frames.current(); if (f) frames.leadOn(f); },
    unlink() { this.tried(frames.unlink); },
    remove() { this.tried(frames.remove); },

    span() {
      const f = frames.current();
      if (active()) return { story: caret.story, first: caret.anchor.p, last: caret.focus.p };
      const lines = f ? f.group.querySelectorAll(".ln") : [];
      return lines.length ? { story: f.story, first: lines[0].dataset.p, last: lines[lines.length - 1].dataset.p } : null;
    },
    paragraphsTo(values) {
      const span = this.span();
      if (span) this.tried(() => send([{ do: "set-paragraphs", ...span, ...values }]));
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
    setPara(event) { const value = this.read(event, "pt"); if (value !== null) this.paragraphsTo({ para: { [event.target.dataset.para]: value } }); },
    setFamily(event) { this.typeTo({ family: event.target.value }); },
    setSize(event) { const value = this.read(event, "pt"); if (value !== null) this.typeTo({ size: value }); },
    setCut(event) { this.cut(event.currentTarget.dataset.cut); },
    cut(kind) {
      if (!this.text) return;
      this.typeTo(kind === "italic" ? { italic: !this.text.italic } : { weight: this.text.weight >= 600 ? 400 : 700 });
    },
    clear() { this.paragraphsTo({ clear: true }); },
    goTo(event) {
      const page = parseInt(event.target.value, 10);
      if (!page || page < 1 || page > state.count) { toast(`The job has pages 1 to ${state.count}.`, true); return; }
      show(page - 1);
    },
    async loadHistory() {
      const answer = await past();
      this.historyWord = "Refresh";
      this.rows = answer.rows.map((row) => ({ label: row.label, time: clock(new Date(row.at)), tone: row.undone ? "text-muted line-through" : "" }));
      if (!this.rows.length) toast("Nothing was changed yet.");
    },
  };
}

