// Where measures begin: each page's corner, unless another place was chosen for this job. Rulers, the slip and the numbers beside the
// pointer tell places from there; a job is kept in measures of its pages, whatever is chosen here.
import { pageX, spreadWith } from "./sheet.js";
import { emit, length, state } from "./store.js";

const KEPT = `lexigon-origin-${state.key}`;

/** The places to choose from: [name, words]. */
export const ORIGINS = [
  ["page", "top left of the page"],
  ["middle", "centre of the page"],
  ["margins", "top left of the margins"],
  ["bleed", "top left of the bleed"],
  ["spread", "top left of the spread"],
  ["spine", "top centre of the spread"],
  ["own", "custom point"],
];

const kept = () => JSON.parse(localStorage.getItem(KEPT) || '{"name":"page"}');
export const originName = () => kept().name;

/** Choose it; `at` is of a custom place, in the spread's measures. */
export function setOrigin(name, at = { x: 0, y: 0 }) {
  if (name === "page") localStorage.removeItem(KEPT);
  else localStorage.setItem(KEPT, JSON.stringify(name === "own" ? { name, ...at } : { name }));
  emit("view");
  emit("frame");
}

/** In words, as the slip says where its numbers are from; "" for the page's corner. */
export const originWords = () => (originName() === "page" ? "" : ORIGINS.find(([name]) => name === originName())[1]);

/** Where measures of a page begin, in its own points. */
export function originOf(index) {
  const { name, x = 0, y = 0 } = kept();
  const { w, h, area } = state.pages[index].lines;
  const { bleed } = state.sheet;
  const spread = spreadWith(index);
  const left = pageX(spread[0]) - pageX(index);
  switch (name) {
    case "middle":
      return { x: w / 2, y: h / 2 };
    case "margins":
      return { x: area.x, y: area.y };
    case "bleed":
      return { x: state.pages[index].side === "recto" ? -bleed.inner : -bleed.outer, y: -bleed.head };
    case "spread":
      return { x: left, y: 0 };
    case "spine":
      return { x: spread.length > 1 ? left + state.pages[spread[0]].lines.w : w / 2, y: 0 };
    case "own":
      return { x: x - pageX(index), y };
    default:
      return { x: 0, y: 0 };
  }
}

/** A place on a page, told from there: across, and down. */
export const across = (index, x) => length(x - originOf(index).x);
export const down = (index, y) => length(y - originOf(index).y);
