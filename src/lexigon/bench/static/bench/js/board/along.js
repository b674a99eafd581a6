// Words that run along an outline: put there; they are changed with the text tool, as any words.
import { askFor } from "./asking.js";
import { register } from "../commands.js";
import { chosen, current, holderOf, select } from "./frames.js";
import { frames } from "./standing.js";
import { send } from "./store.js";

/** Ask for the words along a shape's outline. */
async function put(f) {
  await askFor(
    "Text on a path",
    "Centred on the outline. Position and start can be changed in the slip.",
    "Add text",
    { text: { word: "Text", empty: "your text" } },
    async ({ text }) => {
      await send([{ do: "put-along", page: holderOf(f), object: f.id, text }]);
      const made = frames().find((one) => one.id === f.id && one.page === f.page);
      if (made) select(made);
    },
  );
}

const one = () => (chosen().length === 1 && current() && !current().master ? current() : null);
const quietly = (act) => act.catch(() => {});
register({
  word: "Put text on a path…",
  keys: [],
  when: () => Boolean(one()) && ["shape", "rule"].includes(one().kind),
  run: () => quietly(put(one())),
  menu: 5,
});
