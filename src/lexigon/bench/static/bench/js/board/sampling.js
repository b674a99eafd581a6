// A colour taken from the board: for what is chosen, or for a new swatch.
import { register } from "../commands.js";
import { changeAll, chosen, draw, named } from "./frames.js";
import { pageAt, point } from "./sheet.js";
import { ofWords } from "./standing.js";
import { emit, inquire, perform, send, setTool, state, toast } from "./store.js";
import { tool } from "./tools.js";

const percent = (tint) => (tint < 1 ? ` ${Math.round(tint * 100)} %` : "");

/** A press takes the colour there; with Alt for the edge of what is chosen, else for its fill. */
async function press(event) {
  const at = pageAt(point(event));
  const page = state.pages[at.index].id;
  const edge = event.altKey;
  let found;
  try { found = await inquire("sample", { page, x: at.x, y: at.y }); } catch (error) { toast(error.message, true); return; }
  if (found.values) found = { ...found, ...await made(found) };
  if (found.swatch === undefined) return;
  const all = chosen().filter((f) => !f.master && !ofWords(f));
  if (!all.length) { toast(found.swatch ? `${found.name}${percent(found.tint ?? 1)}` : "Paper: nothing is printed here."); return; }
  const paint = { swatch: found.swatch, tint: found.tint ?? 1 };
  try {
    if (edge) await perform("spec", { frames: named(all), line: found.swatch ? `edge ${found.name} ${Math.round(paint.tint * 100)}%` : "no edge", do: true }); // which keeps its weight
    else await changeAll({ spec: { fill: paint } });
    toast(`${edge ? "Edge" : "Fill"}: ${found.swatch ? `${found.name}${percent(paint.tint)}` : "none"}`);
  } catch { draw(); }
  setTool("select");
  emit("frame");
}

/** A swatch of the inks that a picture has at a place: one the job has of the same, or a new one. */
async function made({ values, name }) {
  const same = state.swatches.find((one) => one.space === "cmyk" && !one.spot && one.values.every((value, n) => Math.abs(value - values[n]) < 0.005));
  if (same) return { swatch: same.id, name: same.name };
  const known = new Set(state.swatches.map(({ id }) => id));
  try { await send([{ do: "put-swatch", space: "cmyk", values }]); } catch { return {}; }
  const fresh = state.swatches.find(({ id }) => !known.has(id));
  return { swatch: fresh?.id, name: fresh?.name || name };
}

tool({ id: "sample", word: "Take a colour", press, quiet: true });
register({
  word: "Take a colour from the board", keys: ["e"], shown: ["E"], help: "take a colour from the board for what is chosen, with Alt for its edge; from a picture it becomes a swatch",
  run: () => { setTool("sample"); toast(chosen().length ? "Press on the colour it is to have; with Alt for its edge." : "Press on a colour."); },
});
