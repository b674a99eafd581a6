// The findings of the job, and which of them is selected.
import { messageOf } from "../errors.js";
import { post } from "../http.js";
import { toast } from "../notice.js";
import { undoable } from "../steps.js";
import { tellFindings, tellSaved } from "../strip.js";
import { given } from "./rooms.js";

/**
 * A finding as the server reports it.
 * @typedef {object} Finding
 * @property {string} kind
 * @property {"error" | "warning" | "note"} level
 * @property {string} title
 * @property {string} text
 * @property {string} why - why it matters
 * @property {number | null} page - from 1
 * @property {string} label - of the page
 * @property {string} subject - the id of what it is about
 * @property {string} mark - what accepting it needs
 * @property {string} [fix]
 * @property {string} [fix_label]
 * @property {string} [acceptance] - the id of its acceptance
 * @property {string} [reason]
 */

/** @typedef {"all" | "error" | "warning" | "note" | "accepted"} Show */

export const state = {
  open: /** @type {Finding[]} */ (given.open),
  accepted: /** @type {Finding[]} */ (given.accepted),
  show: /** @type {Show} */ ("all"),
  mark: "",
};

const listeners = /** @type {(() => void)[]} */ ([]);
export const onChange = (run) => listeners.push(run);
const emit = () => listeners.forEach((run) => run());

/** The findings that are listed. */
export function rows(show = state.show) {
  if (show === "accepted") return state.accepted;
  return show === "all" ? state.open : state.open.filter(({ level }) => level === show);
}

export const selected = () => rows().find(({ mark }) => mark === state.mark);

export function select(mark) {
  state.mark = mark;
  emit();
}

/** Show findings of a level, or those that are accepted. @param {Show} show */
export function choose(show) {
  state.show = show;
  if (!selected()) state.mark = rows()[0]?.mark ?? "";
  emit();
}

/** Change the job, and take over what the checks find then; the finding after the selected one is selected if that is gone.
 *  @param {"change" | "fix"} name @param {object} data */
export async function change(name, data) {
  const at = rows().findIndex(({ mark }) => mark === state.mark);
  const answer = await post(`${location.pathname}${name}/`, data);
  state.open = answer.open;
  state.accepted = answer.accepted;
  undoable();
  tellSaved();
  tellFindings(state.open.length);
  if (!selected()) state.mark = (rows()[at] ?? rows().at(-1))?.mark ?? "";
  emit();
}

/** The same; what was refused is shown. */
export async function tried(name, data) {
  try {
    await change(name, data);
  } catch (error) {
    toast(messageOf(error), true);
  }
}
