// What Merge shows: the record sets of the job, the rows of one, verdicts as they come, the record in view.
import { messageOf } from "../errors.js";
import { get, post, readState } from "../http.js";
import { toast } from "../notice.js";
import { undoable } from "../steps.js";
import { tellSaved } from "../strip.js";
import { timeOfDay } from "../numerals.js";

/** @typedef {{id: string, name: string, fields: string[], computed: {name: string, expression: string}[], count: number, key: string, source: string}} RecordSet */
/** @typedef {{kind: string, text: string, field: string, value: string, suggestions: string[]}} Problem */
/** @typedef {{number: number, level: "ready" | "warning" | "error", words: number, problems: Problem[]}} Verdict */

const given = readState("merge-state");
const base = location.pathname;

export const state = {
  key: /** @type {string} */ (given.key),
  separators: /** @type {Record<string, string>} */ (given.separators),
  encodings: /** @type {string[]} */ (given.encodings),
  /** Bytes of a file of records. */
  largest: /** @type {number} */ (given.largest),
  outputs: /** @type {any[]} */ (given.outputs),
  sets: /** @type {RecordSet[]} */ (given.sets),
  bound: /** @type {boolean} */ (given.bound),
  used: /** @type {string[]} */ (given.used),
  set: "",
  /** The numbers of the records in the table, in its order. */
  numbers: /** @type {number[]} */ ([]),
  record: -1,
  verdicts: /** @type {Map<number, Verdict>} */ (new Map()),
  checked: { count: 0, total: 0, done: false },
  extremes: /** @type {any} */ (null),
  /** Offers for text that does not fit with some records. */
  fits: /** @type {{story: string, name: string, records: number, size: number, fitting: number, possible: boolean, tracking: number, closer: number | null, height: string, higher: string | null, overlaps: string[], width: string, wider: string | null, beside: string[]}[]} */ ([]),
};
const SET_STORED = `lexigon-record-set-${state.key}`;

const listeners = /** @type {Record<string, (() => void)[]>} */ ({});
/** Listen to one of: `sets` (names, fields), `rows` (values), `record` (another in view), `verdicts`, `numbers`. */
export const on = (name, run) => (listeners[name] ??= []).push(run);
export const emit = (name) => listeners[name]?.forEach((run) => run());

/** The record set in view. */
export const current = () => state.sets.find(({ id }) => id === state.set);
export const columns = () => [...(current()?.fields ?? []), ...(current()?.computed ?? []).map(({ name }) => name)];

export const ask = (name, query = {}, signal = undefined) =>
  get(`${base}${name}/?${new URLSearchParams({ set: state.set, ...query })}`, signal);

export function chooseSet(id) {
  state.set = id;
  localStorage.setItem(SET_STORED, id);
  state.record = -1;
  changed();
}

/** The set that was in view when this place was left, or the first. */
export function chooseFirst() {
  const last = localStorage.getItem(SET_STORED);
  chooseSet(state.sets.some(({ id }) => id === last) ? last : (state.sets[0]?.id ?? ""));
}

/** Records or bindings changed: what is known of them is out of date. */
export function changed() {
  state.verdicts.clear();
  state.checked = { count: 0, total: 0, done: false };
  state.extremes = null;
  state.fits = [];
  emit("sets");
  emit("rows");
}

/** Take over what the server says of the sets after a change. */
export function accept(answer) {
  state.sets = answer.sets;
  state.bound = answer.bound;
  state.used = answer.used;
  if (answer.set) state.set = answer.set;
  if (!current()) state.set = state.sets[0]?.id ?? "";
  localStorage.setItem(SET_STORED, state.set);
  undoable();
  tellSaved(`saved ${timeOfDay(new Date())}`);
  changed();
}

/** Send a change. Resolves true if it was made; what was refused is shown. */
export async function change(name, data, said = true) {
  try {
    accept(await post(`${base}${name}/`, data));
    return true;
  } catch (error) {
    if (!said) throw error;
    toast(messageOf(error), true);
    return false;
  }
}

export const doIntents = (...intents) => change("change", { intents });

export function choose(number) {
  if (state.record === number) return;
  state.record = number;
  emit("record");
}

let checking = 0;
/** Fetch verdicts until all records are checked, or something changes. */
export async function check() {
  const run = ++checking;
  let since = 0,
    revision = "";
  while (run === checking && current()?.count) {
    let answer;
    try {
      answer = await ask("verdicts", { since: String(since), revision });
    } catch {
      return; // it is asked again with the next change
    }
    if (run !== checking) return;
    if (revision && String(answer.revision) !== revision) state.verdicts.clear();
    for (const one of answer.verdicts) state.verdicts.set(one.number, one);
    since = answer.count;
    revision = String(answer.revision);
    state.checked = { count: answer.count, total: answer.total, done: answer.done };
    state.extremes = answer.extremes ?? state.extremes;
    state.fits = answer.fits;
    emit("verdicts");
    if (answer.done) return;
  }
}
