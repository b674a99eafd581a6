// The slip's part about frames: where they stand, what they hold, their surface and their wrap.
import { parseLength } from "../numbers.js";
import * as frames from "../frames.js";
import { sectionsIn } from "../fields.js";
import { target } from "../specline.js";
import { across, down, originOf, originWords } from "../origin.js";
import { emit, perform, send, state } from "../store.js";
import { part } from "./parts.js";

const REFERENCE = "lexigon-reference";
/** The point of a box that its place is told of, and that stays where its size is typed, in parts of its width and height. */
const reference = () => (localStorage.getItem(REFERENCE) || "0 0").split(" ").map(Number);
const AT = { 0: "head", 0.5: "middle", 1: "foot" };
const ACROSS = { 0: "left", 0.5: "centre", 1: "right" };

const rows = (all) => all.map(({ id, name }) => [id, name]);

function fill(slip, { one, all, set, choose, check }) {
  const { frame } = slip;
  if (!frame) return;
  for (const name of ["x", "y", "width", "height"]) set(`[data-rect="${name}"]`, frame[name]);
  const [u, v] = reference();
  const held = frames.current();
  if (held && (u || originWords())) set('[data-rect="x"]', across(held.page, held.x + u * held.w));
  if (held && (v || originWords())) set('[data-rect="y"]', down(held.page, held.y + v * held.h));
  set("#fref", `${u} ${v}`);
  for (const name of ["columns", "insets", "gutter"]) set(`[data-frame="${name}"]`, frame[name]);
  set("#fcr", frame.rule);
  set("#fv", frame.vertical);
  set("#ffl", frame.first);
  set("#ffit", frame.fit);
  set("#ft", String(frame.turn));
  set("#frot", frame.rotation);
  set("#flean", frame.skew);
  set("#ftint", `${frame.tint} %`);
  set("#few", frame.edge_weight);
  const outline = one("#fol");
  if (outline) { if (frame.outline === "own" && outline.options.length < 7) outline.add(new Option("its own", "own")); outline.value = frame.outline; }
  set("#fw2", frame.wrap);
  set("#fwo", frame.wrap_offset);
  set("#fti", frame.stands);
  const swatches = [["", "none"], ...rows(state.swatches)];
  choose("#ffill", swatches, frame.fill);
  choose("#fedge", [...swatches, ...state.ruleStyles.map(({ id, name }) => [`rule:${id}`, `rule “${name}”`])], frame.edge);
  choose("#fstyle", [["", "no frame style"], ...rows(state.frameStyles)], frame.style);
  for (const [selector, on] of [["#fbal", frame.balanced], ["#fws", frame.wrap_outline], ["#fwi", frame.wrap_inverted], ["#fwc", frame.wrap_contour], ["#flock", frame.locked], ["#fprints", frame.prints], ["#fmirror", frame.mirrored]]) check(selector, on);
  for (const box of all("[data-hide]")) box.checked = frame.hide.includes(box.dataset.hide);
  for (const container of all("[data-sections=holds], [data-sections=edging], [data-sections=cornering], [data-sections=throwing], [data-sections=wrap]")) sectionsIn(container, (values) => slip.frameTo(values)).update(frame.raw.frame);
}

part({
  fill,
  members: {
    get inheritedFrame() { return Boolean(this.frame) && this.frame.inherited; },
    get canLead() { return this.holdsText && this.placed && !this.frame.on_master; },
    get canTurn() { return Boolean(this.frame) && !this.frame.main && this.frame.kind === "text"; },
    get onMaster() { return Boolean(this.frame) && this.frame.on_master && !this.frame.main; },
    get holdsText() { return this.notField && this.frame.kind === "text"; },
    get placed() { return Boolean(this.frame) && !this.frame.inlay; },
    get tied() { return Boolean(this.frame) && this.frame.inlay; },
    setTied(event) { const where = event.target.value; this.tried(() => send([{ do: "set-inlay-place", inlay: this.frame.id, where }])); },
    get placeFrom() {
      const [u, v] = reference();
      if (!this.placed) return { near: "with the words it is tied to", margin: "beside its line" }[this.frame.stands] || "in the line, on its baseline";
      const from = originWords() && `from ${originWords()}`;
      return [u || v ? `of its ${AT[v]} ${ACROSS[u]}` : from ? "" : "from the page’s top left", from].filter(Boolean).join(", ");
    },
    setReference(event) { localStorage.setItem(REFERENCE, event.target.value); emit("frame"); },
    get wrapping() { return this.notMain && this.placed; },
    get notMain() { return this.notField && !this.frame.main; },
    get manyColumns() { return this.holdsText && this.frame.columns > 1; },
    get fittable() { return this.holdsText && this.frame.single; },
    get overset() { return this.frame ? this.frame.overset : ""; },
    get canGrow() { return Boolean(this.overset) && this.isOwn && !this.frame.main; },
    get canCut() { return this.isLed && this.frame.number > 1; },
    get isBox() { return this.notMain && this.frame.outline === "box"; },
    get wraps() { return Boolean(this.frame) && this.frame.wrap !== "none"; },
    get wrapWords() { return this.wraps ? "text keeps clear" : ""; },
    get holds() { const f = frames.current(); return f && f.overset ? `+ ${f.overset} words do not fit` : ""; },
    get flow() {
      if (!this.frame) return "";
      if (this.frame.kind === "picture") return this.pictureWords || "a picture that is not here";
      if (this.frame.kind === "code") return "a code, its quiet zone within the frame";
      if (this.frame.kind === "rule") return "a rule";
      if (this.frame.kind !== "text") return "a shape, no text";
      const { before, after } = this.frame;
      return [before && `from ${before}`, after && `on to ${after}`].filter(Boolean).join(", ") || "the whole text stands here";
    },
    get notField() { return Boolean(this.frame) && !this.frame.field; },
    get isLed() { return Boolean(this.frame) && this.frame.led; },
    get isOwn() { return Boolean(this.frame) && !this.frame.inherited; },
    get removeWord() { return this.frame && this.frame.taken ? "Back to the master’s" : "Remove"; },
    // What a folded group says in its one line.
    get placeTold() { return this.frame ? `${this.frame.width} × ${this.frame.height}` : ""; },
    get holdsTold() {
      if (this.framing) return this.pictureTold;
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
    get gradient() { return (this.notMain && this.placed && state.swatches.find(({ id }) => id === this.frame.fill)?.gradient) || null; },
    get gradientTold() { return this.gradient && this.frame.raw.frame.way?.length ? "set by hand" : "by the frame’s box"; },
    layGradient() { emit("gradient", frames.current()); },
    get wrapTold() {
      if (!this.frame) return "";
      return { none: "text runs over it", both: "on both sides", largest: "on the wider side", left: "on its left", right: "on its right", jump: "jumps over it" }[this.frame.wrap];
    },
    frameTo(values) {
      const own = ["fit_sizes", "outline", "along", "along_from"]; // what no frame style says
      this.tried(() => frames.changeAll(Object.keys(values).some((name) => own.includes(name)) ? values : { spec: values }));
    },
    place(event) {
      const change = this.readChange(event, state.sheet.unit);
      const f = frames.current();
      if (!change || !f) return;
      const name = event.target.dataset.rect;
      const together = frames.chosen().every(({ inGroup }) => inGroup && inGroup === f.inGroup); // the fields tell of one member
      if (["width", "height"].includes(name) && frames.chosen().length > 1 && (change.times || !together)) { // each by the same rule
        this.tried(() => frames.sizeAll({ [name]: change, about: reference() }));
        return;
      }
      const [u, v] = reference();
      const from = { width: 0, height: 0, ...originOf(f.page) }[name];
      const value = from + change.times * ({ x: f.x + u * f.w, y: f.y + v * f.h, width: f.w, height: f.h }[name] - from) + change.plus;
      if (["x", "y"].includes(name) && frames.chosen().length > 1) { // all go as far as the first
        this.tried(() => frames.moveAll(name === "x" ? value - f.x - u * f.w : 0, name === "y" ? value - f.y - v * f.h : 0));
        return;
      }
      const rect = { x: f.x, y: f.y, width: f.w, height: f.h };
      if (name === "x") rect.x = value - u * f.w;
      else if (name === "y") rect.y = value - v * f.h;
      else rect[name] = value;
      if (name === "width") rect.x -= u * (value - f.w);
      if (name === "height") rect.y -= v * (value - f.h);
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
      const was = this.frame.raw.frame.stroke;
      this.spec_({ stroke: swatch ? { ...was, weight, swatch: swatch.startsWith("rule:") ? "black" : swatch, tint: was.tint ?? 1, dash: was.dash ?? [], style: null } : { weight: 0 } });
    },
    /** Outlines are asked for in the spec line's words, which know how each is drawn. */
    async setOutline(event) {
      const word = { box: "box outline", ellipse: "ellipse", star: "star 5" }[event.target.value] || `polygon ${event.target.value}`;
      if (event.target.value === "own") return;
      await this.tried(async () => { await perform("spec", { frames: target().frames, line: word, do: true }); });
    },
    setRotation(event) {
      const degrees = Number(event.target.value.replace(",", ".").replace("°", ""));
      if (!Number.isFinite(degrees)) { this.problem = "Type degrees, such as 15 or -7.5."; event.target.value = event.target.dataset.was; return; }
      this.tried(() => frames.changeAll({ rotation: ((degrees % 360) + 360) % 360 }));
    },
    setLean(event) {
      const skew = Number(event.target.value.replace(",", ".").replace("°", ""));
      if (!Number.isFinite(skew)) { this.problem = "Type degrees, such as 12 or -7.5."; event.target.value = event.target.dataset.was; return; }
      this.tried(() => frames.changeAll({ skew }));
    },
    setMirrored(event) { this.tried(() => frames.changeAll({ mirrored: event.target.checked })); },
    setWrap() {
      const by = (id) => this.$root.querySelector(id);
      let offsets = this.frame.raw.frame.wrap.offsets;
      try { if (by("#fwo").value !== by("#fwo").dataset.was) offsets = Array(4).fill(parseLength(by("#fwo").value || "0", state.sheet.unit)); } catch (error) { this.problem = error.message; return; }
      const inverted = by("#fwi").checked;
      this.spec_({ wrap: { sides: by("#fw2").value, offsets, outline: by("#fws").checked || inverted, inverted, contour: by("#fwc").checked && Boolean(this.framing) } });
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
    remove() { this.tried(frames.remove); },
    setLocked(event) { this.tried(() => frames.changeAll({ locked: event.target.checked })); },
    setPrints(event) { this.tried(() => frames.changeAll({ prints: event.target.checked })); },
  },
});
