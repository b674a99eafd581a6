// The slip: what is selected, in groups, each number a field that takes units and sums.
import { parseLength } from "./numbers.js";
import { caret, active, quiet, selected as selected_ } from "./text.js";
import * as frames from "./frames.js";
import { ask, input, labelled, select } from "../notice.js";
import { putIn } from "./text.js";
import { context, editMaster, emit, leaveMaster, on, past, perform, propose, send, show, state, toast } from "./store.js";
import { clock, upload } from "../http.js";
import { sectionsIn } from "./fields.js";
import { gridFrom, setGridFrom } from "./sheet.js";
import { target } from "./specline.js";
import { clear as clearTouched, pointOut } from "./touched.js";

let request = 0;

const pagesShown = () => (state.view[0] < 0 ? "" : `Page${state.view.length > 1 ? "s" : ""} ${state.view.map((index) => state.pages[index]?.label).join("–")}`);

export function slip() {
  return {
    several: 0, shown: null, frame: null, text: null, page: null, master: null, problem: "", pagesWord: pagesShown(), masterOf: "", count: state.count, rows: [], versions: [], historyWord: "Show",
    get idle() { return !this.frame && !this.text; },
    get idlePage() { return this.idle && Boolean(this.page); },
    get idleMaster() { return this.idle && Boolean(this.master); },
    get title() {
      if (this.text && !this.frame) return "Text";
      if (this.frame) return this.frame.name;
      return this.master ? this.master.name : this.pagesWord;
    },
    get subtitle() {
      if (this.frame && this.frame.field) return "made by the master page";
      if (this.several > 1) return `and ${this.several - 1} other${this.several > 2 ? "s" : ""}: what is set here is set on all`;
      if (this.frame) return [this.frame.story && `text “${this.frame.story}”`, this.frame.of > 1 && `frame ${this.frame.number} of ${this.frame.of}`, this.frame.inherited ? "from the master page" : this.frame.taken ? "taken over from the master" : ""].filter(Boolean).join(", ");
      if (this.master) return this.master.using ? `master page, used by ${this.master.using}` : "master page, not used yet";
      return [`of ${this.count}`, this.page?.section && `section “${this.page.section}”`, this.page?.panels].filter(Boolean).join(", ");
    },
    get inheritedFrame() { return Boolean(this.frame) && this.frame.inherited; },
    get canLead() { return this.holdsText && !this.frame.on_master; },
    get canTurn() { return Boolean(this.frame) && !this.frame.main && this.frame.kind === "text"; },
    get masterOwn() { return Boolean(this.master) && this.master.own; },
    get onMaster() { return Boolean(this.frame) && this.frame.on_master && !this.frame.main; },
    get typing() { return Boolean(this.text) && active(); },

    get pageCount() { return `${state.labels[0]} to ${state.labels[state.labels.length - 1]}`; },
    get specced() { return Boolean(this.text || (this.frame && !this.frame.field)); },
    get spec() { return this.shown ? this.shown.line : [this.text?.spec, this.frame?.spec].filter(Boolean).join("; "); },
    get various() { return this.shown?.various.length ? `Various: ${this.shown.various.join("; ")}` : ""; },
    get holdsText() { return this.notField && this.frame.kind === "text"; },
    get notMain() { return this.notField && !this.frame.main; },
    get manyColumns() { return this.holdsText && this.frame.columns > 1; },
    get fittable() { return this.holdsText && this.frame.single; },
    get overset() { return this.frame ? this.frame.overset : ""; },
    get canGrow() { return Boolean(this.overset) && this.isOwn && !this.frame.main; },
    get canCut() { return this.isLed && this.frame.number > 1; },
    get wraps() { return Boolean(this.frame) && this.frame.wrap !== "none"; },
    get wrapWords() { return this.wraps ? "text keeps clear" : ""; },
    get localWords() { return this.text ? this.text.local_words : ""; },
    get fallbacks() { return this.text ? this.text.fallbacks : ""; },
    get wordsLocal() { return this.typing && this.text.words_local; },
    get redefineWord() { return this.text && this.text.character_style ? "Make the style so" : "Make it a style"; },
    get merit() { return this.text ? this.text.merit : ""; },
    get holds() { const f = frames.current(); return f && f.overset ? `+ ${f.overset} words do not fit` : ""; },
    get flow() {
      if (!this.frame) return "";
      if (this.frame.kind !== "text") return "a shape, no text";
      const { before, after } = this.frame;
      return [before && `from ${before}`, after && `on to ${after}`].filter(Boolean).join(", ") || "the whole text stands here";
    },
    get notField() { return Boolean(this.frame) && !this.frame.field; },
    get isLed() { return Boolean(this.frame) && this.frame.led; },
    get isOwn() { return Boolean(this.frame) && !this.frame.inherited; },
    get removeWord() { return this.frame && this.frame.taken ? "Back to the master’s" : "Remove"; },
    get paragraphs() { return this.text && this.text.count > 1 ? `${this.text.count} paragraphs` : ""; },
    get local() { return Boolean(this.text) && this.text.local; },
    // What a folded group says in its one line.
    get placeTold() { return this.frame ? `${this.frame.width} × ${this.frame.height}` : ""; },
    get holdsTold() {
      if (!this.holdsText) return "";
      const { columns, vertical } = this.frame;
      return [columns > 1 ? `${columns} columns` : "one column", { centre: "in the middle", bottom: "at the foot", justified: "spread" }[vertical], this.overset].filter(Boolean).join(", ");
    },
    get surfaceTold() {
      if (!this.frame) return "";
      const { fill, edge, tint, edge_weight } = this.frame;
      const name = (id) => state.swatches.find((swatch) => swatch.id === id)?.name || "";
      const line = edge.startsWith("rule:") ? "edge in a rule style" : edge && `edge ${edge_weight}`;
      return [fill && `${name(fill)}${tint < 100 ? ` ${tint} %` : ""}`, line].filter(Boolean).join(", ") || "no fill, no edge";
    },
    get wrapTold() {
      if (!this.frame) return "";
      return { none: "text runs over it", both: "on both sides", largest: "on the wider side", left: "on its left", right: "on its right", jump: "jumps over it" }[this.frame.wrap];
    },
    get paragraphTold() { return this.text ? `${this.text.style_name}, ${{ left: "set left", right: "set right", centre: "centred" }[this.text.align] || this.text.align}` : ""; },
    get typeTold() { return this.text ? `${this.text.size.replace(" pt", "")}/${this.text.leading.replace(" pt", "")} ${this.text.family}` : ""; },
    get scope() { return this.text && this.text.selected ? "selected words" : "whole paragraph"; },

    init() {
      this.layVersions(state.versions);
      for (const name of ["frame", "text", "pages", "lists", "master"]) on(name, () => this.refresh());
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
      const query = { page: selected?.page ?? state.view[0], frame: selected?.id || "" };
      if (active()) Object.assign(query, { story: caret.story, p: caret.anchor.p, offset: caret.anchor.o, p2: caret.focus.p, offset2: caret.focus.o });
      else if (selected?.story && !selected.field) {
        const [text] = frames.standing([selected]);
        if (text) Object.assign(query, { story: text.story, p: text.first, offset: selected.lines[0]?.s ?? 0 });
      }
      try {
        const answer = await context(query);
        const meant = target();
        const many = meant.frames.length > 1 || meant.texts?.length > 1 || meant.texts?.some(({ start, end }) => start.paragraph !== end.paragraph) || (active() && selected_());
        const shown = many && !selected?.field ? await propose("spec", { ...meant, line: "", show: true }) : null;
        if (number !== request || !this.$root) return;
        this.shown = shown;
        this.several = active() ? 1 : frames.chosen().filter((f) => !f.field).length;
        this.frame = answer.frame || null;
        this.text = answer.text || null;
        this.page = answer.page || null;
        this.count = state.count;
        this.pagesWord = pagesShown();
        this.masterOf = this.page ? `of page ${this.page.label}${state.view.length > 1 ? ", on the left" : ""}` : "";
        this.master = answer.master || null;
        this.problem = "";
        emit("spec", this.spec);
        this.$nextTick(() => this.fill());
      } catch (error) { if (number === request) this.problem = error.message; }
    },
    fill() {
      if (!this.$root) return; // the window is being left
      const set = (selector, value) => { const field = this.$root.querySelector(selector); if (field && field !== document.activeElement) { field.value = value; field.dataset.was = value; } };
      this.sections();
      if (this.frame) {
        for (const name of ["x", "y", "width", "height"]) set(`[data-rect="${name}"]`, this.frame[name]);
        for (const name of ["columns", "insets", "gutter"]) set(`[data-frame="${name}"]`, this.frame[name]);
        set("#fcr", this.frame.rule);
        set("#fv", this.frame.vertical);
        set("#ffl", this.frame.first);
        set("#ffit", this.frame.fit);
        set("#frot", this.frame.rotation);
        set("#ftint", `${this.frame.tint} %`);
        set("#few", this.frame.edge_weight);
        const outline = this.$root.querySelector("#fol");
        if (outline) { if (this.frame.outline === "own" && outline.options.length < 6) outline.add(new Option("its own", "own")); outline.value = this.frame.outline; }
        set("#fw2", this.frame.wrap);
        set("#fwo", this.frame.wrap_offset);
        const swatches = [["", "none"], ...state.swatches.map(({ id, name }) => [id, name])];
        const choose = (selector, options, value) => { const field = this.$root.querySelector(selector); if (field && field !== document.activeElement) { field.replaceChildren(...options.map(([id, word]) => new Option(word, id))); field.value = value; } };
        choose("#ffill", swatches, this.frame.fill);
        choose("#fedge", [...swatches, ...state.ruleStyles.map(({ id, name }) => [`rule:${id}`, `rule “${name}”`])], this.frame.edge);
        choose("#fstyle", [["", "no frame style"], ...state.frameStyles.map(({ id, name }) => [id, name])], this.frame.style);
        for (const [selector, on] of [["#fbal", this.frame.balanced], ["#fws", this.frame.wrap_outline], ["#fwi", this.frame.wrap_inverted]]) { const box = this.$root.querySelector(selector); if (box) box.checked = on; }
      }
      const masters = [["", "none"], ...state.masters.map(({ id, name }) => [id, name])];
      const fillSelect = (selector, options, value) => { const field = this.$root.querySelector(selector); if (field) { field.replaceChildren(...options.map(([id, word]) => new Option(word, id))); field.value = value; } };
      if (this.page) {
        fillSelect("#pm", masters, this.page.master);
        set("#gridfrom", String(gridFrom() ?? ""));
        if (this.hasOverlay) set("#ofade", String(Math.round((this.overlays[0].opacity ?? 0.5) * 100)));
      }
      if (this.frame) {
        set("#ft", String(this.frame.turn));
        for (const box of this.$root.querySelectorAll("[data-hide]")) box.checked = this.frame.hide.includes(box.dataset.hide);
      }
      if (this.master) {
        fillSelect("#mb", masters.filter(([id]) => id !== this.master.id), this.master.based);
        set("#mn", this.master.name);
        for (const side of ["head", "foot", "inner", "outer"]) set(`[data-margin="${side}"]`, this.master.margins[side]);
        set("#mc", this.master.columns);
        set("#mg", this.master.gutter);
        set("#mguides", this.master.guides);
        const turned = this.$root.querySelector("#mt");
        if (turned) turned.checked = this.master.turned;
      }
      if (this.text) {
        const styles = this.$root.querySelector("#ps");
        if (styles && styles !== document.activeElement) styles.replaceChildren(new Option("several", ""), ...state.styles.map((style) => new Option(style.name, style.id)));
        const options = (selector, rows, value) => { const field = this.$root.querySelector(selector); if (field && field !== document.activeElement) { field.replaceChildren(...rows.map(([id, word]) => new Option(word, id))); field.value = value; } };
        options("#tcs", [["", "none"], ...state.characterStyles.map(({ id, name }) => [id, name])], this.text.character_style);
        options("#tcol", state.swatches.map(({ id, name }) => [id, name]), this.text.swatch);
        set("#ttr", this.text.tracking);
        set("#tca", this.text.caps);
        set("#tfi", this.text.figures);
        set("#pb", this.text.before);
        set("#pa", this.text.after);
        const drop = this.$root.querySelector("#pd");
        if (drop) drop.value = String(this.text.drop);
        const list = this.$root.querySelector("#pn");
        if (list) { if (![...list.options].some(({ value }) => value === this.text.list)) list.add(new Option(this.text.list, this.text.list)); list.value = this.text.list; }
        for (const box of this.$root.querySelectorAll("[data-flag]")) box.checked = this.text.flags[box.dataset.flag];
        const families = this.$root.querySelector("#tf");
        if (families && families !== document.activeElement) {
          const missing = state.families.includes(this.text.family) ? [] : [[this.text.family, `${this.text.family} (not here)`]];
          options("#tf", [...state.families.map((family) => [family, family]), ...missing], this.text.family);
        }
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
    /** The full groups, each in its place within the short ones. */
    sections() {
      for (const container of this.$root.querySelectorAll("[data-sections]")) {
        const of = container.dataset.sections;
        if (this.text && ["para", "type"].includes(of)) {
          const put = (values) => (of === "para" ? this.paragraphsTo({ para: values }) : this.typeTo(values));
          // What is set as the style has it is no local setting any more.
          const back = (names) => put(Object.fromEntries(names.map((name) => [name, this.text.below[of][name]])));
          sectionsIn(container, put, back).update(this.text.raw[of], { told: this.text.sections, own: this.text.own[of], offered: this.text.features });
        }
        else if (this.frame && ["holds", "edging", "wrap"].includes(of)) sectionsIn(container, (values) => this.frameTo(values)).update(this.frame.raw.frame);
      }
    },
    frameTo(values) {
      const { fit_sizes, ...spec } = values;
      this.tried(() => frames.changeAll(fit_sizes ? { fit_sizes } : { spec }));
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
    spec_(values) { this.tried(() => frames.changeAll({ spec: values })); },
    setStroke(event) {
      const weight = this.read(event, "pt");
      const name = event.target.dataset.stroke;
      if (weight !== null) this.spec_({ [name]: { ...this.frame.raw.frame[name], weight } });
    },
    setVertical(event) { this.spec_({ vertical: event.target.value }); },
    setFirst(event) { this.spec_({ first: event.target.value, ...(event.target.value === "fixed" ? { first_at: 14.4 } : {}) }); },
    setBalanced(event) { this.spec_({ balanced: event.target.checked }); },
    setFrameStyle(event) { this.tried(() => frames.changeAll({ style: event.target.value })); },
    setFill() {
      const tint = parseFloat(this.$root.querySelector("#ftint").value);
      this.spec_({ fill: { swatch: this.$root.querySelector("#ffill").value, tint: Number.isFinite(tint) ? Math.min(Math.max(tint / 100, 0), 1) : 1 } });
    },
    setEdge(event) {
      const swatch = this.$root.querySelector("#fedge").value;
      if (swatch.startsWith("rule:") && event.target.id === "fedge") { this.spec_({ stroke: { style: swatch.slice(5) } }); return; }
      let weight = 0;
      try { weight = parseLength(this.$root.querySelector("#few").value, "pt"); } catch (error) { this.problem = error.message; return; }
      if (event.target.id === "fedge" && swatch && !weight) weight = 1;
      const { tint, dash } = this.frame.raw.frame.stroke;
      this.spec_({ stroke: swatch ? { weight, swatch: swatch.startsWith("rule:") ? "black" : swatch, tint: tint ?? 1, dash: dash ?? [] } : { weight: 0 } });
    },
    /** Outlines are asked for in the spec line's words, which know how each is drawn. */
    async setOutline(event) {
      const word = { box: "box outline", ellipse: "ellipse" }[event.target.value] || `polygon ${event.target.value}`;
      if (event.target.value === "own") return;
      await this.tried(async () => { await perform("spec", { frames: target().frames, line: word, do: true }); });
    },
    setRotation(event) {
      const degrees = Number(event.target.value.replace(",", ".").replace("°", ""));
      if (!Number.isFinite(degrees)) { this.problem = "Type degrees, such as 15 or -7.5."; event.target.value = event.target.dataset.was; return; }
      this.tried(() => frames.changeAll({ rotation: ((degrees % 360) + 360) % 360 }));
    },
    setWrap() {
      const by = (id) => this.$root.querySelector(id);
      let offsets = this.frame.raw.frame.wrap.offsets;
      try { if (by("#fwo").value !== by("#fwo").dataset.was) offsets = Array(4).fill(parseLength(by("#fwo").value || "0", state.sheet.unit)); } catch (error) { this.problem = error.message; return; }
      const inverted = by("#fwi").checked;
      this.spec_({ wrap: { sides: by("#fw2").value, offsets, outline: by("#fws").checked || inverted, inverted } });
    },
    setFit(event) { this.tried(() => frames.changeAll({ fit: event.target.value })); },
    async proposed(what) {
      const f = frames.current();
      if (!f) return;
      await this.tried(() => perform("fit", { what, page: f.page, frame: f.id, story: f.story || null }));
    },
    fitOnce(event) { this.proposed(event.currentTarget.dataset.fit); },
    makeFrames() { this.proposed("frames"); },
    cutHere() { this.proposed("cut"); },
    async outlines() { await this.proposed("outlines"); },
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
    setFrame(event) {
      const name = event.target.dataset.frame;
      const value = name === "columns" ? parseInt(event.target.value, 10) || 1 : this.read(event, state.sheet.unit);
      if (value !== null) this.tried(() => frames.changeAll({ [name]: value }));
    },
    leadOn() { const f = frames.current(); if (f) frames.leadOn(f); },
    unlink() { this.tried(frames.unlink); },
    takeOver() { this.tried(frames.takeOver); },
    setTurn(event) { this.tried(() => frames.changeAll({ turn: Number(event.target.value) })); },
    setHide() {
      const f = frames.current();
      const hidden = [...this.$root.querySelectorAll("[data-hide]")].filter((box) => box.checked).map((box) => box.dataset.hide);
      if (f) this.tried(() => frames.change(f, { hide_on: hidden }));
    },

    setGridFrom(event) { setGridFrom(event.target.value === "" ? null : Number(event.target.value)); },

    // Pages and master pages
    setMaster(event) { this.tried(() => send([{ do: "apply-master", master: event.target.value || null, pages: [this.page.id] }])); },
    editMaster() { const id = this.$root.querySelector("#pm").value; if (id) editMaster(id); else toast("This page uses no master page."); },
    leaveMaster() { leaveMaster(); },
    changeMaster(values) { this.tried(() => send([{ do: "change-master", master: this.master.id, ...values }])); },
    renameMaster(event) { this.changeMaster({ name: event.target.value }); },
    baseMaster(event) { this.changeMaster({ rebase: true, based_on: event.target.value || null }); },
    turnMaster(event) { this.changeMaster({ turned: event.target.checked }); },
    followBrief() { this.changeMaster({ own: false }); },
    setMargin() {
      const margins = {};
      for (const field of this.$root.querySelectorAll("[data-margin]")) {
        try { margins[field.dataset.margin] = parseLength(field.value, state.sheet.unit); } catch (error) { this.problem = error.message; field.value = field.dataset.was; return; }
      }
      this.changeMaster({ margins });
    },
    setMasterColumns(event) { const columns = parseInt(event.target.value, 10); if (columns) this.changeMaster({ columns }); },
    setMasterGutter(event) { const gutter = this.read(event, state.sheet.unit); if (gutter !== null) this.changeMaster({ gutter }); },
    /** Guides as they are typed: "x 20mm, y 3in" */
    setGuides(event) {
      try {
        const guides = event.target.value.split(",").map((part) => part.trim()).filter(Boolean).map((part) => {
          const [, axis, at] = /^([xy])\s*(.+)$/i.exec(part) || [];
          if (!axis) throw new Error(`“${part}” is not a guide such as x 20mm or y 3in.`);
          return { axis: axis.toLowerCase(), at: parseLength(at, state.sheet.unit) };
        });
        this.changeMaster({ guides });
      } catch (error) { this.problem = error.message; event.target.value = event.target.dataset.was || ""; }
    },
    async mainFrame() {
      const index = state.view[state.view.length - 1];
      const { area } = state.pages[index].lines;
      const rect = { x: area.x, y: area.y, width: area.w, height: area.h };
      this.tried(() => send([{ do: "add-text-frame", page: state.pages[index].id, rect, main: true, name: "Main text" }]));
    },

    // The printer's template, laid over the page
    get overlays() { return this.page ? this.page.overlays || [] : []; },
    get overlayWords() { return this.overlays.length ? this.overlays.map(({ name }) => name).join(", ") : "none"; },
    get hasOverlay() { return this.overlays.length > 0; },
    chooseOverlay() { this.$root.querySelector("#overlay").click(); },
    addOverlay(event) {
      const [file] = event.target.files;
      if (!file) return;
      const data = new FormData();
      data.append("file", file);
      data.append("page", this.page.id);
      event.target.value = "";
      this.tried(async () => { await upload(`/job/${state.key}/overlay/`, data); await show(state.view[0]); toast("The template lies over the page. T hides it; it never prints."); });
    },
    fadeOverlay(event) { for (const overlay of this.overlays) this.tried(() => send([{ do: "put-overlay", overlay: { ...overlay, opacity: Number(event.target.value) / 100 } }])); },
    dropOverlay() { this.tried(() => send(this.overlays.map(({ id }) => ({ do: "remove-overlay", id })))); },

    // Standing copy and other things that are kept elsewhere
    async putSomething() {
      const today = new Date();
      const kinds = [["page", "page number"], ["pages", "number of pages"], ["pages/section", "pages of the section"], ["section", "name of the section"], ["job", "name of the job"], ["heading//last", "running head: last chapter on the page"], ["heading//first", "running head: first chapter on the page"],
        ...state.styles.filter(({ outline }) => outline).map(({ id, name }) => [`heading/${id}/last`, `running head: last “${name}”`]),
        ...state.dates.map(([form, example]) => [`date//${form}`, `today’s date: ${example}`]), ["fact/size/", "finished size"], ["fact/words/", "number of words"], ["fact/paper/", "paper"],
        ...state.copies.map(({ id, name, uses }) => [`copy/${id}/`, `standing copy: ${name} (${uses} use${uses === 1 ? "" : "s"})`]), ["new", "new standing copy …"]];
      const which = select(kinds, state.copies.length ? `copy/${state.copies[0].id}/` : "page");
      const name = input("", "Company name");
      const words = input("", `the words, for example ${today.getFullYear()}`);
      const rows = [labelled("What", which), labelled("Name", name), labelled("Words", words)];
      const show = () => { for (const row of rows.slice(1)) row.hidden = which.value !== "new"; };
      which.addEventListener("change", show);
      show();
      let made = null;
      const agreed = await ask("Put in", "It is kept in one place and shown here; a change shows everywhere.", "Put it in", rows, async () => {
        if (which.value !== "new") return;
        const before = new Set(state.copies.map(({ id }) => id));
        await send([{ do: "put-copy", name: name.value, text: words.value }]);
        made = state.copies.find(({ id }) => !before.has(id));
      });
      if (!agreed) return;
      this.tried(async () => {
        if (made) { await putIn({ kind: "copy", ref: made.id }); return; }
        const [kind, ref = "", form = ""] = which.value.split("/");
        await putIn(kind === "pages" ? { kind, form: ref } : { kind, ref, form });
      });
    },
    async manageCopies() {
      const options = [...state.copies.map(({ id, name, uses }) => [id, `${name}, ${uses} use${uses === 1 ? "" : "s"}`]), ["", "a new one"]];
      const which = select(options, options[0][0]);
      const name = input();
      const words = input();
      const what = select([["keep", "Keep the words typed here"], ["keep words", "Delete it, its uses become plain text"], ["leave out", "Delete it and take it out everywhere"]], "keep");
      const fill = () => { const copy = state.copies.find(({ id }) => id === which.value); name.value = copy?.name || ""; words.value = copy?.text || ""; };
      which.addEventListener("change", fill);
      fill();
      await ask("Standing copy", "Named words used in many places and kept in one.", "Do it", [labelled("Which", which), labelled("Name", name), labelled("Words", words), labelled("What", what)], async () => {
        if (what.value === "keep") await send([{ do: "put-copy", id: which.value || null, name: name.value, text: words.value }]);
        else if (which.value) await send([{ do: "remove-copy", id: which.value, then: what.value }]);
      });
      this.refresh();
    },
    remove() { this.tried(frames.remove); },

    /** The paragraphs meant: those the selection runs over, else those that stand in each selected frame. */
    spans() {
      if (active()) return [{ story: caret.story, first: caret.anchor.p, last: caret.focus.p }];
      return frames.standing(frames.chosen());
    },
    span() { return this.spans()[0] || null; },
    paragraphsTo(values) {
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
    goTo(event) {
      const wanted = event.target.value.trim();
      const index = state.labels.indexOf(wanted);
      if (index < 0) { toast(`There is no page “${wanted}”; the job has pages ${this.pageCount}.`, true); return; }
      show(index);
    },
    async loadHistory() {
      const answer = await past();
      this.historyWord = "Refresh";
      this.layHistory(answer);
      if (!this.rows.length) toast("Nothing was changed yet.");
    },
    layHistory(answer) {
      this.rows = answer.rows.map((row) => ({ ...row, time: clock(new Date(row.at)), tone: row.undone ? "text-muted line-through" : "", title: `${row.label}${row.where ? `, ${row.where}` : ""}: go back to how it was then` }));
      this.layVersions(answer.versions);
    },
    layVersions(versions) {
      this.versions = versions.map((version) => ({ ...version, time: clock(new Date(version.at)) }));
    },
    /** What a line of the history changed is shown while it is pointed at, after a moment: not on the way to another. */
    pointAt(event) {
      const { revision } = event.currentTarget.dataset;
      clearTimeout(this.pointing);
      this.pointing = setTimeout(() => pointOut(Number(revision)), 120);
    },
    pointAway() { clearTimeout(this.pointing); clearTouched(); },
    async goBack(event) {
      const revision = Number(event.currentTarget.dataset.revision);
      if (revision === state.revision) { toast("The job is as it was then."); return; }
      await this.tried(() => perform("go-back", { revision }));
      toast("Gone back. Undo takes you forward again.");
      await this.loadHistory();
    },
    async keepVersion() {
      const name = input("", "Before the editor’s corrections");
      await ask("Keep a version", "The job as it is now, under a name to go back to.", "Keep it", [labelled("Name", name)], async () => {
        this.layHistory(await propose("versions", { name: name.value }));
        this.historyWord = "Refresh";
        toast(`Kept as “${name.value.trim()}”.`);
      });
    },
    async dropVersion(event) { await this.tried(async () => this.layHistory(await propose(`versions/${event.currentTarget.dataset.id}/drop`, {}))); },
  };
}

