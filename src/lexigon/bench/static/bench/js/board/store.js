// The one way edits leave the board: a queue with one request in flight; and what the server answers, taken over into the state.
import { HttpError, clock, get, post } from "../http.js";
import { calm, toast } from "../notice.js";
import { emit, on, state } from "./state.js";

export { emit, on, state, toast };

const base = `/job/${state.key}/`;
const tell = (words) => emit("saved", words);

/** Take over what the server says of the job: revision, counts, pages. `keep` leaves the painted pages alone. */
export function take(answer, keep = false) {
  Object.assign(state, { revision: answer.revision, count: answer.count, undo: answer.undo, redo: answer.redo });
  if (answer.lists) { Object.assign(state, answer.lists); emit("lists"); }
  emit("taken", answer);
  if (answer.settling) settle();
  if (answer.pages && !keep) {
    if (!answer.view.every((index) => answer.pages[index])) { location.search = ""; return; } // the master page is gone
    const resized = answer.view.some((index) => ["w", "h"].some((side) => (answer.pages[index].lines ?? state.pages[index]?.lines)?.[side] !== state.pages[index]?.lines[side]));
    const turned = resized || answer.view.join() !== state.view.join() || Boolean(answer.sheet && JSON.stringify(answer.sheet) !== JSON.stringify(state.sheet));
    if (answer.sheet) state.sheet = answer.sheet;
    if (answer.view[0] >= 0 && state.master) { state.master = ""; emit("master"); }
    const known = state.pages;
    state.view = answer.view;
    state.pages = {};
    const changed = [];
    const anew = answer.view.filter((index) => !known[index]);
    for (const index of state.view) {
      const page = answer.pages[index];
      state.pages[index] = page.svg === undefined ? { ...known[index], ...page } : page;
      if (page.svg !== undefined || turned) changed.push(index);
    }
    emit("pages", { turned, changed, anew });
  }
}

/** A change of styles was shown in view first: what it does to the rest is asked for a moment later. */
let settling = 0;
function settle() {
  clearTimeout(settling);
  tell("setting the other pages …");
  settling = setTimeout(async () => {
    if (busy()) { settle(); return; }
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

const queue = [];
let sending = false;

/** Send intents; resolves with the answer. Edits are sent in order, one request at a time. */
export function send(intents, { group = "", keep = /** @type {() => boolean} */ (() => false) } = {}) {
  return perform("edits", { intents }, { group, keep });
}

/** Have the server work something out and do it, as one change: a spec line, text made to fit, styles of another job. */
export function perform(name, asked, { group = "", keep = /** @type {() => boolean} */ (() => false) } = {}) {
  rested();
  return new Promise((resolve, reject) => {
    queue.push({ name, asked, group, keep, resolve, reject, token: crypto.randomUUID() });
    pump();
  });
}

async function pump() {
  if (sending) return;
  sending = true;
  while (queue.length) {
    const job = queue[0];
    tell("saving …");
    try {
      const have = Object.fromEntries(state.view.map((index) => [index, state.pages[index]?.hash]));
      const answer = await post(`${base}${job.name}/`, { ...job.asked, base: state.revision, token: job.token, group: job.group, view: state.view, spreads: state.spreads, master: state.master, have: job.group ? {} : have });
      queue.shift();
      calm();
      tell(queue.length ? "saving …" : `saved ${clock()}`);
      take(answer, job.keep());
      job.resolve(answer);
    } catch (error) {
      if (!(error instanceof HttpError)) { sending = false; throw error; }
      if (error.status === 0 || error.status === 401 || error.status >= 502) {
        tell("not saved yet");
        toast(error.message, true);
        await new Promise((wait) => setTimeout(wait, 1500));
        continue;
      }
      queue.shift();
      tell("not done");
      toast(error.message, true);
      await show(state.view[0], true);
      job.reject(error);
    }
  }
  sending = false;
  for (const tell_ of waiting.splice(0)) tell_();
}

export const busy = () => sending;
/** @type {((value?: any) => void)[]} */
const waiting = [];
/** Once all that was sent is answered, so that what is worked out builds on it. */
export const idle = () => (sending ? new Promise((resolve) => waiting.push(resolve)) : Promise.resolve());

/** What the server says of some pages. What an edit has overtaken on the way is old, and asked for anew. */
async function pagesOf(query) {
  for (let tries = 1; ; tries += 1) {
    const answer = await get(`${base}board/pages/?${query}&spreads=${state.spreads}`);
    if (answer.revision >= state.revision || tries === 3) return answer;
  }
}

/** Show the spread that holds page `index`; with `whole` the lists to choose from and the set-up come anew, too. */
export async function show(index, silent = false, whole = false) {
  try {
    const answer = await pagesOf(`page=${index}${whole ? "&whole=1" : ""}&master=${encodeURIComponent(state.master)}`);
    if (state.view.length && silent) state.pages = {};
    take(answer);
    history.replaceState(null, "", state.master ? `?master=${state.master}` : `?page=${state.view[0] + 1}`);
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
  const answer = await pagesOf(`story=${encodeURIComponent(story)}&p=${encodeURIComponent(p)}&offset=${offset}`);
  take(answer);
  return answer;
}

/** Show the spread on which a cell of a table stands. */
export async function showCell(table, { row, column }) {
  take(await pagesOf(new URLSearchParams({ table, row: String(row), column: String(column) })));
}

async function step(name) {
  rested();
  await idle();
  try {
    const answer = await post(`${base}${name}/`, { view: state.view, spreads: state.spreads, master: state.master });
    take(answer);
    calm();
    tell(`saved ${clock()}`);
    if (answer.label) toast(`${name === "undo" ? "Taken back" : "Done again"}: ${answer.label.toLowerCase()}`);
    emit("stepped", answer.caret);
  } catch (error) {
    if (!(error instanceof HttpError)) throw error;
    toast(error.message, true);
    await show(state.view[0], true);
  }
}
export const undo = () => step("undo");
export const redo = () => step("redo");
export const context = (query) => get(`${base}board/context/?${new URLSearchParams({ ...query, master: state.master })}`);

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

/** The layer that new objects go on: the one chosen in the drawer, else the main one, else the lowest. */
export const activeLayer = () => state.layers.find(({ id }) => id === state.layer) || state.layers.find(({ id }) => id === "main") || state.layers[0];

export function setTool(tool) {
  state.tool = tool;
  emit("tool", tool);
}

/** A length in points as it is written in the job's unit. */
export function length(points) {
  const { points: per, decimals, unit } = state.sheet;
  return `${Number((points / per).toFixed(decimals))} ${unit}`;
}
