// The pen: a path node by node, or drawn by hand. What is begun is kept until it is done, over a reload too.
import { register } from "../../commands.js";
import { select } from "../frames.js";
import { drag, magnets, pull, snapLines, tell } from "../gestures.js";
import { dataOf } from "../outline.js";
import { inSteps } from "../stretching.js";
import { make, pageAt, pageX, point, sheet, view, world } from "../sheet.js";
import { frames } from "../standing.js";
import { activeLayer, emit, length, on, send, setTool, state, toast } from "../store.js";
import { kindOf, tool } from "../tools.js";

const layer = make("g", { class: "pen-layer" }, world);
const NEAR = 8; // pixels from the first node that close the path
const KEPT = "lexigon-pen";
const HAND = 3; // pixels that a drawing by hand is smoothed by
/** What is being drawn: {page, id, nodes, onto}: `id` is the page's, which may be turned meanwhile. `onto` is an end of a path that it goes on from: {page, object, node}. */
let draft = null;
let pointer = null;

const begun = (page, nodes, onto) => ({ page, id: state.pages[page].id, nodes, onto, held: false });
const drawing = () => state.tool === "pen" && Boolean(draft);
/** @returns {[number, number]} */
const local = (event, page) => {
  const at = point(event);
  return [at.x - pageX(page), at.y];
};

/** Where a press means to be: on a magnet, or in steps of 45 degrees from the node before. */
function placed(event, page) {
  let [x, y] = local(event, page);
  const last = draft?.nodes[draft.nodes.length - 1];
  if (event.shiftKey && last) [x, y] = inSteps(last.at, [x, y]);
  else if (!event.altKey) {
    const { xs, ys } = magnets(page, "");
    const [sx, sy] = [pull([x], xs), pull([y], ys)];
    snapLines(page, sx, sy);
    [x, y] = [x + (sx?.shift || 0), y + (sy?.shift || 0)];
  }
  return [x, y];
}

/** @param {number[]} one @param {number[]} other */
const near = ([x, y], [x1, y1]) => Math.hypot(x - x1, y - y1) * view.scale <= NEAR;

function keep() {
  if (draft) sessionStorage.setItem(KEPT, JSON.stringify({ ...draft, key: state.key }));
  else sessionStorage.removeItem(KEPT);
}

function draw() {
  layer.replaceChildren();
  if (!draft) return;
  const px = 1 / view.scale;
  const group = make("g", { transform: `translate(${pageX(draft.page)} 0)` }, layer);
  const rubber = pointer && !draft.held ? [...draft.nodes, { at: pointer, before: null, after: null }] : draft.nodes;
  if (rubber.length > 1) make("path", { class: "pen-line", d: dataOf({ nodes: rubber, closed: false }) }, group);
  const last = draft.nodes[draft.nodes.length - 1];
  for (const handle of [last?.before, last?.after]) {
    if (!handle) continue;
    make("line", { class: "node-stem", x1: last.at[0], y1: last.at[1], x2: handle[0], y2: handle[1] }, group);
    make("circle", { class: "node-handle", cx: handle[0], cy: handle[1], r: 3 * px }, group);
  }
  draft.nodes.forEach(({ at }, n) =>
    make(
      "rect",
      {
        class: `node${n === 0 && draft.nodes.length > 1 && pointer && near(pointer, at) ? " closing" : ""}`,
        x: at[0] - 3.5 * px,
        y: at[1] - 3.5 * px,
        width: 7 * px,
        height: 7 * px,
      },
      group,
    ),
  );
}

function press(event, clicks) {
  if (kindOf("pen") === "hand" && !draft) {
    byHand(event);
    return;
  }
  if (clicks > 1 && draft && draft.nodes.length > 1) {
    finish();
    return;
  }
  if (!draft) draft = begun(pageAt(point(event)).index, [], null);
  const at = placed(event, draft.page);
  const closes = draft.nodes.length > 1 && near(at, draft.nodes[0].at);
  const node = closes ? draft.nodes[0] : { at, before: null, after: null };
  if (!closes) draft.nodes.push(node);
  draft.held = true;
  draw();
  drag(
    event,
    (moved) => {
      let to = local(moved, draft.page);
      if (moved.shiftKey) to = inSteps(node.at, to);
      if (near(to, node.at)) return;
      const opposite = [2 * node.at[0] - to[0], 2 * node.at[1] - to[1]];
      if (closes) node.before = opposite;
      else {
        node.after = to;
        if (!moved.altKey) node.before = draft.nodes.length > 1 ? opposite : null;
      }
      tell(moved, length(Math.hypot(to[0] - node.at[0], to[1] - node.at[1])));
      draw();
    },
    () => {
      if (!draft) return;
      draft.held = false;
      if (closes) {
        finish(true);
        return;
      }
      keep();
      draw();
      emit("sketch");
    },
  );
}

/** Make the path of what was drawn. */
export async function finish(closed = false) {
  const done = draft;
  draft = null;
  pointer = null;
  layer.replaceChildren();
  emit("sketch");
  if (!done || done.nodes.length < 2) {
    keep();
    return;
  }
  const data = dataOf({ nodes: done.nodes, closed });
  const { onto } = done;
  const intent = onto
    ? {
        do: "edit-nodes",
        page: onto.page,
        object: onto.object,
        change: { kind: "extend", node: onto.node, data, close: closed },
      }
    : { do: "add-path", page: done.id, data, layer: activeLayer().id };
  try {
    const answer = await send([intent]);
    sessionStorage.removeItem(KEPT);
    setTool("select");
    const made = frames().find((f) => (onto ? f.id === onto.object : answer.made.includes(f.id)));
    if (made) select(made);
  } catch {
    draft = done;
    draw();
  } // it said why; nothing that was drawn is lost
}

/** Draw on from an end of a path. */
export function drawOn(onto, page, at) {
  setTool("pen");
  draft = begun(page, [{ at, before: null, after: null }], onto);
  draw();
}

function back() {
  draft.nodes.pop();
  if (!draft.nodes.length) draft = null;
  keep();
  draw();
  emit("sketch");
}

/** A line that follows the pointer until it is let go. One that ends where it began is closed. */
function byHand(event) {
  const { index } = pageAt(point(event));
  const points = [local(event, index)];
  const group = make("g", { transform: `translate(${pageX(index)} 0)` }, layer);
  const line = make("path", { class: "pen-line", d: "" }, group);
  let data = `M${points[0].join(" ")}`;
  drag(
    event,
    (moved) => {
      for (const one of moved.getCoalescedEvents?.() || [moved]) {
        const at = local(one, index);
        const last = points[points.length - 1];
        if (Math.hypot(at[0] - last[0], at[1] - last[1]) * view.scale < 1 || points.length >= 20_000) continue;
        points.push(at);
        data += `L${at[0].toFixed(2)} ${at[1].toFixed(2)}`;
      }
      line.setAttribute("d", data);
    },
    async () => {
      group.remove();
      if (points.length < 3) return;
      const closed = points.length > 8 && near(points[0], points[points.length - 1]);
      try {
        const answer = await send([
          {
            do: "add-freehand",
            page: state.pages[index].id,
            points: points.map(([x, y]) => [Number(x.toFixed(2)), Number(y.toFixed(2))]),
            smooth: Math.max(HAND / view.scale, 0.05),
            closed,
            layer: activeLayer().id,
          },
        ]);
        const made = frames().find((f) => answer.made.includes(f.id));
        if (made) select(made);
      } catch {
        /* it said why */
      }
    },
    () => group.remove(),
  );
}

sheet.addEventListener("pointermove", (event) => {
  if (!drawing() || draft.held) return;
  pointer = placed(event, draft.page);
  draw();
  emit("sketch");
});
sheet.addEventListener("pointerleave", () => {
  if (drawing()) {
    pointer = null;
    draw();
  }
});
document.addEventListener(
  "keydown",
  (event) => {
    if (!drawing() || !(event.ctrlKey || event.metaKey) || event.key.toLowerCase() !== "z") return;
    event.preventDefault();
    event.stopPropagation();
    back();
  },
  true,
);

tool({
  id: "pen",
  word: "Pen",
  icon: "pen-tool",
  press,
  kinds: [
    ["curves", "Node by node"],
    ["hand", "Freehand"],
  ],
});
register(
  {
    word: "End path",
    keys: ["Enter"],
    when: drawing,
    over: true,
    run: () => finish(),
    help: "end the path of the pen; click its first node to close it",
  },
  { word: "Close path", keys: [], when: () => drawing() && draft.nodes.length > 2, run: () => finish(true) },
  { word: "End path and leave pen", keys: ["Escape"], when: drawing, over: true, run: () => finish() },
  {
    word: "Delete last node of path",
    keys: ["Backspace", "Delete"],
    shown: ["Backspace"],
    when: drawing,
    over: true,
    run: back,
    help: "delete the last node of the pen",
  },
);
on("tool", (chosen) => {
  if (draft && chosen !== "pen") finish();
});
on("view", draw);
on("pages", ({ turned }) => {
  if (draft && turned) finish();
});

/** What was begun before the page was loaded anew is gone on with. */
export function goOn() {
  const kept = JSON.parse(sessionStorage.getItem(KEPT) || "null");
  if (!kept || kept.key !== state.key) return;
  const page = state.view.find((index) => state.pages[index].id === kept.id);
  if (page === undefined) return;
  setTool("pen");
  draft = begun(page, kept.nodes, kept.onto);
  draw();
  toast("Your unfinished path is still here. Continue it, or press Enter to end it.");
}
