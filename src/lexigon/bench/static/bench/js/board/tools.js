// The tools of the ledge, each a module that registers itself; and the bar above the ledge that says more of the one in use.
import { register } from "../commands.js";
import { element, icon } from "../dom.js";
import { board, toolBar as bar, toolButtons as ledge } from "./rooms.js";
import { emit, on, setTool, state } from "./store.js";

const all = new Map();
const KEPT = "lexigon-kinds";
const kinds = JSON.parse(localStorage.getItem(KEPT) || "{}");

/** Register a tool: {id, word, icon, press, kinds, quiet}. `press(event, clicks)` is told of a press on the sheet. Its key is the next
    number, which chooses the next of its `kinds`, [id, word] each, where it is in use already; a `quiet` one has neither key nor button. */
export function tool(one) {
  all.set(one.id, one);
  if (one.quiet) return;
  const number = String([...all.values()].filter(({ quiet }) => !quiet).length);
  const take = () => {
    if (state.tool === one.id && one.kinds)
      choose(one, one.kinds[(one.kinds.findIndex(([id]) => id === kindOf(one.id)) + 1) % one.kinds.length][0]);
    setTool(one.id);
  };
  const button = element(
    "button",
    {
      type: "button",
      "data-tool": one.id,
      "aria-pressed": String(state.tool === one.id),
      title: `${one.word} (${number})`,
      click: take,
    },
    icon(one.icon),
    ` ${one.word}`,
  );
  ledge.append(button);
  on("tool", (chosen) => button.setAttribute("aria-pressed", String(chosen === one.id)));
  register({ word: `${one.word} tool`, keys: [number], run: take });
  for (const [id, word] of one.kinds || [])
    register({
      word: `${one.word} tool: ${word}`,
      keys: [],
      run: () => {
        choose(one, id);
        setTool(one.id);
      },
    });
}

/** Which of its kinds a tool makes. */
export const kindOf = (id) => (all.get(id).kinds.find(([kind]) => kind === kinds[id]) || all.get(id).kinds[0])[0];

function choose(one, kind) {
  kinds[one.id] = kind;
  localStorage.setItem(KEPT, JSON.stringify(kinds));
  emit("tool-kind", one.id);
  showKinds(one);
}

function showKinds(one) {
  if (state.tool !== one.id || !one.kinds) return;
  showBar(
    one.word,
    one.kinds.map(([kind, word]) =>
      element("button", {
        type: "button",
        "aria-pressed": String(kind === kindOf(one.id)),
        text: word,
        click: () => choose(one, kind),
      }),
    ),
  );
}

/** Put buttons on the bar above the ledge; without any it goes. */
export function showBar(name, buttons) {
  bar.setAttribute("aria-label", name);
  bar.replaceChildren(...buttons);
  bar.hidden = !buttons.length;
}

/** A press on the sheet with the tool that is chosen. */
export const press = (event, clicks) => all.get(state.tool).press(event, clicks);

on("tool", (chosen) => {
  for (const name of all.keys()) board.classList.toggle(`tool-${name}`, name === chosen);
  showBar("", []);
  showKinds(all.get(chosen));
});
