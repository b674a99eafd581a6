// The slip's part about a code: what it says, typed in a form that knows its kind, and how it is made.
import { ask, input, labelled, select } from "../../notice.js";
import { element } from "../../dom.js";
import { sectionsIn } from "../fields.js";
import * as frames from "../frames.js";
import { activeLayer, send, state } from "../store.js";
import { frames as standing } from "../standing.js";
import { inCell } from "../cellchoice.js";
import { caret, quiet } from "../text.js";
import { part } from "./parts.js";

const MM = 72 / 25.4;
const MODULE = 0.33; // millimetres of the narrowest bar at full size
/** Form, its word, what is typed for it, and the size of a new frame for it in millimetres: bars at their full size.
    @type {[string, string, string, number, number][]} */
const FORMS = [
  ["qr", "QR code, for cameras", "", 25, 25], ["data matrix", "Data Matrix, small and square", "", 15, 15],
  ["ean 13", "EAN-13, for books and goods", "978-0-306-40615-7; the last figure may be left out", 113 * MODULE, 26], ["ean 8", "EAN-8, for small goods", "9638507", 81 * MODULE, 21],
  ["upc a", "UPC-A", "03600029145", 113 * MODULE, 26], ["itf 14", "ITF-14, for cartons", "1540014128876", 143, 40], ["code 128", "Code 128, for letters and figures", "SLACK-1234", 60, 18],
];
const MESSAGES = ["qr", "data matrix"];
const ADDONS = ["ean 13", "ean 8", "upc a"];

/** The form of a code: its kind, what it says by parts or as a number. `said()` is what to send of it.
    @returns {{rows: HTMLElement[], kind: () => string, said: () => {text?: string, addon?: string, message?: object}}} */
function form(code) {
  const kind = select(FORMS.map(([id, word]) => [id, word]), code?.form || "qr");
  const message = select(state.messages.map(({ kind: id, word }) => [id, word]), code?.message?.kind || "web");
  const body = element("div", { class: "mixture says" });
  const known = { ...code?.message?.parts };
  let fields = [];
  let number = null;
  let addon = null;
  const lay = () => {
    for (const [name, field] of fields) known[name] = field.value; // what is typed is kept under another kind, too
    fields = [];
    [number, addon] = [null, null];
    if (MESSAGES.includes(kind.value)) {
      fields = state.messages.find((one) => one.kind === message.value).parts.map(({ name, word, example, needed }) => [name, input(known[name] || "", example || (needed ? "" : "may be left open")), word]);
      body.replaceChildren(labelled("Of", message), ...fields.map(([, field, word]) => labelled(word, field)));
    } else {
      number = input(code && !MESSAGES.includes(code.form) ? code.text : "", FORMS.find(([id]) => id === kind.value)[2]);
      const rows = [labelled(kind.value === "code 128" ? "Says" : "Number", number)];
      if (ADDONS.includes(kind.value)) { addon = input(code?.addon || "", "two or five figures, or none"); rows.push(labelled("Add-on", addon)); }
      body.replaceChildren(...rows);
    }
  };
  kind.addEventListener("change", lay);
  message.addEventListener("change", lay);
  lay();
  return {
    rows: [labelled("Kind", kind), body],
    kind: () => kind.value,
    said: () => (number ? { text: number.value, ...(addon ? { addon: addon.value.trim() } : {}) } : { message: { kind: message.value, parts: Object.fromEntries(fields.map(([name, field]) => [name, field.value]).filter(([, value]) => value.trim())) } }),
  };
}

/** Ask what a code is to say; in the chosen shape, or in a new frame on the page in view. */
export async function makeCode() {
  const frame = frames.current();
  const one = form(null);
  await ask("Code", "Read by cameras and scanners, and sharp at any size. Its quiet zone lies within its frame.", "Make it", one.rows, async () => {
    const [shape, said] = [one.kind(), one.said()];
    const words = !MESSAGES.includes(shape);
    if (frame && frame.kind === "shape" && !frame.master) { await send([{ do: "set-code", page: frames.holderOf(frame), frame: frame.id, form: shape, words, ...said }]); return; }
    const cell = caret.focus ? standing().find((f) => f.cell && f.story === caret.story) : frame?.cell ? frame : null;
    if (cell) {
      const [, , , wide, high] = FORMS.find(([id]) => id === shape), { message = null, ...values } = said;
      await quiet();
      await send([inCell(cell, { width: wide * MM, height: high * MM }, { message, code: { kind: "code", form: shape, words, text: "-", ...values } })]);
      return;
    }
    const page = state.view[0];
    const { area } = state.pages[page].lines;
    const [, , , width, height] = FORMS.find(([id]) => id === shape);
    const more = { 2: 27, 5: 54 }[said.addon?.length] || 0; // modules of an add-on, which stands behind at the same size
    const rect = { x: area.x, y: area.y, width: (width + more * MODULE) * MM, height: height * MM };
    const { message = null, ...values } = said;
    const answer = await send([{ do: "add-code", page: state.pages[page].id, rect, message, code: { kind: "code", form: shape, words, text: "-", ...values }, layer: activeLayer().id }]);
    frames.select(standing().find((f) => answer.made.includes(f.id)) || null);
  });
}

/** Ask what the chosen code is to say from now on. */
async function sayOtherwise(code) {
  const f = frames.current();
  const one = form(code);
  await ask("Code", "What it says, and of which kind it is.", "Keep it", one.rows, () => send([{ do: "set-code", page: frames.holderOf(f), frame: f.id, form: one.kind(), ...one.said() }]));
}

function fill(slip, { one }) {
  const raw = slip.frame?.raw.code;
  if (raw) sectionsIn(one("[data-sections=code]"), (values) => slip.coded(values)).update(raw, { told: { make: raw.addon ? `add-on ${raw.addon}` : "" } });
}

part({
  fill,
  members: {
    get code() { return this.frame?.code || null; },
    get hasCode() { return Boolean(this.code); },
    get codeTold() { return this.code ? this.code.told : ""; },
    get codeSize() { return this.code ? this.code.size : ""; },
    coded(values) { const f = frames.current(); return send([{ do: "set-code", page: frames.holderOf(f), frame: f.id, ...values }]); },
    sayOtherwise() { this.tried(() => sayOtherwise({ ...this.code, addon: this.frame.raw.code.addon })); },
    makeCode() { this.tried(makeCode); },
  },
});
