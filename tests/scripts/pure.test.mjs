// The scripts that need no browser.
import assert from "node:assert/strict";
import test from "node:test";

const js = new URL("../../src/lexigon/bench/static/bench/js/", import.meta.url);
const { points, units } = await import(new URL("board/characters.js", js));
const { byKey, commands, register, withHelp } = await import(new URL("commands.js", js));

test("characters outside the first plane count once for the server and twice for the browser", () => {
  const text = "a𝔊b🐦c";
  assert.equal(points(text), 5);
  for (const [character, unit] of [[0, 0], [1, 1], [2, 3], [3, 4], [4, 6], [5, 7], [9, 7]]) assert.equal(units(text, character), unit);
  for (let at = 0; at <= 5; at += 1) assert.equal(points(text, units(text, at)), at);
});

test("a command is found by its key as long as it may run", () => {
  let done = "";
  let open = false;
  register(
    { word: "Turn", keys: ["t", "T"], help: "turn it", run: () => { done = "turned"; } },
    { word: "Cut", keys: ["x"], when: () => open, run: () => { done = "cut"; } },
    { keys: ["Drag"], help: "move it by the pointer" },
  );
  byKey("T").run();
  assert.equal(done, "turned");
  assert.equal(byKey("x"), undefined);
  assert.equal(byKey("Drag"), undefined, "a line of help is no command");
  open = true;
  byKey("x").run();
  assert.equal(done, "cut");
  assert.deepEqual(commands().map(({ word }) => word), ["Turn", "Cut"]);
  assert.deepEqual(withHelp().map(({ help }) => help), ["turn it", "move it by the pointer"]);
});
