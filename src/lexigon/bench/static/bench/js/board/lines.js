// The painted lines and where their characters stand: the browser is asked about the very glyphs it drew.
import { content, pageX } from "./sheet.js";
import { state } from "./store.js";

/** UTF-16 index of the code point at `offset`, and back. The server counts code points. */
export const units = (text, offset) => { let at = 0; for (let i = 0; i < offset && at < text.length; i += 1) at += text.codePointAt(at) > 0xffff ? 2 : 1; return at; };
export const points = (text, unit = text.length) => { let count = 0; for (let at = 0; at < unit; at += text.codePointAt(at) > 0xffff ? 2 : 1) count += 1; return count; };

/** The lines of a story on the visible spread, in the order they are read. */
export function linesOf(story) {
  const groups = [];
  for (const page of state.view) for (const frame of content(page).querySelectorAll(`.frame[data-story="${CSS.escape(story)}"]:not([data-field])`)) groups.push({ frame, page });
  groups.sort((a, b) => Number(a.frame.dataset.number || 0) - Number(b.frame.dataset.number || 0));
  const lines = [];
  for (const { frame, page } of groups) {
    for (const g of frame.children) {
      const d = g.dataset;
      lines.push({ g, frame: frame.dataset.frame, page, p: d.p, s: Number(d.s), e: Number(d.e), last: d.last === "1", x: Number(d.x), y: Number(d.y), a: Number(d.a), d: Number(d.d) });
    }
  }
  return lines;
}

const texts = (line) => [...line.g.children];

/** Characters a text element shows of the paragraph (an added hyphen is not one of them). */
const length = (text) => points(text.textContent) - (text.dataset.hyphen ? 1 : 0);

/** x of a text offset within a line, in page coordinates. */
export function xAt(line, offset) {
  let best = null;
  for (const text of texts(line)) if (Number(text.dataset.s) <= offset || !best) best = text;
  if (!best) return line.x;
  const count = length(best);
  const at = Math.min(Math.max(offset - Number(best.dataset.s), 0), count);
  const unit = units(best.textContent, at);
  try {
    if (unit < best.getNumberOfChars()) return best.getStartPositionOfChar(unit).x;
    return unit ? best.getEndPositionOfChar(unit - 1).x : line.x;
  } catch { return line.x; }
}

/** The text offset nearest to x (page coordinates) in a line. */
export function offsetAt(line, x) {
  let best = line.s;
  let nearest = Infinity;
  for (const text of texts(line)) {
    const start = Number(text.dataset.s);
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
    const dy = at.y < line.y - line.a ? line.y - line.a - at.y : at.y > line.y + line.d ? at.y - line.y - line.d : 0;
    const dx = Math.max(pageX(line.page) - at.x, at.x - pageX(line.page) - state.sheet.width, 0);
    if (dy + dx * 4 < nearest) { nearest = dy + dx * 4; best = line; }
  }
  return best ? { p: best.p, o: offsetAt(best, at.x - pageX(best.page)), page: best.page, line: best } : null;
}

/** A line's own words, as far as they are shown. */
export const lineText = (line) => texts(line).map((text) => [...text.textContent].slice(0, length(text)).join("")).join("");

/** Paint an insertion or deletion at once; the answer paints it as composed. */
export function paintLocally(story, place, remove, insert) {
  const lines = linesOf(story);
  const line = lineAt(lines, place);
  if (!line || place.o + remove > line.e) return;
  let target = null;
  for (const text of texts(line)) if (Number(text.dataset.s) <= place.o || !target) target = text;
  const grown = points(insert) - remove;
  if (!target && insert) {
    const like = line.frame && line.g.parentNode.querySelector("text");
    if (like) {
      target = like.cloneNode(false);
      for (const name of ["word-spacing", "data-hyphen"]) target.removeAttribute(name);
      target.setAttribute("x", line.x);
      target.setAttribute("y", line.y);
      target.dataset.s = line.s;
      line.g.append(target);
    }
  }
  if (target) {
    const text = target.textContent;
    const from = units(text, place.o - Number(target.dataset.s));
    const to = units(text, place.o - Number(target.dataset.s) + remove);
    target.textContent = text.slice(0, from) + insert + text.slice(to);
  }
  line.g.dataset.e = line.e + grown;
  let behind = false;
  for (const other of lines) {
    if (other.g === line.g) { behind = true; for (const text of texts(other)) if (Number(text.dataset.s) > place.o) text.dataset.s = Number(text.dataset.s) + grown; continue; }
    if (!behind || other.p !== line.p) continue;
    other.g.dataset.s = other.s + grown;
    other.g.dataset.e = other.e + grown;
    for (const text of texts(other)) text.dataset.s = Number(text.dataset.s) + grown;
  }
}
