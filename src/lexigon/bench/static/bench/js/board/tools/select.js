// The select tool: objects are selected, moved, resized and rotated.
import { drag, magnets, pull, pullBox, sketch, snapLines, tell } from "../gestures.js";
import { arrange, duplicate } from "../arranging.js";
import { chosen, current, draw, drawSketch, enter, holderOf, is, rectOf, select, selectThese } from "../frames.js";
import { change, moveAll } from "../frameactions.js";
import { endsOf, option, placeGroup, wholeGroup } from "../groups.js";
import { inSteps, stretched, stretchedTurned } from "../stretching.js";
import { frames, inText, ofWords } from "../standing.js";
import { around, board, bounds, frameAt, framesAt, pageAt, pageX, point, sheet, view } from "../sheet.js";
import { emit, length, send, setTool, state } from "../store.js";
import { across, down } from "../origin.js";
import { holdGuide } from "../guides.js";
import * as text from "../text.js";
import { press as pressText } from "../textpress.js";
import { tool } from "../tools.js";

const nearAngle = (degrees, fine) =>
  fine
    ? Math.round(degrees / 15) * 15
    : Math.abs(degrees - Math.round(degrees / 90) * 90) < 1.5
      ? Math.round(degrees / 90) * 90
      : Math.round(degrees * 10) / 10;

/** Rotate an object, a group, or all that is selected, about the centre; with Shift in steps of 15 degrees. */
function turnFrame(event, frame) {
  const all = together(),
    group = wholeGroup(all);
  const box = group ? group.box : all.length > 1 ? around(all.map(bounds)) : frame;
  const centre = { x: pageX(frame.page) + box.x + box.w / 2, y: box.y + box.h / 2 };
  const angleAt = (at) => (Math.atan2(at.x - centre.x, centre.y - at.y) * 180) / Math.PI;
  let degrees = all.length > 1 && !group ? 0 : box.rotation;
  drag(
    event,
    (moved) => {
      degrees = nearAngle(angleAt(point(moved)), moved.shiftKey);
      sketch.draft = { page: frame.page, x: box.x, y: box.y, w: box.w, h: box.h, rotation: degrees };
      tell(moved, `${degrees}°`);
      drawSketch();
    },
    (last, result) => {
      if (!result) draw();
      else if (group) place(group, { ...box, rotation: degrees });
      else if (all.length > 1) arrange({ do: "transform-objects", turn: degrees }, all).catch(() => {});
      else change(frame, { rotation: ((degrees % 360) + 360) % 360 });
    },
  );
}

/** Put a group into another box, and show it as it is then. */
async function place(group, box) {
  try {
    await placeGroup(group, box);
  } catch {
    /* it was said why */
  } finally {
    draw();
    emit("frame");
  }
}

/** Drag an end of a rule; with Shift in steps of 45 degrees from the other end. */
function dragEnd(event, rule, which) {
  const near = magnets(rule.page, rule.id);
  const ends = endsOf(rule),
    fixed = ends[which === "start" ? "end" : "start"];
  let at = ends[which];
  drag(
    event,
    (moved) => {
      const raw = { x: point(moved).x - pageX(rule.page), y: point(moved).y };
      const [sx, sy] = moved.altKey || moved.shiftKey ? [null, null] : [pull([raw.x], near.xs), pull([raw.y], near.ys)];
      at = { x: raw.x + (sx?.shift || 0), y: raw.y + (sy?.shift || 0) };
      if (moved.shiftKey) {
        const [x, y] = inSteps([fixed.x, fixed.y], [at.x, at.y]);
        at = { x, y };
      }
      sketch.draft = { page: rule.page, line: true, x: fixed.x, y: fixed.y, w: at.x - fixed.x, h: at.y - fixed.y };
      const [from, to] = which === "end" ? [fixed, at] : [at, fixed];
      const degrees = (Math.atan2(to.y - from.y, to.x - from.x) * 180) / Math.PI;
      tell(moved, `${length(Math.hypot(to.x - from.x, to.y - from.y))}, ${Math.round(degrees * 10) / 10}°`);
      snapLines(rule.page, sx, sy);
      drawSketch();
    },
    async (last, result) => {
      if (!result) {
        draw();
        return;
      }
      const [start, end] = which === "end" ? [fixed, at] : [at, fixed];
      try {
        await send([
          { do: "move-rule", page: holderOf(rule), frame: rule.id, start: [start.x, start.y], end: [end.x, end.y] },
        ]);
      } catch {
        /* it was said why */
      } finally {
        draw();
        emit("frame");
      }
    },
  );
}

/** What is chosen on the page of what was chosen first, and may be moved. */
function together() {
  const first = current();
  return chosen().filter((f) => first && f.page === first.page && !f.master && !inText(f));
}

/** The drawings of frames, to be carried along while they are dragged: of each the outermost group that holds nothing else. */
function lifted(all) {
  const own = new Set(all.map(({ group }) => group));
  const found = new Set();
  for (let { group } of all) {
    while (
      group.parentNode.nodeName === "g" &&
      !group.parentNode.classList.contains("content") &&
      [...group.parentNode.querySelectorAll(".frame")].every((one) => own.has(one))
    )
      group = group.parentNode;
    found.add(group);
  }
  const before = new Map([...found].map((group) => [group, group.getAttribute("transform") || ""]));
  return {
    by(dx, dy) {
      for (const [group, own_] of before) group.setAttribute("transform", `translate(${dx} ${dy}) ${own_}`);
    },
    back() {
      for (const [group, own_] of before)
        if (own_) group.setAttribute("transform", own_);
        else group.removeAttribute("transform");
    },
  };
}

function moveOrResize(event, frame, u, v) {
  if (frame.locked || ofWords(frame) || (frame.role === "inlay" && u === null)) return; // it can be chosen, and stays where it is
  if (u === null) {
    moveAlong(event, frame);
    return;
  }
  const all = together(),
    group = wholeGroup(all);
  const several = all.length > 1 || Boolean(group);
  const from = group ? group.box : several ? around(all.map(bounds)) : frame;
  const rotation = group || !several ? from.rotation : 0;
  const start = point(event);
  const near = magnets(frame.page, several ? all.map(({ id }) => id) : frame.id);
  drag(
    event,
    (moved) => {
      const at = point(moved);
      let [dx, dy] = [at.x - start.x, at.y - start.y];
      if (!sketch.draft && Math.hypot(dx, dy) * view.scale < 3) return;
      const how = {
        keep: moved.shiftKey !== Boolean(group && option("proportions")),
        centred: moved.ctrlKey || moved.metaKey,
      };
      let [sx, sy] = [null, null];
      if (rotation)
        sketch.draft = { page: frame.page, ...stretchedTurned(from, rotation, u, v, dx, dy, how), rotation };
      else {
        if (!moved.altKey && !how.keep) {
          sx = u === 0.5 ? null : pull([from.x + u * from.w + dx], near.xs);
          sy = v === 0.5 ? null : pull([from.y + v * from.h + dy], near.ys);
        }
        [dx, dy] = [dx + (sx?.shift || 0), dy + (sy?.shift || 0)];
        sketch.draft = { page: frame.page, ...stretched(from, u, v, dx, dy, how) };
      }
      tell(moved, `${length(sketch.draft.w)} × ${length(sketch.draft.h)}`);
      snapLines(frame.page, sx, sy);
      drawSketch();
    },
    (last, result) => {
      if (!result) draw();
      else if (group) place(group, { ...result, rotation });
      else if (several)
        arrange({ do: "transform-objects", to: rectOf(result), strokes: option("strokes") }, all).catch(() => {});
      else change(frame, { rect: rectOf(result) });
    },
  );
}

const MOST_CARRIED = 120; // drawings that can follow the pointer in time; of more their box alone does

/** Move a frame, or all that is chosen: it follows the pointer as it is drawn. With Ctrl a copy is carried. */
function moveAlong(event, frame) {
  const start = point(event);
  let all = [];
  let from = null;
  let near = null;
  let art = null;
  drag(
    event,
    (moved) => {
      const at = point(moved);
      let [dx, dy] = [at.x - start.x, at.y - start.y];
      if (!art) {
        if (Math.hypot(dx, dy) * view.scale < 3) return;
        all = chosen().some((f) => is(f, frame)) ? together() : [frame];
        if (!all.length) all = [frame];
        from = all.length > 1 ? around(all.map(bounds)) : bounds(frame);
        near = magnets(
          frame.page,
          all.map(({ id }) => id),
        );
        art = lifted(all.length > MOST_CARRIED ? [] : all);
        board.classList.add("carrying");
      }
      if (moved.shiftKey) {
        if (Math.abs(dx) > Math.abs(dy)) dy = 0;
        else dx = 0;
      }
      const { x: sx, y: sy } = moved.altKey
        ? { x: null, y: null }
        : pullBox({ ...from, x: from.x + dx, y: from.y + dy }, near);
      [dx, dy] = [dx + (sx?.shift || 0), dy + (sy?.shift || 0)];
      sketch.draft = { page: frame.page, x: from.x + dx, y: from.y + dy, w: from.w, h: from.h, dx, dy };
      tell(moved, `${across(frame.page, sketch.draft.x)}, ${down(frame.page, sketch.draft.y)}`); // measures the window, so before anything is moved in it
      art.by(dx, dy);
      snapLines(frame.page, sx, sy);
      drawSketch();
    },
    (last, result) => {
      board.classList.remove("carrying");
      if (!result) {
        art?.back();
        draw();
        return;
      }
      const { dx, dy } = result;
      if (last.ctrlKey || last.metaKey) {
        art.back();
        duplicate(dx, dy);
      } else if (chosen().length > 1) moveAll(dx, dy);
      else change(frame, { rect: rectOf({ ...frame, x: frame.x + dx, y: frame.y + dy }) });
    },
    () => {
      board.classList.remove("carrying");
      art?.back();
    },
  );
}

/** A rectangle drawn over objects chooses those it touches; with Alt those that lie within it. */
function marquee(event) {
  const begun = point(event);
  const { index } = pageAt(begun);
  const before = event.shiftKey ? chosen() : [];
  let box = null;
  let within = false;
  drag(
    event,
    (moved) => {
      const at = point(moved);
      if (!box && Math.hypot(at.x - begun.x, at.y - begun.y) * view.scale < 4) return;
      box = {
        x: Math.min(begun.x, at.x),
        y: Math.min(begun.y, at.y),
        w: Math.abs(at.x - begun.x),
        h: Math.abs(at.y - begun.y),
      };
      within = moved.altKey;
      sketch.draft = { page: index, ...box, x: box.x - pageX(index) };
      drawSketch();
    },
    (last, result) => {
      if (!result || !box) {
        draw();
        return;
      }
      const taken = frames().filter((f) => {
        if (f.master || f.field || f.held || inText(f)) return false;
        const own = bounds(f);
        const { y, w, h } = own;
        const x = own.x + pageX(f.page);
        const inside = x >= box.x && x + w <= box.x + box.w && y >= box.y && y + h <= box.y + box.h;
        return within ? inside : x < box.x + box.w && x + w > box.x && y < box.y + box.h && y + h > box.y;
      });
      selectThese([...before, ...taken.filter((f) => !before.some((one) => is(one, f)))]);
    },
  );
}

let dug = ""; // what was reached beneath something else: it is meant by the next press, though it is not the topmost
let dugAt = { x: 0, y: 0 }; // and where
let above = null; // what it was reached from: a double click means that

/** A click on what is chosen already, after a while, chooses what lies beneath it. */
function beneath(event, at, frame) {
  const { clientX, clientY } = event;
  sheet.addEventListener(
    "pointerup",
    (up) => {
      if (Math.hypot(up.clientX - clientX, up.clientY - clientY) >= 4) return;
      const pile = framesAt(at).reverse();
      const elsewhere = dug === frame.id && Math.hypot(clientX - dugAt.x, clientY - dugAt.y) >= 4;
      const next = elsewhere ? pile[0] : pile[(pile.findIndex((f) => is(f, frame)) + 1) % pile.length];
      if (!next || is(next, frame)) return;
      dug = elsewhere ? "" : next.id;
      dugAt = { x: clientX, y: clientY };
      above = elsewhere ? null : frame;
      select(next);
    },
    { once: true },
  );
}

function press(event, clicks) {
  const at = point(event);
  const handle = event.target.closest?.(".handle");
  const held = current();
  if (handle?.dataset.end && held) {
    dragEnd(event, held, handle.dataset.end);
    return;
  }
  if (handle?.dataset.turns && held) {
    turnFrame(event, held);
    return;
  }
  if (handle && held) {
    moveOrResize(event, held, Number(handle.dataset.u), Number(handle.dataset.v));
    return;
  }
  if (!handle && !event.shiftKey && holdGuide(event)) return;
  if (clicks === 1) above = null;
  const back = clicks >= 2 && above ? framesAt(at).find((f) => is(f, above)) : null;
  if (back) {
    dug = "";
    above = null;
    select(back);
  }
  const mine = current();
  const frame =
    back ||
    (mine && mine.id === dug && framesAt(at).find((f) => is(f, mine))) ||
    frameAt(at) ||
    frameAt(at, { fields: true });
  text.leave();
  if (!frame) {
    if (!event.shiftKey) select(null);
    marquee(event);
    return;
  }
  if (event.shiftKey) {
    select(frame, true);
    return;
  }
  const again = chosen().some((f) => is(f, frame));
  if (again && chosen().length > 1) {
    // a click on one of several chooses it alone; a drag moves them all
    const { clientX, clientY } = event;
    sheet.addEventListener(
      "pointerup",
      (up) => {
        if (Math.hypot(up.clientX - clientX, up.clientY - clientY) < 4) select(frame);
      },
      { once: true },
    );
  }
  if (!again) select(frame);
  else if (clicks === 1 && chosen().length === 1) beneath(event, at, frame);
  if (clicks >= 2 && frame.inGroup && !frame.master) {
    enter(frame);
    return;
  }
  if (clicks >= 2 && frame.story && !frame.field) {
    const own = frameAt(at, { cells: true });
    if (!state.record) setTool("text");
    if (own?.role === "cell") select(own);
    pressText(event, own?.role === "cell" ? own : frame, 1);
    if (own?.role !== "cell" && text.tableAtCaret()) emit("table", text.tableAtCaret()); // in a frame that is turned its cells stand in a sheet
    return;
  }
  if (clicks >= 2 && !frame.field && !ofWords(frame) && chosen().length === 1) {
    emit(frame.kind === "picture" ? "framing" : "outline", frame);
    return;
  }
  if (again || !frame.master) moveOrResize(event, frame, null, null);
}

tool({ id: "select", word: "Select", icon: "mouse-pointer-2", press });
