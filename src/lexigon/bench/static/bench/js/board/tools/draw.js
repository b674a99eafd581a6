// The tools that draw new frames and shapes.
import { draw, lead, rectOf, select } from "../frames.js";
import { drag, magnets, pull, sketch, snapLines, tell } from "../gestures.js";
import { pageAt, pageX, point } from "../sheet.js";
import { frames } from "../standing.js";
import { activeLayer, length, send, setTool, state } from "../store.js";
import * as text from "../text.js";
import { tool } from "../tools.js";

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
    sketch.draft = { page: begun.index, x: Math.min(x0, x1), y: Math.min(y0, y1), w: Math.abs(x1 - x0), h: Math.abs(y1 - y0), ellipse: state.tool === "shape" && state.shape === "ellipse" };
    if (moved.shiftKey) { sketch.draft.w = sketch.draft.h = Math.max(sketch.draft.w, sketch.draft.h); if (x1 < x0) sketch.draft.x = x0 - sketch.draft.w; if (y1 < y0) sketch.draft.y = y0 - sketch.draft.h; }
    snapLines(begun.index, sx, sy);
    tell(moved, `${length(sketch.draft.w)} × ${length(sketch.draft.h)}`);
    draw();
  }, async (last, result) => {
    if (!result || result.w < 4 || result.h < 4) { draw(); return; }
    const after = lead.from;
    lead.from = null;
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

tool({ id: "frame", word: "Text frame", icon: "square-plus", press: drawNew });
tool({ id: "shape", word: "Shape", icon: "shapes", press: drawNew });
