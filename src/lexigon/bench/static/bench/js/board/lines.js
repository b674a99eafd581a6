// The painted lines and where their characters stand: the browser is asked about the very glyphs it drew.
import { points, units } from "./characters.js";
import { applied, beside, inverse, written } from "./matrix.js";
import { pageX } from "./sheet.js";
import { linesOf } from "./standing.js";
import { state } from "./store.js";

const texts = (line) => line.texts.filter(({ leader }) => !leader);

/** Characters a text element shows of the paragraph: an added hyphen is none, something kept elsewhere is one. */
const length = ({ n, node, hyphen }) => n ?? points(node.textContent) - (hyphen ? 1 : 0);

/** The SVG transform of what is drawn over a line, in spread coordinates; turned frames turn it too. */
export const transformOf = (line) => (line.map ? written(beside(line.map, pageX(line.page))) : "");

/** A point of the spread in the upright coordinates of a line's frame. */
function upright(line, at) {
  return line.map ? applied(inverse(beside(line.map, pageX(line.page))), at) : at;
}

/** x of a text offset within a line, in page coordinates. */
export function xAt(line, offset) {
  let best = null;
  for (const text of texts(line)) if ((text.s <= offset && text.n !== 0) || !best) best = text;
  if (!best) return line.x;
  if (best.w !== undefined) return best.x + (offset > best.s ? best.w : 0); // a frame in the line
  const begin = Number(best.node.getAttribute("x"));
  if (!best.node.getNumberOfChars()) return begin;
  const x = within(best, line, offset);
  // Widened characters are drawn through a transform from the element's beginning.
  return best.k ? begin + (x - begin) * best.k : x;
}

/** x of a text offset within one element, before that is widened. */
function within(text, line, offset) {
  const { node, s, n } = text;
  if (n !== undefined) {
    const all = node.getNumberOfChars();
    return offset > s && all ? node.getEndPositionOfChar(all - 1).x : node.getStartPositionOfChar(0).x;
  }
  const unit = units(node.textContent, Math.min(Math.max(offset - s, 0), length(text)));
  try {
    if (unit < node.getNumberOfChars()) return node.getStartPositionOfChar(unit).x;
    return unit ? node.getEndPositionOfChar(unit - 1).x : line.x;
  } catch { return line.x; }
}

/** The text offset nearest to x (page coordinates) in a line. */
export function offsetAt(line, x) {
  let best = line.s;
  let nearest = Infinity;
  for (const text of texts(line)) {
    const start = text.s;
    const count = length(text);
    let low = 0;
    let high = count;
    while (low < high) {  // characters stand left to right: find the first that begins right of x
      const middle = (low + high) >> 1;
      if (xAt(line, start + middle) < x) low = middle + 1; else high = middle;
    }
    for (const at of [low - 1, low]) {
      if (at < 0 || at > count) continue;
      const distance = Math.abs(xAt(line, start + at) - x);
      if (distance < nearest) { nearest = distance; best = start + at; }
    }
  }
  return Math.min(Math.max(best, line.s), line.e);
}

/** The line a place stands on: where two meet, the one that begins there. */
export function lineAt(lines, place) {
  let found = null;
  for (const line of lines) if (line.p === place.p && line.s <= place.o && (place.o <= line.e || !found || line.s > found.s)) found = line;
  return found;
}

/** The place nearest to a point of the spread, among a frame's lines. */
export function placeNear(story, at, frame = null) {
  let best = null;
  let nearest = Infinity;
  for (const line of linesOf(story)) {
    if (frame && (line.frame !== frame.id || line.page !== frame.page)) continue;
    const here = upright(line, at);
    const dy = here.y < line.y - line.a ? line.y - line.a - here.y : here.y > line.y + line.d ? here.y - line.y - line.d : 0;
    const dx = line.map ? 0 : Math.max(pageX(line.page) - at.x, at.x - pageX(line.page) - state.pages[line.page].lines.w, 0);
    if (dy + dx * 4 < nearest) { nearest = dy + dx * 4; best = line; }
  }
  return best ? { p: best.p, o: offsetAt(best, upright(best, at).x - pageX(best.page)), page: best.page, line: best } : null;
}

/** A line's own words, as far as they are shown. */
export function lineText(line) {
  let words = "";
  let at = line.s;
  for (const text of texts(line)) {
    const start = text.s;
    if (start > at) { words += "\t".repeat(start - at); at = start; } // what is not drawn between two pieces is a tab
    words += text.n === undefined ? [...text.node.textContent].slice(0, length(text)).join("") : "\ufffc".repeat(text.n);
    at += length(text);
  }
  return words;
}

/** Paint an insertion or deletion at once; the answer paints it as composed. */
export function paintLocally(story, place, remove, insert) {
  const lines = linesOf(story);
  const line = lineAt(lines, place);
  if (!line || place.o + remove > line.e) return;
  let target = null;
  for (const text of texts(line)) if (text.s <= place.o || !target) target = text;
  const grown = points(insert) - remove;
  if (!target && insert) {
    const like = line.g.parentNode.querySelector("text");
    if (like) {
      const node = like.cloneNode(false);
      node.removeAttribute("word-spacing");
      node.setAttribute("x", line.x);
      node.setAttribute("y", line.y);
      line.g.append(node);
      target = { s: line.s, node };
      line.texts.push(target);
    }
  }
  if (target && target.n === undefined) {
    const text = target.node.textContent;
    const from = units(text, place.o - target.s);
    const to = units(text, place.o - target.s + remove);
    target.node.textContent = text.slice(0, from) + insert + text.slice(to);
  }
  line.e += grown;
  let behind = false;
  for (const other of lines) {
    if (other === line) { behind = true; for (const text of line.texts) if (text.s > place.o) text.s += grown; continue; }
    if (!behind || other.p !== line.p) continue;
    other.s += grown;
    other.e += grown;
    for (const text of texts(other)) text.s += grown;
  }
}
