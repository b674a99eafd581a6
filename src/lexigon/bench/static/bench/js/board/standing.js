// What stands on the visible pages, as the server tells it, tied to the elements that draw it. Nothing is read back from those.
import { state } from "./store.js";

const tied = new Map();

/** Tie a page's description to its drawing: the n-th frame to the n-th group of class "frame", its lines and their texts alike.
    What is typed changes these copies until the answer comes; the description itself stays as it was told. */
export function tie(index, content) {
  const groups = content.querySelectorAll(".frame");
  const found = state.pages[index].frames.map((told, at) => {
    const frame = {
      story: "",
      number: 0,
      rotation: 0,
      skew: 0,
      mirrored: false,
      map: null,
      locked: false,
      held: false,
      silent: false,
      along: false,
      outline: "",
      hollow: false,
      bare: false,
      stroke: 0,
      master: false,
      field: false,
      cited: null,
      alt: "",
      bindings: [],
      repeat: null,
      ...told,
      page: index,
      group: groups[at],
    };
    frame.groups = (told.groups || []).map(([id]) => id);
    frame.groupMixes = (told.groups || []).map(([, , mix]) => mix || null);
    frame.groupNames = (told.groups || []).map(([, name]) => name);
    frame.overset = told.overset?.short || "";
    frame.oversetLong = told.overset?.long || "";
    const drawn = groups[at].querySelectorAll(".ln");
    frame.lines = told.lines.map((line, n) => ({
      ...line,
      g: line.stops ? groups[at] : drawn[n],
      frame: told.id,
      page: index,
      map: frame.map,
      texts: texts(line.texts, drawn[n]),
    }));
    mark(frame);
    return frame;
  });
  tied.set(index, found);
  readIn(index, content, found);
}

/** Tell screen readers what stands there in the order in which it is read, whatever lies above what. */
function readIn(index, content, found) {
  const name = (id) => `o${index}-${id}`;
  for (const { id, group } of found) if (group.id !== name(id)) group.id = name(id);
  const own = new Set(found.filter(({ master, field }) => !master && !field).map(({ id }) => id));
  say(content, "role", "group");
  say(content, "aria-label", index < 0 ? "Master page" : `Page ${state.pages[index].label}`);
  say(
    content,
    "aria-owns",
    (state.pages[index].reading || [])
      .filter((id) => own.has(id))
      .map(name)
      .join(" "),
  );
}

/** Give an element an attribute that it does not have so already: browsers look anew at what is set. */
function say(element, name, value) {
  if (!value) element.removeAttribute(name);
  else if (element.getAttribute(name) !== value) element.setAttribute(name, value);
}

const places = new WeakMap();
/** Where something is in its page's order of reading. */
function placeOf(index, id) {
  const { reading } = state.pages[index];
  if (!reading) return Infinity;
  if (!places.has(reading)) places.set(reading, new Map(reading.map((key, at) => [key, at])));
  return places.get(reading).get(id) ?? Infinity;
}

/** Things on the visible pages in the order in which they are read: the main text, what the page has itself, what else the master shows. */
export const inReading = (all) =>
  [...all].sort((a, b) => state.view.indexOf(a.page) - state.view.indexOf(b.page) || rankOf(a) - rankOf(b));
const rankOf = ({ role, page, id }) => {
  const at = placeOf(page, id);
  return role === "main" && at === Infinity ? -1 : Math.min(at, 1e6);
};

/** The texts of a line with the elements that draw them; a frame in the line has none. */
function texts(all, drawn) {
  let next = 0;
  return all.map((text) =>
    text.w === undefined ? { ...text, node: drawn.children[next++] } : { ...text, node: null },
  );
}

/** What style sheets and screen readers are to know of the drawing. */
function mark({ group, id, role, kind, layer, field, alt, name, lines }) {
  const all = { frame: id, role, kind, layer };
  for (const name of Object.keys(all)) if (group.dataset[name] !== all[name]) group.dataset[name] = all[name];
  if (field) group.dataset.field = "1";
  say(group, "role", kind === "text" ? "group" : "img");
  say(group, "aria-label", alt || name);
  for (const { g, p, stops } of lines) if (!stops) g.dataset.p = p;
}

/** The group that a frame is chosen with: the outermost it is in, or within the one that was entered the next. */
const groupOf = ({ groups }) => groups[groups.indexOf(state.entered) + 1] || "";

/** Whether it shows words of another text, and is neither moved nor made otherwise by itself: a note, a cell of a table. */
export const ofWords = ({ role }) => role === "note" || role === "cell";
/** Whether it goes with the words of a text: one of those, or a frame in a line. */
export const inText = (frame) => ofWords(frame) || frame.role === "inlay";

/** The frames on the visible pages, lowest first: copies, to be moved about. */
export const frames = () =>
  state.view.flatMap((index) =>
    (tied.get(index) || []).map((frame) => ({
      ...frame,
      inGroup: groupOf(frame),
      held: frame.held || (Boolean(state.only) && frame.layer !== state.only),
    })),
  );

/** The lines of a story on the visible spread, in the order they are read. */
export function linesOf(story) {
  const leading = state.view.flatMap((index) =>
    (tied.get(index) || []).filter((frame) => frame.story === story && !frame.field),
  );
  return leading.sort((a, b) => a.number - b.number).flatMap(({ lines }) => lines);
}

/** The story a paragraph belongs to, if it is on the visible pages. */
export const storyOf = (paragraph) =>
  frames().find(({ story, lines }) => story && lines.some(({ p }) => p === paragraph))?.story;
