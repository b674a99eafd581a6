// Rulers along the board's head and right edge, in the job's unit from where measures begin, which is chosen where they meet.
import { figures } from "../numerals.js";
import { askFor } from "./asking.js";
import { numbers } from "./rooms.js";
import { register } from "../commands.js";
import { element } from "../dom.js";
import { draw } from "./frames.js";
import { magnets, pull, sketch, tell } from "./gestures.js";
import { fine, guideAt, pullOut } from "./guides.js";
import { ORIGINS, originName, originOf, setOrigin } from "./origin.js";
import { RULER, board, make, pageAt, pageX, point, sheet, view } from "./sheet.js";
import { on, state } from "./store.js";

const ROOM = 24; // pixels that a number takes
const LEAST = 58; // pixels from one number to the next
const rulers = {
  x: strip("x", "Horizontal ruler: drag a guide out of it"),
  y: strip("y", "Vertical ruler: drag a guide out of it"),
};
let shown = localStorage.getItem("lexigon-rulers") !== "off";

function strip(axis, title) {
  const made = make("svg", { class: `ruler ruler-${axis}`, role: "img", "aria-label": title });
  make("title", {}, made).textContent = title;
  make("path", { class: "ticks" }, made);
  make("g", { class: "numbers" }, made);
  make("path", { class: "pointer" }, made);
  board.append(made);
  made.addEventListener("pointerdown", (event) => {
    if (event.button === 0 && state.guides) pullOut(event, axis);
  });
  return made;
}

/** The numbers of a ruler stand so far apart that they can be read: 1, 2 or 5 units, tens of them, or halves of an inch. */
function stepOf(per) {
  const parts =
    state.sheet.unit === "in"
      ? [1 / 8, 1 / 4, 1 / 2, 1, 2, 4, 6, 12, 24]
      : [0.1, 0.2, 0.5, 1, 2, 5, 10, 20, 50, 100, 200, 500, 1000];
  return parts.find((part) => part * per * view.scale >= LEAST) || parts[parts.length - 1];
}

function lay() {
  for (const one of [...Object.values(rulers), corner]) one.toggleAttribute("hidden", !shown || state.clean);
  if (!shown || state.clean) return;
  const box = board.getBoundingClientRect();
  const per = state.sheet.points;
  const step = stepOf(per);
  const ticks = state.sheet.unit === "in" ? 8 : 10;
  for (const axis of ["x", "y"]) {
    const all = axis === "x" ? state.view : state.view.slice(0, 1);
    let d = "";
    const numbers = [];
    all.forEach((index, n) => {
      const { w } = state.pages[index].lines;
      const corner = axis === "x" ? pageX(index) * view.scale + view.x : view.y;
      const zero = corner + originOf(index)[axis] * view.scale;
      const from = axis === "x" && n ? corner : 0; // the page before it ends where this one begins
      const to = axis === "y" ? box.height : n === all.length - 1 ? box.width : corner + w * view.scale;
      const each = (step / ticks) * per * view.scale;
      for (let i = Math.ceil((from - zero) / each); zero + i * each <= to; i += 1) {
        const at = Math.round((zero + i * each) * 10) / 10;
        const high = i % ticks === 0 ? 11 : i % (ticks / 2) === 0 ? 7 : 4;
        d += axis === "x" ? `M${at} ${RULER}v${-high}` : `M0 ${at}h${high}`;
        if (i % ticks === 0 && at + ROOM <= to) numbers.push([at, figures((i / ticks) * step, 3)]);
      }
    });
    const one = rulers[axis];
    one.querySelector(".ticks").setAttribute("d", d);
    one.querySelector(".numbers").replaceChildren(
      ...numbers.map(([at, words]) => {
        const text = make(
          "text",
          axis === "x" ? { x: at + 2.5, y: 8.5 } : { x: 0, y: 0, transform: `translate(8 ${at + 2.5}) rotate(90)` },
        );
        text.textContent = String(words);
        return text;
      }),
    );
  }
}

sheet.addEventListener("pointermove", (event) => {
  const box = board.getBoundingClientRect();
  rulers.x.querySelector(".pointer").setAttribute("d", `M${event.clientX - box.left} 0v${RULER}`);
  rulers.y.querySelector(".pointer").setAttribute("d", `M0 ${event.clientY - box.top}h${RULER}`);
  if (!event.buttons) sheet.classList.toggle("on-guide", state.tool === "select" && Boolean(guideAt(point(event))));
});

// Where measures begin

const corner = element("button", {
  type: "button",
  class: "ruler-corner",
  title: "Ruler origin: drag it to a point on the board, or click to select one",
});
board.append(corner);
let dragged = false;
corner.addEventListener("pointerdown", (event) => {
  if (event.button) return;
  event.preventDefault();
  corner.setPointerCapture(event.pointerId);
  dragged = false;
  let place = null;
  const moved = (e) => {
    const { index, x, y } = pageAt(point(e));
    const near = e.altKey ? null : magnets(index, "");
    const [sx, sy] = near ? [pull([x], near.xs), pull([y], near.ys)] : [null, null];
    place = { x: fine(pageX(index) + x + (sx?.shift || 0)), y: fine(y + (sy?.shift || 0)) };
    dragged = true;
    sketch.lines = [
      { x1: place.x, x2: place.x, y1: -2000, y2: 4000 },
      { x1: -2000, x2: 6000, y1: place.y, y2: place.y },
    ];
    tell(e, "ruler origin");
    draw();
  };
  const done = (e) => {
    for (const [name, listener] of listeners) corner.removeEventListener(name, listener);
    sketch.lines = [];
    numbers.hidden = true;
    if (place && e.type === "pointerup") setOrigin("own", place);
    else draw();
  };
  const listeners = /** @type {[string, any][]} */ ([
    ["pointermove", moved],
    ["pointerup", done],
    ["pointercancel", done],
  ]);
  for (const [name, listener] of listeners) corner.addEventListener(name, listener);
});
corner.addEventListener("click", () => {
  if (!dragged) chooseOrigin().catch(() => {});
  dragged = false;
});

async function chooseOrigin() {
  const choices = ORIGINS.filter(([name]) => name !== "own" || originName() === "own");
  await askFor(
    "Ruler origin",
    "Rulers, slip and the numbers beside the pointer measure from this point.",
    "Apply",
    { from: { word: "Origin", kind: "choice", choices, value: originName() } },
    ({ from }) => {
      if (from !== "own") setOrigin(from);
    },
  );
}

function toggleRulers() {
  shown = !shown;
  localStorage.setItem("lexigon-rulers", shown ? "on" : "off");
  lay();
}
register(
  {
    word: "Show or hide rulers",
    keys: ["r"],
    shown: ["R"],
    help: "show or hide rulers; drag guides out of them, or back to delete them",
    run: toggleRulers,
  },
  { word: "Set ruler origin…", keys: [], run: () => chooseOrigin().catch(() => {}) },
);
on("view", lay);
on("painted", lay);
on("invisibles", lay); // the clean view has none
addEventListener("resize", lay);
