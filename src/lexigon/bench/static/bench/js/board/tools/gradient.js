// A gradient set by hand on what it fills: where it begins and ends, and its colours and midpoints along the way.
import { needing, register } from "../../commands.js";
import { element } from "../../dom.js";
import { current, chosen, holderOf, select, workable } from "../frames.js";
import { drag, tell } from "../gestures.js";
import { mapOf, written } from "../matrix.js";
import { make, pageX, point, view, within, world } from "../sheet.js";
import { frames } from "../standing.js";
import { inquire, on, rested, send, setTool, state, toast, whenResting } from "../store.js";
import { showBar, tool } from "../tools.js";
import { messageOf } from "../../errors.js";

const layer = make("g", { class: "gradient-layer" }, world);
const NEAR = 9; // pixels
const LIVE = "gradient-by-hand";
/** The object that is worked on, and how its gradient lies: two points on its page, before the object is turned. */
let work = null;

const active = () => state.tool === "gradient" && Boolean(work);
const frameOf = () => frames().find((one) => one.id === work.id && one.page === work.page);
const between = ([[ax, ay], [bx, by]], at) => ({ x: ax + (bx - ax) * at, y: ay + (by - ay) * at });
const apart = (one, other) => Math.hypot(one.x - other.x, one.y - other.y) * view.scale;
const local = (event) => {
  const at = point(event);
  const f = frameOf();
  return within(f, { x: at.x - pageX(f.page), y: at.y });
};
const pair = ([x, y]) => ({ x, y });

/** Begin with what is chosen; it says why where no gradient fills it. */
export async function layGradient(f) {
  if (!workable(f)) return;
  if (!(await load(f))) return;
  setTool("gradient");
  select(f);
  draw();
}

async function load(f) {
  try {
    work = {
      id: f.id,
      page: f.page,
      holder: holderOf(f),
      told: await inquire("swatches/laid", { page: holderOf(f), object: f.id }),
    };
    return true;
  } catch (error) {
    toast(`${messageOf(error)} Give it one under Fill first.`, true);
    return false;
  }
}

/** Every handle with where it stands: both ends, the colours between them, and the midpoints. */
function handles() {
  const { way, gradient } = work.told;
  const { stops } = gradient;
  const found = [
    { kind: "end", index: 0, at: pair(way[0]) },
    { kind: "end", index: 1, at: pair(way[1]) },
  ];
  stops.forEach((stop, index) => {
    if (stop.at > 0.004 && stop.at < 0.996) found.push({ kind: "stop", index, at: between(way, stop.at) });
  });
  stops.slice(0, -1).forEach(({ at, mid }, index) => {
    const next = stops[index + 1].at;
    if (next - at > 0.01) found.push({ kind: "mid", index, at: between(way, at + (next - at) * mid) });
  });
  return found;
}

function draw() {
  layer.replaceChildren();
  if (!active()) return;
  const f = frameOf();
  if (!f) return;
  const px = 1 / view.scale;
  const turn = mapOf(f);
  const group = make("g", { transform: `translate(${pageX(f.page)} 0)${turn ? ` ${written(turn)}` : ""}` }, layer);
  const [[ax, ay], [bx, by]] = work.told.way;
  if (work.told.kind === "radial")
    make("circle", { class: "gradient-rim", cx: ax, cy: ay, r: Math.hypot(bx - ax, by - ay) }, group);
  make("path", { class: "gradient-halo", d: `M${ax} ${ay}L${bx} ${by}` }, group);
  make("path", { class: "gradient-way", d: `M${ax} ${ay}L${bx} ${by}` }, group);
  for (const { kind, index, at } of handles().reverse()) {
    const css = kind === "mid" ? "" : work.told.css[kind === "stop" ? index : index && work.told.css.length - 1];
    const r = { end: 7, stop: 5.5, mid: 3.2 }[kind] * px;
    make("circle", { class: `gradient-rimmed ${kind}`, cx: at.x, cy: at.y, r: r + 1.6 * px }, group);
    const dot = make("circle", { class: `gradient-${kind}`, cx: at.x, cy: at.y, r }, group);
    if (css) dot.style.setProperty("fill", css);
  }
}

/** The page shows it as it will be: a gradient of its own along the new way. */
function live() {
  const path = frameOf()?.group.querySelector('path[fill^="url(#gradient"]');
  const id = path && /#([^)]+)/.exec(path.getAttribute("fill"))[1];
  const from = path && (path.ownerSVGElement || path).querySelector(`#${CSS.escape(id)}`);
  if (!from) return;
  const own = id === LIVE ? from : from.cloneNode(true);
  if (own !== from) {
    own.id = LIVE;
    from.after(own);
    path.setAttribute("fill", `url(#${LIVE})`);
  }
  const [[ax, ay], [bx, by]] = work.told.way;
  const values =
    work.told.kind === "radial"
      ? { cx: ax, cy: ay, r: Math.hypot(bx - ax, by - ay) }
      : { x1: ax, y1: ay, x2: bx, y2: by };
  for (const [name, value] of Object.entries(values)) own.setAttribute(name, String(value));
}

function press(event, clicks) {
  if (!work || !frameOf()) {
    setTool("select");
    return;
  }
  const at = local(event);
  const found = handles().find((one) => apart(one.at, at) < NEAR);
  if (found?.kind === "end") {
    moveEnd(event, found.index);
    return;
  }
  if (found) {
    slide(event, found);
    return;
  }
  const f = frameOf();
  const inside = at.x >= f.x && at.y >= f.y && at.x <= f.x + f.w && at.y <= f.y + f.h;
  if (!inside || clicks > 1) {
    leave();
    return;
  }
  drawWay(event, at);
}

/** Where the pointer goes; with Shift in steps of 15 degrees about the other end. */
function steered(event, fixed) {
  const to = local(event);
  if (!event.shiftKey) return to;
  const far = Math.hypot(to.x - fixed.x, to.y - fixed.y);
  const angle = Math.round(Math.atan2(to.y - fixed.y, to.x - fixed.x) / (Math.PI / 12)) * (Math.PI / 12);
  return { x: fixed.x + far * Math.cos(angle), y: fixed.y + far * Math.sin(angle) };
}

const angleOf = ([[ax, ay], [bx, by]]) => `${Math.round((Math.atan2(by - ay, bx - ax) * 180) / Math.PI)}°`;

function moveEnd(event, index) {
  const was = work.told.way;
  drag(
    event,
    (moved) => {
      const to = steered(moved, pair(was[1 - index]));
      work.told.way = was.map((end, n) => (n === index ? [to.x, to.y] : end));
      tell(moved, work.told.kind === "radial" ? (index ? "outer edge" : "centre") : angleOf(work.told.way));
      live();
      draw();
    },
    () => keepWay(was),
    () => back(was),
  );
}

/** A press within what it fills draws the whole way anew. */
function drawWay(event, start) {
  const was = work.told.way;
  let moved = false;
  drag(
    event,
    (to) => {
      if (!moved && apart(start, local(to)) < 4) return;
      moved = true;
      const end = steered(to, start);
      work.told.way = [
        [start.x, start.y],
        [end.x, end.y],
      ];
      tell(to, angleOf(work.told.way));
      live();
      draw();
    },
    () => {
      if (moved) keepWay(was);
    },
    () => back(was),
  );
}

function back(was) {
  work.told.way = was;
  live();
  draw();
}

const round = (value) => Math.round(value * 1e5) / 1e5;
function keepWay(was) {
  const [x, y, w, h] = work.told.rect;
  const way = work.told.way.flatMap(([px, py]) => [
    round(Math.min(Math.max((px - x) / w, -10), 10)),
    round(Math.min(Math.max((py - y) / h, -10), 10)),
  ]);
  if (way[0] === way[2] && way[1] === way[3]) {
    back(was);
    return;
  }
  sent([{ do: "change-frame", page: work.holder, frame: work.id, spec: { way } }]);
}

/** A colour, or a midpoint, moved along the way: it is the swatch that changes, wherever it is used. */
function slide(event, { kind, index }) {
  const was = work.told.gradient;
  const [[ax, ay], [bx, by]] = work.told.way;
  drag(
    event,
    (moved) => {
      const to = local(moved);
      const part = ((to.x - ax) * (bx - ax) + (to.y - ay) * (by - ay)) / ((bx - ax) ** 2 + (by - ay) ** 2 || 1);
      const stops = was.stops.map((stop) => ({ ...stop }));
      if (kind === "stop")
        stops[index].at = round(Math.min(Math.max(part, stops[index - 1]?.at ?? 0), stops[index + 1]?.at ?? 1));
      else {
        const [from, until] = [stops[index].at, stops[index + 1].at];
        stops[index].mid = round(Math.min(Math.max((part - from) / (until - from), 0.05), 0.95));
      }
      work.told.gradient = { ...was, stops };
      const others = work.told.uses > 1 ? `; “${work.told.name}” is used ${work.told.uses} times` : "";
      tell(
        moved,
        `${Math.round((kind === "stop" ? stops[index].at : stops[index].mid) * 100)} %${kind === "mid" ? " to the next colour" : ""}${others}`,
      );
      draw();
    },
    () => sent([{ do: "put-swatch", id: work.told.swatch, space: "gradient", gradient: work.told.gradient }]),
    () => {
      work.told.gradient = was;
      draw();
    },
  );
}

async function sent(intents) {
  const { id, page } = work;
  try {
    await send(intents);
  } catch {
    /* it said why */
  }
  const f = frames().find((one) => one.id === id && one.page === page);
  if (!f || !(await load(f))) {
    work = null;
    setTool("select");
    return;
  }
  draw();
  offer();
}

/** Back to the box: its angle, from edge to edge. */
const byBox = () => sent([{ do: "change-frame", page: work.holder, frame: work.id, spec: { way: [] } }]);
const turned = () => {
  const { told } = work;
  told.way = [told.way[1], told.way[0]];
  keepWay(told.way);
};

function offer() {
  if (!active()) return;
  const { told } = work;
  const words = element("span", {
    class: "figure",
    role: "status",
    text: `${told.name}: ${told.by_hand ? "custom direction" : "across the frame"}`,
  });
  const button = (word, title, run, disabled = false) =>
    element("button", { type: "button", text: word, title, disabled, click: run });
  showBar("Gradient", [
    words,
    button("Reset", "Reset: the gradient runs from edge to edge again, as in the swatch", byBox, !told.by_hand),
    button("Reverse", "Reverse: exchanges start and end", turned),
    button("Done", "Done: returns to the Select tool (Esc)", leave),
  ]);
}

function leave() {
  rested();
  const f = work && frameOf();
  work = null;
  setTool("select");
  if (f) select(f);
}

/** By keys: the end moves, with Alt the beginning; ten times as far with Shift. */
const nudge = (dx, dy) => (event) => {
  const by = event?.shiftKey ? 10 : 1;
  const which = event?.altKey ? 0 : 1;
  const was = work.told.way;
  work.told.way = was.map(([x, y], n) => (n === which ? [x + dx * by, y + dy * by] : [x, y]));
  live();
  draw();
  whenResting(() => {
    if (work) keepWay(was);
  });
};

tool({ id: "gradient", word: "Gradient", press, quiet: true });
const underWay = needing("Select an object filled with a gradient first.", () => active());

register(
  {
    word: "Edit gradient on the board",
    keys: [],
    help: "edit gradient: drag where it starts and ends",
    when: () => chosen().length === 1,
    run: () => layGradient(current()),
  },
  { word: "Finish editing gradient", keys: ["Escape", "Enter"], over: true, when: underWay, run: leave },
  ...[
    ["ArrowLeft", -1, 0],
    ["ArrowRight", 1, 0],
    ["ArrowUp", 0, -1],
    ["ArrowDown", 0, 1],
  ].map(([name, x, y]) => ({ word: "", keys: [name], over: true, when: underWay, run: nudge(x, y) })),
);
on("gradient", layGradient);
on("view", draw);
on("painted", () => draw());
on("tool", (chosenTool) => {
  if (chosenTool === "gradient") offer();
  else {
    rested();
    work = null;
  }
  draw();
});
