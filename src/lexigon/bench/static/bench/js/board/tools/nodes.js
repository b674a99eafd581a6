// The nodes of an outline, worked on: chosen, moved, added, taken out, made sharp and smooth, cut and joined.
import { needing, register } from "../../commands.js";
import { element } from "../../dom.js";
import { chosen as chosenFrames, current, holderOf, select } from "../frames.js";
import { drag, magnets, pull, snapLines, tell } from "../gestures.js";
import { dataOf, movedNodes, nearest, withHandle } from "../outline.js";
import { inSteps } from "../stretching.js";
import { content, make, pageX, point, sheet, view, world } from "../sheet.js";
import { across, down } from "../origin.js";
import { frames } from "../standing.js";
import { emit, inquire, length, on, send, setTool, state, toast } from "../store.js";
import { showBar, tool } from "../tools.js";
import { drawOn } from "./pen.js";
import { messageOf } from "../../errors.js";

const layer = make("g", { class: "pen-layer" }, world);
const NEAR = 7; // pixels that a node, a handle or a stretch is hit in
const MOST_SHOWN = 3000;
/** The object that is worked on, its lines as the server told them, and as they look while something is dragged. */
let work = null;
let shown = null;
let taken = new Set();

const key = (line, node) => `${line}:${node}`;
/** @returns {[number, number]} */
const place = (text) => {
  const [line, node] = text.split(":").map(Number);
  return [line, node];
};
const places = () => [...taken].map(place);
const active = () => state.tool === "nodes" && Boolean(work);
const some =
  (count = 1) =>
  () =>
    active() && taken.size >= count;

/** Work on the outline of a frame. */
export async function workOn(f) {
  if (!f) return;
  if (f.master) {
    toast("This object belongs to the master page. Override it first.");
    return;
  }
  if (f.locked) {
    toast("This object is locked. Press K to unlock it.");
    return;
  }
  if (!(await load(f))) return;
  taken = new Set();
  setTool("nodes");
  select(f);
  draw();
}

async function load(f) {
  try {
    const { lines } = await inquire("nodes", { page: holderOf(f), object: f.id });
    work = { id: f.id, page: f.page, holder: holderOf(f), lines };
    shown = lines;
    return true;
  } catch (error) {
    toast(messageOf(error), true);
    return false;
  }
}

function draw() {
  layer.replaceChildren();
  if (!active()) return;
  const px = 1 / view.scale;
  const group = make("g", { transform: `translate(${pageX(work.page)} 0)` }, layer);
  for (const line of shown) make("path", { class: "node-line", d: dataOf(line) }, group);
  let count = 0;
  shown.forEach((line, l) =>
    line.nodes.forEach((node, n) => {
      const { at } = node;
      if (!seen(at) || (count += 1) > MOST_SHOWN) return;
      const own = taken.has(key(l, n));
      if (own)
        for (const side of ["before", "after"])
          if (node[side]) {
            make("line", { class: "node-stem", x1: at[0], y1: at[1], x2: node[side][0], y2: node[side][1] }, group);
            make("circle", { class: "node-handle", cx: node[side][0], cy: node[side][1], r: 3.2 * px }, group);
          }
      const sign = node.smooth
        ? make("circle", { cx: at[0], cy: at[1], r: 4 * px }, group)
        : make("rect", { x: at[0] - 3.5 * px, y: at[1] - 3.5 * px, width: 7 * px, height: 7 * px }, group);
      sign.setAttribute("class", `node${own ? " chosen" : ""}`);
    }),
  );
  if (count > MOST_SHOWN) {
    const words = make("text", { class: "plain", x: 0, y: -8 * px, "font-size": 11 * px }, group);
    words.textContent = `${count} nodes: zoom in to see all of them`;
  }
}

/** Whether a point of the page is in the window. */
function seen([x, y]) {
  const [sx, sy] = [(x + pageX(work.page)) * view.scale + view.x, y * view.scale + view.y];
  return sx > -20 && sy > -20 && sx < innerWidth && sy < innerHeight;
}

/** @returns {[number, number]} */
const local = (event) => {
  const at = point(event);
  return [at.x - pageX(work.page), at.y];
};
/** @param {number[]} one @param {number[]} other */
const far = ([x, y], [x1, y1]) => Math.hypot(x - x1, y - y1) * view.scale;

function hit(at) {
  for (const text of taken) {
    const [l, n] = place(text);
    const node = shown[l]?.nodes[n];
    for (const side of ["after", "before"])
      if (node?.[side] && far(node[side], at) < NEAR && far(node[side], node.at) > 1) return { l, n, side };
  }
  let best = null;
  shown.forEach((line, l) =>
    line.nodes.forEach((node, n) => {
      const d = far(node.at, at);
      if (d < NEAR && (!best || d < best.d)) best = { l, n, side: null, d };
    }),
  );
  return best;
}

/** Send a change; what is chosen by then is kept where it still is. */
async function change(what, keepChosen = true) {
  try {
    await send([{ do: "edit-nodes", page: work.holder, object: work.id, change: what }]);
    if (!keepChosen) taken = new Set();
  } catch {
    /* it said why */
  }
  await again();
}

/** The nodes as they are by now; where the object is gone the select tool comes back. */
async function again() {
  if (!work) return;
  const f = frames().find((one) => one.id === work.id && one.page === work.page);
  if (!f || !(await load(f))) {
    work = null;
    setTool("select");
    return;
  }
  taken = new Set(
    [...taken].filter((text) => {
      const [l, n] = place(text);
      return work.lines[l]?.nodes[n];
    }),
  );
  draw();
}

function press(event, clicks) {
  if (!work) {
    setTool("select");
    return;
  }
  const at = local(event);
  const found = hit(at);
  if (found?.side) {
    dragHandle(event, found);
    return;
  }
  if (found) {
    const own = key(found.l, found.n);
    if (event.shiftKey) {
      if (taken.has(own)) taken.delete(own);
      else taken.add(own);
    } else if (!taken.has(own)) taken = new Set([own]);
    offer();
    draw();
    if (event.altKey) {
      pullHandles(event, found);
      return;
    }
    dragNodes(event, shown[found.l].nodes[found.n].at);
    return;
  }
  const stretch = nearest(shown, at);
  if (stretch && stretch.far * view.scale < NEAR) {
    if (clicks > 1) {
      addAt(stretch);
      return;
    }
    const line = shown[stretch.line];
    taken = new Set([key(stretch.line, stretch.node), key(stretch.line, (stretch.node + 1) % line.nodes.length)]);
    offer();
    draw();
    dragNodes(event, at);
    return;
  }
  if (clicks > 1) {
    leave();
    return;
  }
  marquee(event, at);
}

function addAt({ line, node, t }) {
  if (t <= 0.001 || t >= 0.999) return;
  taken = new Set([key(line, node + 1)]);
  change({ kind: "add", after: [line, node], t });
}

function dragNodes(event, from) {
  const start = local(event);
  const { xs, ys } = magnets(work.page, work.id);
  let by = null;
  drag(
    event,
    (moved) => {
      let [dx, dy] = [local(moved)[0] - start[0], local(moved)[1] - start[1]];
      if (!by && Math.hypot(dx, dy) * view.scale < 3) return;
      if (moved.shiftKey) {
        if (Math.abs(dx) > Math.abs(dy)) dy = 0;
        else dx = 0;
      }
      const [sx, sy] = moved.altKey ? [null, null] : [pull([from[0] + dx], xs), pull([from[1] + dy], ys)];
      [dx, dy] = [dx + (sx?.shift || 0), dy + (sy?.shift || 0)];
      by = [dx, dy];
      shown = work.lines.map((line, l) => movedNodes(line, (n) => taken.has(key(l, n)), dx, dy));
      snapLines(work.page, sx, sy);
      emit("sketch");
      tell(moved, `${across(work.page, from[0] + dx)}, ${down(work.page, from[1] + dy)}`);
      draw();
    },
    () => {
      if (by) change({ kind: "move", nodes: places(), dx: by[0], dy: by[1] });
    },
    back,
  );
}

function back() {
  shown = work.lines;
  draw();
}

function dragHandle(event, { l, n, side }) {
  let put = null;
  drag(
    event,
    (moved) => {
      let to = local(moved);
      const node = work.lines[l].nodes[n];
      if (moved.shiftKey) to = inSteps(node.at, to);
      put = { to, alone: moved.altKey };
      shown = work.lines.map((line, at) =>
        at === l
          ? { ...line, nodes: line.nodes.map((one, m) => (m === n ? withHandle(one, side, to, moved.altKey) : one)) }
          : line,
      );
      tell(moved, length(Math.hypot(to[0] - node.at[0], to[1] - node.at[1])));
      draw();
    },
    () => {
      if (put) change({ kind: "handle", node: [l, n], side, ...put });
    },
    back,
  );
}

/** With Alt handles are pulled out of a node that has none. */
function pullHandles(event, { l, n }) {
  let to = null;
  drag(
    event,
    (moved) => {
      to = local(moved);
      shown = work.lines.map((line, at) =>
        at === l ? { ...line, nodes: line.nodes.map((one, m) => (m === n ? { ...one, after: to } : one)) } : line,
      );
      draw();
    },
    () => {
      if (to) change({ kind: "handle", node: [l, n], side: "after", to, alone: true });
    },
    back,
  );
}

function marquee(event, [x0, y0]) {
  const before = event.shiftKey ? new Set(taken) : new Set();
  let box = null;
  drag(
    event,
    (moved) => {
      const [x1, y1] = local(moved);
      box = { x: Math.min(x0, x1), y: Math.min(y0, y1), w: Math.abs(x1 - x0), h: Math.abs(y1 - y0) };
      draw();
      make("rect", { class: "draft-box", x: pageX(work.page) + box.x, y: box.y, width: box.w, height: box.h }, layer);
    },
    () => {
      taken = before;
      if (box && box.w + box.h > 2)
        shown.forEach((line, l) =>
          line.nodes.forEach(({ at: [x, y] }, n) => {
            if (x >= box.x && x <= box.x + box.w && y >= box.y && y <= box.y + box.h) taken.add(key(l, n));
          }),
        );
      offer();
      draw();
    },
    draw,
  );
}

const to =
  (word, keep = true) =>
  () =>
    change({ kind: "change", nodes: places(), to: word }, keep);
const isEnd = ([l, n]) => !work.lines[l].closed && (n === 0 || n === work.lines[l].nodes.length - 1);
const ends = () => (active() ? places().filter(isEnd) : []);
function join() {
  const two = ends();
  if (two.length === 2) change({ kind: "join", one: two[0], other: two[1] }, false);
  else toast("Select two ends of open lines to join.");
}
function addBehind() {
  const [[l, n]] = places();
  const line = work.lines[l];
  addAt({ line: l, node: !line.closed && n === line.nodes.length - 1 ? n - 1 : n, t: 0.5 });
}
function goOn() {
  const [[l, n]] = ends();
  const { id, page, holder, lines } = work;
  leave();
  drawOn({ page: holder, object: id, node: [l, n] }, page, lines[l].nodes[n].at);
}
const reverse = () =>
  change(
    { kind: "reverse", lines: [...new Set(taken.size ? places().map(([l]) => l) : work.lines.map((_, l) => l))] },
    false,
  );

/** Word, title, when it may be done, what it does.
    @type {[string, string, () => boolean, () => void][]} */
const ACTS = [
  ["Smooth", "Smooth: handles in one line on either side", some(), to("smooth")],
  ["Sharp", "Sharp: no handles", some(), to("sharp")],
  ["Add", "Add node: after the selected one; double-click the outline to add one there", some(), addBehind],
  ["Delete", "Delete: removes the selected nodes (Delete)", some(), to("gone", false)],
  ["Cut", "Cut: opens the line at the selected nodes", some(), to("cut", false)],
  ["Join", "Join: connects the two selected ends", () => ends().length === 2, join],
  ["Continue", "Continue: draws on with the pen from the selected end", () => ends().length === 1, goOn],
  ["Reverse", "Reverse: exchanges start and end of the line", active, reverse],
  ["Done", "Done: returns to the Select tool (Esc)", active, () => leave()],
];

/** What the command finder calls them. */
const COMMANDS = {
  Smooth: "Make nodes smooth",
  Sharp: "Make nodes sharp",
  Add: "Add node",
  Delete: "Delete selected nodes",
  Cut: "Cut line at nodes",
  Join: "Join ends of lines",
  Continue: "Continue line with the pen",
  Reverse: "Reverse line",
};

/** The bar of what can be done to the nodes. */
function offer() {
  if (!active()) return;
  showBar(
    "Nodes",
    ACTS.map(([word, title, when, run]) =>
      element("button", { type: "button", title, text: word, disabled: !when(), click: run }),
    ),
  );
}

function leave() {
  const f = work && frames().find((one) => one.id === work.id && one.page === work.page);
  work = null;
  taken = new Set();
  setTool("select");
  if (f) select(f);
  sheet.focus({ preventScroll: true }); // a button of the bar, which is gone, may have had it
}

function next(by) {
  const all = work.lines.flatMap((line, l) => line.nodes.map((_, n) => key(l, n)));
  const at = all.findIndex((text) => taken.has(text));
  taken = new Set([all[(at + by + all.length) % all.length]]);
  offer();
  draw();
}

const nudge = (x, y) => (event) => {
  const by = event?.shiftKey ? 10 : 1;
  if (taken.size) change({ kind: "move", nodes: places(), dx: x * by, dy: y * by });
  else next(x + y < 0 ? -1 : 1);
};

tool({ id: "nodes", word: "Nodes", press, quiet: true });
const underWay = needing("Double-click a shape to edit its nodes.", () => active());

register(
  {
    word: "Edit nodes",
    keys: ["o"],
    shown: ["O"],
    help: "edit nodes of an outline (also: double-click a shape)",
    when: () => state.tool !== "nodes" && !state.cells && chosenFrames().length === 1 && Boolean(current()),
    run: () => workOn(current()),
    menu: 5,
  },
  {
    word: "Edit nodes",
    keys: ["Enter"],
    when: () => state.tool === "select" && chosenFrames().length === 1 && Boolean(current()) && !current().story,
    run: () => workOn(current()),
  },
  { word: "Select next node", keys: ["n"], over: true, when: underWay, run: () => next(1) },
  { word: "Select previous node", keys: ["N"], over: true, when: underWay, run: () => next(-1) },
  {
    word: "Select all nodes",
    keys: ["a"],
    over: true,
    when: underWay,
    run: () => {
      taken = new Set(work.lines.flatMap((line, l) => line.nodes.map((_, n) => key(l, n))));
      offer();
      draw();
    },
  },
  {
    word: "Delete nodes",
    keys: ["Delete", "Backspace"],
    over: true,
    when: underWay,
    run: () => {
      if (taken.size) to("gone", false)();
      else toast("Select the nodes to delete first.");
    },
  },
  { word: "Finish editing nodes", keys: ["Escape"], over: true, when: underWay, run: leave },
  ...[
    ["ArrowLeft", -1, 0],
    ["ArrowRight", 1, 0],
    ["ArrowUp", 0, -1],
    ["ArrowDown", 0, 1],
  ].map(([name, x, y]) => ({ word: "", keys: [name], over: true, when: underWay, run: nudge(x, y) })),
  ...ACTS.slice(0, -1).map(([word, , when, run]) => ({ word: COMMANDS[word], keys: [], when, run })),
);
on("outline", workOn);
on("view", draw);
on("painted", () => {
  if (active() && content(work.page)) again();
  else if (work && !content(work.page)) {
    work = null;
    setTool("select");
  }
});
on("tool", (chosen) => {
  if (chosen === "nodes") offer();
  else if (work) {
    work = null;
    taken = new Set();
  }
  draw();
});
