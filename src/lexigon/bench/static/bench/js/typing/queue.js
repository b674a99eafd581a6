// The one way in which edits leave a window: in order, one request at a time, sent again until it is answered. Typing that waits is put together,
// and moved past what others did meanwhile. Needs no browser (tested in Node).
import { append, shiftPlace } from "./words.js";
import { statusOf } from "../errors.js";

/** What a queue is doing: nothing is left to send; a request is under way; nobody answers, and it is tried again. */
export const SAVED = "saved",
  SENDING = "sending",
  OFFLINE = "offline";

const MOST = 400; // edits in one request
const STEPS = 3; // requests that wait, from which on steps of undo are put together: so typing is never more than these behind
const AGAIN = [500, 1000, 2000, 4000]; // milliseconds between tries

/** Whether a request that ended so may be sent again as it is: nobody answered, or not now. */
const passing = (status) => status === 0 || status === 401 || status === 429 || status >= 502;

/**
 * @typedef {object} Entry
 * @property {string} name - of the address
 * @property {any} asked
 * @property {string} group - what undo takes back as one
 * @property {string} token - by which the server knows it again
 * @property {boolean} typed - it is typing: `asked.intents` are edits of words
 * @property {string} [story]
 * @property {number} [from] - the revision it was made on, where that is not the one last heard of
 * @property {boolean} [sent]
 * @property {Promise<any>} done
 * @property {(answer: any) => void} resolve
 * @property {(error: any) => void} reject
 */

export class Queue {
  /**
   * `post` sends an entry; `onAnswer` hears each answer, with the entry it is to, before who asked does; `onRefusal` hears what could not be done,
   * with the typing that is lost with it; `onState` hears of each state. `wait` resolves after milliseconds.
   * @param {{post: (entry: Entry) => Promise<any>, onAnswer: (answer: any, entry: Entry) => void, onRefusal: (error: any, entry: Entry, lost: Entry[]) => any, onState?: (state: string, error?: any) => void, wait?: (ms: number) => Promise<void>}} of
   */
  constructor({
    post,
    onAnswer,
    onRefusal,
    onState = () => {},
    wait = (ms) => new Promise((done) => setTimeout(done, ms)),
  }) {
    this.post = post;
    this.onAnswer = onAnswer;
    this.onRefusal = onRefusal;
    this.onState = onState;
    this.wait = wait;
    /** @type {Entry[]} */
    this.entries = [];
    this.state = SAVED;
    /** @type {((value?: any) => void)[]} */
    this.waiting = [];
  }

  get busy() {
    return this.state !== SAVED;
  }
  /** Resolves once all that was sent is answered. */
  idle() {
    return this.busy || this.entries.length ? new Promise((done) => this.waiting.push(done)) : Promise.resolve();
  }

  /** Send something behind all else; resolves with its answer. @param {Partial<Entry>} entry */
  add({ name, asked, group = "", token = crypto.randomUUID(), typed = false, ...more }) {
    const entry = /** @type {Entry} */ ({ ...more, name, asked, group, token, typed });
    entry.done = new Promise((resolve, reject) => Object.assign(entry, { resolve, reject }));
    this.entries.push(entry);
    this.pump();
    return entry.done;
  }

  /** Send an edit of words: with those that wait where it may be one request with them. */
  type(name, intent, group) {
    const last = this.entries[this.entries.length - 1];
    const joins =
      last?.typed &&
      !last.sent &&
      last.name === name &&
      last.story === intent.story &&
      last.asked.intents.length < MOST &&
      (last.group === group || this.entries.length > STEPS);
    if (joins) {
      append(last.asked.intents, intent);
      return last.done;
    }
    const done = this.add({ name, asked: { intents: [{ ...intent }] }, group, typed: true, story: intent.story });
    done.catch(() => {}); // reported by `onRefusal`
    return done;
  }

  /** The edits of a story's words that have no answer yet, in order. */
  typing(story) {
    return this.entries.filter((one) => one.typed && one.story === story).flatMap(({ asked }) => asked.intents);
  }

  async pump() {
    if (this.busy) return;
    this.enter(SENDING);
    let tries = 0;
    while (this.entries.length) {
      const [entry] = this.entries;
      if (entry.typed && !entry.asked.intents.length) {
        this.entries.shift();
        entry.resolve(null);
        continue;
      } // it was all taken back
      entry.sent = true;
      let answer;
      try {
        answer = await this.post(entry);
      } catch (error) {
        if (passing(statusOf(error))) {
          this.enter(OFFLINE, error);
          await this.wait(AGAIN[Math.min(tries, AGAIN.length - 1)]);
          tries += 1;
          continue;
        }
        await this.refuse(error, entry);
        continue;
      }
      tries = 0;
      this.entries.shift();
      for (const shift of answer.shifts || []) this.move(shift);
      this.enter(SENDING);
      try {
        this.onAnswer(answer, entry);
      } catch (problem) {
        queueMicrotask(() => {
          throw problem;
        });
      } // what waits goes on all the same
      entry.resolve(answer);
    }
    this.finish();
  }

  /** What could not be done is given up, and what was typed behind it in the same story, which has no place either. */
  async refuse(error, entry) {
    this.entries.shift();
    const lost = entry.typed ? [entry, ...this.entries.filter((one) => one.typed && one.story === entry.story)] : [];
    this.entries = this.entries.filter((one) => !lost.includes(one));
    try {
      await this.onRefusal(error, entry, lost);
    } finally {
      for (const one of lost.length ? lost : [entry]) one.reject(error);
    }
  }

  finish() {
    this.enter(SAVED);
    for (const done of this.waiting.splice(0)) done();
  }

  enter(state, error = undefined) {
    this.state = state;
    this.onState(state, error);
  }

  /** Places that wait to be sent are moved past what others did. */
  move(shift) {
    for (const { asked } of this.entries)
      for (const intent of asked.intents || []) {
        if (intent.story !== shift[0]) continue;
        for (const side of ["start", "end"]) if (intent[side]) intent[side] = shiftPlace(intent[side], shift);
      }
  }

  /** What is not answered yet, to be kept over a reload. */
  unsent() {
    return this.entries.map(({ name, asked, group, token, typed, story }) => ({
      name,
      asked,
      group,
      token,
      typed,
      story,
    }));
  }
}
