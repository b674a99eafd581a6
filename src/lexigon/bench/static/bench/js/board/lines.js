// The painted lines and where their characters stand: the browser is asked about the very glyphs it drew.
import { points, units } from "../typing/characters.js";
import { applied, beside, inverse, written } from "./matrix.js";
import { pageX } from "./sheet.js";
import { linesOf } from "./standing.js";
import { state } from "./store.js";

export const texts = (line) => line.texts.filter(({ leader }) => !leader);

/** Characters a text element shows of the paragraph: an added hyphen is none, something kept elsewhere is one. */
export const length = ({ n, node, hyphen }) => n ?? points(node.textContent) - (hyphen ? 1 : 0);

/** The SVG transform of what is drawn over a line, in spread coordinates; turned frames turn it too. */
export const transformOf = (line) => (line.map ? written(beside(line.map, pageX(line.page))) : "");

/** A point of the spread in the upright coordinates of a line's frame. */
function upright(line, at) {
  return line.map ? applied(inverse(beside(line.map, pageX(line.page))), at) : at;
}

// Words along an outline have stops between their characters: [offset, x, y, angle].

const stopAt = (line, offset) => line.stops.find(([at]) => at >= offset) || line.stops[line.stops.length - 1];

/** The two ends of a caret at a text offset, in spread coordinates before `transformOf`. */
export function caretAt(line, offset) {
  const left = pageX(line.page);
  if (!line.stops) {
    const x = left + xAt(line, offset);
    return { x1: x, x2: x, y1: line.y - line.a, y2: line.y + line.d };
  }
  const [, x, y, angle] = stopAt(line, offset);
  const at = (down) => [left + x - Math.sin(angle) * down, y + Math.cos(angle) * down];
  const [[x1, y1], [x2, y2]] = [at(line.down - line.a), at(line.down + line.d)];
  return { x1, y1, x2, y2 };
}

/** The area of the characters from one offset to another of a line, as corners in spread coordinates before `transformOf`. */
export function areaOf(line, from, to) {
  if (!line.stops) {
    const x = pageX(line.page) + xAt(line, from);
    const end = Math.max(pageX(line.page) + xAt(line, to), x + 0.5);
    return [
      [x, line.y - line.a],
      [end, line.y - line.a],
      [end, line.y + line.d],
      [x, line.y + line.d],
    ];
  }
  const between = line.stops.filter(([at]) => at >= from && at <= to).map(([at]) => caretAt(line, at));
  return [...between.map(({ x1, y1 }) => [x1, y1]), ...between.reverse().map(({ x2, y2 }) => [x2, y2])];
}

/** The stop of a curved line that is nearest to a point of the page, and how far it is away. */
function nearestStop(line, x, y) {
  let best = null;
  for (const [at, sx, sy, angle] of line.stops) {
    const middle = line.down - line.a / 2; // between head and foot of the letters
    const away = Math.hypot(sx - Math.sin(angle) * middle - x, sy + Math.cos(angle) * middle - y);
    if (!best || away < best.away) best = { at, away };
  }
  return best;
}

/** x of a text offset within a line, in page coordinates. */
export function xAt(line, offset) {
  if (line.stops) return stopAt(line, offset)[1];
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
  } catch {
    return line.x;
  }
}

/** The text offset nearest to x (page coordinates) in a line. */
export function offsetAt(line, x) {
  if (line.stops) return x >= 1e5 ? line.e : nearestStop(line, x, line.y).at;
  let best = line.s;
  let nearest = Infinity;
  for (const text of texts(line)) {
    const start = text.s;
    const count = length(text);
    let low = 0;
    let high = count;
    while (low < high) {
      // characters stand left to right: find the first that begins right of x
      const middle = (low + high) >> 1;
      if (xAt(line, start + middle) < x) low = middle + 1;
      else high = middle;
    }
    for (const at of [low - 1, low]) {
      if (at < 0 || at > count) continue;
      const distance = Math.abs(xAt(line, start + at) - x);
      if (distance < nearest) {
        nearest = distance;
        best = start + at;
      }
    }
  }
  return Math.min(Math.max(best, line.s), line.e);
}

/** The line a place stands on: where two meet, the one that begins there. */
export function lineAt(lines, place) {
  let found = null;
  for (const line of lines)
    if (line.p === place.p && line.s <= place.o && (place.o <= line.e || !found || line.s > found.s)) found = line;
  return found;
}

/** The place nearest to a point of the spread, among a frame's lines. */
export function placeNear(story, at, frame = null) {
  let best = null;
  let nearest = Infinity;
  for (const line of linesOf(story)) {
    if (frame && (line.frame !== frame.id || line.page !== frame.page)) continue;
    const here = upright(line, at);
    if (line.stops) {
      const { away } = nearestStop(line, here.x - pageX(line.page), here.y);
      if (away < nearest) {
        nearest = away;
        best = line;
      }
      continue;
    }
    const dy =
      here.y < line.y - line.a ? line.y - line.a - here.y : here.y > line.y + line.d ? here.y - line.y - line.d : 0;
    const dx = line.map
      ? 0
      : Math.max(pageX(line.page) - at.x, at.x - pageX(line.page) - state.pages[line.page].lines.w, 0);
    if (dy + dx * 4 < nearest) {
      nearest = dy + dx * 4;
      best = line;
    }
  }
  if (!best) return null;
  const own = upright(best, at);
  const o = best.stops
    ? nearestStop(best, own.x - pageX(best.page), own.y).at
    : offsetAt(best, own.x - pageX(best.page));
  return { p: best.p, o, page: best.page, line: best };
}

/** A line's own words, as far as they are shown. */
export function lineText(line) {
  if (line.stops) return line.words;
  let words = "";
  let at = line.s;
  for (const text of texts(line)) {
    const start = text.s;
    if (start > at) {
      words += "\t".repeat(start - at);
      at = start;
    } // what is not drawn between two pieces is a tab, or shows nothing
    words +=
      text.n === undefined ? [...text.node.textContent].slice(0, length(text)).join("") : "\ufffc".repeat(text.n);
    at += length(text);
  }
  return words;
}
