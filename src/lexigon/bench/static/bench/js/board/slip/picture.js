// The slip's part about a picture and how it stands in its frame.
import * as frames from "../frames.js";
import { bringIn } from "../placing.js";
import { sectionsIn } from "../fields.js";
import { frameIt } from "../tools/framing.js";
import { trace } from "../tracing.js";
import { send, state } from "../store.js";
import { part } from "./parts.js";

let linked = true; // width and height keep in step until somebody says otherwise

function fill(slip, { one, set, check }) {
  const picture = slip.framing;
  if (!picture) return;
  set("#ipfit", picture.fit);
  set("#ipw", `${picture.across} %`);
  set("#iph", `${picture.down} %`);
  set("#iprot", picture.rotation);
  const kept = picture.focus.join(" ");
  const focus = one("#ipfocus");
  for (const option of focus.querySelectorAll("[data-own]")) option.remove();
  const matters = picture.matters?.join(" ");
  for (const [value, word] of [[matters, "what matters in it"], [kept, "a point of its own"]]) {
    if (!value || [...focus.options].some((option) => option.value === value)) continue;
    const own = new Option(word, value);
    own.dataset.own = "1";
    focus.add(own);
  }
  set("#ipfocus", kept);
  check("#ipmirror", picture.mirrored);
  check("#iplink", linked && !picture.distorted);
  const cut = picture.adjust.cut;
  const raw = { adjust: { ...picture.adjust, cut: cut ? { ...cut, kind: cut.colour.toUpperCase() === "#FFFFFF" ? "white" : "colour" } : NO_CUT } };
  sectionsIn(one("[data-sections=adjust]"), (values) => adjust(values.adjust)).update(raw, { told: toldOf(raw.adjust) });
}

const NO_CUT = { kind: "", colour: "#FFFFFF", tolerance: 0.1, outside: true };
const signed = (word, value) => value && `${word} ${value > 0 ? "+" : "−"}${Math.abs(Math.round(value * 100))} %`;
const nameOf = (id) => state.swatches.find((swatch) => swatch.id === id)?.name || "black";

/** What folded sections say in their one line. */
function toldOf({ brightness, contrast, saturation, sharpen, black, white, gamma, inverted, inks, ink, second, cut }) {
  return {
    tones: [inverted && "inverted", signed("light", brightness), signed("contrast", contrast), signed("saturation", saturation), sharpen && "sharpened", (black || white < 1 || gamma !== 1) && "levels"].filter(Boolean).join(", "),
    inks: { all: "", grey: "grey", one: nameOf(ink.swatch), two: `${nameOf(ink.swatch)}, ${nameOf(second.swatch)}` }[inks],
    cut: { "": "", white: "white", colour: cut.colour }[cut.kind],
  };
}

/** The pictures that are chosen of one page, shown otherwise: all values are sent, so that several come to look alike. */
function adjust({ cut, ...values }) {
  const f = frames.current();
  const all = frames.chosen().filter((one) => one.kind === "picture" && !one.master && one.page === f.page);
  const colour = cut.kind === "white" ? "#FFFFFF" : cut.kind === "colour" && cut.colour === "#FFFFFF" ? "#E9EEEC" : cut.colour;
  const { tolerance, outside } = cut;
  return send([{ do: "adjust-pictures", page: frames.holderOf(f), frames: (all.length ? all : [f]).map(({ id }) => id), ...values, ...(cut.kind ? { cut: { colour, tolerance, outside } } : { whole: true }) }]);
}

part({
  fill,
  members: {
    get framing() { return this.frame?.framing || null; },
    get hasPicture() { return Boolean(this.framing); },
    get takesPicture() { return this.notField && this.frame.kind === "shape"; },
    get isDistorted() { return Boolean(this.framing?.distorted); },
    setPictureLink(event) {
      linked = event.target.checked;
      if (linked && this.framing.distorted) this.evenPicture();
    },
    get pictureTold() { return !this.framing ? "" : this.framing.vector ? "a drawing" : `${this.framing.ppi} ppi`; },
    get pictureWords() { return this.framing ? `“${this.framing.name}”, ${this.framing.told}${this.framing.vector ? "" : `; ${this.framing.ppi} pixels an inch as it stands`}` : ""; },
    get pictureCaution() {
      if (!this.framing) return "";
      const { ppi, distorted, vector } = this.framing;
      return [!vector && ppi < 200 && `${ppi} pixels an inch look soft in print.`, distorted && "It is distorted: its width and height are scaled unlike."].filter(Boolean).join(" ");
    },
    framed(values) {
      const all = frames.chosen().filter((f) => f.kind === "picture" && !f.master);
      const some = all.length ? all : [frames.current()];
      this.tried(() => send(some.map((f) => ({ do: "frame-picture", page: frames.holderOf(f), frame: f.id, ...values }))));
    },
    setPictureFit(event) { this.framed({ fit: event.target.value }); },
    setPictureFocus(event) { this.framed({ focus: event.target.value.split(" ").map(Number) }); },
    setPictureScale(event) {
      const value = Number.parseFloat(event.target.value.replace(",", ".")) / 100;
      if (!(value >= 0.001 && value <= 1000)) { this.problem = "Type a scale, such as 85 %."; event.target.value = event.target.dataset.was; return; }
      const { across, down } = this.framing;
      if (!linked) { this.framed({ scale: event.target.id === "ipw" ? [value, down / 100] : [across / 100, value] }); return; }
      const other = event.target.id === "ipw" ? down / across : across / down;
      this.framed({ scale: event.target.id === "ipw" ? [value, value * other] : [value * other, value] });
    },
    evenPicture() { const { across } = this.framing; this.framed({ scale: [across / 100, across / 100] }); },
    setPictureTurn(event) {
      const degrees = Number(event.target.value.replace(",", ".").replace("°", ""));
      if (!Number.isFinite(degrees)) { this.problem = "Type degrees, such as 15 or -7.5."; event.target.value = event.target.dataset.was; return; }
      this.framed({ rotation: ((degrees % 360) + 360) % 360 });
    },
    setPictureMirror(event) { this.framed({ mirrored: event.target.checked }); },
    get adjusted() { return Boolean(this.framing) && Object.values(toldOf({ ...this.framing.adjust, cut: { kind: this.framing.adjust.cut ? "colour" : "", colour: "x" } })).some(Boolean); },
    asItIs() { const f = frames.current(); this.tried(() => send([{ do: "adjust-pictures", page: frames.holderOf(f), frames: [f.id], plain: true, whole: true }])); },
    tracePicture() { this.tried(() => trace(frames.current())); },
    framePicture() { frameIt(frames.current()); },
    placePicture() { this.tried(bringIn); },
    takePictureOut() { const f = frames.current(); this.tried(() => send([{ do: "show-picture", page: frames.holderOf(f), frame: f.id, picture: null }])); },
  },
});
