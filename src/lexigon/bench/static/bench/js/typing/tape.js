// Keys in their order. What a person does in a text is done at once, or waits on the tape until what came before it is known: a text that is
// fetched, something that is put in, an undo. Nothing typed goes past the tape, so nothing can overtake it.

/** The states of typing: the caret is in no text; what is done is done at once; it waits. */
export const AWAY = "away",
  READY = "ready",
  WAITING = "waiting";

/** @type {{run: () => any, words: string}[]} */
let tape = [];
let depth = 0;
let running = 0; // what is done now may do more, before what waits
let inside = () => false;

/** What tells whether the caret is in a text. */
export function watchCaret(tell) {
  inside = tell;
}

export const typingState = () => (depth ? WAITING : inside() ? READY : AWAY);

/** Do something with the text now, or when all that came before it is done. `words` are what it would put in. */
export function inTurn(run, words = "") {
  if (!postponed(run, words)) carryOut(run);
}

function carryOut(run) {
  running += 1;
  try {
    run();
  } finally {
    running -= 1;
  }
}

/** Whether something must wait; then it is on the tape. */
export function postponed(run, words = "") {
  if (!depth && (running || !tape.length)) return false;
  tape.push({ run, words });
  return true;
}

/** Let all that is done in a text wait until `task` is through; what that gives to do next comes before it. */
export async function holding(task) {
  depth += 1;
  document.documentElement.dataset.typing = WAITING;
  let next = null;
  try {
    next = await task();
  } finally {
    depth -= 1;
    if (typeof next === "function") tape.unshift({ run: next, words: "" });
    wind();
  }
}

/** Do what waits, as far as nothing makes it wait again. */
function wind() {
  while (!depth && tape.length) {
    const { run } = tape[0];
    tape.shift();
    carryOut(run);
  }
  document.documentElement.dataset.typing = typingState();
  release();
}

/** What waits is given up; returns the words that are lost with it. */
export function tearOff() {
  const words = tape.map((one) => one.words).join("");
  tape = [];
  release();
  return words;
}

/** Whether nothing waits. */
export const unwound = () => !depth && !tape.length;

/** @type {(() => void)[]} */
let waiting = [];
/** Once nothing waits. @returns {Promise<void>} */
export const whenUnwound = () => (unwound() ? Promise.resolve() : new Promise((done) => waiting.push(done)));

function release() {
  if (!unwound()) return;
  const all = waiting;
  waiting = [];
  for (const done of all) done();
}
