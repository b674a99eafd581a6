// The slip's part about a code: what it says, and how it is made.
import { ask, input, labelled, select } from "../../notice.js";
import * as frames from "../frames.js";
import { activeLayer, send, state } from "../store.js";
import { frames as standing } from "../standing.js";
import { part } from "./parts.js";

const FORMS = [["qr", "QR code"], ["code 128", "Code 128 bars"]];
const SQUARE = 25 * (72 / 25.4);

/** Ask what a code is to say; in the chosen shape, or in a new frame on the page in view. */
export async function makeCode() {
  const frame = frames.current();
  const form = select(FORMS, "qr");
  const words = input("", "https://… or any words");
  await ask("Code", "Read by cameras and scanners. It stays sharp at any size.", "Make it", [labelled("Kind", form), labelled("Says", words)], async () => {
    if (frame && frame.kind === "shape" && !frame.master) { await send([{ do: "set-code", page: frames.holderOf(frame), frame: frame.id, form: form.value, text: words.value }]); return; }
    const page = state.view[0];
    const { area } = state.pages[page].lines;
    const rect = { x: area.x, y: area.y, width: form.value === "qr" ? SQUARE : 2 * SQUARE, height: form.value === "qr" ? SQUARE : SQUARE / 2 };
    const answer = await send([{ do: "add-code", page: state.pages[page].id, rect, code: { kind: "code", form: form.value, text: words.value }, layer: activeLayer().id }]);
    frames.select(standing().find((f) => answer.made.includes(f.id)) || null);
  });
}

function fill(slip, { set, choose }) {
  const { code } = slip;
  if (!code) return;
  choose("#cform", FORMS, code.form || "qr");
  set("#ctext", code.text);
  set("#clevel", code.level || "M");
  choose("#cink", state.swatches.map(({ id, name }) => [id, name]), code.ink?.swatch || "black");
}

part({
  fill,
  members: {
    get code() { return this.frame?.code || null; },
    get hasCode() { return Boolean(this.code); },
    get isQr() { return Boolean(this.code) && (this.code.form || "qr") === "qr"; },
    coded(values) { const f = frames.current(); this.tried(() => send([{ do: "set-code", page: frames.holderOf(f), frame: f.id, ...values }])); },
    setCodeForm(event) { this.coded({ form: event.target.value }); },
    setCodeText(event) { this.coded({ text: event.target.value }); },
    setCodeLevel(event) { this.coded({ level: event.target.value }); },
    setCodeInk(event) { this.coded({ ink: { ...this.code.ink, swatch: event.target.value } }); },
    makeCode() { this.tried(makeCode); },
  },
});
