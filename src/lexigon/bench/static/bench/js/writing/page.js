// The text in the window: paragraphs with their looks, and between places of the page and offsets of the words.
import { points, units } from "../typing/characters.js";

const LINE = "\u2028",
  OBJECT = "\ufffc";

function made(tag, name, text = "") {
  return Object.assign(document.createElement(tag), { className: name, textContent: text });
}

/** The pieces of a paragraph: [words, classes, kind, what is shown]. Offsets of spans count code points. */
function pieces({ text, spans = [] }) {
  const found = [];
  let at = 0;
  const cut = (a, b, ...more) => {
    if (b > a) found.push([text.slice(units(text, a), units(text, b)), ...more]);
  };
  for (const [start, end, classes, kind, shown] of spans) {
    cut(at, start, "");
    cut(start, end, classes, kind, shown);
    at = end;
  }
  cut(at, points(text), "");
  return found;
}

/** A paragraph as an element. What stands in it, and line ends, are signs of one character each. */
export function paragraphOf(row) {
  const element = made("div", `para level-${row.level}`);
  element.dataset.p = row.id;
  element.dataset.style = row.style;
  for (const [words, classes, kind, shown] of pieces(row)) {
    if (kind) {
      const chip = made("span", `sign kind-${kind}`, shown);
      chip.contentEditable = "false";
      chip.dataset.one = "";
      element.append(chip);
      continue;
    }
    words.split(LINE).forEach((part, n) => {
      if (n) {
        const end = made("span", "sign line-end", "↵");
        end.contentEditable = "false";
        end.dataset.one = "";
        element.append(end);
      }
      if (part) element.append(classes ? made("span", classes, part) : document.createTextNode(part));
    });
  }
  if (!element.lastChild || element.lastChild.dataset?.one !== undefined) element.append(document.createElement("br"));
  return element;
}

export const rowElement = (node) => (node.nodeType === 1 ? node : node.parentElement)?.closest("[data-p]");

/** The offset, in code points, of a place of the page within its paragraph. */
export function offsetOf(element, node, offset) {
  let count = 0;
  const walk = (here) => {
    if (here === node && here.nodeType === 3) {
      count += points(here.data, offset);
      return true;
    }
    if (here.nodeType === 3) {
      count += points(here.data);
      return false;
    }
    if (here.dataset?.one !== undefined) {
      if (here === node || here.contains(node)) return true;
      count += 1;
      return false;
    }
    const children = [...here.childNodes];
    for (let n = 0; n < children.length; n += 1) {
      if (here === node && n === offset) return true;
      if (walk(children[n])) return true;
    }
    return here === node;
  };
  walk(element);
  return count;
}

/** The place of the page at an offset of a paragraph. */
export function placeOf(element, offset) {
  let left = offset;
  const children = [...element.childNodes];
  for (let n = 0; n < children.length; n += 1) {
    const child = children[n];
    if (child.nodeName === "BR") return [element, n];
    if (child.dataset?.one !== undefined) {
      if (left === 0) return [element, n];
      left -= 1;
      continue;
    }
    const text = child.nodeType === 3 ? child : child.firstChild;
    const long = points(text.data);
    if (left <= long) return [text, units(text.data, left)];
    left -= long;
  }
  return [element, children.length];
}

export { LINE, OBJECT };
