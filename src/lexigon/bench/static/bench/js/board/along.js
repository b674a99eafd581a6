// Words that run along an outline: put there; they are changed with the text tool, as any words.
import { askFor } from "./asking.js";
import { register } from "../commands.js";
import { chosen, current, holderOf, select } from "./frames.js";
import { frames } from "./standing.js";
import { send } from "./store.js";

/** Ask for the words along a shape's outline. */
async function put(f) {
  await askFor("Words along the outline", "In the middle of it; the slip says on which side, and from where on.", "Put them there", { text: { word: "Words", empty: "the words" } }, async ({ text }) => {
    await send([{ do: "put-along", page: holderOf(f), object: f.id, text }]);
    const made = frames().find((one) => one.id === f.id && one.page === f.page);
    if (made) select(made);
  });
}

const one = () => (chosen().length === 1 && current() && !current().master ? current() : null);
const quietly = (act) => act.catch(() => {});
register(
  { word: "Words along the outline of the selection…", keys: [], when: () => Boolean(one()) && ["shape", "rule"].includes(one().kind), run: () => quietly(put(one())), menu: 5 },
);
