// New shapes out of shapes: united, cut out of each other, divided, moved outward, smoothed.
import { askFor } from "./asking.js";
import { needing, register } from "../commands.js";
import { arrange, own } from "./arranging.js";
import { chosen, holderOf, select } from "./frames.js";
import { bringIn } from "./placing.js";
import { frames as standing, inText } from "./standing.js";
import { send, toast } from "./store.js";

const HOW = [
  ["unite", "Unite the shapes"], ["subtract", "Take the upper shapes out of the lowest"], ["intersect", "Keep what the shapes share"],
  ["exclude", "Leave out what the shapes share"], ["divide", "Divide the shapes into pieces"], ["compound", "Make one path of the shapes"],
];
const may = (count) => needing(count > 1 ? `Select ${count} shapes or more first.` : "Select a shape first.", () => chosen().length >= count && !chosen().some((f) => f.master || inText(f) || f.role === "main"));
export const combine = (how) => arrange({ do: "combine-shapes", how }).catch(() => {});
const quietly = (intent) => arrange(intent).catch(() => {});

/** Ask how far, and how the corners go along. */
export async function moveOutline() {
  const all = own();
  if (!all.length) return;
  await askFor("Move the outline", "Outward; a length below zero moves it inward.", "Move it", {
    by: { word: "By", kind: "length", value: 8 },
    join: { word: "Corners", kind: "choice", choices: [["miter", "sharp"], ["round", "round"], ["bevel", "cut"]] },
    what: { word: "Outline", kind: "choice", choices: [["copy", "of a copy below it"], ["own", "of the shape itself"]] },
  }, ({ what, ...values }) => arrange({ do: "offset-shapes", copies: what === "copy", ...values }, all));
}

/** Ask how closely a path with fewer nodes is to keep to what it was. */
async function smooth() {
  const all = own();
  await askFor("Smooth the path", "Fewer nodes; it keeps so close to what it is, and its corners stay.", "Smooth it", { within: { word: "Within", kind: "points", value: 0.5 } },
    ({ within }) => send(all.map((f) => ({ do: "smooth-path", page: holderOf(f), object: f.id, smooth: within }))));
}

/** Artwork of several shapes becomes one outline, which a picture fills. */
async function framePicture() {
  const before = own();
  await arrange({ do: "combine-shapes", how: "unite" });
  const left = standing().find((f) => before.some(({ id, page }) => id === f.id && page === f.page));
  if (left) select(left);
  await bringIn();
}

register(
  { word: "Picture in the shapes: one frame of all of them …", keys: [], help: "shapes, a group of them or words made into shapes become one frame, and a picture is placed in it", when: may(2), run: () => framePicture().catch((error) => toast(error.message, true)), menu: 5 },
  ...HOW.map(([how, word]) => ({ word, keys: [], when: may(2), run: () => combine(how), menu: 5 })),
  { word: "Take the path apart", keys: [], when: may(1), run: () => quietly({ do: "part-shapes" }) },
  { word: "Move the outline outward or inward …", keys: [], when: may(1), run: () => moveOutline().catch(() => {}), menu: 5 },
  { word: "Smooth the path: fewer nodes …", keys: [], when: may(1), run: () => smooth().catch(() => {}) },
);
