// The flatplan's state, as the server tells it, and the one way edits leave it.
import { HttpError } from "../errors.js";
import { get, post, readState } from "../http.js";
import { calm, toast } from "../notice.js";
import { tellPages, tellSaved } from "../strip.js";
import { inSentence } from "../wording.js";

export const state = { plan: readState("plan-state"), chosen: new Set(), anchor: 0, cursor: 0, sheets: "", story: "" };
const base = `/job/${state.plan.key}/`;
const listeners = [];
export const onChange = (listener) => listeners.push(listener);
export const changed = () => {
  for (const listener of listeners) listener();
};

/** @type {Promise<any>} */
let running = Promise.resolve();

async function told(action) {
  tellSaved("saving…");
  try {
    await action();
    take(await get(`${base}flatplan/plan/`));
    tellSaved();
    calm();
    return true;
  } catch (error) {
    if (!(error instanceof HttpError)) throw error;
    tellSaved("not saved");
    toast(error.message, true);
    return false;
  }
}

/** Send intents, one request at a time; resolves with whether they were done. */
export function send(...intents) {
  const done = running.then(() =>
    told(() => post(`${base}edits/`, { base: state.plan.revision, intents, token: crypto.randomUUID(), view: [] })),
  );
  running = done;
  return done;
}

export function step(name) {
  running = running.then(() =>
    told(async () => {
      const answer = await post(`${base}${name}/`, {});
      toast(
        answer.label ? `${name === "undo" ? "Undone" : "Redone"}: ${inSentence(answer.label)}` : `Nothing to ${name}`,
      );
    }),
  );
  return running;
}

export const bring = (from) => told(() => post(`${base}masters/bring/`, { source: from }));

function take(plan) {
  state.plan = plan;
  const ids = new Set(plan.pages.map((page) => page.id));
  state.chosen = new Set([...state.chosen].filter((id) => ids.has(id)));
  state.cursor = Math.min(state.cursor, plan.pages.length - 1);
  tellPages(plan.pages.length);
  changed();
}

export const chosen = () => state.plan.pages.filter((page) => state.chosen.has(page.id));
export const boardOf = (index) => `${base}board/?page=${index + 1}`;
export const picture = (page) => `${base}flatplan/${page.index}-${page.picture}.webp`;
