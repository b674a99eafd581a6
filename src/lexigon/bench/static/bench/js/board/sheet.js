// The spread as SVG: paper, guides, the pages' content as the server painted it; zoom and pan.
import { emit, on, state } from "./store.js";

const NS = "http://www.w3.org/2000/svg";
export const board = document.getElementById("board");
export const sheet = document.getElementById("sheet");

export function make(name, attributes = {}, parent = null) {
  const element = document.createElementNS(NS, name);
  for (const [key, value] of Object.entries(attributes)) element.setAttribute(key, value);
  parent?.append(element);
  return element;
}

const defs = make("defs", {}, sheet);
const pattern = make("pattern", { id: "bleed-hatch", width: 5, height: 5, patternUnits: "userSpaceOnUse", patternTransform: "rotate(45)" }, defs);
make("line", { x1: 0, y1: 0, x2: 0, y2: 5, class: "bleed-hatch", "stroke-width": 1.4 }, pattern);
export const world = make("g", { id: "world" }, sheet);
const rim = make("g", { class: "furniture" }, world);
const papers = make("g", {}, world);
export const over = make("g", { class: "furniture over" }, world);
export const marks = make("g", { class: "marks" }, world);

export const view = { x: 0, y: 0, scale: 1, fitted: true };

/** x of a page on the spread, in points. */
export function pageX(index) {
  if (!state.sheet.facing || state.view.length === 1) return 0;
  return state.view.indexOf(index) * state.sheet.width;
}
export const pageGroup = (index) => papers.querySelector(`[data-page="${index}"]`);
export const content = (index) => pageGroup(index)?.querySelector(".content");

export function applyView() {
  world.setAttribute("transform", `translate(${view.x} ${view.y}) scale(${view.scale})`);
  pattern.setAttribute("patternTransform", `rotate(45) scale(${1 / view.scale})`);
  document.getElementById("zoom").textContent = `${Math.round((view.scale * 72 / 96) * 100)} %`;
  emit("view");
}

export function fit() {
  const box = board.getBoundingClientRect();
  const { width, height, bleed } = state.sheet;
  const spread = width * state.view.length;
  const edge = Math.max(bleed.head, bleed.foot, bleed.outer, bleed.inner, 6);
  view.scale = Math.min((box.width - 48) / (spread + 2 * edge), (box.height - 36) / (height + 2 * edge));
  view.x = (box.width - spread * view.scale) / 2;
  view.y = (box.height - height * view.scale) / 2;
  view.fitted = true;
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

/** The page under a point of the spread, or the nearest one, with the point in the page's coordinates. */
export function pageAt(at) {
  const { width } = state.sheet;
  const place = state.view.length === 1 ? 0 : Math.min(Math.max(Math.floor(at.x / width), 0), state.view.length - 1);
  const index = state.view[place];
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

function guides(index, side) {
  const { areas, columns, gutter, grid, height } = state.sheet;
  const area = areas[side];
  const group = make("g", { class: "guides" });
  const width = (area.w - gutter * (columns - 1)) / columns;
  for (let i = 0; i < columns; i += 1) make("rect", { class: "column-band", x: area.x + i * (width + gutter), y: area.y, width, height: area.h }, group);
  if (grid.step) {
    let d = "";
    for (let y = grid.start; y <= area.y + area.h && y < height; y += grid.step) d += `M${area.x} ${y}h${area.w}`;
    make("path", { class: "grid-line", d }, group);
  }
  make("rect", { class: "margin-line", x: area.x, y: area.y, width: area.w, height: area.h }, group);
  return group;
}

function layRim() {
  const { width, height, bleed, facing } = state.sheet;
  rim.replaceChildren();
  const edges = [bleed.head, bleed.foot, bleed.inner, bleed.outer];
  if (!edges.some((edge) => edge > 0)) return;
  const both = state.view.length > 1;
  const recto = state.pages[state.view[0]].side === "recto";
  const left = both || (facing && !recto) ? bleed.outer : bleed.inner;
  const right = both || !facing || recto ? bleed.outer : bleed.inner;
  make("rect", { x: -left, y: -bleed.head, width: width * state.view.length + left + right, height: height + bleed.head + bleed.foot, fill: "url(#bleed-hatch)" }, rim);
}

function lay({ turned, changed }) {
  if (turned || !papers.childElementCount) {
    papers.replaceChildren();
    for (const index of state.view) {
      const { width, height } = state.sheet;
      const group = make("g", { class: "leaf", "data-page": index, transform: `translate(${pageX(index)} 0)` }, papers);
      make("rect", { class: "paper", width, height }, group);
      group.append(guides(index, state.pages[index].side));
      make("rect", { class: "edge", width, height }, group);
      make("g", { class: "content" }, group);
    }
    layRim();
    if (view.fitted) fit();
  }
  for (const index of state.view) if (turned || changed.includes(index) || !content(index).childElementCount) content(index).innerHTML = state.pages[index].svg;
  emit("painted", { turned });
}

on("pages", lay);

export function firstLay() {
  lay({ turned: true, changed: state.view });
  fit();
}

/** The frames on the visible spread, lowest first, from the painted groups. */
export function frames() {
  const found = [];
  for (const index of state.view) {
    for (const group of content(index).querySelectorAll(":scope > .frame")) {
      const d = group.dataset;
      found.push({
        id: d.frame, page: index, group, x: Number(d.x), y: Number(d.y), w: Number(d.w), h: Number(d.h), story: d.story || "", number: Number(d.number || 0),
        master: d.master === "1", field: d.field === "1", role: d.role, name: d.name, overset: Number(d.overset || 0), oversetLines: Number(d.oversetLines || 0),
      });
    }
  }
  return found;
}

/** The frame to act on at a point of the spread: the topmost that can be selected. */
export function frameAt(at, { fields = false } = {}) {
  const hit = frames().filter((f) => {
    const x = at.x - pageX(f.page);
    return x >= f.x && x <= f.x + f.w && at.y >= f.y && at.y <= f.y + f.h && (fields || !f.field);
  });
  return hit.length ? hit[hit.length - 1] : null;
}
