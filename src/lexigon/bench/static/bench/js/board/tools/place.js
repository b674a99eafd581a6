// Pictures that wait at the pointer: a click places the next at its natural size, a drag in the box that is drawn, a frame takes it; with Ctrl
// a drag lays all that wait in a grid.
import { register } from "../../commands.js";
import { element } from "../../dom.js";
import { inCell } from "../cellchoice.js";
import { draw, drawSketch, holderOf, rectOf, select } from "../frames.js";
import { drag, magnets, pull, sketch, snapLines, tell } from "../gestures.js";
import { addressOf, boxAt, intentOf, takes } from "../placing.js";
import { board, frameAt, framesAt, pageAt, pageX, point, sheet } from "../sheet.js";
import { frames } from "../standing.js";
import { activeLayer, length, on, send, setTool, state } from "../store.js";
import { showBar, tool } from "../tools.js";

const GAP = 12; // points between the pictures of a grid
let waiting = [];
const ghost = element("div", { class: "waiting-picture", hidden: true }, element("img", { alt: "" }), element("b", {}));
board.append(ghost);

const active = () => state.tool === "place" && waiting.length > 0;

/** Let pictures, {file, width, height} each, wait at the pointer. */
export function load(pictures) {
  waiting = [...(active() ? waiting : []), ...pictures];
  if (!waiting.length) return;
  setTool("place");
  offer();
}

function offer() {
  if (!active()) {
    ghost.hidden = true;
    return;
  }
  const [{ file }] = waiting;
  ghost.querySelector("img").src = addressOf(file.file, 320, file.look);
  ghost.querySelector("b").textContent = waiting.length > 1 ? String(waiting.length) : "";
  const words = `${waiting.length > 1 ? `${waiting.length} pictures wait` : `“${file.name}” waits`}: click, or drag its box${waiting.length > 1 ? "; with Ctrl a grid of all" : ""}`;
  showBar("Placing", [
    element("span", { class: "figure", role: "status", text: words }),
    ...(waiting.length > 1
      ? [
          element("button", {
            type: "button",
            text: "Skip",
            title: "Skip: loads the next picture instead",
            click: () => {
              waiting.shift();
              offer();
            },
          }),
        ]
      : []),
    element("button", {
      type: "button",
      text: "Cancel",
      title: "Cancel: the pictures stay in the contact sheet (Esc)",
      click: leave,
    }),
  ]);
}

sheet.addEventListener("pointermove", (event) => {
  if (!active()) return;
  const box = board.getBoundingClientRect();
  ghost.hidden = false;
  ghost.style.setProperty("left", `${event.clientX - box.left + 14}px`);
  ghost.style.setProperty("top", `${event.clientY - box.top + 14}px`);
});
sheet.addEventListener("pointerleave", () => {
  ghost.hidden = true;
});

/** The frame at a point that would take the picture: one that is empty or shows another, or a shape. */
const under = (at) =>
  framesAt(at)
    .filter((f) => takes(f) && !f.master)
    .pop() || null;

function press(event) {
  if (!waiting.length) {
    setTool("select");
    return;
  }
  const begun = pageAt(point(event));
  const { xs, ys } = magnets(begun.index, "");
  const near = (value, targets) => value + ((!event.altKey && pull([value], targets)?.shift) || 0);
  const [x0, y0] = [near(begun.x, xs), near(begun.y, ys)];
  drag(
    event,
    (moved) => {
      const at = point(moved);
      const [x, y] = [at.x - pageX(begun.index), at.y];
      const [sx, sy] = moved.altKey ? [null, null] : [pull([x], xs), pull([y], ys)];
      let [w, h] = [x + (sx?.shift || 0) - x0, y + (sy?.shift || 0) - y0];
      const [{ width, height }] = waiting;
      if (moved.shiftKey) h = Math.sign(h || 1) * Math.abs(w) * (height / width); // the picture's own shape
      if (Math.hypot(w, h) < 3 && !sketch.draft) return;
      sketch.draft = {
        page: begun.index,
        x: Math.min(x0, x0 + w),
        y: Math.min(y0, y0 + h),
        w: Math.abs(w),
        h: Math.abs(h),
      };
      snapLines(begun.index, sx, sy);
      tell(moved, `${length(sketch.draft.w)} × ${length(sketch.draft.h)}`);
      drawSketch();
    },
    (last, result) => {
      if (!result || result.w < 4 || result.h < 4) {
        draw();
        click(begun, under(point(event)), frameAt(point(event), { cells: true }));
        return;
      }
      if ((last.ctrlKey || last.metaKey) && waiting.length > 1) grid(result);
      else put([{ rect: rectOf(result), page: result.page }]);
    },
  );
}

function click(at, frame, top) {
  if (frame) {
    put([{ frame }]);
    return;
  }
  if (top?.cell && !top.master) {
    put([{ cell: top }]);
    return;
  }
  const [{ width, height }] = waiting;
  put([{ rect: boxAt(at.index, at, width, height), page: at.index }]);
}

/** All that wait, in as many columns as make their boxes most like their own shapes. */
function grid(box) {
  const count = waiting.length;
  const shape = waiting.reduce((sum, { width, height }) => sum + width / height, 0) / count;
  const sized = (columns) => {
    const rows = Math.ceil(count / columns);
    return { columns, w: (box.w - GAP * (columns - 1)) / columns, h: (box.h - GAP * (rows - 1)) / rows };
  };
  const fits = Array.from({ length: count }, (_, n) => sized(n + 1)).filter(({ w, h }) => w >= 4 && h >= 4);
  const best =
    fits.sort((a, b) => Math.abs(Math.log(a.w / a.h / shape)) - Math.abs(Math.log(b.w / b.h / shape)))[0] || sized(1);
  put(
    waiting.map((_, n) => ({
      page: box.page,
      rect: {
        x: box.x + (n % best.columns) * (best.w + GAP),
        y: box.y + Math.floor(n / best.columns) * (best.h + GAP),
        width: Math.max(best.w, 4),
        height: Math.max(best.h, 4),
      },
    })),
  );
}

/** Put the next pictures where `places` say: in a box of a page, or a frame. */
async function put(places) {
  const some = waiting.slice(0, places.length);
  const intents = some.map((picture, n) => {
    const { frame, rect, page, cell } = places[n];
    if (cell) return inCell(cell, picture, intentOf(picture));
    return frame
      ? { do: "show-picture", page: holderOf(frame), frame: frame.id, ...intentOf(picture) }
      : { do: "place-picture", page: state.pages[page].id, rect, layer: activeLayer().id, ...intentOf(picture) };
  });
  try {
    const answer = await send(intents);
    waiting = waiting.slice(places.length);
    const made =
      frames()
        .filter((f) => answer.made.includes(f.id))
        .pop() ||
      (places[0].frame && frames().find((f) => f.id === places[0].frame.id));
    if (!waiting.length) setTool("select");
    if (made) select(made);
    offer();
  } catch {
    draw();
  }
}

function leave() {
  waiting = [];
  ghost.hidden = true;
  setTool("select");
}

tool({ id: "place", word: "Place pictures", press, quiet: true });
register({ word: "Cancel placing pictures", keys: ["Escape"], over: true, when: active, run: leave });
on("tool", (chosen) => {
  if (chosen !== "place") {
    waiting = [];
    ghost.hidden = true;
  } else offer();
});
on("waiting", load);
on("frame", () => {
  if (active()) offer();
});
