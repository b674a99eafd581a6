// The slip's part about position: of an object or a group its box and rotation, of a rule its ends, length and angle.
import * as actions from "../frameactions.js";
import * as frames from "../frames.js";
import { endsOf, option, placeGroup, setOption, wholeGroup } from "../groups.js";
import { across, down, originOf, originWords } from "../origin.js";
import { mapOf } from "../matrix.js";
import { frames as standing } from "../standing.js";
import { emit, idle, length, send } from "../store.js";
import { part } from "./parts.js";

const REFERENCE = "lexigon-reference";
/** The point of a box whose position is shown, and that stays where it is when a size is typed, in parts of its width and height. */
const reference = () => (localStorage.getItem(REFERENCE) || "0 0").split(" ").map(Number);
const DOWN = { 0: "top", 0.5: "middle", 1: "bottom" };
const ACROSS = { 0: "left", 0.5: "centre", 1: "right" };
const pointWord = (u, v) => (u === 0.5 && v === 0.5 ? "centre" : `${DOWN[v]} ${ACROSS[u]}`);
const POINTS = [0, 0.5, 1].flatMap((v) => [0, 0.5, 1].map((u) => [`${u} ${v}`, pointWord(u, v)]));

/** What the fields are about: a group that is selected whole (`whole`), else the object that was selected first. */
function subject(these = frames.chosen()) {
  const group = wholeGroup(these);
  return group ? { whole: group, ...group.box } : these[0] || null;
}

/** Where the subject is, measured to the reference point. */
function begins(axis) {
  const [u, v] = reference(),
    f = subject();
  if (!f) return null;
  if (axis === "x") return u || originWords() || f.whole ? across(f.page, f.x + u * f.w) : null;
  return v || originWords() || f.whole ? down(f.page, f.y + v * f.h) : null;
}

/** The box of something with one value changed; about the reference point where that is a size. */
function boxWith(f, name, change, keep = false) {
  const [u, v] = reference();
  const from = { width: 0, height: 0, rotation: 0, ...originOf(f.page) }[name];
  const was = { x: f.x + u * f.w, y: f.y + v * f.h, width: f.w, height: f.h, rotation: f.rotation }[name];
  const value = from + change.times * (was - from) + change.plus;
  const box = { x: f.x, y: f.y, w: f.w, h: f.h, rotation: f.rotation };
  if (name === "x") box.x = value - u * f.w;
  if (name === "y") box.y = value - v * f.h;
  if (name === "rotation") box.rotation = value;
  if (name === "width" || name === "height") {
    const by = value / was;
    if (name === "width" || keep) box.w = name === "width" ? value : f.w * by;
    if (name === "height" || keep) box.h = name === "height" ? value : f.h * by;
    const map = mapOf(f); // the reference point stays where it is on the page, however the box is rotated
    const at = (rect) => [rect.x + u * rect.w, rect.y + v * rect.h];
    box.x -= u * (box.w - f.w);
    box.y -= v * (box.h - f.h);
    if (map) {
      const [a, b, c, d] = map,
        [px, py] = at(f);
      const [ox, oy] = [px - f.x - f.w / 2, py - f.y - f.h / 2];
      const [nx, ny] = [(u - 0.5) * box.w, (v - 0.5) * box.h];
      const [cx, cy] = [f.x + f.w / 2 + a * (ox - nx) + c * (oy - ny), f.y + f.h / 2 + b * (ox - nx) + d * (oy - ny)];
      Object.assign(box, { x: cx - box.w / 2, y: cy - box.h / 2 });
    }
  }
  return box;
}

/** Change one value of the position: of a group as a whole; of all that is selected its place, and of each its size. */
async function change(name, value, these = frames.chosen()) {
  const f = subject(these),
    { whole } = f;
  if (whole) {
    await placeGroup(whole, boxWith(f, name, value, option("proportions")));
    return;
  }
  const box = boxWith(f, name, value);
  if (["x", "y"].includes(name) && these.length > 1) {
    await actions.moveAll(box.x - f.x, box.y - f.y, these);
    return;
  } // as far as the first
  await actions.change(f, { rect: frames.rectOf(box) });
}

/** Move the ends of the rule that is selected. A value that was typed right before is waited for, since this one builds on it. */
async function moveEnds(slip, moved) {
  const before = frames.current();
  await idle();
  const f = before && standing().find((one) => frames.is(one, before));
  if (!f) return;
  const { start, end } = { ...endsOf(f), ...moved(endsOf(f), originOf(f.page)) };
  const answer = await send([
    { do: "move-rule", page: frames.holderOf(f), frame: f.id, start: [start.x, start.y], end: [end.x, end.y] },
  ]);
  const own = standing().find((one) => answer.made.includes(one.id) && one.page === f.page); // a master's rule that became the page's
  if (f.master && own) frames.select(own);
  frames.draw();
  emit("frame");
}

const ends = () => {
  const f = frames.current();
  return f ? endsOf(f) : null;
};
const changed = (was, from, { times, plus }) => from + times * (was - from) + plus;
const long = ({ start, end }) => Math.hypot(end.x - start.x, end.y - start.y);
const angle = ({ start, end }) => ((Math.atan2(end.y - start.y, end.x - start.x) * 180) / Math.PI + 360) % 360;
const along = (start, far, degrees) => ({
  x: start.x + far * Math.cos((degrees * Math.PI) / 180),
  y: start.y + far * Math.sin((degrees * Math.PI) / 180),
});

/** A field for one coordinate of an end of a rule. */
const endRow = (id, word, which, axis) => ({
  id,
  word,
  title: `${word}: ${axis === "x" ? "how far from the left" : "how far from the top"} the rule ${which === "start" ? "starts" : "ends"}`,
  kind: "change",
  when: (slip) => slip.isRule,
  value: () => {
    const at = ends(),
      f = frames.current();
    return at ? (axis === "x" ? across : down)(f.page, at[which][axis]) : "";
  },
  set: (slip, value) =>
    slip.tried(() =>
      moveEnds(slip, (at, from) => ({
        [which]: { ...at[which], [axis]: changed(at[which][axis], from[axis], value) },
      })),
    ),
});

const placed = (slip) => slip.placed && !slip.isRule;
const SIZES = "Also a change, of each selected object: +2 mm, *0.5, /3";
const shown = (name) => {
  const group = wholeGroup(frames.chosen());
  return group ? length(group.box[name]) : null;
};

part({
  about: (slip) => Boolean(slip.frame),
  rows: {
    place: [
      {
        id: "fx",
        word: "Left",
        kind: "change",
        when: placed,
        value: ({ frame }) => begins("x") ?? frame.x,
        set: (slip, value) => slip.place("x", value),
      },
      {
        id: "fy",
        word: "Top",
        kind: "change",
        when: placed,
        value: ({ frame }) => begins("y") ?? frame.y,
        set: (slip, value) => slip.place("y", value),
      },
      {
        id: "fw",
        word: "Width",
        title: SIZES,
        kind: "change",
        when: (slip) => !slip.isRule,
        value: ({ frame }) => shown("w") ?? frame.width,
        set: (slip, value) => slip.place("width", value),
      },
      {
        id: "fh",
        word: "Height",
        title: SIZES,
        kind: "change",
        when: (slip) => !slip.isRule,
        value: ({ frame }) => shown("h") ?? frame.height,
        set: (slip, value) => slip.place("height", value),
      },
      endRow("rsx", "Start x", "start", "x"),
      endRow("rsy", "Start y", "start", "y"),
      endRow("rex", "End x", "end", "x"),
      endRow("rey", "End y", "end", "y"),
      {
        id: "rlong",
        word: "Length",
        title: "Length: from the start; the start stays where it is",
        kind: "change",
        when: (slip) => slip.isRule,
        value: () => (ends() ? length(long(ends())) : ""),
        set: (slip, value) =>
          slip.tried(() => moveEnds(slip, (at) => ({ end: along(at.start, changed(long(at), 0, value), angle(at)) }))),
      },
      {
        id: "rangle",
        word: "Angle",
        title: "Angle: degrees clockwise from a level line; the start stays where it is",
        kind: "degrees",
        when: (slip) => slip.isRule,
        value: () => (ends() ? Number(angle(ends()).toFixed(2)) % 360 : 0),
        set: (slip, degrees) => slip.tried(() => moveEnds(slip, (at) => ({ end: along(at.start, long(at), degrees) }))),
      },
      {
        id: "frot",
        word: "Rotation",
        title: "Rotation: degrees clockwise",
        kind: "degrees",
        when: placed,
        value: ({ frame }) => subject()?.rotation ?? frame.rotation,
        set: (slip, degrees) =>
          slip.tried(() =>
            wholeGroup(frames.chosen())
              ? change("rotation", { times: 0, plus: degrees })
              : actions.changeAll({ rotation: ((degrees % 360) + 360) % 360 }),
          ),
      },
      {
        id: "flean",
        word: "Skew",
        title: "Skew: degrees that the sides lean to the right",
        kind: "degrees",
        when: (slip) => placed(slip) && !slip.isGroup,
        value: ({ frame }) => frame.skew,
        set: (slip, skew) => slip.tried(() => actions.changeAll({ skew })),
      },
    ],
    "place of": [
      {
        id: "fti",
        word: "Placed",
        title: "Placed: how it moves with the text it is anchored to",
        kind: "choice",
        when: (slip) => slip.tied,
        choices: [
          ["", "in the line"],
          ["above", "above the line"],
          ["near", "top or bottom of the column"],
          ["margin", "in the margin"],
        ],
        value: ({ frame }) => frame.stands,
        set: (slip, where) => slip.tried(() => send([{ do: "set-inlay-place", inlay: slip.frame.id, where }])),
      },
      {
        id: "fref",
        word: "Reference point",
        wide: true,
        title: "Reference point: left and top are measured to this point, and it stays in place when the size changes",
        kind: "choice",
        when: placed,
        choices: POINTS,
        value: () => reference().join(" "),
        set(slip, point) {
          localStorage.setItem(REFERENCE, point);
          emit("frame");
        },
      },
    ],
    scaling: [
      {
        id: "gprop",
        word: "Keep proportions",
        title: "Keep proportions: width and height change together",
        kind: "check",
        when: (slip) => slip.isGroup,
        value: () => option("proportions"),
        set: (_, on) => setOption("proportions", on),
      },
      {
        id: "gstrokes",
        word: "Scale stroke weights",
        title: "Scale stroke weights: strokes become heavier or finer with the objects",
        kind: "check",
        when: (slip) => slip.isGroup || (slip.several > 1 && !slip.cells),
        value: () => option("strokes"),
        set: (_, on) => setOption("strokes", on),
      },
    ],
    held: [
      {
        id: "flock",
        word: "Locked",
        title: "Locked: cannot be moved or changed on the board (K)",
        kind: "check",
        value: ({ frame }) => frame.locked,
        set: (slip, locked) => slip.tried(() => actions.changeAll({ locked })),
      },
      {
        id: "fprints",
        word: "Prints",
        title: "Prints: objects without it are shown on the board only",
        kind: "check",
        value: ({ frame }) => frame.prints,
        set: (slip, prints) => slip.tried(() => actions.changeAll({ prints })),
      },
      {
        id: "fmirror",
        word: "Flip",
        title: "Flip horizontally: exchanges left and right",
        kind: "check",
        when: (slip) => placed(slip) && !slip.isGroup,
        value: ({ frame }) => frame.mirrored,
        set: (slip, mirrored) => slip.tried(() => actions.changeAll({ mirrored })),
      },
    ],
  },
  members: {
    get placed() {
      return Boolean(this.frame) && !this.frame.inlay;
    },
    get tied() {
      return Boolean(this.frame) && this.frame.inlay;
    },
    get isOne() {
      return !this.isGroup;
    },
    get isRule() {
      return this.placed && this.frame.kind === "rule" && this.several < 2;
    },
    get placeFrom() {
      if (!this.placed)
        return (
          { near: "anchored to text", margin: "beside its line" }[this.frame?.stands] || "in the line, on its baseline"
        );
      return originWords() ? `from ${originWords()}` : "from the page’s top left";
    },
    // What a collapsed group says in its one line.
    get placeTold() {
      if (!this.frame) return "";
      if (this.isRule && ends()) return `${length(long(ends()))} long`;
      return `${shown("w") ?? this.frame.width} × ${shown("h") ?? this.frame.height}`;
    },
    /** Give a side of the selection another value, or let a sum change it. */
    place(name, value) {
      const f = frames.current();
      if (!f) return;
      const these = frames.chosen();
      if (["width", "height"].includes(name) && these.length > 1 && !wholeGroup(these)) {
        // each by the same rule
        this.tried(() => actions.sizeAll({ [name]: value, about: reference() }));
        return;
      }
      this.tried(async () => {
        await idle(); // a side that was set right before is there then, and something else may be selected
        const still = these.flatMap((one) => standing().find((other) => frames.is(one, other)) || []);
        if (still.length) await change(name, value, still);
      });
    },
  },
});
