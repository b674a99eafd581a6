// The tools that draw new frames and shapes.
import { register } from "../../commands.js";
import { draw, drawSketch, lead, rectOf, select } from "../frames.js";
import { drag, magnets, pull, sketch, snapLines, tell } from "../gestures.js";
import { pageAt, pageX, point, sheet } from "../sheet.js";
import { frames } from "../standing.js";
import { inSteps } from "../stretching.js";
import { activeLayer, length, send, setTool, state } from "../store.js";
import * as text from "../text.js";
import { kindOf, tool } from "../tools.js";

const SHAPES = {
  box: {},
  ellipse: { outline: { kind: "ellipse" } },
  triangle: { corners: 3 },
  diamond: { corners: 4 },
  hexagon: { corners: 6 },
  star: { corners: 5, depth: 0.5 },
};

function drawNew(event) {
  const begun = pageAt(point(event));
  const { xs, ys } = magnets(begun.index, "");
  const edge = (at, targets, free) => at + ((!free && pull([at], targets)?.shift) || 0);
  const x0 = edge(begun.x, xs, event.altKey);
  const y0 = edge(begun.y, ys, event.altKey);
  drag(
    event,
    (moved) => {
      const at = point(moved);
      const sx = moved.altKey ? null : pull([at.x - pageX(begun.index)], xs);
      const sy = moved.altKey ? null : pull([at.y], ys);
      const x1 = at.x - pageX(begun.index) + (sx?.shift || 0);
      const y1 = at.y + (sy?.shift || 0);
      sketch.draft = {
        page: begun.index,
        x: Math.min(x0, x1),
        y: Math.min(y0, y1),
        w: Math.abs(x1 - x0),
        h: Math.abs(y1 - y0),
        ellipse: state.tool === "shape" && kindOf("shape") === "ellipse",
      };
      if (moved.shiftKey) {
        sketch.draft.w = sketch.draft.h = Math.max(sketch.draft.w, sketch.draft.h);
        if (x1 < x0) sketch.draft.x = x0 - sketch.draft.w;
        if (y1 < y0) sketch.draft.y = y0 - sketch.draft.h;
      }
      snapLines(begun.index, sx, sy);
      tell(moved, `${length(sketch.draft.w)} × ${length(sketch.draft.h)}`);
      drawSketch();
    },
    async (last, result) => {
      if (!result || result.w < 4 || result.h < 4) {
        draw();
        return;
      }
      const after = lead.from;
      lead.from = null;
      if (state.tool === "shape") {
        try {
          const answer = await send([
            {
              do: "add-shape",
              page: state.pages[result.page].id,
              rect: rectOf(result),
              ...SHAPES[kindOf("shape")],
              layer: activeLayer().id,
            },
          ]);
          setTool("select");
          select(
            frames()
              .filter((f) => answer.made.includes(f.id))
              .pop() || null,
          );
        } catch {
          draw();
        }
        return;
      }
      try {
        // On a panel that hangs head over foot the words are set so that the reader has them upright.
        const panel = (state.pages[result.page].lines.panels || []).find(
          (p) =>
            result.x + result.w / 2 >= p.x &&
            result.x + result.w / 2 <= p.x + p.w &&
            result.y + result.h / 2 >= p.y &&
            result.y + result.h / 2 <= p.y + p.h,
        );
        const making = async () => {
          const answer = await send([
            {
              do: "add-text-frame",
              page: state.pages[result.page].id,
              rect: rectOf(result),
              after,
              turn: panel?.turn || 0,
              layer: activeLayer().id,
            },
          ]);
          const made =
            frames()
              .filter((f) => answer.made.includes(f.id))
              .pop() || null;
          if (made) select(made);
          if (made && !after) await text.enter(made);
        };
        if (after) {
          await making();
          setTool("select");
        } else await text.awaiting(making);
      } catch {
        draw();
      }
    },
  );
}

/** A rule from where the pointer is pressed to where it is let go; with Shift in steps of 45 degrees. */
function drawRule(event) {
  const begun = pageAt(point(event));
  const { xs, ys } = magnets(begun.index, "");
  const near = (at, targets, free) => at + ((!free && pull([at], targets)?.shift) || 0);
  const [x0, y0] = [near(begun.x, xs, event.altKey), near(begun.y, ys, event.altKey)];
  let end = null;
  drag(
    event,
    (moved) => {
      const at = point(moved);
      const raw = { x: at.x - pageX(begun.index), y: at.y };
      const [sx, sy] = moved.altKey || moved.shiftKey ? [null, null] : [pull([raw.x], xs), pull([raw.y], ys)];
      end = { x: raw.x + (sx?.shift || 0), y: raw.y + (sy?.shift || 0) };
      if (moved.shiftKey) {
        const [x, y] = inSteps([x0, y0], [end.x, end.y]);
        end = { x, y };
      }
      sketch.draft = { page: begun.index, line: true, x: x0, y: y0, w: end.x - x0, h: end.y - y0 };
      snapLines(begun.index, sx, sy);
      const degrees = Math.round(((Math.atan2(end.y - y0, end.x - x0) * 180) / Math.PI) * 10) / 10;
      tell(moved, `${length(Math.hypot(end.x - x0, end.y - y0))}, ${degrees}°`);
      drawSketch();
    },
    async (last, result) => {
      if (!result || Math.hypot(result.w, result.h) < 4) {
        draw();
        return;
      }
      try {
        const answer = await send([
          {
            do: "add-rule",
            page: state.pages[result.page].id,
            start: [x0, y0],
            end: [end.x, end.y],
            layer: activeLayer().id,
          },
        ]);
        setTool("select");
        select(
          frames()
            .filter((f) => answer.made.includes(f.id))
            .pop() || null,
        );
      } catch {
        draw();
      }
    },
  );
}

tool({ id: "frame", word: "Text frame", icon: "square-plus", press: drawNew });
tool({
  id: "shape",
  word: "Shape",
  icon: "shapes",
  press: drawNew,
  kinds: Object.keys(SHAPES).map((kind) => [kind, kind[0].toUpperCase() + kind.slice(1)]),
});
tool({ id: "rule", word: "Rule", icon: "minus", press: drawRule });

/** The middle of the page that is looked at, for what is added by the keys: so wide and high as parts of its text area. */
function middle(across, down) {
  const [page] = state.view;
  const { x, y, w, h } = state.pages[page].lines.area;
  const [width, height] = [w * across, h * down];
  return { page, rect: { x: x + (w - width) / 2, y: y + (h - height) / 2, width, height } };
}

/** Put something new on the page, and choose it: what the tools do where there is no pointer. */
async function addInMiddle(intent) {
  text.leave();
  setTool("select");
  try {
    const answer = await send([{ ...intent, layer: activeLayer().id }]);
    const made = frames()
      .filter((f) => answer.made.includes(f.id))
      .pop();
    if (!made) return;
    sheet.focus({ preventScroll: true });
    select(made);
    if (made.story) await text.enter(made); // what is typed next is its text
  } catch {
    draw();
  } // it said why
}

const holder = (page) => state.pages[page].id;
register(
  {
    word: "Add text frame in the centre of the page",
    keys: [],
    run: () => {
      const { page, rect } = middle(1, 0.3);
      return addInMiddle({ do: "add-text-frame", page: holder(page), rect });
    },
  },
  ...Object.entries(SHAPES).map(([kind, more]) => ({
    word: `Add shape in the centre of the page: ${kind} in the middle of the page`,
    keys: [],
    run: () => {
      const { page, rect } = middle(0.5, 0.3);
      return addInMiddle({ do: "add-shape", page: holder(page), rect, ...more });
    },
  })),
  {
    word: "Add rule across the page",
    keys: [],
    run: () => {
      const {
        page,
        rect: { x, y, width, height },
      } = middle(1, 0.3);
      return addInMiddle({
        do: "add-rule",
        page: holder(page),
        start: [x, y + height / 2],
        end: [x + width, y + height / 2],
      });
    },
  },
);
