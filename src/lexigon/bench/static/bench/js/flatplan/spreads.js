// The spreads: miniatures in reading order, bands of sections, masters' tabs, printer's sheets, the thread of a story.
import { spreadList as list, thread } from "./rooms.js";
import { picture, state } from "./store.js";

const HEIGHT = 112;
const seen = new Set(); // miniatures that were shown already

const make = (name, className, parent, words) => {
  const element = document.createElement(name);
  if (className) element.className = className;
  if (words !== undefined) element.textContent = words;
  parent?.append(element);
  return element;
};

export function lay() {
  const { pages, spreads, masters, ratio } = state.plan;
  const width = Math.round(Math.min(HEIGHT * ratio, 300));
  const height = Math.round(width / ratio);
  const colours = Object.fromEntries(masters.map((master) => [master.id, master]));
  const bands = [];
  let band = -1;
  let chapter = null;
  for (const page of pages) {
    if (page.section) {
      band += 1;
      chapter = page.section;
    }
    bands.push({ tone: band < 0 ? "" : `band-${band % 3}`, name: page.section ? chapter.name || "Section" : "" });
  }
  const rows = spreads.map((spread) => {
    const row = make("li", "spread");
    row.role = "presentation";
    for (const index of spread) {
      if (index === null) {
        make("span", "leaf gap", row).style.width = `${width}px`;
        continue;
      }
      row.append(leaf(pages[index], bands[index], colours, width, height));
    }
    return row;
  });
  list.replaceChildren(...rows);
  mark();
  drawThread();
}

function leaf(page, band, colours, width, height) {
  const wide = page.wide !== state.plan.ratio > 1;
  const [w, h] = wide ? [height, width] : [width, height];
  const element = make("div", `leaf ${band.tone}${page.filler ? " filler" : ""}`);
  Object.assign(element, { role: "option", tabIndex: -1, id: `page-${page.index}` });
  element.dataset.index = page.index;
  element.title = `page ${page.label}${page.filler ? ", a blank made before the section" : ""}${page.chapter ? `, ${page.chapter}` : ""}`;
  if (band.name) make("b", "band-name", element, band.name);
  const sheet = make("span", "paper", element);
  Object.assign(sheet.style, { width: `${w}px`, height: `${h}px` });
  const img = make("img", "", sheet);
  if (!seen.has(picture(page))) {
    sheet.classList.add("coming");
    const there = () => {
      seen.add(picture(page));
      sheet.classList.remove("coming");
    };
    img.addEventListener("load", there);
    img.addEventListener("error", () => {
      sheet.classList.remove("coming");
      sheet.classList.add("missing");
    });
  }
  Object.assign(img, {
    loading: "lazy",
    decoding: "async",
    draggable: false,
    width: w,
    height: h,
    alt: `Page ${page.label}`,
    src: picture(page),
  });
  const master = colours[page.master];
  const tab = make("i", "tab", element);
  if (master) {
    tab.style.background = master.colour;
    tab.title = `master ${master.name}`;
  }
  make("span", `number${page.shown ? "" : " hidden-number"}`, element, page.label);
  const note = sheetNote(page.index);
  if (note) make("span", "sheet-note", element, note);
  return element;
}

function sheetNote(index) {
  const pair = state.plan.sheets.pairs[index];
  if (state.sheets === "pairs") return `${pair.sheet} ${pair.face}`;
  if (state.sheets === "creep") return pair.creep;
  if (state.sheets) return `sig. ${Math.floor(index / Number(state.sheets)) + 1}`;
  return "";
}

export const leaves = () => list.querySelectorAll(".leaf[data-index]");
export const leafAt = (index) => /** @type {HTMLElement} */ (list.querySelector(`.leaf[data-index="${index}"]`));

/** Show which pages are chosen and where the keyboard is, without laying anything anew. */
export function mark() {
  const mates = new Set();
  if (state.sheets === "pairs")
    for (const page of state.plan.pages)
      if (state.chosen.has(page.id)) mates.add(state.plan.sheets.pairs[page.index].mate);
  for (const element of leaves()) {
    const page = state.plan.pages[Number(element.dataset.index)];
    const on = state.chosen.has(page.id);
    element.classList.toggle("on", on);
    element.classList.toggle("mate", mates.has(page.index) && !on);
    element.setAttribute("aria-selected", String(on));
    element.tabIndex = page.index === state.cursor ? 0 : -1;
  }
}

/** The flow of the chosen story: a thread from page to page, with a red end where text is left over. */
export function drawThread() {
  thread.replaceChildren();
  const story = state.plan.stories.find(({ id }) => id === state.story);
  if (!story) return;
  const box = thread.getBoundingClientRect();
  const points = story.pages
    .map((index) => {
      const paper = leafAt(index)?.querySelector(".paper").getBoundingClientRect();
      return paper ? [paper.left + paper.width / 2 - box.left, paper.top + paper.height / 2 - box.top] : null;
    })
    .filter(Boolean);
  const NS = "http://www.w3.org/2000/svg";
  let d = "";
  points.forEach(([x, y], i) => {
    const before = points[i - 1];
    if (!before) d += `M${x} ${y}`;
    else if (Math.abs(before[1] - y) < 4) d += `Q${(before[0] + x) / 2} ${y + (i % 2 ? -18 : 18)} ${x} ${y}`;
    else d += `q20 ${i % 2 ? -14 : 14} 52 0M${x - 52} ${y}q32 ${i % 2 ? -14 : 14} 52 0`; // out at the end of a row, in at the next
  });
  const add = (name, attributes) => {
    const e = document.createElementNS(NS, name);
    for (const [k, v] of Object.entries(attributes)) e.setAttribute(k, v);
    thread.append(e);
    return e;
  };
  add("path", { d, class: "line" });
  points.forEach(([x, y], i) =>
    add("circle", {
      cx: x,
      cy: y,
      r: i === 0 || i === points.length - 1 ? 5 : 2.5,
      class: story.overset && i === points.length - 1 ? "red" : "",
    }),
  );
  if (story.overset && points.length) {
    const [x, y] = points[points.length - 1];
    add("text", { x: x + 9, y: y - 8 }).textContent = `+ ${story.overset}`;
  }
}
