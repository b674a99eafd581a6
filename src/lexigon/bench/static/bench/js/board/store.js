// The one way edits leave the board: a queue with one request in flight; and what the server answers, taken over into the state.
import { HttpError } from "../errors.js";
import { clock, get, post } from "../http.js";
import { OFFLINE, Queue, SENDING } from "../typing/queue.js";
import { keepUnsent } from "../typing/unsent.js";
import { calm, toast } from "../notice.js";
import { figures } from "../numerals.js";
import { inSentence } from "../wording.js";
import { emit, on, state } from "./state.js";

export { emit, on, state, toast };

const base = `/job/${state.key}/`;
const tell = (words) => emit("saved", words);

/** Take over what the server says of the job: revision, counts, pages. */
export function take(answer) {
  Object.assign(state, { revision: answer.revision, count: answer.count, undo: answer.undo, redo: answer.redo });
  if (answer.lists) {
    Object.assign(state, answer.lists);
    emit("lists");
  }
  emit("taken", answer);
  if (answer.settling) settle();
  if (answer.pages) {
    if (!answer.view.every((index) => answer.pages[index])) {
      location.search = "";
      return;
    } // the master page is gone
    const resized = answer.view.some((index) =>
      ["w", "h"].some(
        (side) => (answer.pages[index].lines ?? state.pages[index]?.lines)?.[side] !== state.pages[index]?.lines[side],
      ),
    );
    const turned =
      resized ||
      answer.view.join() !== state.view.join() ||
      Boolean(answer.sheet && JSON.stringify(answer.sheet) !== JSON.stringify(state.sheet));
    if (answer.sheet) state.sheet = answer.sheet;
    if (answer.view[0] >= 0 && state.master) {
      state.master = "";
      emit("master");
    }
    const known = state.pages;
    state.view = answer.view;
    state.pages = {};
    const changed = [];
    const typing = queue.entries.some(({ typed }) => typed); // what is painted of it goes with the drawing, and comes again
    const anew = answer.view.filter((index) => !known[index]);
    for (const index of state.view) {
      const page = answer.pages[index];
      state.pages[index] = page.svg === undefined ? { ...known[index], ...page } : page;
      if (page.svg !== undefined || turned || typing) changed.push(index);
    }
    emit("pages", { turned, changed, anew });
  }
}

/** A change of styles was shown in view first: what it does to the rest is asked for a moment later. */
let settling = 0;
function settle() {
  clearTimeout(settling);
  tell("composing the other pages…");
  settling = setTimeout(async () => {
    if (busy()) {
      settle();
      return;
    }
    try {
      await post(`${base}settle/`);
    } catch {
      /* the pages in view are shown all the same */
    }
    await show(state.view[0]);
    tell(`saved ${clock()}`);
  }, 150);
}

const SETTLED = 350; // milliseconds without another turn of the wheel or stroke of a key
let resting = 0;
let wanted = null;

/** Keep something once the hand rests that turns a wheel or strokes an arrow; at once where anything else is done before, so that what was
 *  done last comes last. */
export function whenResting(keep) {
  clearTimeout(resting);
  wanted = keep;
  document.documentElement.dataset.resting = "true";
  resting = setTimeout(rested, SETTLED);
}

/** What waits until the hand rests is kept now. */
export function rested() {
  clearTimeout(resting);
  delete document.documentElement.dataset.resting;
  const keep = wanted;
  wanted = null;
  keep?.();
}

addEventListener("pagehide", rested);

let refused = false; // the last edit was
const queue = new Queue({
  post: ({ name, asked, token, group, typed, from }) => {
    document.documentElement.dataset.typed = String(typed);
    const have = Object.fromEntries(state.view.map((index) => [index, state.pages[index]?.hash]));
    return post(`${base}${name}/`, {
      ...asked,
      painted: typed,
      base: from ?? state.revision,
      token,
      group,
      view: state.view,
      spreads: state.spreads,
      master: state.master,
      record: state.record ?? "",
      have: typed ? {} : have,
    });
  },
  onAnswer(answer, entry) {
    refused = false;
    calm();
    for (const shift of answer.shifts || []) emit("shift", shift);
    emit("answered", { answer, entry });
    take(answer);
  },
  async onRefusal(error, entry, lost) {
    refused = true;
    tell("not saved"); // at once: what the page shows is fetched again first, which may take a moment
    toast(error.message, true);
    emit("refused", { error, entry, lost });
    await show(state.view[0], true);
  },
  onState(now, error) {
    document.documentElement.dataset.queue = now;
    if (now === OFFLINE) {
      tell("not saved yet");
      toast(error.message, true);
      unsent.keep();
      return;
    }
    if (now === SENDING) {
      tell("saving…");
      return;
    }
    tell(refused ? "not saved" : `saved ${clock()}`);
    unsent.keep();
  },
});

export const VIEW_ONLY = "You can view this job and comment on it, but not edit it. Its owner can let you edit it.";

export const RECORD_ONLY =
  "Edits change one record now: move its objects, or adjust its crops. Click Done to edit the design.";

/** Refuse an edit that cannot be made now; what was drawn of it ahead is drawn as it is again. */
async function refuse(why = VIEW_ONLY) {
  toast(why, true);
  await show(state.view[0], true);
  throw new HttpError(why, 403);
}

/** Send intents; resolves with the answer. Edits are sent in order, one request at a time. */
export function send(intents, { group = "" } = {}) {
  return perform("edits", { intents }, { group });
}

/** Have the server work something out and do it, as one change: a spec line, text made to fit, styles of another job. */
export function perform(name, asked, { group = "" } = {}) {
  if (state.role === "view") return refuse();
  if (state.record && name !== "edits") return refuse(RECORD_ONLY);
  rested();
  emit("sent", asked);
  return queue.add({ name, asked, group });
}

/** Send an edit of words, which is painted already; what follows it need not wait for the answer. */
export function sendTyped(intent, group) {
  rested();
  emit("sent", intent);
  return queue.type("edits", intent, group);
}

/** The edits of a story's words that the drawing of an answer does not have yet. */
export const unanswered = (story) => queue.typing(story);

export const busy = () => queue.busy;
/** Once all that was sent is answered, so that what is worked out builds on it. */
export const idle = () => queue.idle();

const unsent = keepUnsent(queue, `board-${state.key}`, () => state.revision);
/** Send what earlier windows had left. */
export const sendLeft = unsent.send;

/** Nothing newer is drawn before what is typed has its answers: its places are those of the revision that is drawn. */
const typedOut = () => (queue.entries.some(({ typed }) => typed) ? idle() : null);

/** What the server says of some pages. What an edit has overtaken on the way is old, and asked for anew. */
async function pagesOf(query) {
  for (let tries = 1; ; tries += 1) {
    const record = encodeURIComponent(state.record ?? "");
    const answer = await get(`${base}board/pages/?${query}&spreads=${state.spreads}&record=${record}`);
    if (answer.revision >= state.revision || tries === 3) return answer;
  }
}

/** Show the spread that holds page `index`; with `whole` the lists to choose from and the set-up come anew, too. */
export async function show(index, silent = false, whole = false) {
  try {
    if (!silent) await typedOut();
    const answer = await pagesOf(`page=${index}${whole ? "&whole=1" : ""}&master=${encodeURIComponent(state.master)}`);
    if (state.view.length && silent) state.pages = {};
    take(answer);
    const record = state.record ? `&record=${encodeURIComponent(state.record)}` : "";
    history.replaceState(null, "", state.master ? `?master=${state.master}` : `?page=${state.view[0] + 1}${record}`);
    return answer;
  } catch (error) {
    if (!(error instanceof HttpError)) throw error;
    toast(error.message, true);
    return null;
  }
}

/** Show one spread, or two side by side: kept for this job. */
export async function setSpreads(count) {
  state.spreads = count;
  document.cookie = `lexigon-spreads=${count}; path=/job/${state.key}/; max-age=${count === 2 ? 31536000 : 0}; SameSite=Lax`;
  await show(state.view.find((index) => state.pages[index]) ?? 0);
}

/** Find where a place in a story stands, and show that spread. */
export async function showPlace(story, p, offset) {
  await typedOut();
  const answer = await pagesOf(`story=${encodeURIComponent(story)}&p=${encodeURIComponent(p)}&offset=${offset}`);
  take(answer);
  return answer;
}

/** Show the spread on which a cell of a table stands. */
export async function showCell(table, { row, column }) {
  await typedOut();
  take(await pagesOf(new URLSearchParams({ table, row: String(row), column: String(column) })));
}

async function step(name) {
  rested();
  await idle();
  try {
    const { view, spreads, master, record = "" } = state;
    const answer = await post(`${base}${name}/`, { view, spreads, master, record });
    for (const shift of answer.shifts || []) {
      queue.move(shift);
      emit("shift", shift);
    }
    take(answer);
    calm();
    tell(`saved ${clock()}`);
    if (answer.label) toast(`${name === "undo" ? "Undone" : "Redone"}: ${inSentence(answer.label)}`);
    emit("stepped", answer.caret);
  } catch (error) {
    if (!(error instanceof HttpError)) throw error;
    toast(error.message, true);
    await show(state.view[0], true);
  }
}
export const undo = () => step("undo");
export const redo = () => step("redo");
/** The words of a story around a place that is not on the pages in view. */
export const wordsAround = (story, { p }) => get(`${base}board/words/?${new URLSearchParams({ story, p })}`);
export const context = (query) =>
  get(`${base}board/context/?${new URLSearchParams({ ...query, master: state.master })}`);

let cameFrom = 0;

/** Work on a master page in place; leaving it goes back to a page that uses it. */
export async function editMaster(id) {
  const from = state.view[0];
  state.master = id;
  emit("master");
  await show(-1);
  if (from >= 0) cameFrom = from;
}
export async function leaveMaster() {
  state.master = "";
  emit("master");
  await show(cameFrom);
}
export const copied = (data) => post(`${base}copy/`, data);
export const past = () => get(`${base}history/`);
/** Questions about type, by the name of their address. */
export const inquire = (name, query) => get(`${base}${name}/?${new URLSearchParams(query)}`);
export const propose = (name, data) => post(`${base}${name}/`, data);

const LAYER_KEPT = `lexigon-layer-${state.key}`;
state.layer ??= localStorage.getItem(LAYER_KEPT) ?? undefined;

/** The layer that new objects go on: the one selected in the drawer, also before the job was opened last; else the main one, else the lowest.
 *  None that is locked or hidden, as long as there is another. */
export function activeLayer() {
  const open = state.layers.filter(({ visible, locked }) => visible && !locked);
  const from = open.length ? open : state.layers;
  return from.find(({ id }) => id === state.layer) || from.find(({ id }) => id === "main") || from[0];
}

export function activateLayer(id) {
  state.layer = id;
  localStorage.setItem(LAYER_KEPT, id);
  emit("layer");
}

export function setTool(tool) {
  state.tool = tool;
  emit("tool", tool);
}

/** A length in points as it is written in the job's unit. */
export function length(points) {
  const { points: per, decimals, unit } = state.sheet;
  return `${figures(points / per, decimals)} ${unit}`;
}
