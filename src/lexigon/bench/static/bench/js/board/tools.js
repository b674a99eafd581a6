// The tools of the ledge, each a module that registers itself.
import { register } from "../commands.js";
import { element, icon } from "./dom.js";
import { board } from "./sheet.js";
import { on, setTool, state } from "./store.js";

const all = new Map();
const ledge = document.getElementById("tools");

/** Register a tool: {id, word, icon, press}. `press(event, clicks)` is told of a press on the sheet. Its key is the next number. */
export function tool(one) {
  all.set(one.id, one);
  const button = element("button", { type: "button", "data-tool": one.id, "aria-pressed": String(state.tool === one.id), title: `${one.word} (${all.size})`, click: () => setTool(one.id) }, icon(one.icon), ` ${one.word}`);
  ledge.append(button);
  register({ word: `${one.word} tool`, keys: [String(all.size)], run: () => setTool(one.id) });
}

/** A press on the sheet with the tool that is chosen. */
export const press = (event, clicks) => all.get(state.tool).press(event, clicks);

on("tool", (chosen) => { for (const name of all.keys()) board.classList.toggle(`tool-${name}`, name === chosen); });
