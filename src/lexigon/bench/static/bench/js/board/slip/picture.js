// The slip's part about a picture and how it stands in its frame.
import * as frames from "../frames.js";
import { bringIn } from "../placing.js";
import { send } from "../store.js";
import { part } from "./parts.js";

function fill(slip, { one, set, check }) {
  const picture = slip.framing;
  if (!picture) return;
  set("#ipfit", picture.fit);
  set("#ipw", `${picture.across} %`);
  set("#iph", `${picture.down} %`);
  set("#iprot", picture.rotation);
  const kept = picture.focus.join(" ");
  const focus = one("#ipfocus");
  focus.querySelector("[data-own]")?.remove();
  if (![...focus.options].some(({ value }) => value === kept)) {
    const own = new Option("a point of its own", kept);
    own.dataset.own = "1";
    focus.add(own);
  }
  set("#ipfocus", kept);
  check("#ipmirror", picture.mirrored);
}

part({
  fill,
  members: {
    get framing() { return this.frame?.framing || null; },
    get hasPicture() { return Boolean(this.framing); },
    get takesPicture() { return this.notField && this.frame.kind === "shape"; },
    get pictureTold() { return this.framing ? `${this.framing.ppi} ppi` : ""; },
    get pictureWords() { return this.framing ? `“${this.framing.name}”, ${this.framing.pixels}, ${{ grey: "grey", rgb: "RGB", cmyk: "CMYK" }[this.framing.space]}; ${this.framing.ppi} pixels an inch as it stands` : ""; },
    get pictureCaution() {
      if (!this.framing) return "";
      const { ppi, distorted } = this.framing;
      return [ppi < 200 && `${ppi} pixels an inch look soft in print.`, distorted && "It is distorted: its width and height are scaled unlike."].filter(Boolean).join(" ");
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
      const { across, down } = this.framing; // the other side keeps in step with the one that was typed
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
    placePicture() { this.tried(bringIn); },
    takePictureOut() { const f = frames.current(); this.tried(() => send([{ do: "show-picture", page: frames.holderOf(f), frame: f.id, picture: null }])); },
  },
});
