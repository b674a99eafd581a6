// The slip's part about a picture and how it stands in its frame.
import * as frames from "../frames.js";
import { bringIn } from "../placing.js";
import { sectionsIn } from "../fields.js";
import { frameIt } from "../tools/framing.js";
import { trace } from "../tracing.js";
import { send, state } from "../store.js";
import { part } from "./parts.js";

let linked = true; // width and height keep in step until somebody says otherwise

function fill(slip, { one }) {
  const picture = slip.framing;
  if (!picture) return;
  const cut = picture.adjust.cut;
  const raw = {
    adjust: {
      ...picture.adjust,
      cut: cut ? { ...cut, kind: cut.colour.toUpperCase() === "#FFFFFF" ? "white" : "colour" } : NO_CUT,
    },
  };
  sectionsIn(one("[data-sections=adjust]"), (values) => adjust(values.adjust)).update(raw, {
    told: toldOf(raw.adjust),
  });
}

const NO_CUT = { kind: "", colour: "#FFFFFF", tolerance: 0.1, outside: true };
const signed = (word, value) => value && `${word} ${value > 0 ? "+" : "−"}${Math.abs(Math.round(value * 100))} %`;
const nameOf = (id) => state.swatches.find((swatch) => swatch.id === id)?.name || "black";

/** What folded sections say in their one line. */
function toldOf({ brightness, contrast, saturation, sharpen, black, white, gamma, inverted, inks, ink, second, cut }) {
  return {
    tones: [
      inverted && "inverted",
      signed("light", brightness),
      signed("contrast", contrast),
      signed("saturation", saturation),
      sharpen && "sharpened",
      (black || white < 1 || gamma !== 1) && "levels",
    ]
      .filter(Boolean)
      .join(", "),
    inks: { all: "", grey: "grey", one: nameOf(ink.swatch), two: `${nameOf(ink.swatch)}, ${nameOf(second.swatch)}` }[
      inks
    ],
    cut: { "": "", white: "white", colour: cut.colour }[cut.kind],
  };
}

/** The pictures that are chosen of one page, shown otherwise: all values are sent, so that several come to look alike. */
function adjust({ cut, ...values }) {
  const f = frames.current();
  const all = frames.chosen().filter((one) => one.kind === "picture" && !one.master && one.page === f.page);
  const colour =
    cut.kind === "white" ? "#FFFFFF" : cut.kind === "colour" && cut.colour === "#FFFFFF" ? "#E9EEEC" : cut.colour;
  const { tolerance, outside } = cut;
  return send([
    {
      do: "adjust-pictures",
      page: frames.holderOf(f),
      frames: (all.length ? all : [f]).map(({ id }) => id),
      ...values,
      ...(cut.kind ? { cut: { colour, tolerance, outside } } : { whole: true }),
    },
  ]);
}

const WHERE = [
  ["0.5 0.5", "centre"],
  ["0.5 0", "top"],
  ["0.5 1", "bottom"],
  ["0 0.5", "left"],
  ["1 0.5", "right"],
  ["0 0", "top left"],
  ["1 0", "top right"],
  ["0 1", "bottom left"],
  ["1 1", "bottom right"],
];

/** The points of a picture that can be kept in view: those of its box, what matters in it, one that was found by hand. */
function pointsOf({ focus, matters }) {
  const more = [
    [matters?.join(" "), "automatic (subject)"],
    [focus.join(" "), "custom point"],
  ];
  return more.reduce(
    (all, [value, word]) => (value && !all.some(([known]) => known === value) ? [...all, [value, word]] : all),
    WHERE,
  );
}

/** One of the two scales typed; the other follows where they keep in step. */
function scale(slip, which, value) {
  if (!(value >= 0.001 && value <= 1000)) throw new Error("Type a scale, such as 85 %.");
  const both = [slip.framing.across / 100, slip.framing.down / 100],
    other = 1 - which;
  const made = linked ? [value, value] : [...both];
  made[which] = value;
  if (linked) made[other] = (value * both[other]) / both[which];
  slip.framed({ scale: made });
}

part({
  fill,
  about: (slip) => Boolean(slip.framing),
  rows: {
    "picture fit": [
      {
        id: "ipfit",
        word: "Fit",
        title: "Fit: how the picture is scaled to its frame",
        kind: "choice",
        choices: [
          ["fill", "fill the frame"],
          ["fit", "fit inside the frame"],
          ["free", "free"],
        ],
        value: ({ framing }) => framing.fit,
        set: (slip, fit) => slip.framed({ fit }),
      },
      {
        id: "ipfocus",
        word: "Focus",
        title: "Focus: the part of the picture that stays in view when the frame crops it",
        kind: "choice",
        choices: ({ framing }) => pointsOf(framing),
        value: ({ framing }) => framing.focus.join(" "),
        set: (slip, point) => slip.framed({ focus: point.split(" ").map(Number) }),
      },
    ],
    "picture size": [
      {
        id: "ipw",
        word: "Width %",
        title: "Width %: of the picture’s natural width",
        kind: "percent",
        value: ({ framing }) => framing.across / 100,
        set: (slip, value) => scale(slip, 0, value),
      },
      {
        id: "iph",
        word: "Height %",
        title: "Height %: of the picture’s natural height",
        kind: "percent",
        value: ({ framing }) => framing.down / 100,
        set: (slip, value) => scale(slip, 1, value),
      },
      {
        id: "iprot",
        word: "Rotation",
        title: "Rotation: within the frame, in degrees clockwise",
        kind: "degrees",
        value: ({ framing }) => framing.rotation,
        set: (slip, degrees) => slip.framed({ rotation: ((degrees % 360) + 360) % 360 }),
      },
      {
        id: "ipmirror",
        word: "Flip",
        title: "Flip horizontally: exchanges left and right",
        kind: "check",
        value: ({ framing }) => framing.mirrored,
        set: (slip, mirrored) => slip.framed({ mirrored }),
      },
    ],
    "picture step": [
      {
        id: "iplink",
        word: "Keep proportions",
        title: "Keep proportions: width and height change together",
        kind: "check",
        value: ({ framing }) => linked && !framing.distorted,
        set(slip, on) {
          linked = on;
          if (on && slip.framing.distorted) slip.evenPicture();
        },
      },
    ],
  },
  members: {
    get framing() {
      return this.frame?.framing || null;
    },
    get hasPicture() {
      return Boolean(this.framing);
    },
    get takesPicture() {
      return this.notField && this.frame.kind === "shape";
    },
    get isDistorted() {
      return Boolean(this.framing?.distorted);
    },
    get pictureTold() {
      return !this.framing ? "" : this.framing.vector ? "vector drawing" : `${this.framing.ppi} ppi`;
    },
    get pictureWords() {
      return this.framing
        ? `“${this.framing.name}”, ${this.framing.told}${this.framing.vector ? "" : `; ${this.framing.ppi} ppi at its present size`}`
        : "";
    },
    get pictureCaution() {
      if (!this.framing) return "";
      const { ppi, distorted, vector } = this.framing;
      return [
        !vector && ppi < 200 && `${ppi} ppi looks soft in print.`,
        distorted && "The picture is distorted: its width and height are scaled differently.",
      ]
        .filter(Boolean)
        .join(" ");
    },
    framed(values) {
      const all = frames.chosen().filter((f) => f.kind === "picture" && !f.master);
      const some = all.length ? all : [frames.current()];
      this.tried(() =>
        send(some.map((f) => ({ do: "frame-picture", page: frames.holderOf(f), frame: f.id, ...values }))),
      );
    },
    evenPicture() {
      const { across } = this.framing;
      this.framed({ scale: [across / 100, across / 100] });
    },
    get adjusted() {
      return (
        Boolean(this.framing) &&
        Object.values(
          toldOf({ ...this.framing.adjust, cut: { kind: this.framing.adjust.cut ? "colour" : "", colour: "x" } }),
        ).some(Boolean)
      );
    },
    asItIs() {
      const f = frames.current();
      this.tried(() =>
        send([{ do: "adjust-pictures", page: frames.holderOf(f), frames: [f.id], plain: true, whole: true }]),
      );
    },
    tracePicture() {
      this.tried(() => trace(frames.current()));
    },
    framePicture() {
      frameIt(frames.current());
    },
    placePicture() {
      this.tried(bringIn);
    },
    takePictureOut() {
      const f = frames.current();
      this.tried(() => send([{ do: "show-picture", page: frames.holderOf(f), frame: f.id, picture: null }]));
    },
  },
});
