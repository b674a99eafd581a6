// Elements made in one line.

/** An element with attributes (functions are listened to by their name, "text" is what it says) and children. */
export function element(name, attributes = {}, ...children) {
  const made = document.createElement(name);
  for (const [key, value] of Object.entries(attributes)) {
    if (typeof value === "function") made.addEventListener(key, value);
    else if (key === "text") made.textContent = value;
    else if (typeof value === "boolean") made.toggleAttribute(key, value);
    else if (value !== null && value !== undefined) made.setAttribute(key, value);
  }
  made.append(...children);
  return made;
}

/** An element that the template of a place gives, by its id; asked for once, by whoever it belongs to. One that may be missing is not
    `needed`: null then. */
export function room(id, needed = true) {
  const found = document.getElementById(id);
  if (!found && needed) throw new Error(`This place has no “${id}”.`);
  return found;
}

/** A tooltip: the term, then a line that explains it, which need not repeat the term. */
export function tooltip(term, line) {
  return !line || line.startsWith(term) ? line || "" : `${term}: ${line}`;
}

const SVG = "http://www.w3.org/2000/svg";
const sprite = document.querySelector("svg.icon use")?.getAttribute("href").split("#")[0];

/** An icon of the sprite. */
export function icon(name) {
  const made = document.createElementNS(SVG, "svg");
  made.setAttribute("class", "icon");
  made.setAttribute("aria-hidden", "true");
  const use = document.createElementNS(SVG, "use");
  use.setAttribute("href", `${sprite}#${name}`);
  made.append(use);
  return made;
}
