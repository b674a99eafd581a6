// The eyedropper: a colour taken from the board for the selection, or for a new swatch.
import { register } from "../commands.js";
import { open } from "../menu.js";
import { hush } from "../notice.js";
import { chosen, draw, named } from "./frames.js";
import { changeAll } from "./frameactions.js";
import { pageAt, point, sheet } from "./sheet.js";
import { target } from "./specline.js";
import { ofWords } from "./standing.js";
import { emit, inquire, perform, send, setTool, state, toast } from "./store.js";
import * as text from "./text.js";
import { tool } from "./tools.js";
import { messageOf } from "../errors.js";

const percent = (tint) => (tint < 1 ? ` ${Math.round(tint * 100)} %` : "");

/** What was meant when the command was given, where words were selected: they get the colour. */
let words = null;

/** A press takes the colour there: for the selected words, the fill of the selected objects, or with Alt their stroke. Where text frames are
 *  selected a menu asks whether their words or their backgrounds are meant; until then nothing is changed. */
async function press(event) {
  const at = pageAt(point(event));
  const page = state.pages[at.index].id;
  const { altKey: stroke, clientX, clientY } = event;
  let found;
  try {
    found = await inquire("sample", { page, x: at.x, y: at.y });
  } catch (error) {
    toast(messageOf(error), true);
    return;
  }
  if (state.tool !== "sample") return; // Esc was pressed meanwhile
  const all = chosen().filter((f) => !f.master && !ofWords(f));
  if (words) {
    await use(found, paintWords);
    return;
  }
  if (!all.length) {
    if (found.values) found = { ...found, ...(await made(found)) };
    toast(found.swatch ? `${found.name}${percent(found.tint ?? 1)}` : "There is only paper here: nothing is printed.");
    return;
  }
  if (stroke) {
    await use(found, paintStroke);
    return;
  }
  const texts = all.filter((f) => f.kind === "text" && f.lines.length);
  if (!texts.length) {
    await use(found, paintFill);
    return;
  }
  const backgrounds = texts.length === all.length ? "Background" : "Background and fill";
  open(
    clientX,
    clientY,
    [
      ["Text colour", () => use(found, paintWords)],
      [backgrounds, () => use(found, paintFill)],
    ],
    sheet,
    cancel,
  );
}

/** Leave everything as it is. */
function cancel() {
  words = null;
  hush();
  setTool("select");
}

/** Use a colour that was taken, as a swatch of the job; then the tool is done. */
async function use(found, paint) {
  try {
    const colour = found.values ? { ...found, ...(await made(found)) } : found;
    if (colour.swatch !== undefined) await paint({ swatch: colour.swatch, tint: colour.tint ?? 1, name: colour.name });
  } catch {
    draw();
  }
  words = null;
  setTool("select");
  emit("frame");
}

const told = ({ swatch, name, tint }) => (swatch ? `${name}${percent(tint)}` : "none");
const strong = (tint) => (tint < 1 ? ` ${Math.round(tint * 100)}%` : "");

async function paintFill(colour) {
  await changeAll({ spec: { fill: { swatch: colour.swatch, tint: colour.tint } } });
  toast(`Fill: ${told(colour)}`);
}

async function paintStroke(colour) {
  // which keeps its weight
  const all = chosen().filter((f) => !f.master && !ofWords(f));
  await perform("spec", {
    frames: named(all),
    line: colour.swatch ? `stroke ${colour.name} ${Math.round(colour.tint * 100)}%` : "no stroke",
    do: true,
  });
  toast(`Stroke: ${told(colour)}`);
}

async function paintWords(colour) {
  if (!colour.swatch) {
    toast("There is only paper here. Text needs an ink: click another colour.");
    return;
  }
  await perform("spec", { ...(words || target()), line: `colour ${colour.name}${strong(colour.tint)}`, do: true });
  toast(`Text: ${told(colour)}`);
}

/** A swatch of the inks that a picture has at a place: one the job has of the same, or a new one. */
async function made({ values, name }) {
  const same = state.swatches.find(
    (one) => one.space === "cmyk" && !one.spot && one.values.every((value, n) => Math.abs(value - values[n]) < 0.005),
  );
  if (same) return { swatch: same.id, name: same.name };
  const known = new Set(state.swatches.map(({ id }) => id));
  try {
    await send([{ do: "put-swatch", space: "cmyk", values }]);
  } catch {
    return {};
  }
  const fresh = state.swatches.find(({ id }) => !known.has(id));
  return { swatch: fresh?.id, name: fresh?.name || name };
}

tool({ id: "sample", word: "Eyedropper", press, quiet: true });
register(
  {
    word: "Pick colour with eyedropper",
    also: "pick color colour sample dropper pipette",
    keys: ["e"],
    shown: ["E"],
    help: "eyedropper: pick a colour for the selection, with Alt for its stroke; a colour of a picture becomes a swatch",
    run() {
      const meant = target();
      words = text.active() && text.selected() ? meant : null;
      setTool("sample");
      toast(
        words
          ? "Click a colour for the selected words. Esc cancels."
          : chosen().length
            ? "Click a colour for the fill, or Alt-click for the stroke. Esc cancels."
            : "Click a colour.",
      );
    },
  },
  { keys: ["Escape"], over: true, when: () => state.tool === "sample", run: cancel },
);
