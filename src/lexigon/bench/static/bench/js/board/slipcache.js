// What the slip shows of the objects in view, known before they are selected: asked for while nobody does anything, shown in the same
// frame as the selection, and confirmed by the server afterwards.
import { post } from "../http.js";
import { busy, idle, on, state } from "./store.js";
import { standing } from "./frames.js";
import { frames, ofWords } from "./standing.js";

const RESTING = 400; // milliseconds without a change, before what is missing is asked for
const AT_ONCE = 40; // selections in one request
const MOST_IN_VIEW = 240; // objects; of more, those that were selected before are known
const MOST = 600; // answers

/** @type {Map<string, {answer: any, print: string, ids: string[]}>} the longest unused first */
const known = new Map();
let timer = 0;
let revision = state.revision;

/** What the server is asked for a selected frame, or for the page itself without one. */
export function queryOf(frame) {
  const record = state.record ? { record: state.record } : {};
  const query = { page: frame?.page ?? state.view[0], frame: frame?.id || "", ...record };
  const [text] = frame ? standing([frame]) : [];
  return text ? { ...query, story: text.story, p: text.first, offset: frame.lines[0]?.s ?? 0 } : query;
}

const keyOf = (query) => JSON.stringify([state.master, ...Object.entries(query).sort().flat()]);

/** The description of an object on its page: the answer for it is valid as long as this stays the same. */
function printOf({ page, frame }) {
  const told = state.pages[page]?.frames.find(({ id }) => id === frame);
  return told ? JSON.stringify(told) : state.pages[page]?.hash || "";
}

/** The cached answer for a selection; null if the server has to be asked. */
export function recall(query) {
  const key = keyOf(query);
  const entry = known.get(key);
  if (!entry || entry.print !== printOf(query)) return null;
  known.delete(key);
  known.set(key, entry);
  return entry.answer;
}

/** Keep what the server said of a selection. */
export function remember(query, answer) {
  const key = keyOf(query);
  known.delete(key);
  known.set(key, { answer, print: printOf(query), ids: [query.frame, query.story, query.table].filter(Boolean) });
  if (known.size > MOST) known.delete(known.keys().next().value);
}

/** Forget what an edit names: objects and stories by their ids. */
function forgetNamed(asked) {
  const words = JSON.stringify(asked);
  for (const [key, { ids }] of known) if (!ids.length || ids.some((id) => words.includes(id))) known.delete(key);
  soon();
}

function forgetAll() {
  known.clear();
  soon();
}

function soon() {
  document.documentElement.dataset.slips = "missing";
  clearTimeout(timer);
  timer = setTimeout(fetchMissing, RESTING);
}

/** Ask for what is not known of the objects in view, a few at a time, and stop as soon as somebody does something. */
async function fetchMissing() {
  if (document.hidden) return; // it goes on when the window is seen again
  if (busy()) {
    idle().then(soon);
    return;
  }
  const objects = frames().filter((frame) => !ofWords(frame));
  const missing = [null, ...objects.slice(-MOST_IN_VIEW)].map(queryOf).filter((query) => !recall(query));
  document.documentElement.dataset.slips = missing.length ? "missing" : "known";
  if (!missing.length) return;
  const asked = missing.slice(0, AT_ONCE);
  const before = state.revision;
  try {
    const { slips } = await post(`/job/${state.key}/board/slips/`, { queries: asked, master: state.master });
    if (busy() || before !== state.revision) {
      soon();
      return;
    }
    slips.forEach((answer, at) => remember(asked[at], answer));
    if (slips.length) fetchMissing();
  } catch {
    // Without them the slip is asked for when something is selected.
  }
}

on("pages", soon);
on("painted", soon); // the objects of the pages are not known before
document.addEventListener("visibilitychange", soon);
on("lists", forgetAll);
on("master", forgetAll);
on("stepped", forgetAll);
on("sent", forgetNamed);
on("answered", ({ entry }) => forgetNamed(entry.asked));
on("taken", (answer) => {
  if (answer.revision > revision + 1) forgetAll(); // others changed something, too
  revision = Math.max(revision, answer.revision);
});
