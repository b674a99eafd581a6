// A picture moved, sized and turned within its frame, all of it seen faintly; and what matters in it, marked by a ring.
import { figures } from "../../numerals.js";
import { needing, register } from "../../commands.js";
import { element } from "../../dom.js";
import { chosen as chosenFrames, current, holderOf, select, workable } from "../frames.js";
import { drag, tell } from "../gestures.js";
import { applied, inverse, mapOf, written } from "../matrix.js";
import { addressOf } from "../placing.js";
import { board, content, make, pageX, point, view, within, world } from "../sheet.js";
import { frames } from "../standing.js";
import { inquire, on, rested, send, setTool, state, toast, whenResting } from "../store.js";
import { showBar, tool } from "../tools.js";
import { messageOf } from "../../errors.js";

const layer = make("g", { class: "framing-layer" }, world);
const NEAR = 9; // pixels
const TURNER = 26; // pixels from the picture's head to what turns it
/** The frame that is worked on, and how its picture stands in it: a box, turned and mirrored about its middle, with all it shows. */
let work = null;
let shown = null;

const active = () => state.tool === "framing" && Boolean(work);
const frameOf = () => frames().find((one) => one.id === work.id && one.page === work.page);

/** Frame the picture of a frame. */
export async function frameIt(f) {
  if (!workable(f)) return;
  if (!(await load(f))) return;
  setTool("framing");
  select(f);
  draw();
}

let loading = 0;
async function load(f) {
  const number = ++loading;
  try {
    const told = await inquire("framing", { page: holderOf(f), object: f.id });
    if (number !== loading) return Boolean(work); // a later one was asked for
    const [x, y, w, h] = told.box;
    work = { id: f.id, page: f.page, holder: holderOf(f), told };
    shown = { x, y, w, h, rotation: Number(told.rotation), mirrored: told.mirrored };
    return true;
  } catch (error) {
    toast(messageOf(error), true);
    return false;
  }
}

/** From the unit square to the page, as the core has it (`framing.map_of`).
    @returns {import("../matrix.js").Map} */
function unitMap({ x, y, w, h, rotation, mirrored }) {
  const turned = mapOf({ x, y, w, h, rotation, mirrored });
  if (!turned) return [w, 0, 0, h, x, y];
  const [a, b, c, d, e, f] = turned;
  return [a * w, b * w, c * h, d * h, a * x + c * y + e, b * x + d * y + f];
}

const CORNERS = [
  [0, 0],
  [1, 0],
  [1, 1],
  [0, 1],
];
const turner = () => {
  const map = unitMap(shown);
  const head = applied(map, { x: 0.5, y: 0 });
  const [cx, cy] = [shown.x + shown.w / 2, shown.y + shown.h / 2];
  const far = Math.hypot(head.x - cx, head.y - cy) || 1;
  const more = TURNER / view.scale / far;
  return { x: head.x + (head.x - cx) * more, y: head.y + (head.y - cy) * more, head };
};
const focusAt = () => work.told.matters || work.told.focus;

function draw() {
  layer.replaceChildren();
  if (!active()) return;
  const f = frameOf();
  if (!f) return;
  const px = 1 / view.scale;
  const turn = mapOf(f);
  const group = make("g", { transform: `translate(${pageX(f.page)} 0)${turn ? ` ${written(turn)}` : ""}` }, layer);
  const map = unitMap(shown);
  const cut = make("clipPath", { id: "framing-beyond" }, group); // what lies over the frame stays as it is: the rest of the picture is seen outside alone
  const own = f.group.querySelector("clipPath path")?.getAttribute("d") || `M${f.x} ${f.y}h${f.w}v${f.h}h${-f.w}Z`;
  make("path", { d: `M-20000 -20000H20000V20000H-20000Z${own}`, "clip-rule": "evenodd" }, cut);
  const rest = make("g", { "clip-path": "url(#framing-beyond)" }, group);
  make(
    "image",
    {
      class: "beyond",
      width: 1,
      height: 1,
      preserveAspectRatio: "none",
      transform: written(map),
      href: addressOf(work.told.file, 1600, work.told.look),
    },
    rest,
  );
  const corners = CORNERS.map(([u, v]) => applied(map, { x: u, y: v }));
  make("path", { class: "framing-edge", d: `M${corners.map(({ x, y }) => `${x} ${y}`).join("L")}Z` }, group);
  for (const { x, y } of corners)
    make("rect", { class: "framing-handle", x: x - 4.5 * px, y: y - 4.5 * px, width: 9 * px, height: 9 * px }, group);
  const knob = turner();
  make("path", { class: "framing-edge", d: `M${knob.head.x} ${knob.head.y}L${knob.x} ${knob.y}` }, group);
  make("circle", { class: "framing-handle", cx: knob.x, cy: knob.y, r: 5 * px }, group);
  const at = applied(map, { x: focusAt()[0], y: focusAt()[1] });
  make("circle", { class: "focus-rim", cx: at.x, cy: at.y, r: 8 * px }, group);
  make("circle", { class: "focus-ring", cx: at.x, cy: at.y, r: 8 * px }, group);
  make("circle", { class: "focus-dot", cx: at.x, cy: at.y, r: 1.8 * px }, group);
  f.group.querySelector("image")?.setAttribute("transform", written(map)); // the page shows it as it will be
  tellScale();
}

const local = (event) => {
  const at = point(event);
  const f = frameOf();
  return within(f, { x: at.x - pageX(f.page), y: at.y });
};
const far = (one, other) => Math.hypot(one.x - other.x, one.y - other.y) * view.scale;
const nature = () => (work.told.box[2] / work.told.across) * 100; // its natural width, in points
const percent = () => (shown.w / nature()) * 100;
/** Pixels an inch as it would be printed now. */
const ppi = () => Math.round(work.told.ppi * Math.min(work.told.box[2] / shown.w, work.told.box[3] / shown.h));

const sizeTold = (digits) => `${figures(percent(), digits)} %${work.told.vector ? "" : `, ${ppi()} ppi`}`;

function press(event, clicks) {
  if (!work || !frameOf()) {
    setTool("select");
    return;
  }
  const at = local(event);
  const map = unitMap(shown);
  if (far(turner(), at) < NEAR) {
    turn(event, at);
    return;
  }
  const corner = CORNERS.findIndex(([u, v]) => far(applied(map, { x: u, y: v }), at) < NEAR);
  if (corner >= 0) {
    scale(event, corner);
    return;
  }
  if (far(applied(map, { x: focusAt()[0], y: focusAt()[1] }), at) < NEAR) {
    moveFocus(event);
    return;
  }
  const { x, y } = applied(inverse(map), at);
  if (x < 0 || x > 1 || y < 0 || y > 1) {
    leave();
    return;
  }
  if (clicks > 1) {
    leave();
    return;
  }
  pan(event, at);
}

function pan(event, start) {
  const was = shown;
  let moved = false;
  drag(
    event,
    (to) => {
      let [dx, dy] = [local(to).x - start.x, local(to).y - start.y];
      if (!moved && Math.hypot(dx, dy) * view.scale < 3) return;
      moved = true;
      if (to.shiftKey) {
        if (Math.abs(dx) > Math.abs(dy)) dy = 0;
        else dx = 0;
      }
      shown = { ...was, x: was.x + dx, y: was.y + dy };
      draw();
    },
    () => {
      if (moved) keep();
    },
    () => back(was),
  );
}

/** By a corner: the opposite one stays, with Ctrl the middle; always in proportion. */
function scale(event, corner) {
  const was = shown;
  const map = unitMap(was);
  const [u, v] = CORNERS[corner];
  drag(
    event,
    (moved) => {
      const middle = moved.ctrlKey || moved.metaKey;
      const fixed = middle ? { x: was.x + was.w / 2, y: was.y + was.h / 2 } : applied(map, { x: 1 - u, y: 1 - v });
      const from = applied(map, { x: u, y: v });
      const to = local(moved);
      const [ax, ay] = [from.x - fixed.x, from.y - fixed.y];
      const by = ((to.x - fixed.x) * ax + (to.y - fixed.y) * ay) / (ax * ax + ay * ay || 1);
      shown = scaled(was, Math.min(Math.max(by, 0.02), 50), fixed);
      tell(moved, sizeTold(1));
      draw();
    },
    () => keep(),
    () => back(was),
  );
}

/** A picture's box, so many times as large about a point that stays. */
function scaled(box, by, fixed) {
  const [cx, cy] = [fixed.x + (box.x + box.w / 2 - fixed.x) * by, fixed.y + (box.y + box.h / 2 - fixed.y) * by];
  const [w, h] = [box.w * by, box.h * by];
  return { ...box, x: cx - w / 2, y: cy - h / 2, w, h };
}

function turn(event, start) {
  const was = shown;
  const [cx, cy] = [was.x + was.w / 2, was.y + was.h / 2];
  const angle = ({ x, y }) => (Math.atan2(y - cy, x - cx) * 180) / Math.PI;
  const from = angle(start);
  drag(
    event,
    (moved) => {
      let degrees = was.rotation + angle(local(moved)) - from;
      degrees = moved.shiftKey ? Math.round(degrees / 15) * 15 : Math.round(degrees * 10) / 10;
      shown = { ...was, rotation: ((degrees % 360) + 360) % 360 };
      tell(moved, `${figures(shown.rotation, 1)}°`);
      draw();
    },
    () => keep(),
    () => back(was),
  );
}

/** What matters: the ring. Where the picture fills or fits its frame, that point is kept in view from now on. */
function moveFocus(event) {
  const was = work.told.matters;
  const back_ = () => {
    work.told.matters = was;
    draw();
  };
  let moved = false;
  drag(
    event,
    (to) => {
      const { x, y } = applied(inverse(unitMap(shown)), local(to));
      work.told.matters = [x, y].map((part) => Math.round(Math.min(Math.max(part, 0), 1) * 1000) / 1000);
      moved = true;
      tell(to, "focus");
      draw();
    },
    async () => {
      if (!moved) return;
      const focus = work.told.matters;
      const kept = work.told.fit === "free" ? [] : [{ do: "frame-picture", page: work.holder, frame: work.id, focus }];
      await sent([{ do: "change-picture", picture: work.told.id, focus }, ...kept]);
    },
    back_,
  );
}

function back(was) {
  shown = was;
  draw();
}

/** Keep the picture as it stands: freely from now on. */
function keep() {
  const f = frameOf();
  if (!f) return;
  const box = { x: shown.x - f.x, y: shown.y - f.y, width: shown.w, height: shown.h };
  sent([
    { do: "frame-picture", page: work.holder, frame: work.id, box, rotation: shown.rotation, mirrored: shown.mirrored },
  ]);
}

const framed = (values) => sent([{ do: "frame-picture", page: work.holder, frame: work.id, ...values }]);

async function sent(intents) {
  const { id, page } = work;
  try {
    await send(intents);
  } catch {
    /* it said why */
  }
  if (!work || work.id !== id || work.page !== page) return; // it was left
  const f = frames().find((one) => one.id === id && one.page === page);
  if (!f || !(await load(f))) {
    work = null;
    setTool("select");
    return;
  }
  draw();
}

/** The frame takes the box of its picture, which keeps its place on the page. */
async function frameTo() {
  const { id, page, holder } = work;
  const [{ x, y, w, h }, f] = [shown, frameOf()];
  if (shown.rotation || mapOf(f)) {
    toast("This works only while picture and frame are not rotated.");
    return;
  }
  await sent([
    { do: "frame-picture", page: holder, frame: id, box: { x: 0, y: 0, width: w, height: h } },
    { do: "change-frame", page: holder, frame: id, rect: { x, y, width: w, height: h } },
  ]);
  const now = frames().find((one) => one.id === id && one.page === page);
  if (now) select(now);
}

/** Sizes about a point of the page; kept when it has been let alone for a moment. */
function size(by, fixed) {
  shown = scaled(shown, Math.min(Math.max(by, 0.02), 50), fixed);
  draw();
  whenResting(keepOn);
}
const keepOn = () => {
  if (work) keep();
};
const middleOf = (f) => ({ x: f.x + f.w / 2, y: f.y + f.h / 2 });

board.addEventListener(
  "wheel",
  (event) => {
    if (!active() || event.ctrlKey || event.metaKey) return;
    event.preventDefault();
    event.stopImmediatePropagation();
    size(Math.exp(-event.deltaY * 0.0015), local(event));
  },
  { passive: false, capture: true },
);

/** Word, title, what it does.
    @type {[string, string, () => void][]} */
const ACTS = [
  [
    "Fill",
    "Fill: the picture fills the frame, with its focus in view",
    () => framed({ fit: "fill", focus: focusAt() }),
  ],
  ["Fit", "Fit: the whole picture is visible", () => framed({ fit: "fit" })],
  ["100 %", "Actual size of the picture", () => framed({ scale: [1, 1] })],
  ["Rotate 90°", "Rotate 90° clockwise", () => framed({ rotation: (shown.rotation + 90) % 360 })],
  ["Flip", "Flip horizontally", () => framed({ mirrored: !shown.mirrored })],
  ["Frame to picture", "Frame to picture: the frame takes the size of its picture", () => frameTo()],
  ["Done", "Done: returns to the Select tool (Esc)", () => leave()],
];
/** What the command finder calls them. */
const COMMANDS = {
  Fit: "Fit picture in frame",
  "100 %": "Show picture at actual size",
  "Rotate 90°": "Rotate picture in its frame 90°",
  Flip: "Flip picture in its frame",
  "Frame to picture": "Fit frame to picture",
};
let slider = null;
let figure = null;

function offer() {
  if (!active()) return;
  slider = element("input", {
    type: "range",
    min: "-2",
    max: "2",
    step: "0.01",
    "aria-label": "Size of the picture",
    title: "Size of the picture, from the centre of the frame",
  });
  slider.addEventListener("input", () => {
    const f = frameOf();
    if (f) size(Math.exp(Number(slider.value) - Math.log(fills())), middleOf(f));
  });
  figure = element("span", { class: "figure", role: "status" });
  showBar("Crop", [
    slider,
    figure,
    ...ACTS.map(([word, title, run]) => element("button", { type: "button", title, text: word, click: run })),
  ]);
  tellScale();
}

/** How many times as large the picture is as it would be to fill the frame. */
function fills() {
  const f = frameOf();
  return Math.max(Math.min(shown.w / f.w, shown.h / f.h), 1e-3);
}

function tellScale() {
  if (!slider || !work || !frameOf()) return;
  if (document.activeElement !== slider) slider.value = String(Math.log(fills()));
  figure.textContent = sizeTold(0);
  figure.classList.toggle("coarse", !work.told.vector && ppi() < 200);
}

function leave() {
  rested(); // a wheel that was still turning
  const f = work && frameOf();
  work = null;
  setTool("select");
  if (f) select(f);
}

const nudge = (x, y) => (event) => {
  const by = event?.shiftKey ? 10 : 1;
  shown = { ...shown, x: shown.x + x * by, y: shown.y + y * by };
  draw();
  whenResting(keepOn);
};
const larger = (by) => () => {
  const f = frameOf();
  if (f) size(by, middleOf(f));
};
const alone = () => chosenFrames().length === 1 && current()?.kind === "picture";

tool({ id: "framing", word: "Crop", press, quiet: true });
const underWay = needing("Double-click a picture to adjust its crop.", () => active());

register(
  {
    word: "Adjust crop: move, scale and rotate picture in its frame",
    keys: ["Enter"],
    shown: ["Enter"],
    help: "adjust crop: move, scale and rotate the picture in its frame (also: double-click)",
    when: needing("Select one picture first.", () => state.tool === "select" && alone()),
    run: () => frameIt(current()),
    menu: 4,
  },
  { word: "Finish cropping", keys: ["Escape", "Enter"], over: true, when: underWay, run: leave },
  { word: "Enlarge picture in its frame", keys: ["+", "="], over: true, when: underWay, run: larger(1.05) },
  { word: "Reduce picture in its frame", keys: ["-"], over: true, when: underWay, run: larger(1 / 1.05) },
  { word: "Fill frame with picture", keys: ["0"], over: true, when: underWay, run: ACTS[0][2] },
  ...[
    ["ArrowLeft", -1, 0],
    ["ArrowRight", 1, 0],
    ["ArrowUp", 0, -1],
    ["ArrowDown", 0, 1],
  ].map(([name, x, y]) => ({ word: "", keys: [name], over: true, when: underWay, run: nudge(x, y) })),
  ...ACTS.slice(1, -1).map(([word, , run]) => ({ word: COMMANDS[word], keys: [], when: underWay, run })),
);
on("framing", frameIt);
on("view", draw);
on("painted", () => {
  if (active() && !content(work.page)) {
    work = null;
    setTool("select");
  } else draw();
});
on("tool", (chosen) => {
  if (chosen === "framing") offer();
  else {
    rested();
    work = null;
    slider = null;
  }
  draw();
});
