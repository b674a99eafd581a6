// The slip's part about frames: their contents, fill, stroke and text wrap.
import * as actions from "../frameactions.js";
import * as frames from "../frames.js";
import { sectionsIn } from "../fields.js";
import { target } from "../specline.js";
import { emit, perform, state } from "../store.js";
import { frames as standing } from "../standing.js";
import { swatchChoices } from "../values.js";
import { part } from "./parts.js";

const WRAPS = {
  none: "none",
  both: "both sides",
  largest: "wider side",
  left: "left side",
  right: "right side",
  jump: "jump over",
};

const rows = (all) => all.map(({ id, name }) => [id, name]);

function fill(slip, { all }) {
  const { frame } = slip;
  if (!frame) return;
  for (const container of all(
    "[data-sections=holds], [data-sections=edging], [data-sections=cornering], [data-sections=throwing], [data-sections=wrap]",
  ))
    sectionsIn(container, (values) => slip.frameTo(values)).update(frame.raw.frame);
}

const swatches = () => [["", "none"], ...swatchChoices()];
const ruled = (value) => value.startsWith("rule:");

const make = (slip) => slip.frame.raw.frame;
/** The swatch of its edge, where it has one; a rule style's is black. */
const edged = ({ stroke }) => (stroke.style ? "black" : stroke.weight ? stroke.swatch : "");

/** The edge in another swatch or rule style, or as heavy as was typed. */
function edge(slip, swatch, weight) {
  const was = make(slip).stroke;
  slip.spec_({
    stroke: swatch
      ? {
          ...was,
          weight,
          swatch: ruled(swatch) ? "black" : swatch,
          tint: was.tint ?? 1,
          dash: was.dash ?? [],
          style: null,
        }
      : { weight: 0 },
  });
}

function wrap(slip, change) {
  const { sides, offsets, outline, inverted, contour } = { ...make(slip).wrap, ...change };
  slip.spec_({
    wrap: { sides, offsets, outline: outline || inverted, inverted, contour: contour && Boolean(slip.framing) },
  });
}

const changed = (slip, values) => slip.tried(() => actions.changeAll(values));
const OUTLINES = [
  ["box", "box"],
  ["ellipse", "ellipse"],
  ["3", "triangle"],
  ["4", "diamond"],
  ["6", "hexagon"],
  ["star", "star"],
];

part({
  fill,
  about: (slip) => Boolean(slip.frame),
  rows: {
    text: [
      {
        id: "fc",
        word: "Columns",
        title: "how many the frame has",
        kind: "whole",
        value: ({ frame }) => frame.columns,
        set: (slip, columns) => changed(slip, { columns: columns || 1 }),
      },
      {
        id: "fi",
        word: "Insets",
        title: "distance between the text and the edges of the frame",
        kind: "length",
        value: ({ frame }) => frame.insets,
        set: (slip, insets) => changed(slip, { insets }),
      },
      {
        id: "fgu",
        word: "Gutter",
        title: "space between columns",
        kind: "length",
        value: ({ frame }) => frame.gutter,
        set: (slip, gutter) => changed(slip, { gutter }),
      },
      {
        id: "fcr",
        word: "Rule",
        title: "weight of a line between the columns",
        kind: "points",
        value: ({ frame }) => frame.rule,
        set: (slip, weight) => slip.spec_({ column_rule: { ...make(slip).column_rule, weight } }),
      },
    ],
    "text stands": [
      {
        id: "fv",
        word: "Vertical alignment",
        title: "position of the text in the height of the frame",
        kind: "choice",
        choices: [
          ["top", "top"],
          ["centre", "centre"],
          ["bottom", "bottom"],
          ["justified", "justified"],
        ],
        value: ({ frame }) => frame.vertical,
        set: (slip, vertical) => slip.spec_({ vertical }),
      },
      {
        id: "ffl",
        word: "First baseline",
        title: "position of the first line below the top of the frame",
        kind: "choice",
        choices: [
          ["ascent", "ascenders at the top"],
          ["capital", "capitals at the top"],
          ["x-height", "x-height at the top"],
          ["leading", "one leading down"],
          ["fixed", "fixed distance"],
        ],
        value: ({ frame }) => frame.first,
        set: (slip, first) => slip.spec_({ first, ...(first === "fixed" ? { first_at: 14.4 } : {}) }),
      },
      {
        id: "fbal",
        word: "Balance columns",
        title: "the last columns end at the same height",
        kind: "check",
        when: ({ frame }) => frame.columns > 1,
        value: ({ frame }) => frame.balanced,
        set: (slip, balanced) => slip.spec_({ balanced }),
      },
      {
        id: "ffit",
        word: "Fit always",
        title: "fits text and frame again whenever the story changes",
        kind: "choice",
        when: (slip) => slip.fittable,
        choices: [
          ["none", "off"],
          ["line", "largest size on one line"],
          ["size", "largest size that fits"],
          ["height", "frame height to text"],
        ],
        value: ({ frame }) => frame.fit,
        set: (slip, fit) => changed(slip, { fit }),
      },
      {
        word: "Fit once:",
        kind: "links",
        when: (slip) => slip.fittable,
        choices: [
          ["line", "on one line"],
          ["size", "text to frame"],
          ["height", "frame to text"],
        ],
        set: (slip, what) => slip.proposed(what),
      },
      {
        id: "ft",
        word: "Text rotation",
        title: "rotation of the text inside the frame",
        kind: "choice",
        when: ({ frame }) => !frame.main,
        choices: [
          ["0", "upright"],
          ["90", "90° clockwise"],
          ["180", "180°"],
          ["270", "90° anticlockwise"],
        ],
        value: ({ frame }) => frame.turn,
        set: (slip, turn) => changed(slip, { turn: Number(turn) }),
      },
    ],
    hidden: [
      ["opening", "Hide where a chapter opens"],
      ["blank", "Hide on blank pages"],
      ["front", "Hide before the first heading"],
    ].map(([where, word]) => ({
      word,
      kind: "check",
      value: ({ frame }) => frame.hide.includes(where),
      set(slip, on) {
        slip.frame.hide = [...slip.frame.hide.filter((one) => one !== where), ...(on ? [where] : [])]; // known at once, for the next one
        slip.tried(() => actions.change(frames.current(), { hide_on: slip.frame.hide }));
      },
    })),
    "frame style": [
      {
        id: "fstyle",
        word: "Frame style",
        title: "formatting of frames, under a name",
        kind: "choice",
        choices: () => [["", "none"], ...rows(state.frameStyles)],
        value: ({ frame }) => frame.style,
        set: (slip, style) => changed(slip, { style }),
      },
    ],
    fill: [
      {
        id: "ffill",
        word: "Fill",
        full: true,
        title: "the colour inside the outline",
        kind: "choice",
        choices: swatches,
        value: ({ frame }) => frame.fill,
        set: (slip, swatch) => slip.spec_({ fill: { swatch, tint: make(slip).fill.tint } }),
      },
      {
        id: "ftint",
        word: "Tint",
        title: "strength of the fill; 100 % is the swatch itself",
        kind: "percent",
        value: ({ frame }) => frame.tint / 100,
        set: (slip, tint) =>
          slip.spec_({ fill: { swatch: make(slip).fill.swatch, tint: Math.min(Math.max(tint, 0), 1) } }),
      },
    ],
    edge: [
      {
        id: "fedge",
        word: "Stroke",
        full: true,
        title: "the line along the outline, in a swatch or a rule style",
        kind: "choice",
        choices: () => [...swatches(), ...state.ruleStyles.map(({ id, name }) => [`rule:${id}`, `rule “${name}”`])],
        value: ({ frame }) => frame.edge,
        set(slip, swatch) {
          if (ruled(swatch)) slip.spec_({ stroke: { style: swatch.slice(5) } });
          else edge(slip, swatch, make(slip).stroke.weight || 1);
        },
      },
      {
        id: "few",
        word: "Weight",
        title: "of the stroke",
        kind: "points",
        value: ({ frame }) => frame.edge_weight,
        set: (slip, weight) => edge(slip, edged(make(slip)) || (weight ? "black" : ""), weight),
      },
      {
        id: "fol",
        word: "Shape",
        full: true,
        title: "the outline of the frame",
        kind: "choice",
        choices: ({ frame }) => (frame.outline === "own" ? [...OUTLINES, ["own", "custom"]] : OUTLINES),
        value: ({ frame }) => frame.outline,
        set: (slip, shape) => slip.outlined(shape),
      },
    ],
    wrap: [
      {
        id: "fw2",
        word: "Text wrap",
        title: "whether other text flows around this frame",
        kind: "choice",
        choices: Object.entries(WRAPS),
        value: ({ frame }) => frame.wrap,
        set: (slip, sides) => wrap(slip, { sides }),
      },
      {
        id: "fwo",
        word: "Offset",
        title: "distance between this frame and the text around it",
        kind: "length",
        value: ({ frame }) => frame.wrap_offset,
        set: (slip, offset) => wrap(slip, { offsets: Array(4).fill(offset) }),
      },
    ],
    "wrap how": [
      {
        id: "fws",
        word: "Follow the outline",
        kind: "check",
        value: ({ frame }) => frame.wrap_outline,
        set: (slip, outline) => wrap(slip, { outline }),
      },
      {
        id: "fwc",
        word: "Follow the picture’s contour",
        title: "text flows around the visible part of a picture with a transparent background",
        kind: "check",
        when: (slip) => slip.hasPicture,
        value: ({ frame }) => frame.wrap_contour,
        set: (slip, contour) => wrap(slip, { contour }),
      },
      {
        id: "fwi",
        word: "Inverted: text inside only",
        kind: "check",
        value: ({ frame }) => frame.wrap_inverted,
        set: (slip, inverted) => wrap(slip, { inverted }),
      },
    ],
  },
  members: {
    get inheritedFrame() {
      return Boolean(this.frame) && this.frame.inherited;
    },
    get canLead() {
      return this.holdsText && this.placed && !this.frame.on_master;
    },
    get onMaster() {
      return Boolean(this.frame) && this.frame.on_master && !this.frame.main;
    },
    get holdsText() {
      return this.notField && this.frame.kind === "text";
    },
    get wrapping() {
      return this.notMain && this.placed;
    },
    get notMain() {
      return this.notField && !this.frame.main;
    },
    get fittable() {
      return this.holdsText && this.frame.single;
    },
    get overset() {
      return this.frame ? this.frame.overset : "";
    },
    get canGrow() {
      return Boolean(this.overset) && this.isOwn && !this.frame.main;
    },
    get canCut() {
      return this.isLed && this.frame.number > 1;
    },
    get isBox() {
      return this.notMain && this.frame.outline === "box";
    },
    get wraps() {
      return Boolean(this.frame) && this.frame.wrap !== "none";
    },
    get wrapWords() {
      return this.wraps ? "text flows around it" : "";
    },
    get holds() {
      const f = frames.current();
      return f && f.overset ? `+ ${f.overset}` : "";
    },
    get flow() {
      if (!this.frame) return "";
      if (this.frame.kind === "picture") return this.pictureWords || "the picture is missing";
      if (this.frame.kind === "code") return "code; its quiet zone is inside the frame";
      if (this.frame.kind === "rule") return "rule";
      if (this.frame.kind !== "text") return "shape without text";
      const { before, after } = this.frame;
      const fitted = this.frame.fitted && `fitted: ${this.frame.fitted}`;
      return [
        before && `from ${before}`,
        after && `continues on ${after}`,
        !before && !after && "the whole story is in this frame",
        fitted,
      ]
        .filter(Boolean)
        .join("; ");
    },
    get notField() {
      return Boolean(this.frame) && !this.frame.field;
    },
    get isLed() {
      return Boolean(this.frame) && this.frame.led;
    },
    get isOwn() {
      return Boolean(this.frame) && !this.frame.inherited;
    },
    get removeWord() {
      return this.frame && this.frame.taken ? "Revert to master" : "Delete";
    },
    // What a collapsed group says in its one line.
    get holdsTold() {
      if (this.framing) return this.pictureTold;
      if (!this.holdsText) return "";
      const { columns, vertical } = this.frame;
      return [
        columns > 1 ? `${columns} columns` : "1 column",
        { centre: "centred vertically", bottom: "aligned to the bottom", justified: "justified vertically" }[vertical],
        this.overset,
      ]
        .filter(Boolean)
        .join(", ");
    },
    get surfaceTold() {
      if (!this.frame) return "";
      const { fill, edge, tint, edge_weight } = this.frame;
      const name = (id) => state.swatches.find((swatch) => swatch.id === id)?.name || "";
      const line = edge.startsWith("rule:") ? "stroke in a rule style" : edge && `stroke ${edge_weight}`;
      return (
        [fill && `${name(fill)}${tint < 100 ? ` ${tint} %` : ""}`, line].filter(Boolean).join(", ") ||
        "no fill, no stroke"
      );
    },
    get gradient() {
      return (this.notMain && this.placed && state.swatches.find(({ id }) => id === this.frame.fill)?.gradient) || null;
    },
    get gradientTold() {
      return this.gradient && this.frame.raw.frame.way?.length ? "custom direction" : "across the frame";
    },
    layGradient() {
      emit("gradient", frames.current());
    },
    get wrapTold() {
      return !this.frame ? "" : this.frame.wrap === "none" ? "no text wrap" : WRAPS[this.frame.wrap];
    },
    frameTo(values) {
      const own = ["fit_sizes", "outline", "along", "along_from"]; // what no frame style says
      this.tried(() =>
        actions.changeAll(Object.keys(values).some((name) => own.includes(name)) ? values : { spec: values }),
      );
    },
    spec_(values) {
      Object.assign(make(this), values); // known at once: what is set next builds on it
      this.tried(() => actions.changeAll({ spec: values }));
    },
    /** Outlines are asked for in the spec line's words, which know how each is drawn. */
    outlined(shape) {
      if (shape === "own") return;
      const word = { box: "box outline", ellipse: "ellipse", star: "star 5" }[shape] || `polygon ${shape}`;
      this.tried(() => perform("spec", { frames: target().frames, line: word, do: true }));
    },
    async proposed(what) {
      const f = frames.current();
      if (!f) return;
      await this.tried(async () => {
        const answer = await perform("fit", { what, page: f.page, frame: f.id, story: f.story || null });
        const made = standing().filter((one) => answer.made?.includes(one.id) && one.page === f.page);
        if (what === "outlines" && made.length) frames.selectThese(made);
      });
    },
    makeFrames() {
      this.proposed("frames");
    },
    cutHere() {
      this.proposed("cut");
    },
    async outlines() {
      await this.proposed("outlines");
    },
    leadOn() {
      const f = frames.current();
      if (f) actions.leadOn(f);
    },
    unlink() {
      this.tried(actions.unlink);
    },
    takeOver() {
      this.tried(actions.takeOver);
    },
    remove() {
      this.tried(actions.remove);
    },
  },
});
