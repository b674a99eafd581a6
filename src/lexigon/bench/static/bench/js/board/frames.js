// Frames on the board: which are selected, and what is drawn over them. frameactions.js changes them.
import { drawerPanel } from "./rooms.js";
import { sketch } from "./gestures.js";
import { endsShown, wholeGroup } from "./groups.js";
import { applied } from "./matrix.js";
import { around, bounds, frameAt, make, over, pageX, point, sheet, turnOf as turned, view } from "./sheet.js";
import { frames, inReading, inText, ofWords } from "./standing.js";
import { emit, on, state, toast } from "./store.js";

const HANDLES = [
  [0, 0],
  [0.5, 0],
  [1, 0],
  [1, 0.5],
  [1, 1],
  [0.5, 1],
  [0, 1],
  [0, 0.5],
];
/** The id of the frame that the text of a new or pressed frame is led on from. */
export const lead = { from: null };
let hovered = null;

/** The topmost frame with text under a point; the frame of a story on a page. */
export const frameUnder = (at) => frameAt(at, { cells: true });
export const frameOf = (story, page) =>
  frames().find((f) => f.story === story && (page === undefined || f.page === page) && !f.field) || null;

export const frameOfLine = (line) => frames().find((f) => f.id === line.frame && f.page === line.page) || null;

export const current = () =>
  state.selected ? frames().find((f) => f.id === state.selected.id && f.page === state.selected.page) || null : null;

/** Whether something can be worked on where it stands; it says why not. */
export function workable(f) {
  if (!f) return false;
  if (f.master) {
    toast("This object belongs to the master page. Override it first.");
    return false;
  }
  if (f.locked) {
    toast("This object is locked. Press K to unlock it.");
    return false;
  }
  return true;
}

export const is = (f, other) => f.id === other.id && f.page === other.page;

/** Every selected frame, the first one chosen first; members of a group stand together. */
export function chosen() {
  const all = frames(); // copies, made anew at each call
  const keyOf = ({ id, page }) => `${page} ${id}`;
  const standing = new Map(all.map((one) => [keyOf(one), one]));
  const found = new Map();
  for (const other of [state.selected, ...(state.also || [])]) {
    const f = other && standing.get(keyOf(other));
    if (f) found.set(keyOf(f), f);
  }
  const groups = new Set(
    [...found.values()].filter(({ inGroup }) => inGroup).map(({ inGroup, page }) => `${page} ${inGroup}`),
  );
  if (groups.size)
    for (const mate of all)
      if (mate.inGroup && groups.has(`${mate.page} ${mate.inGroup}`)) found.set(keyOf(mate), mate);
  return [...found.values()];
}

/** The paragraphs that stand in frames, by frame: from the first one seen to the last, and on over the foot of a frame that
    the text does not fit into. "^" and "$" are the ends of a text. */
export function standing(all) {
  return all
    .filter((f) => f.story && !f.field)
    .map((f) => {
      const { lines } = f;
      const first = lines.length ? lines[0].p : f.overset && f.number <= 1 ? "^" : "";
      return { story: f.story, first, last: f.overset ? "$" : first && lines[lines.length - 1].p };
    })
    .filter(({ first }) => first);
}

/** What is chosen outside of the group that was entered leaves that. */
function stay(...all) {
  state.cells = null;
  if (state.entered && !all.some((f) => f?.groups?.includes(state.entered))) state.entered = "";
}

/** Choose one of a group by itself, or the group it is in within that. */
export function enter(frame) {
  state.entered = frame.inGroup;
  select(frame);
}

/** Back to the whole of the group that was entered; false where none was. */
export function leaveGroup() {
  const first = current();
  if (!state.entered || !first) return false;
  state.entered = first.groups[first.groups.indexOf(state.entered) - 1] || "";
  select(first);
  return true;
}

/** Select a frame; with `add` beside those selected already, or no longer if it was. */
export function select(frame, add = false) {
  stay(frame);
  if (add && frame && state.selected) {
    const others = (state.also || []).filter((one) => !is(one, frame));
    if (is(state.selected, frame)) {
      state.selected = others.shift() || null;
      state.also = others;
    } else
      state.also =
        others.length === (state.also || []).length ? [...others, { id: frame.id, page: frame.page }] : others;
  } else {
    state.selected = frame ? { id: frame.id, page: frame.page } : null;
    state.also = [];
  }
  draw();
  emit("frame");
}

/** Select just these frames; where they are cells of a table, `cells` is the rectangle that is chosen of it. */
export function selectThese(all, cells = null) {
  stay(...all);
  state.cells = cells;
  const [first, ...others] = all.map(({ id, page }) => ({ id, page }));
  state.selected = first || null;
  state.also = others;
  draw();
  emit("frame");
}

const [boxes, labels, chosenOver, sketched] = ["boxes", "labels", "chosen-over", "sketched"].map((name) =>
  make("g", { class: name }, over),
);

/** The attributes that the box of each frame was given. */
const drawn = new WeakMap();
const RULER = 18; // pixels of the rulers, which labels keep clear of
const MANY = 60; // boxes that are drawn each by itself; more are one path

/** Everything that stands over the pages: outlines, handles, numbers of the flow, overset tabs, ribbons. */
export function draw() {
  const all = frames();
  const there = new Map([...boxes.children].map((box) => [box.dataset.key, box]));
  let last = null;
  const at = current(),
    table = at?.role === "cell" ? `${at.story.split("/")[0]}/` : "none"; // cells are outlined while one types in their table
  for (const f of all) {
    if (f.field || f.held || (f.role === "cell" && !f.story.startsWith(table))) continue;
    const key = `${f.page} ${f.id}`;
    const said = {
      class: `frame-box${f.master ? " master" : ""}`,
      x: pageX(f.page) + f.x,
      y: f.y,
      width: f.w,
      height: f.h,
      transform: turned(f),
    };
    let box = there.get(key);
    if (!box) {
      box = make("rect", { "data-id": f.id, "data-page": f.page, "data-key": key });
      drawn.set(box, {});
    }
    const before = drawn.get(box);
    for (const name in said) if (before[name] !== said[name]) box.setAttribute(name, said[name]); // of what was moved its place alone
    drawn.set(box, said);
    there.delete(key);
    const next = last ? last.nextSibling : boxes.firstChild;
    if (box !== next) boxes.insertBefore(box, next);
    last = box;
  }
  for (const gone of there.values()) gone.remove();
  hover(hovered);
  drawChosen(all);
  drawSketch();
}

/** What is as large at every zoom: words beside frames, what is chosen with its handles. */
function drawChosen(all = frames()) {
  const px = 1 / view.scale;
  labels.replaceChildren();
  for (const f of all) {
    if (f.field || f.held) continue;
    if (f.overset) oversetTab(f, px);
    if (f.bindings.length && !state.clean) bindingTab(f, px);
    const gone = offPage(f);
    if (gone) label(f, `${gone} line${gone === 1 ? " is" : "s are"} off the page`, px, true, labels, "warning");
    if (isEmpty(f, all)) label(f, "empty; click with the text tool to type", px);
  }
  chosenOver.replaceChildren();
  if (drawerPanel.querySelector(".reading-list")) numberAll(all, px);
  const first = current();
  if (!first) return;
  if (state.entered) {
    const whole = around(all.filter((f) => f.groups.includes(state.entered)).map(bounds));
    make(
      "rect",
      { class: "whole-box", x: pageX(first.page) + whole.x, y: whole.y, width: whole.w, height: whole.h },
      chosenOver,
    );
  }
  const typing = state.tool === "text";
  if (!typing) ribbons(all, first, px);
  const several = chosen();
  const others = several.slice(1);
  const upright = others.length > MANY ? others.filter((f) => !turned(f)) : [];
  if (upright.length)
    make(
      "path",
      {
        class: "selected-box",
        d: upright.map((f) => `M${pageX(f.page) + f.x} ${f.y}h${f.w}v${f.h}h${-f.w}z`).join(""),
      },
      chosenOver,
    );
  if (state.cells)
    for (const cell of several)
      make(
        "rect",
        {
          class: "cell-chosen",
          x: pageX(cell.page) + cell.x,
          y: cell.y,
          width: cell.w,
          height: cell.h,
          transform: turned(cell),
        },
        chosenOver,
      );
  for (const other of upright.length ? others.filter(turned) : others)
    make(
      "rect",
      {
        class: "selected-box",
        x: pageX(other.page) + other.x,
        y: other.y,
        width: other.w,
        height: other.h,
        transform: turned(other),
      },
      chosenOver,
    );
  const x = pageX(first.page) + first.x;
  const box = make("g", { transform: turned(first) }, chosenOver);
  make("rect", { class: "selected-box", x, y: first.y, width: first.w, height: first.h }, box);
  if (first.locked && !typing) label(first, "locked; press K to unlock", px, true, chosenOver);
  const together = several.filter((f) => f.page === first.page && !f.master && !inText(f));
  const group = wholeGroup(together);
  if (!typing && (group || together.length > 1) && !together.some((f) => f.locked)) {
    const whole = group ? group.box : { ...around(together.map(bounds)), page: first.page };
    const rotated = make("g", { transform: turned(whole) }, chosenOver);
    make(
      "rect",
      { class: "whole-box", x: pageX(first.page) + whole.x, y: whole.y, width: whole.w, height: whole.h },
      rotated,
    );
    handles(whole, rotated, px, true);
  } else if (!typing && first.kind === "rule" && !first.locked) endHandles(first, px);
  else if (!typing && !first.locked && !ofWords(first))
    handles(first, box, px, first.role !== "main" && first.role !== "inlay");
  if (first.number && !typing && first.role !== "cell")
    badge(x - 15 * px, first.y + 8.5 * px, String(first.number), px);
  if (first.master)
    label(
      first,
      state.master ? "from the master page that this one is based on" : "from the master page",
      px,
      true,
      chosenOver,
    );
  if (state.master && first.role === "main")
    label(first, "main text of the pages that use this master page", px, false, chosenOver);
}

/** Whether a frame shows no words because its story has none; not because they did not fit, or are in its other frames. */
const isEmpty = (f, all) =>
  Boolean(f.story) &&
  !f.master &&
  !f.along &&
  f.role !== "cell" &&
  f.number <= 1 &&
  !all.some((one) => one.story === f.story && (one.lines.length || one.overset));

/** While the order of reading is looked at: each thing's number in it. */
function numberAll(all, px) {
  for (const page of state.view) {
    const own = inReading(all.filter((f) => f.page === page && !f.master && !f.field && !inText(f)));
    own.forEach((f, at) => badge(pageX(f.page) + f.x + 10 * px, f.y + 10 * px, String(at + 1), px));
  }
}

function handles({ page, x: left, y, w, h }, parent, px, turns) {
  const x = pageX(page) + left;
  for (const [u, v] of HANDLES)
    make("circle", { class: "handle", cx: x + u * w, cy: y + v * h, r: 4.6 * px, "data-u": u, "data-v": v }, parent);
  if (!turns) return;
  make("line", { class: "turn-stem", x1: x + w / 2, x2: x + w / 2, y1: y, y2: y - 22 * px }, parent);
  make("circle", { class: "handle turn-handle", cx: x + w / 2, cy: y - 22 * px, r: 4.6 * px, "data-turns": 1 }, parent);
}

/** A rule is moved by its ends. */
function endHandles(f, px) {
  endsShown(f).forEach(({ x, y }, n) =>
    make("circle", { class: "handle", cx: x, cy: y, r: 4.6 * px, "data-end": n ? "end" : "start" }, chosenOver),
  );
}

/** What a gesture shows: the draft, the lines it lies on with why, equal gaps with their length. */
export function drawSketch() {
  const px = 1 / view.scale;
  sketched.replaceChildren();
  for (const { why, ...line } of sketch.lines) {
    make("line", { class: "snap", ...line }, sketched);
    if (!why) continue;
    const upright = line.x1 === line.x2;
    const words = make(
      "text",
      {
        class: "snap-why",
        x: upright ? line.x1 + 4 * px : (44 - view.x) * px,
        y: upright ? (34 - view.y) * px : line.y1 - 4 * px,
        "font-size": 10.5 * px,
      },
      sketched,
    );
    words.textContent = why;
  }
  for (const { words, ...bar } of sketch.bars) {
    make("line", { class: "gap-bar", ...bar }, sketched);
    const [tx, ty] = bar.y1 === bar.y2 ? [0, 4 * px] : [4 * px, 0];
    for (const [x, y] of [
      [bar.x1, bar.y1],
      [bar.x2, bar.y2],
    ])
      make("line", { class: "gap-bar", x1: x - tx, x2: x + tx, y1: y - ty, y2: y + ty }, sketched);
    const text = make(
      "text",
      {
        class: "snap-why",
        x: (bar.x1 + bar.x2) / 2 + (ty ? 0 : 6 * px),
        y: (bar.y1 + bar.y2) / 2 - (ty ? 5 * px : -4 * px),
        "font-size": 10.5 * px,
        "text-anchor": ty ? "middle" : "start",
      },
      sketched,
    );
    text.textContent = words;
  }
  const { draft } = sketch;
  if (!draft) return;
  const x = pageX(draft.page) + draft.x;
  if (draft.line)
    make("line", { class: "draft-box", x1: x, y1: draft.y, x2: x + draft.w, y2: draft.y + draft.h }, sketched);
  else if (draft.ellipse)
    make(
      "ellipse",
      {
        class: "draft-box",
        cx: x + draft.w / 2,
        cy: draft.y + draft.h / 2,
        rx: draft.w / 2,
        ry: draft.h / 2,
        transform: turned(draft),
      },
      sketched,
    );
  else
    make(
      "rect",
      { class: "draft-box", x, y: draft.y, width: draft.w, height: draft.h, transform: turned(draft) },
      sketched,
    );
}

/** The frame under the pointer is marked. */
function hover(frame) {
  boxes.querySelector(".hover")?.classList.remove("hover");
  hovered = frame;
  if (frame) boxes.querySelector(`[data-id="${frame.id}"][data-page="${frame.page}"]`)?.classList.add("hover");
}

/** How many lines of a frame are above, below or beside their page, and are not printed. */
function offPage(f) {
  if (f.master || f.along || !f.lines.length) return 0;
  const { w, h } = state.pages[f.page].lines;
  return f.lines.filter(({ x, y, a, texts }) => {
    if (!texts.length) return false;
    const at = f.map ? applied(f.map, { x, y }) : { x, y };
    return at.y <= 0 || at.y - 0.75 * a >= h || (!f.map && x >= w);
  }).length;
}

function label(f, words, px, above = false, parent = labels, name = "plain") {
  const own = above ? f.y - 6 * px : f.y + 18 * px;
  const y = name === "warning" ? Math.max(own, (RULER - view.y) / view.scale + 14 * px) : own; // seen though its frame is beyond the board
  const element = make("text", { class: name, x: pageX(f.page) + f.x + 6 * px, y, "font-size": 11 * px }, parent);
  element.textContent = words;
}

function badge(cx, cy, words, px) {
  make("circle", { class: "tab-act", cx, cy, r: 8.5 * px }, chosenOver);
  const element = make(
    "text",
    { x: cx, y: cy + 3.8 * px, "font-size": 10.5 * px, "text-anchor": "middle" },
    chosenOver,
  );
  element.textContent = words;
}

function oversetTab(f, px) {
  const words = `+ ${f.overset}`;
  const width = (words.length * 6.6 + 14) * px;
  const x = pageX(f.page) + f.x + f.w - width;
  const group = make("g", { class: "overset", "data-overset-of": f.id }, labels);
  make("rect", { class: "tab-red", x, y: f.y + f.h + 3 * px, width, height: 19 * px, rx: 3 * px }, group);
  const element = make("text", { x: x + 7 * px, y: f.y + f.h + 16.5 * px, "font-size": 11.5 * px }, group);
  element.textContent = words;
  make("title", {}, group).textContent = `${f.oversetLong}. Enlarge the frame, reduce the type, or link another frame.`;
}

/** A tab at the head of an object that records set something of: the names of the fields. */
function bindingTab(f, px) {
  const fields = [
    ...new Set(f.bindings.flatMap(([, value]) => [...value.matchAll(/\{([^{}]+)\}/g)].map(([, one]) => one))),
  ];
  const words = `{ ${fields.slice(0, 3).join(", ")}${fields.length > 3 ? " …" : ""} }`;
  const [x, y] = [pageX(f.page) + f.x, f.y - 17 * px];
  const group = make("g", { class: "bound", "data-bound-of": f.id, transform: turned(f) }, labels);
  const rect = make("rect", { class: "tab-bound", x, y, height: 15 * px, rx: 3 * px }, group);
  const element = make("text", { x: x + 5 * px, y: y + 11.2 * px, "font-size": 10.5 * px }, group);
  element.textContent = words;
  rect.setAttribute("width", String((words.length * 5.6 + 10) * px));
  make("title", {}, group).textContent = f.bindings.map(([property, value]) => `${property}: ${value}`).join("\n");
}

/** From each frame of the flow to the next one on the spread. */
function ribbons(all, chosen, px) {
  const flow = all.filter((f) => f.story === chosen.story && f.number).sort((a, b) => a.number - b.number);
  for (let i = 1; i < flow.length; i += 1) {
    const [a, b] = [flow[i - 1], flow[i]];
    if (b.number !== a.number + 1) continue;
    const [x0, y0, x1, y1] = [pageX(a.page) + a.x + a.w, a.y + a.h, pageX(b.page) + b.x, b.y];
    const bend = Math.max(Math.abs(x1 - x0) / 2, 30 * px);
    make(
      "path",
      {
        class: "ribbon",
        d: `M${x0} ${y0}C${x0 + bend} ${y0} ${x1 - bend} ${y1 + 8.5 * px} ${x1 - 15 * px} ${y1 + 8.5 * px}`,
      },
      chosenOver,
    );
    badge(x1 - 15 * px, y1 + 8.5 * px, String(b.number), px);
  }
}

/** What edits call that on which a frame stands: its page, a half of a master, or the texts of the job. */
export const holderOf = (f) => (f.role === "inlay" ? "inlays" : state.pages[f.page].id);

/** Frames as intents name them: what is chosen in a group that was entered is meant itself. */
export const named = (all) =>
  all.map((f) => ({ page: holderOf(f), id: f.id, ...(f.groups?.includes(state.entered) ? { inner: true } : {}) }));

export const rectOf = ({ x, y, w, h }) => ({ x, y, width: w, height: h });

/** The frame that was selected last and no longer exists. */
export const lost = { frame: null };

export function next(back) {
  const list = inReading(frames().filter((f) => !f.field && !f.held));
  if (!list.length) return;
  const at = list.findIndex((f) => state.selected && f.id === state.selected.id && f.page === state.selected.page);
  select(list[(at + (back ? -1 : 1) + list.length) % list.length]);
}

sheet.addEventListener("pointermove", (event) => {
  if (sketch.draft || event.buttons) return;
  const frame = state.tool === "pan" ? null : frameAt(point(event));
  if (frame?.id !== hovered?.id || frame?.page !== hovered?.page) hover(frame);
});
sheet.addEventListener("pointerleave", () => hover(null));
on("painted", () => {
  if (!state.selected || current()) {
    draw();
    return;
  }
  lost.frame = state.selected;
  select(null);
});
on("view", () => {
  drawChosen();
  drawSketch();
});
on("tool", () => {
  lead.from = null;
  draw();
});
on("sketch", drawSketch);
