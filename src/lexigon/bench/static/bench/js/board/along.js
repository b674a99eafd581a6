// Words that run along an outline: put there, and changed, in a field of their own; a caret has no place on a curve.
import { register } from "../commands.js";
import { ask, input, labelled } from "../notice.js";
import { chosen, current, holderOf, select } from "./frames.js";
import { frames } from "./standing.js";
import { copied, on, send } from "./store.js";

const START = { paragraph: "^", offset: 0 };
const END = { paragraph: "$", offset: 0 };

/** Ask for the words along a shape's outline. */
async function put(f) {
  const words = input("", "the words");
  await ask("Words along the outline", "In the middle of it; the slip says on which side, and from where on.", "Put them there", [labelled("Words", words)], async () => {
    await send([{ do: "put-along", page: holderOf(f), object: f.id, text: words.value }]);
    const made = frames().find((one) => one.id === f.id && one.page === f.page);
    if (made) select(made);
  });
}

/** Ask for other words in place of those that run along an outline. */
async function change(f) {
  const { text } = await copied({ story: f.story, start: START, end: END });
  const words = input(text);
  await ask("Words along the outline", "", "Change them", [labelled("Words", words)], async () => {
    await send([{ do: "replace-text", story: f.story, start: START, end: END, text: words.value.replace(/\s+/g, " ").trim() }]);
  });
}

const one = () => (chosen().length === 1 && current() && !current().master ? current() : null);
const quietly = (act) => act.catch(() => {});
on("along", (f) => quietly(change(f)));
register(
  { word: "Words along the outline of what is chosen …", keys: [], when: () => Boolean(one()) && ["shape", "rule"].includes(one().kind), run: () => quietly(put(one())), menu: 5 },
  { word: "Words along the outline: change them …", keys: ["Enter"], over: true, when: () => Boolean(one()?.along), run: () => quietly(change(one())), menu: 5 },
);
