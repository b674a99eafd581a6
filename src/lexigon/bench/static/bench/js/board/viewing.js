// How the board is looked at: zoomed to what is chosen, to the width, to true size; as outlines; measured; as it was left.
import { figures, valueOf } from "../numerals.js";
import { askFor } from "./asking.js";
import { toggle } from "./ledge.js";
import { needing, register } from "../commands.js";
import { open } from "../menu.js";
import { element } from "../dom.js";
import { chosen, draw, drawSketch } from "./frames.js";
import { drag, magnets, pull, sketch, snapLines, tell } from "./gestures.js";
import {
  applyView,
  around,
  board,
  bounds,
  fit,
  lastPoint,
  pageAt,
  pageX,
  point,
  screenInch,
  setScreenInch,
  showBox,
  spreadBox,
  view,
} from "./sheet.js";
import { inSteps } from "./stretching.js";
import { emit, length, on, setSpreads, setTool, show, state, toast } from "./store.js";
import { tool } from "./tools.js";

const onSpread = (f) => {
  const box = bounds(f);
  return { ...box, x: box.x + pageX(f.page) };
};

export function zoomToChosen() {
  showBox(around(chosen().map(onSpread)), 60);
}

/** One page alone: of what is chosen, else the one the pointer is on, else the first. */
function zoomToPage() {
  const spot = lastPoint();
  const index = chosen()[0]?.page ?? (spot ? pageAt(spot).index : state.view[0]);
  const { w, h } = state.pages[index].lines;
  showBox({ x: pageX(index), y: 0, w, h }, 24);
}

/** So that a point of the page is a point of a ruler held to the screen. */
function trueSize() {
  const box = board.getBoundingClientRect();
  const at = chosen().length ? around(chosen().map(onSpread)) : spreadBox();
  view.scale = screenInch() / 72;
  view.x = box.width / 2 - (at.x + at.w / 2) * view.scale;
  view.y = box.height / 2 - (at.y + at.h / 2) * view.scale;
  view.fitted = false;
  applyView();
}

const BAR = 300; // pixels of the line that is held against a ruler

/** Ask how long a line is on this screen. */
async function calibrate() {
  const bar = element("div", { class: "screen-bar" });
  await askFor(
    "Actual size on this screen",
    "Hold a ruler against the line on the screen and type its length.",
    "Save",
    {
      bar: { shows: bar },
      millimetres: { word: "Length", value: `${figures((BAR / screenInch()) * 25.4, 1)} mm`, read: readRuler },
    },
    ({ millimetres }) => {
      setScreenInch((BAR / millimetres) * 25.4);
      trueSize();
    },
  );
}

/** What a ruler says, in millimetres. */
function readRuler(text) {
  const [, figure, unit = "mm"] = /^([\d.,]+)\s*(mm|cm|in)?$/.exec(text.trim()) ?? [];
  const millimetres = figure && valueOf(figure) * { mm: 1, cm: 10, in: 25.4 }[unit];
  if (!(millimetres >= 10 && millimetres <= 1000))
    throw new Error("Type the length that you measured, such as 79.5 mm.");
  return millimetres;
}

function outlines() {
  const now = board.classList.toggle("outlines");
  toast(now ? "Outline view: objects are shown without their fills." : "Normal view: objects are shown as they print.");
}

// The soft proof: inks and pictures as a paper shows them

const proofed = () => /lexigon-proof=([a-z]+)/.exec(document.cookie)?.[1] || "";

function markProof() {
  const now = state.proofs.find((one) => one.id === proofed());
  proofButton.textContent = now ? now.name.split(" ")[0] : "Proof";
  state.proof = now?.id || "";
}

/** Show the job as a printing condition prints it, or as it is; kept for this job. */
async function setProof({ id }) {
  document.cookie = `lexigon-proof=${id}; path=/job/${state.key}/; max-age=${id ? 31536000 : 0}; SameSite=Lax`;
  markProof();
  proofButton.setAttribute("aria-pressed", String(Boolean(id)));
  emit("proof");
  await show(state.view.find((index) => state.pages[index]) ?? 0, true);
  toast(
    id ? `Proof on: colours are shown as printed on ${id} paper.` : "Proof off: inks are shown as on coated paper.",
  );
}

const NO_PROOF = { id: "", name: "No proof" };

function chooseProof() {
  const at = proofButton.getBoundingClientRect();
  const items = [NO_PROOF, ...state.proofs].map((one) => [
    one.id ? `As printed on ${one.id} paper` : one.name,
    () => setProof(one),
    one.id === proofed() ? "✓" : "",
  ]);
  open(at.left, at.top - 8 - 34 * items.length, items, proofButton);
}

const { button: proofButton } = toggle({
  id: "proof",
  word: "Proof",
  title: "Proof: shows colours and pictures as they print on a paper",
  menu: true,
  on: () => Boolean(proofed()),
  run: chooseProof,
});
markProof();

// The measuring pointer

let measured = null;

function measure(event) {
  const begun = pageAt(point(event));
  const { xs, ys } = magnets(begun.index, "");
  const place = (moved) => {
    const at = point(moved);
    const own = [at.x - pageX(begun.index), at.y];
    const [sx, sy] = moved.altKey ? [null, null] : [pull([own[0]], xs), pull([own[1]], ys)];
    snapLines(begun.index, sx, sy);
    return [own[0] + (sx?.shift || 0), own[1] + (sy?.shift || 0)];
  };
  const from = place(event);
  drag(
    event,
    (moved) => {
      let [x, y] = place(moved);
      if (moved.shiftKey) [x, y] = inSteps(from, [x, y]);
      measured = { page: begun.index, from, to: [x, y] };
      sketch.draft = { page: begun.index, line: true, x: from[0], y: from[1], w: x - from[0], h: y - from[1] };
      tell(moved, words(measured));
      drawSketch();
    },
    () => {
      if (measured) toast(words(measured));
      draw();
    },
  );
}

function words({ from: [x0, y0], to: [x1, y1] }) {
  const angle = Math.round(((Math.atan2(y1 - y0, x1 - x0) * 180) / Math.PI) * 10) / 10;
  return `${length(Math.hypot(x1 - x0, y1 - y0))} · across ${length(Math.abs(x1 - x0))}, down ${length(Math.abs(y1 - y0))} · ${angle}°`;
}

tool({ id: "measure", word: "Measure", press: measure, quiet: true });

// Where somebody was in a job they find again

const KEPT = `lexigon-view-${state.key}`;
let waiting = 0;

function keep() {
  clearTimeout(waiting);
  waiting = setTimeout(() => {
    if (!state.master)
      localStorage.setItem(
        KEPT,
        JSON.stringify({ page: state.view[0], ...(view.fitted ? {} : { x: view.x, y: view.y, scale: view.scale }) }),
      );
  }, 300);
}

/** The page that was last looked at in this job. */
export const keptPage = () => JSON.parse(localStorage.getItem(KEPT) || "{}").page ?? null;

/** The zoom and place this page was left at. */
export function asLeft() {
  const kept = JSON.parse(localStorage.getItem(KEPT) || "{}");
  if (kept.scale && kept.page === state.view[0] && !state.master) {
    Object.assign(view, { x: kept.x, y: kept.y, scale: kept.scale, fitted: false });
    applyView();
  }
  on("view", keep);
  on("pages", keep);
}

register(
  {
    word: "Zoom to selection",
    keys: ["z"],
    shown: ["Z"],
    when: needing("Select an object first.", () => chosen().length > 0),
    run: zoomToChosen,
  },
  {
    word: "Zoom to spread width",
    keys: ["Z"],
    shown: ["Z", "Shift Z"],
    help: "zoom to selection, to spread width",
    run: () => showBox({ ...spreadBox(), h: 1 }, 12, true),
  },
  {
    word: "Show two spreads side by side, or one",
    keys: ["v"],
    shown: ["V"],
    help: "show two spreads side by side, or one",
    when: () => !state.master,
    run: () => setSpreads(state.spreads === 2 ? 1 : 2).then(() => fit()),
  },
  {
    word: "Zoom to page",
    keys: ["h"],
    shown: ["H"],
    help: "zoom to the page of the selection, or under the pointer",
    run: zoomToPage,
  },
  {
    word: "Zoom to actual size",
    also: "100 % true size",
    keys: ["y"],
    shown: ["Y"],
    help: "zoom to actual size, as measured with a ruler",
    run: trueSize,
  },
  { word: "Calibrate actual size…", keys: [], run: () => calibrate().catch(() => {}) },
  { word: "Show or hide outline view", keys: ["u"], shown: ["U"], help: "show or hide outline view", run: outlines },
  ...[NO_PROOF, ...state.proofs].map((one) => ({
    word: one.id ? `Show proof: ${one.id} paper` : "Hide proof",
    keys: [],
    run: () => setProof(one),
  })),
  {
    word: "Measure distance and angle",
    keys: ["m"],
    shown: ["M"],
    help: "measure between two points; Esc ends it",
    run: () => {
      setTool("measure");
      toast("Drag from one point to another.");
    },
  },
);
on("tool", () => {
  if (measured) {
    measured = null;
    emit("sketch");
  }
});
