// Typing without a browser: a queue and the words it changes, against a server that is slow, loses answers, and has others writing on it.
import assert from "node:assert/strict";
import test from "node:test";

const js = new URL("../../src/lexigon/bench/static/bench/js/", import.meta.url);
const { OFFLINE, Queue, SAVED } = await import(new URL("typing/queue.js", js));
const { Stretch, append, applyTyping, clean, freshId, shiftPlace } = await import(new URL("typing/words.js", js));

/** Numbers that look random, the same at every run. */
function dice(seed) {
  let state = seed;
  return (below) => {
    state = (state * 1103515245 + 12345) % 2147483648;
    return Math.floor((state / 2147483648) * below);
  };
}

/** A server of one story. Answers come when `tick` is called; some are lost on the way, some requests, too. */
class Server {
  constructor(roll, text) {
    this.roll = roll;
    this.story = new Stretch("main", 0, 1, [{ id: "a", text }]);
    this.done = new Set();
    this.requests = 0;
  }

  get text() {
    return this.story.rows.map(({ text }) => text).join("\n");
  }

  async post({ asked, token }) {
    this.requests += 1;
    await Promise.resolve();
    if (this.roll(6) === 0) throw Object.assign(new Error("not reached"), { status: 0 });
    if (!this.done.has(token)) {
      this.done.add(token);
      for (const intent of asked.intents)
        assert.ok(this.story.replace(intent), `the server knows ${JSON.stringify(intent)}`);
    }
    if (this.roll(6) === 0) throw Object.assign(new Error("the answer was lost"), { status: 0 });
    return { shifts: [] };
  }
}

/** A plain text area: what the same keys make of one text. */
class Area {
  constructor(text) {
    this.text = text;
    this.at = text.length;
  }
  type(put) {
    this.text = this.text.slice(0, this.at) + put + this.text.slice(this.at);
    this.at += put.length;
  }
  back() {
    if (this.at) {
      this.text = this.text.slice(0, this.at - 1) + this.text.slice(this.at);
      this.at -= 1;
    }
  }
  remove() {
    this.text = this.text.slice(0, this.at) + this.text.slice(this.at + 1);
  }
  move(by) {
    this.at = Math.min(Math.max(this.at + by, 0), this.text.length);
  }
}

/** Somebody typing in a window: the words known there, the caret, and the queue. */
class Typist {
  constructor(server) {
    this.words = server.story.copy();
    this.caret = { paragraph: "a", offset: server.text.length };
    this.group = 0;
    this.queue = new Queue({
      post: (entry) => server.post(entry),
      onAnswer: () => {},
      onRefusal: (error) => {
        throw error;
      },
      wait: () => Promise.resolve(),
    });
  }

  put(start, end, text) {
    const typed = {
      do: "replace-text",
      story: "main",
      start,
      end,
      text,
      marks: false,
      ids: [...text].filter((one) => one === "\n").map(freshId),
    };
    this.caret = this.words.replace(typed).caret;
    this.queue.type("edits", typed, String(this.group));
    if (text.includes("\n")) this.group += 1;
  }

  type(text) {
    this.put(this.caret, this.caret, text);
  }
  beside(by) {
    const { paragraph, offset } = this.caret,
      { text } = this.words.row(paragraph);
    if (offset + by >= 0 && offset + by <= text.length) return { paragraph, offset: offset + by };
    const other = this.words.beside(paragraph, by);
    return other && { paragraph: other.p, offset: other.o };
  }

  back() {
    const there = this.beside(-1);
    if (there) this.put(there, this.caret, "");
  }
  remove() {
    const there = this.beside(1);
    if (there) this.put(this.caret, there, "");
  }
  move(by) {
    for (let n = 0; n < Math.abs(by); n += 1) this.caret = this.beside(Math.sign(by)) || this.caret;
  }
}

test("whatever is typed, however slow the line: the text is what a plain text area would have", async () => {
  for (let seed = 1; seed <= 60; seed += 1) {
    const roll = dice(seed),
      server = new Server(dice(seed * 7), "Low water"),
      area = new Area("Low water"),
      typist = new Typist(server);
    for (let key = 0; key < 250; key += 1) {
      const what = roll(20),
        [name, value] =
          what < 11
            ? ["type", "abcdefghij klm"[roll(14)]]
            : what < 14
              ? ["type", "\n"]
              : what < 16
                ? ["back"]
                : what < 17
                  ? ["remove"]
                  : what < 18
                    ? ["type", "two\nlines"]
                    : ["move", roll(9) - 4];
      area[name](value);
      typist[name](value);
      if (roll(5) === 0) for (let n = roll(12); n; n -= 1) await Promise.resolve(); // eslint-disable-line no-await-in-loop
    }
    await typist.queue.idle();
    assert.equal(server.text, area.text, `seed ${seed}`);
    assert.equal(typist.words.rows.map(({ text }) => text).join("\n"), area.text);
    assert.equal(typist.queue.state, SAVED);
  }
});

test("typing that waits is put together, and is never many requests behind", async () => {
  let answer = () => {};
  const sent = [];
  const queue = new Queue({
    post: (entry) => {
      sent.push(structuredClone(entry.asked.intents));
      return new Promise((done) => {
        answer = () => done({});
      });
    },
    onAnswer: () => {},
    onRefusal: () => {},
  });
  const at = (offset, paragraph = "a") => ({ paragraph, offset });
  const type = (offset, text, group, paragraph) =>
    queue.type(
      "edits",
      {
        do: "replace-text",
        story: "main",
        start: at(offset, paragraph),
        end: at(offset, paragraph),
        text,
        marks: false,
        ids: [],
      },
      group,
    );
  type(0, "a", "one");
  for (const [n, letter] of [..."bcd"].entries()) type(n + 1, letter, "one");
  for (let n = 0; n < 50; n += 1) type(0, "x", `line ${n}`, `p${n}`);
  answer();
  await Promise.resolve();
  await Promise.resolve();
  await Promise.resolve();
  assert.deepEqual(
    sent.map((intents) => intents.map(({ text }) => text)),
    [["a"], ["bcd"]],
  );
  assert.ok(queue.entries.length <= 5, `${queue.entries.length} requests wait`);
});

test("what is taken back before it was sent is not sent", () => {
  const typed = [];
  const at = (offset) => ({ paragraph: "a", offset });
  const put = (from, to, text) => append(typed, { story: "main", start: at(from), end: at(to), text, marks: true });
  put(4, 4, "w");
  put(5, 5, "𝔊");
  put(5, 6, "");
  assert.deepEqual(
    typed.map(({ text }) => text),
    ["w"],
  );
  put(4, 5, "");
  assert.deepEqual(typed, []);
  put(0, 3, "x");
  put(0, 1, "");
  assert.deepEqual(
    typed.map(({ start, end, text }) => [start.offset, end.offset, text]),
    [[0, 3, ""]],
    "what was replaced stays so",
  );
});

test("a refusal gives back all that was typed since, in order, and nothing of another story", async () => {
  const lost = [],
    said = [];
  let refuse = () => {};
  const queue = new Queue({
    post: () =>
      new Promise((_, fail) => {
        refuse = () => fail(Object.assign(new Error("changed elsewhere"), { status: 409 }));
      }),
    onAnswer: () => {},
    onRefusal: (_, entry, all) => {
      lost.push(...all);
    },
    onState: (state) => said.push(state),
  });
  const type = (story, offset, text, group) =>
    queue.type(
      "edits",
      { do: "replace-text", story, start: { paragraph: "a", offset }, end: { paragraph: "a", offset }, text, ids: [] },
      group,
    );
  type("main", 0, "first ", "1");
  type("main", 6, "second ", "2");
  type("note", 0, "kept", "3");
  refuse();
  await new Promise((done) => setTimeout(done, 5));
  assert.deepEqual(
    lost.flatMap(({ asked }) => asked.intents).map(({ text }) => text),
    ["first ", "second "],
  );
  assert.deepEqual(
    queue.entries.map(({ story }) => story),
    ["note"],
  );
});

test("no answer is asked for again with the same name until there is one, and it says so", async () => {
  const tokens = [],
    said = [];
  let tries = 0;
  const queue = new Queue({
    post: async ({ token }) => {
      tokens.push(token);
      tries += 1;
      if (tries < 4) throw Object.assign(new Error("no"), { status: tries === 2 ? 503 : 0 });
      return {};
    },
    onAnswer: () => {},
    onRefusal: () => {},
    onState: (state) => said.push(state),
    wait: () => Promise.resolve(),
  });
  await queue.add({ name: "edits", asked: { intents: [{}] } });
  await queue.idle();
  assert.equal(new Set(tokens).size, 1);
  assert.deepEqual(said.filter((state) => state === OFFLINE).length, 3);
  assert.equal(said.at(-1), SAVED);
});

test("places go past what others did", () => {
  const place = (offset) => ({ paragraph: "a", offset });
  const shift = ["main", "a", 4, 3, 5, "", 0];
  assert.deepEqual(
    [2, 4, 5, 7, 9].map((at) => shiftPlace(place(at), shift).offset),
    [2, 4, 9, 9, 11],
  );
  assert.deepEqual(shiftPlace(place(9), ["main", "a", 4, 0, 0, "b", 0]), { paragraph: "b", offset: 5 });
  assert.deepEqual(shiftPlace(place(0), ["main", "a", -1, 0, 0, "b", 6]), { paragraph: "b", offset: 7 });
  assert.deepEqual(shiftPlace({ paragraph: "c", offset: 9 }, shift), { paragraph: "c", offset: 9 });
});

test("an empty paragraph is made before words that Enter is typed at the head of: they keep their id", () => {
  const at = (offset) => ({ paragraph: "a", offset });
  const step = applyTyping([{ id: "a", text: "words" }], {
    story: "main",
    start: at(0),
    end: at(0),
    text: "\n",
    ids: ["b"],
  });
  assert.deepEqual(
    step.rows.map(({ id, text }) => [id, text]),
    [
      ["b", ""],
      ["a", "words"],
    ],
  );
  assert.deepEqual(step.caret, at(0));
  assert.equal(clean("a\r\nb\u0085c\u0000\ufffc\ud800d\u2028e\t"), "a\nb\ncd\u2028e\t");
});
