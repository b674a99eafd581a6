// Selecting, moving, resizing, drawing and linking frames, with the numbers beside the pointer and snapping.
import { board, frameAt, make, over, pageAt, pageX, point, sheet, turnOf as turned, view } from "./sheet.js";
import { frames } from "./standing.js";
import { activeLayer, emit, length, on, send, setTool, state, toast } from "./store.js";
import * as text from "./text.js";

const numbers = document.getElementById("numbers");
const HANDLES = [[0, 0], [0.5, 0], [1, 0], [1, 0.5], [1, 1], [0.5, 1], [0, 1], [0, 0.5]];
const SNAP = 5;
let draft = null;
let lines = [];
let leading = null; // the frame a new or clicked frame's text is led on from
let hovered = null;

/** The topmost frame with text under a point; the frame of a story on a page. */
export const frameUnder = (at) => frameAt(at);
export const frameOf = (story, page) => frames().find((f) => f.story === story && (page === undefined || f.page === page) && !f.field) || null;

export const frameOfLine = (line) => frames().find((f) => f.id === line.frame && f.page === line.page) || null;

export const current = () => (state.selected ? frames().find((f) => f.id === state.selected.id && f.page === state.selected.page) || null : null);

const is = (f, other) => f.id === other.id && f.page === other.page;

/** Every selected frame, the first one chosen first; members of a group stand together. */
export function chosen() {
  const first = current();
  if (!first) return [];
  const all = frames();
  const found = [first];
  for (const other of state.also || []) { const f = all.find((one) => is(one, other)); if (f && !found.includes(f)) found.push(f); }
  for (const f of found.slice()) if (f.inGroup) for (const mate of all) if (mate.inGroup === f.inGroup && !found.includes(mate)) found.push(mate);
  return found;
}

/** The paragraphs that stand in frames, by frame: from the first one seen to the last, and on over the foot of a frame that
    the text does not fit into. "^" and "$" are the ends of a text. */
export function standing(all) {
  return all.filter((f) => f.story && !f.field).map((f) => {
    const { lines } = f;
    const first = lines.length ? lines[0].p : f.overset && f.number <= 1 ? "^" : "";
    return { story: f.story, first, last: f.overset ? "$" : first && lines[lines.length - 1].p };
  }).filter(({ first }) => first);
}

/** Select a frame; with `add` beside those selected already, or no longer if it was. */
export function select(frame, add = false) {
  if (add && frame && state.selected) {
    const others = (state.also || []).filter((one) => !is(one, frame));
    if (is(state.selected, frame)) { state.selected = others.shift() || null; state.also = others; } else state.also = others.length === (state.also || []).length ? [...others, { id: frame.id, page: frame.page }] : others;
  } else {
    state.selected = frame ? { id: frame.id, page: frame.page } : null;
    state.also = [];
  }
  draw();
  emit("frame");
}

/** Everything that stands over the pages: outlines, handles, numbers of the flow, overset tabs, ribbons. */
export function draw() {
  over.replaceChildren();
  const px = 1 / view.scale;
  const all = frames();
  const first = current();
  for (const f of all) {
    if (f.field || f.held) continue;
    const box = make("rect", { class: `frame-box${f.master ? " master" : ""}${hovered && hovered.id === f.id && hovered.page === f.page ? " hover" : ""}`, x: pageX(f.page) + f.x, y: f.y, width: f.w, height: f.h, "data-id": f.id, transform: turned(f) }, over);
    if (f.overset) oversetTab(f, px);
    if (!f.lines.length && !f.master && f.story) label(f, "empty: click with the text tool to type", px);
    box.dataset.page = f.page;
  }
  if (first) {
    const typing = state.tool === "text";
    if (!typing) ribbons(all, first, px);
    for (const other of chosen().slice(1)) make("rect", { class: "selected-box", x: pageX(other.page) + other.x, y: other.y, width: other.w, height: other.h, transform: turned(other) }, over);
    const x = pageX(first.page) + first.x;
    const box = make("g", { transform: turned(first) }, over);
    make("rect", { class: "selected-box", x, y: first.y, width: first.w, height: first.h }, box);
    if (first.locked && !typing) label(first, "locked: K unlocks it", px, true);
    if (!typing && !first.locked) {
      for (const [u, v] of HANDLES) make("circle", { class: "handle", cx: x + u * first.w, cy: first.y + v * first.h, r: 4.6 * px, "data-u": u, "data-v": v }, box);
      if (first.role !== "main") {
        make("line", { class: "turn-stem", x1: x + first.w / 2, x2: x + first.w / 2, y1: first.y, y2: first.y - 22 * px }, box);
        make("circle", { class: "handle turn-handle", cx: x + first.w / 2, cy: first.y - 22 * px, r: 4.6 * px, "data-turns": 1 }, box);
      }
    }
    if (first.number && !typing) badge(x - 15 * px, first.y + 8.5 * px, String(first.number), px);
    if (first.master) label(first, state.master ? "from the master page it is based on" : "from the master page", px, true);
    if (state.master && first.role === "main") label(first, "main text of the pages that use this master", px);
  }
  for (const line of lines) make("line", { class: "snap", ...line }, over);
  if (draft) make(draft.ellipse ? "ellipse" : "rect", { class: "draft-box", ...(draft.ellipse ? { cx: pageX(draft.page) + draft.x + draft.w / 2, cy: draft.y + draft.h / 2, rx: draft.w / 2, ry: draft.h / 2 } : { x: pageX(draft.page) + draft.x, y: draft.y, width: draft.w, height: draft.h }), transform: turned(draft) }, over);
}

function label(f, words, px, above = false) {
  const y = above ? f.y - 6 * px : f.y + 18 * px;
  const element = make("text", { class: "plain", x: pageX(f.page) + f.x + 6 * px, y, "font-size": 11 * px }, over);
  element.textContent = words;
}

function badge(cx, cy, words, px) {
  make("circle", { class: "tab-act", cx, cy, r: 8.5 * px }, over);
  const element = make("text", { x: cx, y: cy + 3.8 * px, "font-size": 10.5 * px, "text-anchor": "middle" }, over);
  element.textContent = words;
}

function oversetTab(f, px) {
  const words = `+ ${f.overset} word${f.overset === 1 ? "" : "s"}`;
  const width = (words.length * 6.6 + 14) * px;
  const x = pageX(f.page) + f.x + f.w - width;
  const group = make("g", { class: "overset", "data-overset-of": f.id }, over);
  make("rect", { class: "tab-red", x, y: f.y + f.h + 3 * px, width, height: 19 * px, rx: 3 * px }, group);
  const element = make("text", { x: x + 7 * px, y: f.y + f.h + 16.5 * px, "font-size": 11.5 * px }, group);
  element.textContent = words;
  make("title", {}, group).textContent = `${f.overset} words, ${f.oversetLines} lines do not fit`;
}

/** From each frame of the flow to the next one on the spread. */
function ribbons(all, chosen, px) {
  const flow = all.filter((f) => f.story === chosen.story && f.number).sort((a, b) => a.number - b.number);
  for (let i = 1; i < flow.length; i += 1) {
    const [a, b] = [flow[i - 1], flow[i]];
    if (b.number !== a.number + 1) continue;
    const [x0, y0, x1, y1] = [pageX(a.page) + a.x + a.w, a.y + a.h, pageX(b.page) + b.x, b.y];
    const bend = Math.max(Math.abs(x1 - x0) / 2, 30 * px);
    make("path", { class: "ribbon", d: `M${x0} ${y0}C${x0 + bend} ${y0} ${x1 - bend} ${y1 + 8.5 * px} ${x1 - 15 * px} ${y1 + 8.5 * px}` }, over);
    badge(x1 - 15 * px, y1 + 8.5 * px, String(b.number), px);
  }
}

function tell(event, words) {
  const box = board.getBoundingClientRect();
  numbers.textContent = words;
  numbers.hidden = false;
  numbers.style.left = `${Math.min(event.clientX - box.left + 16, box.width - numbers.offsetWidth - 8)}px`;
  numbers.style.top = `${Math.min(event.clientY - box.top + 16, box.height - 30)}px`;
}

/** Where edges like to go: margins, trim, bleed, centres, other frames. Page coordinates. */
function magnets(page, except) {
  const { bleed } = state.sheet;
  const { side, lines: own } = state.pages[page];
  const { w: width, h: height, area } = own;
  const left = side === "recto" ? bleed.inner : bleed.outer;
  const right = side === "recto" ? bleed.outer : bleed.inner;
  const xs = [0, width, width / 2, -left, width + right, area.x, area.x + area.w];
  const ys = [0, height, height / 2, -bleed.head, height + bleed.foot, area.y, area.y + area.h];
  if (!own.panels) {
    const step = (area.w + own.gutter) / own.columns;
    for (let i = 0; i < own.columns; i += 1) xs.push(area.x + i * step, area.x + (i + 1) * step - own.gutter);
    const down = (area.h + own.rowGutter) / own.rows;
    for (let i = 0; i < own.rows; i += 1) ys.push(area.y + i * down, area.y + (i + 1) * down - own.rowGutter);
  }
  for (const panel of own.panels || []) {
    xs.push(panel.x, panel.x + panel.w, panel.x + panel.w / 2, panel.safe.x, panel.safe.x + panel.safe.w);
    ys.push(panel.y, panel.y + panel.h, panel.y + panel.h / 2, panel.safe.y, panel.safe.y + panel.safe.h);
  }
  for (const { axis, at } of own.guides) (axis === "x" ? xs : ys).push(at);
  for (const f of frames()) if (f.page === page && f.id !== except && !f.field) { xs.push(f.x, f.x + f.w); ys.push(f.y, f.y + f.h); }
  return { xs, ys };
}

/** How far to shift so that one of `edges` lies on a magnet; and the magnet. */
function pull(edges, targets) {
  let best = null;
  for (const edge of edges) for (const target of targets) {
    const shift = target - edge;
    if (Math.abs(shift) * view.scale <= SNAP && (!best || Math.abs(shift) < Math.abs(best.shift))) best = { shift, target };
  }
  return best;
}

function snapLines(page, x, y) {
  lines = [];
  const px = pageX(page);
  if (x) lines.push({ x1: px + x.target, x2: px + x.target, y1: -2000, y2: 4000 });
  if (y) lines.push({ x1: -2000, x2: 6000, y1: y.target, y2: y.target });
}

function drag(event, moved, done) {
  sheet.setPointerCapture(event.pointerId);
  const stop = (last) => {
    for (const [name, listener] of Object.entries(listeners)) sheet.removeEventListener(name, listener);
    removeEventListener("keydown", escape, true);
    numbers.hidden = true;
    lines = [];
    const result = draft;
    draft = null;
    if (last) done(last, result); else draw();
  };
  const escape = (key) => { if (key.key === "Escape") { key.preventDefault(); key.stopPropagation(); stop(null); } };
  const listeners = { pointermove: moved, pointerup: (last) => stop(last), pointercancel: () => stop(null) };
  for (const [name, listener] of Object.entries(listeners)) sheet.addEventListener(name, listener);
  addEventListener("keydown", escape, true);
}

const rectOf = ({ x, y, w, h }) => ({ x, y, width: w, height: h });

export async function change(frame, values) {
  try {
    const answer = await send([{ do: "change-frame", page: state.pages[frame.page].id, frame: frame.id, ...values }]);
    const still = frames().find((f) => f.id === frame.id && f.page === frame.page);
    // A master's frame that was changed here has become the page's own, under a new name.
    select(still && !still.master ? still : frames().find((f) => answer.made.includes(f.id) && f.page === frame.page && f.role === frame.role) || still || null);
  } catch { draw(); }
}

/** Set every selected frame so; master pages' frames are only taken over one at a time. */
export async function changeAll(values) {
  const all = chosen().filter((f) => !f.field);
  const own = all.filter((f) => !f.master);
  if (all.length < 2 || !own.length) { if (all.length) await change(all[0], values); return; }
  const intents = own.map((f) => ({ do: "change-frame", page: state.pages[f.page].id, frame: f.id, ...values }));
  try { await send(intents); } finally { draw(); emit("frame"); }
}

/** Move every selected frame by as much. */
async function moveAll(dx, dy) {
  const all = chosen().filter((f) => !f.master);
  try { await send(all.map((f) => ({ do: "change-frame", page: state.pages[f.page].id, frame: f.id, rect: rectOf({ x: f.x + dx, y: f.y + dy, w: f.w, h: f.h }) }))); draw(); emit("frame"); } catch { draw(); }
}

/** Turn a frame about its centre; with Shift in steps of 15 degrees. */
function turnFrame(event, frame) {
  const centre = { x: pageX(frame.page) + frame.x + frame.w / 2, y: frame.y + frame.h / 2 };
  const angleAt = (at) => (Math.atan2(at.x - centre.x, centre.y - at.y) * 180) / Math.PI;
  let degrees = frame.rotation;
  drag(event, (moved) => {
    degrees = angleAt(point(moved));
    degrees = moved.shiftKey ? Math.round(degrees / 15) * 15 : Math.abs(degrees - Math.round(degrees / 90) * 90) < 1.5 ? Math.round(degrees / 90) * 90 : Math.round(degrees * 10) / 10;
    draft = { page: frame.page, x: frame.x, y: frame.y, w: frame.w, h: frame.h, rotation: degrees };
    tell(moved, `${degrees}°`);
    draw();
  }, (last, result) => { if (result) change(frame, { rotation: ((degrees % 360) + 360) % 360 }); else draw(); });
}

/** A turned frame's new box: resized before its own eye, the side opposite to the handle held where it is. */
function resizedTurned(frame, u, v, dx, dy) {
  const angle = (frame.rotation * Math.PI) / 180;
  const [c, s] = [Math.cos(angle), Math.sin(angle)];
  const [lx, ly] = [dx * c + dy * s, -dx * s + dy * c];
  const w = Math.max(u === 0 ? frame.w - lx : u === 1 ? frame.w + lx : frame.w, 4);
  const h = Math.max(v === 0 ? frame.h - ly : v === 1 ? frame.h + ly : frame.h, 4);
  const [ox, oy] = [((u === 0 ? -1 : u === 1 ? 1 : 0) * (w - frame.w)) / 2, ((v === 0 ? -1 : v === 1 ? 1 : 0) * (h - frame.h)) / 2];
  const [cx, cy] = [frame.x + frame.w / 2 + ox * c - oy * s, frame.y + frame.h / 2 + ox * s + oy * c];
  return { x: cx - w / 2, y: cy - h / 2, w, h };
}

function moveOrResize(event, frame, u, v) {
  if (frame.locked) return; // it can be chosen, and stays where it is
  const start = point(event);
  const from = { ...frame };
  const { xs, ys } = magnets(frame.page, frame.id);
  let begun = false;
  const resizing = u !== null;
  drag(event, (moved) => {
    const at = point(moved);
    let dx = at.x - start.x;
    let dy = at.y - start.y;
    if (!begun && Math.hypot(dx, dy) * view.scale < 3) return;
    begun = true;
    draft = { page: frame.page, x: from.x, y: from.y, w: from.w, h: from.h };
    let sx = null;
    let sy = null;
    if (resizing && frame.rotation) {
      draft = { page: frame.page, ...resizedTurned(from, u, v, dx, dy), rotation: frame.rotation };
      tell(moved, `${length(draft.w)} × ${length(draft.h)}`);
    } else if (resizing) {
      if (u === 0.5) dx = 0;
      if (v === 0.5) dy = 0;
      if (!moved.altKey) {
        sx = u === 0.5 ? null : pull([from.x + u * from.w + dx], xs);
        sy = v === 0.5 ? null : pull([from.y + v * from.h + dy], ys);
      }
      dx += sx?.shift || 0;
      dy += sy?.shift || 0;
      if (u === 0) { draft.x = Math.min(from.x + dx, from.x + from.w - 4); draft.w = from.x + from.w - draft.x; } else if (u === 1) draft.w = Math.max(from.w + dx, 4);
      if (v === 0) { draft.y = Math.min(from.y + dy, from.y + from.h - 4); draft.h = from.y + from.h - draft.y; } else if (v === 1) draft.h = Math.max(from.h + dy, 4);
      tell(moved, `${length(draft.w)} × ${length(draft.h)}`);
    } else {
      if (moved.shiftKey) { if (Math.abs(dx) > Math.abs(dy)) dy = 0; else dx = 0; }
      if (!moved.altKey) {
        sx = pull([from.x + dx, from.x + from.w / 2 + dx, from.x + from.w + dx], xs);
        sy = pull([from.y + dy, from.y + from.h / 2 + dy, from.y + from.h + dy], ys);
      }
      draft.x = from.x + dx + (sx?.shift || 0);
      draft.y = from.y + dy + (sy?.shift || 0);
      tell(moved, `${length(draft.x)}, ${length(draft.y)}`);
    }
    snapLines(frame.page, sx, sy);
    draw();
  }, (last, result) => {
    if (!result) draw();
    else if (!resizing && chosen().length > 1) moveAll(result.x - from.x, result.y - from.y);
    else change(frame, { rect: rectOf(result) });
  });
}

function drawNew(event) {
  const begun = pageAt(point(event));
  const { xs, ys } = magnets(begun.index, "");
  const edge = (at, targets, free) => at + ((!free && pull([at], targets)?.shift) || 0);
  const x0 = edge(begun.x, xs, event.altKey);
  const y0 = edge(begun.y, ys, event.altKey);
  drag(event, (moved) => {
    const at = point(moved);
    const sx = moved.altKey ? null : pull([at.x - pageX(begun.index)], xs);
    const sy = moved.altKey ? null : pull([at.y], ys);
    const x1 = at.x - pageX(begun.index) + (sx?.shift || 0);
    const y1 = at.y + (sy?.shift || 0);
    draft = { page: begun.index, x: Math.min(x0, x1), y: Math.min(y0, y1), w: Math.abs(x1 - x0), h: Math.abs(y1 - y0), ellipse: state.tool === "shape" && state.shape === "ellipse" };
    if (moved.shiftKey) { draft.w = draft.h = Math.max(draft.w, draft.h); if (x1 < x0) draft.x = x0 - draft.w; if (y1 < y0) draft.y = y0 - draft.h; }
    snapLines(begun.index, sx, sy);
    tell(moved, `${length(draft.w)} × ${length(draft.h)}`);
    draw();
  }, async (last, result) => {
    if (!result || result.w < 4 || result.h < 4) { draw(); return; }
    const after = leading;
    leading = null;
    if (state.tool === "shape") {
      try {
        const outline = state.shape === "ellipse" ? { kind: "ellipse" } : null;
        const answer = await send([{ do: "add-shape", page: state.pages[result.page].id, rect: rectOf(result), outline, layer: activeLayer().id }]);
        setTool("select");
        select(frames().filter((f) => answer.made.includes(f.id)).pop() || null);
      } catch { draw(); }
      return;
    }
    try {
      // On a panel that hangs head over foot the words are set so that the reader has them upright.
      const panel = (state.pages[result.page].lines.panels || []).find((p) => result.x + result.w / 2 >= p.x && result.x + result.w / 2 <= p.x + p.w && result.y + result.h / 2 >= p.y && result.y + result.h / 2 <= p.y + p.h);
      const answer = await send([{ do: "add-text-frame", page: state.pages[result.page].id, rect: rectOf(result), after, turn: panel?.turn || 0, layer: activeLayer().id }]);
      const made = frames().filter((f) => answer.made.includes(f.id)).pop();
      if (made) { select(made); if (after) { setTool("select"); } else text.enter(made); }
    } catch { draw(); }
  });
}

/** Draw the next frame of a flow: the frame tool, with the text coming from `frame`. */
export function leadOn(frame) {
  setTool("frame"); // which forgets any flow begun before
  leading = frame.id;
  toast("Draw the frame that the text goes on in.");
}

async function link(event) {
  const frame = frameAt(point(event));
  if (!leading) {
    if (!frame) { toast("Click the frame whose text should go on, then the frame it goes on in."); return; }
    leading = frame.id;
    select(frame);
    toast("Now click the frame that the text goes on in.");
    return;
  }
  const after = leading;
  leading = null;
  if (!frame) { toast("The flow was left as it is."); return; }
  try {
    await send([{ do: "link-frames", after, into_page: state.pages[frame.page].id, into: frame.id }]);
    select(frames().find((f) => f.id === frame.id && f.page === frame.page));
    setTool("select");
  } catch { draw(); }
}

export async function remove() {
  const frame = current();
  if (!frame) return;
  if (chosen().length > 1) {
    try { await send(chosen().filter((f) => !f.master).map((f) => ({ do: "remove-frame", page: state.pages[f.page].id, frame: f.id }))); select(null); } catch { draw(); }
    return;
  }
  if (frame.master) { toast("This frame belongs to the master page: edit the master, or take the frame over to change it here."); return; }
  try {
    await send([{ do: "remove-frame", page: state.pages[frame.page].id, frame: frame.id }]);
    select(null);
  } catch { draw(); }
}

/** Make a master's frame this page's own, as it stands. */
export async function takeOver() {
  const frame = current();
  if (!frame) return;
  sheet.focus({ preventScroll: true }); // the button goes; keys go on with the frame
  try {
    const answer = await send([{ do: "take-over", page: state.pages[frame.page].id, frame: frame.id }]);
    select(frames().filter((f) => f.page === frame.page && answer.made.includes(f.id) && !f.master).pop() || null);
  } catch { draw(); }
}

/** One of the objects chosen, grouped or locked for good: none of them may be a master's. */
function own() {
  const all = chosen();
  if (all.some((f) => f.master)) { toast("Part of this belongs to the master page: take it over first."); return []; }
  return all;
}

/** Make a group of what is chosen, on one page. */
export async function group() {
  const all = own();
  if (all.length < 2) return;
  if (new Set(all.map(({ page }) => page)).size > 1) { toast("A group stands on one page: choose objects of one page."); return; }
  try { await send([{ do: "group-objects", page: state.pages[all[0].page].id, objects: all.map(({ id }) => id) }]); } finally { draw(); emit("frame"); }
}

/** What is in the chosen group stands by itself again. */
export async function ungroup() {
  const [first] = own();
  if (!first?.inGroup) return;
  try { await send([{ do: "ungroup", page: state.pages[first.page].id, group: first.inGroup }]); } finally { draw(); emit("frame"); }
}

/** Lock what is chosen, or unlock it where all of it is locked. */
export async function lock() {
  const all = own();
  const locked = !all.every((f) => f.locked);
  const intents = all.map((f) => ({ do: "change-frame", page: state.pages[f.page].id, frame: f.id, locked }));
  if (intents.length) try { await send(intents); } finally { draw(); emit("frame"); }
}

export async function unlink() {
  const frame = current();
  try { await send([{ do: "unlink-frame", page: state.pages[frame.page].id, frame: frame.id }]); select(current()); } catch { draw(); }
}

export function nudge(dx, dy) {
  const f = current();
  if (!f) return;
  if (chosen().some((one) => one.locked)) { toast("This is locked: K unlocks it."); return; }
  if (chosen().length > 1) moveAll(dx, dy);
  else change(f, { rect: rectOf({ x: f.x + dx, y: f.y + dy, w: f.w, h: f.h }) });
}

export function next(back) {
  const list = frames().filter((f) => !f.field && !f.held);
  if (!list.length) return;
  const at = list.findIndex((f) => state.selected && f.id === state.selected.id && f.page === state.selected.page);
  select(list[(at + (back ? -1 : 1) + list.length) % list.length]);
}

/** A press on the sheet with one of the tools that work on frames or text. */
export function press(event, clicks) {
  const at = point(event);
  if (state.tool === "frame" || state.tool === "shape") { drawNew(event); return; }
  if (state.tool === "flow") { link(event); return; }
  if (state.tool === "text") {
    const frame = frameAt(at);
    if (frame && frame.story) { select(frame); text.press(event, frame, clicks); } else { text.leave(); select(null); if (frameAt(at, { fields: true })) toast("This is made by the master page: choose Edit the master page in the slip to change it everywhere."); }
    return;
  }
  const handle = event.target.closest?.(".handle");
  const held = current();
  if (handle?.dataset.turns && held) { turnFrame(event, held); return; }
  if (handle && held) { moveOrResize(event, held, Number(handle.dataset.u), Number(handle.dataset.v)); return; }
  const frame = frameAt(at) || frameAt(at, { fields: true });
  text.leave();
  if (!frame) { select(null); return; }
  if (event.shiftKey) { select(frame, true); return; }
  const again = chosen().some((f) => is(f, frame));
  if (again && chosen().length > 1) { // a click on one of several chooses it alone; a drag moves them all
    const { clientX, clientY } = event;
    sheet.addEventListener("pointerup", (up) => { if (Math.hypot(up.clientX - clientX, up.clientY - clientY) < 4) select(frame); }, { once: true });
  }
  if (!again) select(frame);
  if (clicks >= 2 && frame.story && !frame.field) { setTool("text"); text.press(event, frame, 1); return; }
  if (again || !frame.master) moveOrResize(event, frame, null, null);
}

sheet.addEventListener("pointermove", (event) => {
  if (draft || event.buttons) return;
  const frame = state.tool === "pan" ? null : frameAt(point(event));
  if (frame?.id !== hovered?.id || frame?.page !== hovered?.page) { hovered = frame; draw(); }
});
sheet.addEventListener("pointerleave", () => { hovered = null; draw(); });
on("painted", () => { if (state.selected && !current()) select(null); else draw(); });
on("view", draw);
on("tool", () => { leading = null; draw(); });
