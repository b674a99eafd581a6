// The select tool: frames are chosen, moved, resized and turned.
import { drag, magnets, pull, sketch, snapLines, tell } from "../gestures.js";
import { duplicate } from "../arranging.js";
import { change, chosen, current, draw, is, moveAll, rectOf, select, selectThese } from "../frames.js";
import { applied, mapOf } from "../matrix.js";
import { frames } from "../standing.js";
import { frameAt, framesAt, pageAt, pageX, point, sheet, view } from "../sheet.js";
import { emit, length, setTool } from "../store.js";
import { holdGuide } from "../rulers.js";
import * as text from "../text.js";
import { tool } from "../tools.js";

/** Turn a frame about its centre; with Shift in steps of 15 degrees. */
function turnFrame(event, frame) {
  const centre = { x: pageX(frame.page) + frame.x + frame.w / 2, y: frame.y + frame.h / 2 };
  const angleAt = (at) => (Math.atan2(at.x - centre.x, centre.y - at.y) * 180) / Math.PI;
  let degrees = frame.rotation;
  drag(event, (moved) => {
    degrees = angleAt(point(moved));
    degrees = moved.shiftKey ? Math.round(degrees / 15) * 15 : Math.abs(degrees - Math.round(degrees / 90) * 90) < 1.5 ? Math.round(degrees / 90) * 90 : Math.round(degrees * 10) / 10;
    sketch.draft = { page: frame.page, x: frame.x, y: frame.y, w: frame.w, h: frame.h, rotation: degrees };
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
  if (frame.locked || frame.role === "note" || (frame.role === "inlay" && u === null)) return; // it can be chosen, and stays where it is
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
    sketch.draft = { page: frame.page, x: from.x, y: from.y, w: from.w, h: from.h };
    let sx = null;
    let sy = null;
    if (resizing && frame.rotation) {
      sketch.draft = { page: frame.page, ...resizedTurned(from, u, v, dx, dy), rotation: frame.rotation };
      tell(moved, `${length(sketch.draft.w)} × ${length(sketch.draft.h)}`);
    } else if (resizing) {
      if (u === 0.5) dx = 0;
      if (v === 0.5) dy = 0;
      if (!moved.altKey) {
        sx = u === 0.5 ? null : pull([from.x + u * from.w + dx], xs);
        sy = v === 0.5 ? null : pull([from.y + v * from.h + dy], ys);
      }
      dx += sx?.shift || 0;
      dy += sy?.shift || 0;
      if (u === 0) { sketch.draft.x = Math.min(from.x + dx, from.x + from.w - 4); sketch.draft.w = from.x + from.w - sketch.draft.x; } else if (u === 1) sketch.draft.w = Math.max(from.w + dx, 4);
      if (v === 0) { sketch.draft.y = Math.min(from.y + dy, from.y + from.h - 4); sketch.draft.h = from.y + from.h - sketch.draft.y; } else if (v === 1) sketch.draft.h = Math.max(from.h + dy, 4);
      tell(moved, `${length(sketch.draft.w)} × ${length(sketch.draft.h)}`);
    } else {
      if (moved.shiftKey) { if (Math.abs(dx) > Math.abs(dy)) dy = 0; else dx = 0; }
      if (!moved.altKey) {
        sx = pull([from.x + dx, from.x + from.w / 2 + dx, from.x + from.w + dx], xs);
        sy = pull([from.y + dy, from.y + from.h / 2 + dy, from.y + from.h + dy], ys);
      }
      sketch.draft.x = from.x + dx + (sx?.shift || 0);
      sketch.draft.y = from.y + dy + (sy?.shift || 0);
      tell(moved, `${length(sketch.draft.x)}, ${length(sketch.draft.y)}`);
    }
    snapLines(frame.page, sx, sy);
    draw();
  }, (last, result) => {
    if (!result) draw();
    else if (!resizing && (last.ctrlKey || last.metaKey)) duplicate(result.x - from.x, result.y - from.y);
    else if (!resizing && chosen().length > 1) moveAll(result.x - from.x, result.y - from.y);
    else change(frame, { rect: rectOf(result) });
  });
}

/** A rectangle drawn over objects chooses those it touches; with Alt those that lie within it. */
function marquee(event) {
  const begun = point(event);
  const { index } = pageAt(begun);
  const before = event.shiftKey ? chosen() : [];
  let box = null;
  let within = false;
  drag(event, (moved) => {
    const at = point(moved);
    if (!box && Math.hypot(at.x - begun.x, at.y - begun.y) * view.scale < 4) return;
    box = { x: Math.min(begun.x, at.x), y: Math.min(begun.y, at.y), w: Math.abs(at.x - begun.x), h: Math.abs(at.y - begun.y) };
    within = moved.altKey;
    sketch.draft = { page: index, ...box, x: box.x - pageX(index) };
    draw();
  }, (last, result) => {
    if (!result || !box) { draw(); return; }
    const taken = frames().filter((f) => {
      if (f.master || f.field || f.held || f.role === "note" || f.role === "inlay") return false;
      const { x, y, w, h } = bounds(f);
      const inside = x >= box.x && x + w <= box.x + box.w && y >= box.y && y + h <= box.y + box.h;
      return within ? inside : x < box.x + box.w && x + w > box.x && y < box.y + box.h && y + h > box.y;
    });
    selectThese([...before, ...taken.filter((f) => !before.some((one) => is(one, f)))]);
  });
}

/** The upright box round a frame as it stands on the spread. */
function bounds(f) {
  const map = mapOf(f);
  const corners = [[f.x, f.y], [f.x + f.w, f.y], [f.x, f.y + f.h], [f.x + f.w, f.y + f.h]].map(([x, y]) => (map ? applied(map, { x, y }) : { x, y }));
  const [xs, ys] = [corners.map(({ x }) => x), corners.map(({ y }) => y)];
  const [x, y] = [Math.min(...xs), Math.min(...ys)];
  return { x: x + pageX(f.page), y, w: Math.max(...xs) - x, h: Math.max(...ys) - y };
}

let dug = ""; // what was reached beneath something else: it is meant by the next press, though it is not the topmost

/** A click on what is chosen already, after a while, chooses what lies beneath it. */
function beneath(event, at, frame) {
  const { clientX, clientY } = event;
  sheet.addEventListener("pointerup", (up) => {
    if (Math.hypot(up.clientX - clientX, up.clientY - clientY) >= 4) return;
    const pile = framesAt(at).reverse();
    const next = pile[(pile.findIndex((f) => is(f, frame)) + 1) % pile.length];
    if (!next || is(next, frame)) return;
    dug = next.id;
    select(next);
  }, { once: true });
}

function press(event, clicks) {
  const at = point(event);
  const handle = event.target.closest?.(".handle");
  const held = current();
  if (handle?.dataset.turns && held) { turnFrame(event, held); return; }
  if (handle && held) { moveOrResize(event, held, Number(handle.dataset.u), Number(handle.dataset.v)); return; }
  if (!handle && !event.shiftKey && holdGuide(event)) return;
  const mine = current();
  const frame = (mine && mine.id === dug && framesAt(at).find((f) => is(f, mine))) || frameAt(at) || frameAt(at, { fields: true });
  text.leave();
  if (!frame) { if (!event.shiftKey) select(null); marquee(event); return; }
  if (event.shiftKey) { select(frame, true); return; }
  const again = chosen().some((f) => is(f, frame));
  if (again && chosen().length > 1) { // a click on one of several chooses it alone; a drag moves them all
    const { clientX, clientY } = event;
    sheet.addEventListener("pointerup", (up) => { if (Math.hypot(up.clientX - clientX, up.clientY - clientY) < 4) select(frame); }, { once: true });
  }
  if (!again) select(frame);
  else if (clicks === 1 && chosen().length === 1) beneath(event, at, frame);
  if (clicks >= 2 && frame.story && !frame.field) { setTool("text"); text.press(event, frame, 1); return; }
  if (clicks >= 2 && !frame.field && frame.role !== "note" && chosen().length === 1) { emit("outline", frame); return; }
  if (again || !frame.master) moveOrResize(event, frame, null, null);
}

tool({ id: "select", word: "Select", icon: "mouse-pointer-2", press });
