// The spread as SVG: paper, guides, the pages' content as the server painted it; zoom and pan.
import { setFeatures } from "../features.js";
import { applied, beside, inverse, mapOf, written } from "./matrix.js";
import { board, sheet } from "./rooms.js";
import { gridLines } from "./snapping.js";
import { frames, tie } from "./standing.js";
import { patch } from "./patching.js";
import { emit, on, state } from "./store.js";

const NS = "http://www.w3.org/2000/svg";
export { board, sheet };

export function make(name, attributes = {}, parent = null) {
  const element = document.createElementNS(NS, name);
  for (const [key, value] of Object.entries(attributes)) element.setAttribute(key, value);
  parent?.append(element);
  return element;
}

const defs = make("defs", {}, sheet);
const pattern = make(
  "pattern",
  { id: "bleed-hatch", width: 5, height: 5, patternUnits: "userSpaceOnUse", patternTransform: "rotate(45)" },
  defs,
);
make("line", { x1: 0, y1: 0, x2: 0, y2: 5, class: "bleed-hatch", "stroke-width": 1.4 }, pattern);
export const world = make("g", { id: "world" }, sheet);
const rim = make("g", { class: "furniture" }, world);
const papers = make("g", {}, world);
export const over = make("g", { class: "furniture over" }, world);
export const signs = make("g", { class: "signs" }, world);
export const texture = make("g", { class: "texture" }, world);
export const spelling = make("g", { class: "spelling", "aria-hidden": "true" }, world);
export const marks = make("g", { class: "marks" }, world);

export const view = { x: 0, y: 0, scale: 1, fitted: true };

const BETWEEN = 36; // points between two spreads

/** The pages in view, spread by spread. */
export function spreadsShown() {
  const found = [];
  for (const index of state.view) {
    const last = found[found.length - 1];
    const mates = last && state.sheet.facing && last[last.length - 1] === index - 1 && (index < 0 || index % 2 === 0);
    if (mates) last.push(index);
    else found.push([index]);
  }
  return found;
}
/** The pages of the spread in view that a page is on. */
export const spreadWith = (index) => spreadsShown().find((one) => one.includes(index)) || [index];

let placed = { pages: null, at: new Map() };

/** x of a page on what is shown, in points. */
export function pageX(index) {
  if (placed.pages !== state.pages) {
    // asked for at every thing that is drawn, and as long as the pages are the same
    const at = new Map();
    let x = 0;
    for (const one of spreadsShown()) {
      for (const page of one) {
        at.set(page, x);
        x += state.pages[page].lines.w;
      }
      x += BETWEEN;
    }
    placed = { pages: state.pages, at };
  }
  return placed.at.get(index) ?? 0;
}
const spreadWidth = () =>
  state.view.reduce((sum, page) => sum + state.pages[page].lines.w, 0) + (spreadsShown().length - 1) * BETWEEN;
const spreadHeight = () => Math.max(...state.view.map((page) => state.pages[page].lines.h));
export const pageGroup = (index) => papers.querySelector(`[data-page="${index}"]`);
export const content = (index) => pageGroup(index)?.querySelector(".content");

const NEAREST_LINES = 12; // pixels
const OVER = 14; // points that guides reach beyond the page

/** The zoom in percent from which the grid shows, as this person likes it: 0 at any, null where its lines stand apart enough. */
export const gridFrom = () => {
  const kept = localStorage.getItem("lexigon-grid-from");
  return kept === null ? null : Number(kept);
};
export function setGridFrom(percent) {
  if (percent === null) localStorage.removeItem("lexigon-grid-from");
  else localStorage.setItem("lexigon-grid-from", String(percent));
  applyView();
}

const SCREEN = "lexigon-screen-inch";
/** Pixels of an inch on this screen: what was measured, else what browsers take for one. */
export const screenInch = () => Number(localStorage.getItem(SCREEN)) || 96;
export function setScreenInch(pixels) {
  localStorage.setItem(SCREEN, String(pixels));
  applyView();
}

export function applyView() {
  world.setAttribute("transform", `translate(${view.x} ${view.y}) scale(${view.scale})`);
  pattern.setAttribute("patternTransform", `rotate(45) scale(${1 / view.scale})`);
  // Lines of the grid nearer than this drown the page; frames' edges grow fainter with it.
  const percent = Math.round(((view.scale * 72) / screenInch()) * 100);
  const far = view.scale * (state.sheet.grid.step || 14) < NEAREST_LINES;
  board.classList.toggle("far", far);
  board.classList.toggle("no-grid", gridFrom() === null ? far : percent < gridFrom());
  emit("zoom", percent);
  emit("view");
}

/** Room for the drawers' tabs at the left edge. */
const TABS = 30;
export const RULER = 18;

export function fit() {
  const box = board.getBoundingClientRect();
  const { bleed } = state.sheet;
  const [spread, height] = [spreadWidth(), spreadHeight()];
  const edge = Math.max(bleed.head, bleed.foot, bleed.outer, bleed.inner, 6);
  view.scale = Math.min(
    (box.width - TABS - RULER - 30) / (spread + 2 * edge),
    (box.height - RULER - 32) / (height + 2 * edge),
  );
  view.x = TABS + (box.width - TABS - RULER - spread * view.scale) / 2;
  view.y = RULER + (box.height - RULER - height * view.scale) / 2;
  view.fitted = true;
  applyView();
}

/** The pages in view with their bleed, in spread coordinates. */
export function spreadBox() {
  const { bleed } = state.sheet;
  return {
    x: -bleed.outer,
    y: -bleed.head,
    w: spreadWidth() + 2 * bleed.outer,
    h: spreadHeight() + bleed.head + bleed.foot,
  };
}

/** Show a box of the spread as large as there is room, so many pixels from the edges; its head at the board's head, if so asked. */
export function showBox(box, edge, atHead = false) {
  const room = board.getBoundingClientRect();
  const [w, h] = [room.width - TABS - RULER - 2 * edge, room.height - RULER - 2 * edge];
  view.scale = Math.min(
    Math.max(Math.min(w / Math.max(box.w, 1), atHead ? Infinity : h / Math.max(box.h, 1)), 0.08),
    40,
  );
  view.x = TABS + edge + (w - box.w * view.scale) / 2 - box.x * view.scale;
  view.y = RULER + edge + (atHead ? 0 : (h - box.h * view.scale) / 2) - box.y * view.scale;
  view.fitted = false;
  applyView();
}

export function zoom(factor, x, y) {
  const box = board.getBoundingClientRect();
  const cx = x ?? box.width / 2;
  const cy = y ?? box.height / 2;
  const scale = Math.min(Math.max(view.scale * factor, 0.08), 40);
  view.x = cx - ((cx - view.x) * scale) / view.scale;
  view.y = cy - ((cy - view.y) * scale) / view.scale;
  view.scale = scale;
  view.fitted = false;
  applyView();
}

export function pan(dx, dy) {
  view.x += dx;
  view.y += dy;
  view.fitted = false;
  applyView();
}

/** The pointer in spread coordinates (points). */
export function point(event) {
  const box = sheet.getBoundingClientRect();
  return { x: (event.clientX - box.left - view.x) / view.scale, y: (event.clientY - box.top - view.y) / view.scale };
}

let last = null;
sheet.addEventListener("pointermove", (event) => {
  last = point(event);
});
sheet.addEventListener("pointerleave", () => {
  last = null;
});
/** Where the pointer last was on the board, in spread coordinates; null if it is elsewhere. */
export const lastPoint = () => last;

/** The page under a point of the spread, or the nearest one, with the point in the page's coordinates. */
export function pageAt(at) {
  let index = state.view[0];
  for (const spread of spreadsShown())
    for (const page of spread) if (at.x >= pageX(page) - (page === spread[0] ? BETWEEN / 2 : 0)) index = page;
  return { index, x: at.x - pageX(index), y: at.y };
}

export function reveal(x, y) {
  const box = board.getBoundingClientRect();
  const sx = x * view.scale + view.x;
  const sy = y * view.scale + view.y;
  const margin = 40;
  const dx = sx < margin ? margin - sx : sx > box.width - margin ? box.width - margin - sx : 0;
  const dy = sy < margin ? margin - sy : sy > box.height - margin ? box.height - margin - sy : 0;
  if (dx || dy) pan(dx, dy);
}

/** A page's guides: surfaces and the grid lie under what stands on it, lines over it, so that no ground hides them. */
function guides(index) {
  const { grid } = state.sheet;
  const { h: height, w: width, area, columns, gutter, rows, rowGutter, guides: own } = state.pages[index].lines;
  const under = make("g", { class: "guides" });
  const group = make("g", { class: "guides lines" });
  if (state.sheet.squares) pageGrid(state.sheet.squares, width, height, group); // over what stands there: grounds reach to the bleed
  const both = { under, lines: group };
  if (Object.values(state.sheet.bleed).some((edge) => edge > 0))
    rimmed("rect", { class: "trim-line", width, height, fill: "none" }, group);
  if (state.sheet.folded && index >= 0) {
    panels(state.pages[index].lines, state.pages[index].frames || [], under, group);
    return both;
  }
  const w = (area.w - gutter * (columns - 1)) / columns;
  const h = (area.h - rowGutter * (rows - 1)) / rows;
  for (let i = 0; i < columns; i += 1)
    for (let j = 0; j < rows; j += 1)
      make(
        "rect",
        { class: "column-band", x: area.x + i * (w + gutter), y: area.y + j * (h + rowGutter), width: w, height: h },
        under,
      );
  let edges = "";
  for (let i = 1; i < columns; i += 1)
    edges += `M${area.x + i * (w + gutter) - gutter} ${area.y}v${area.h}m${gutter} 0v${-area.h}`;
  for (let j = 1; j < rows; j += 1)
    edges += `M${area.x} ${area.y + j * (h + rowGutter) - rowGutter}h${area.w}m0 ${rowGutter}h${-area.w}`;
  if (edges) make("path", { class: "column-edge", d: edges }, group);
  if (grid.step) {
    let d = "";
    for (let y = grid.start; y <= area.y + area.h && y < height; y += grid.step) d += `M${area.x} ${y}h${area.w}`;
    make("path", { class: "grid-line", d }, under);
  }
  make("rect", { class: "margin-line", x: area.x, y: area.y, width: area.w, height: area.h }, group);
  guideLines(own, width, height, OVER, group);
  return both;
}

/** A line with a light rim, for grounds as dark as itself. */
function rimmed(name, attributes, group) {
  make(name, { ...attributes, class: "rim" }, group);
  return make(name, attributes, group);
}

/** A flat sheet's panels: corner ticks of the safe zones, folds with their sign, the spine, the bar code's place. */
function panels({ panels: all, folds, fold, code, w, h, guides: own }, standing, under, group) {
  const { bleed } = state.sheet;
  for (const panel of all) {
    if (panel.spine)
      make("rect", { class: "spine-band", x: panel.x, y: panel.y, width: panel.w, height: panel.h }, under);
    const { x, y, w: width, h: height } = panel.safe;
    const tick = Math.min(12, width / 3, height / 3);
    let d = "";
    for (const [px, sx] of [
      [x, 1],
      [x + width, -1],
    ])
      for (const [py, sy] of [
        [y, 1],
        [y + height, -1],
      ])
        d += `M${px + sx * tick} ${py}H${px}V${py + sy * tick}`;
    if (panel.bears) rimmed("path", { class: "tick-line", d }, group);
    const name = make(
      "text",
      {
        class: "panel-name",
        x: panel.x + panel.w / 2,
        y: panel.y - bleed.head - 5,
        "text-anchor": "middle",
        "font-size": 9,
      },
      group,
    );
    name.textContent = panel.turn ? `${panel.name}, upside down` : panel.name;
    if (panel.y > 0) {
      name.setAttribute("x", -bleed.outer - 5);
      name.setAttribute("y", panel.y + panel.h / 2);
      name.setAttribute("text-anchor", "end");
    }
  }
  for (const at of folds) {
    const line =
      fold === "x"
        ? { x1: at, x2: at, y1: -bleed.head - 4, y2: h + bleed.foot + 4 }
        : { y1: at, y2: at, x1: -bleed.outer - 4, x2: w + bleed.outer + 4 };
    rimmed("line", { class: "fold-line", ...line }, group);
    const [x, y] = fold === "x" ? [at, h + bleed.foot + 6] : [w + bleed.outer + 9, at];
    make("path", { class: "fold-sign", d: `M${x - 4} ${y + 5}L${x} ${y}L${x + 4} ${y + 5}` }, group);
  }
  if (code) {
    make("rect", { class: "code-area", x: code.x, y: code.y, width: code.w, height: code.h }, under);
    const there = standing.some(
      ({ kind, x, y }) =>
        kind === "code" && x < code.x + code.w && x > code.x - code.w && y < code.y + code.h && y > code.y - code.h,
    );
    if (!there)
      make(
        "text",
        {
          class: "panel-name",
          x: code.x + code.w / 2,
          y: code.y + code.h / 2 + 3,
          "text-anchor": "middle",
          "font-size": 9,
        },
        group,
      ).textContent = "bar code: keep clear";
  }
  guideLines(own, w, h, 0, group);
}

/** Guides, each in its layer's colour. Those of a layer that is hidden are not shown. */
function guideLines(all, width, height, over, group) {
  for (const { axis, at, colour, seen = true } of all) {
    if (!seen) continue;
    const line = rimmed(
      "line",
      {
        class: "guide-line",
        ...(axis === "x"
          ? { x1: at, x2: at, y1: -over, y2: height + over }
          : { x1: -over, x2: width + over, y1: at, y2: at }),
      },
      group,
    );
    if (colour) line.style.setProperty("stroke", colour); // the content policy lets scripts set what markup may not
  }
}

/** The lines of the page grid: its own, and those that divide its spaces. */
function pageGrid({ across, down, parts, x, y }, width, height, group) {
  const [xs, ys] = [gridLines(x, across, parts, width), gridLines(y, down, parts, height)];
  const drawn = (want) =>
    [
      ...xs.filter(({ whole }) => whole === want).map(({ at }) => `M${at} 0v${height}`),
      ...ys.filter(({ whole }) => whole === want).map(({ at }) => `M0 ${at}h${width}`),
    ].join("");
  const [lines, fine] = [drawn(true), drawn(false)];
  if (fine) make("path", { class: "page-grid fine", d: fine }, group);
  make("path", { class: "page-grid", d: lines }, group);
}

function layRim() {
  const { bleed, facing } = state.sheet;
  rim.replaceChildren();
  const edges = [bleed.head, bleed.foot, bleed.inner, bleed.outer];
  if (!edges.some((edge) => edge > 0)) return;
  for (const spread of spreadsShown()) {
    const both = spread.length > 1;
    const recto = state.pages[spread[0]].side === "recto";
    const left = both || (facing && !recto) ? bleed.outer : bleed.inner;
    const right = both || !facing || recto ? bleed.outer : bleed.inner;
    const lines = spread.map((page) => state.pages[page].lines);
    const [width, height] = [lines.reduce((sum, { w }) => sum + w, 0), Math.max(...lines.map(({ h }) => h))];
    make(
      "rect",
      {
        x: pageX(spread[0]) - left,
        y: -bleed.head,
        width: width + left + right,
        height: height + bleed.head + bleed.foot,
        fill: "url(#bleed-hatch)",
      },
      rim,
    );
  }
}

/** Printer's templates: on top of everything, half transparent, not to be caught by the pointer, never in an output. */
function layOverlays(index, group) {
  group.replaceChildren();
  for (const { id, x, y, w, h, opacity } of state.pages[index].lines.overlays || [])
    make(
      "image",
      { href: `/job/${state.key}/overlay/${id}.png`, x, y, width: w, height: h, opacity, preserveAspectRatio: "none" },
      group,
    );
}

function lay({ turned, changed, anew = [] }) {
  if (turned || !papers.childElementCount) {
    papers.replaceChildren();
    for (const index of state.view) {
      const { w: width, h: height } = state.pages[index].lines;
      const group = make("g", { class: "leaf", "data-page": index, transform: `translate(${pageX(index)} 0)` }, papers);
      make("rect", { class: "paper", width, height }, group);
      const { under, lines } = guides(index);
      group.append(under);
      make("rect", { class: "edge", width, height }, group);
      make("g", { class: "content" }, group);
      group.append(lines);
      layOverlays(index, make("g", { class: "overlays" }, group));
    }
    layRim();
    if (view.fitted) fit();
  }
  for (const index of state.view) {
    if (!turned && !changed.includes(index) && content(index).childElementCount) continue;
    patch(content(index), state.pages[index].svg, turned || anew.includes(index));
    setFeatures(content(index));
    tie(index, content(index));
    if (!turned) {
      const { under, lines } = guides(index);
      pageGroup(index).querySelector(".guides:not(.lines)").replaceWith(under);
      pageGroup(index).querySelector(".guides.lines").replaceWith(lines);
      layOverlays(index, pageGroup(index).querySelector(".overlays"));
    }
  }
  emit("painted", { turned, changed });
}

on("pages", lay);

export function firstLay() {
  lay({ turned: true, changed: state.view });
  fit();
}

/** The SVG transform of what is drawn over a turned frame. */
export function turnOf(f) {
  const map = mapOf(f);
  return map ? written(beside(map, pageX(f.page))) : "";
}

/** A point of a page as it lies before a frame that is turned. */
export function within(f, { x, y }) {
  const map = mapOf(f);
  return map ? applied(inverse(map), { x, y }) : { x, y };
}

/** The frame to act on at a point of the spread: the topmost that can be selected. */
export function frameAt(at, options = {}) {
  const hit = framesAt(at, options);
  return hit.length ? hit[hit.length - 1] : null;
}

const pen = document.createElement("canvas").getContext("2d");
/** Whether a point of the page is seen of what some groups cut off. */
const seen = (mixes, x, y) =>
  mixes.every((mix) => !mix?.cut || pen.isPointInPath(new Path2D(mix.cut), x, y, mix.hollow ? "evenodd" : "nonzero"));

const NEAR = 4; // pixels beside a line or an outline that still hit it
const EXACT = 2,
  CLOSE = 1,
  INSIDE = 0;

/** How a point of the upright page hits a frame within whose box it lies: what is painted there, only just beside that, or the inside of what
 *  paints nothing but its stroke; null where it lies outside. */
function hitOf(f, x, y) {
  const thin = f.bare || Math.min(f.w, f.h) * view.scale < NEAR;
  const box = x >= f.x && x <= f.x + f.w && y >= f.y && y <= f.y + f.h;
  if (!f.outline && !f.bare) return box || thin ? EXACT : CLOSE;
  const path = outlineOf(f);
  pen.lineWidth = 2 * besideOf(f);
  if ((thin || f.along) && pen.isPointInStroke(path, x, y)) return EXACT;
  if (pen.isPointInPath(path, x, y, f.hollow ? "evenodd" : "nonzero")) return f.bare ? INSIDE : EXACT;
  return pen.isPointInStroke(path, x, y) ? CLOSE : null;
}

/** How far from an outline a point still hits it: as far as its stroke goes, or words along it. */
const besideOf = (f) =>
  Math.max(f.stroke / 2, NEAR / view.scale, f.along && f.lines.length ? f.lines[0].a + f.lines[0].d : 0);

const outlines = new WeakMap();
function outlineOf(f) {
  if (!outlines.has(f)) {
    const path = new Path2D(f.outline);
    if (!f.outline) path.rect(f.x, f.y, f.w, f.h);
    outlines.set(f, path);
  }
  return outlines.get(f);
}

/** All that can be selected at a point of the spread: what is painted there last, the lowest first; before it what the point only just misses, and
 *  shapes without a fill that it lies within. The cells of tables where they are asked for. */
export function framesAt(at, { fields = false, cells = false } = {}) {
  const found = [[], [], []];
  for (const f of frames()) {
    if ((f.role === "cell" && !cells) || (f.field && !fields) || f.held) continue;
    const { x, y } = within(f, { x: at.x - pageX(f.page), y: at.y });
    const beside = besideOf(f);
    const [px, py] = [f.w, f.h].map((size) =>
      Math.max((NARROW / view.scale - size) / 2, f.outline || f.bare ? beside : 0),
    ); // a rule is hit beside its line, too
    if (
      x < f.x - px ||
      x > f.x + f.w + px ||
      y < f.y - py ||
      y > f.y + f.h + py ||
      !seen(f.groupMixes, at.x - pageX(f.page), at.y)
    )
      continue;
    const hit = hitOf(f, x, y);
    if (hit !== null) found[hit].push(f);
  }
  return found.flat();
}

/** The upright box round a frame as it stands on its page. */
export function bounds(f) {
  const map = mapOf(f);
  if (!map) return { x: f.x, y: f.y, w: f.w, h: f.h };
  const corners = [
    [f.x, f.y],
    [f.x + f.w, f.y],
    [f.x, f.y + f.h],
    [f.x + f.w, f.y + f.h],
  ].map(([x, y]) => applied(map, { x, y }));
  return around(corners.map(({ x, y }) => ({ x, y, w: 0, h: 0 })));
}

/** The box round some boxes. */
export function around(boxes) {
  const [x, y] = [Math.min(...boxes.map((b) => b.x)), Math.min(...boxes.map((b) => b.y))];
  return { x, y, w: Math.max(...boxes.map((b) => b.x + b.w)) - x, h: Math.max(...boxes.map((b) => b.y + b.h)) - y };
}

const NARROW = 9; // pixels that anything is at least hit in
