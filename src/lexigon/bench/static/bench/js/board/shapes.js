// New shapes out of shapes: united, cut out of each other, divided, moved outward, smoothed.
import { askFor } from "./asking.js";
import { needing, register } from "../commands.js";
import { arrange, own } from "./arranging.js";
import { chosen, holderOf, select } from "./frames.js";
import { bringIn } from "./placing.js";
import { frames as standing, inText } from "./standing.js";
import { send, toast } from "./store.js";

const HOW = [
  ["unite", "Unite shapes"],
  ["subtract", "Subtract upper shapes from the lowest"],
  ["intersect", "Intersect shapes"],
  ["exclude", "Exclude the overlap of shapes"],
  ["divide", "Divide shapes into pieces"],
  ["compound", "Combine shapes into one path"],
];
const may = (count) =>
  needing(
    count > 1 ? `Select ${count} shapes or more first.` : "Select a shape first.",
    () => chosen().length >= count && !chosen().some((f) => f.master || inText(f) || f.role === "main"),
  );
export const combine = (how) => arrange({ do: "combine-shapes", how }).catch(() => {});
const quietly = (intent) => arrange(intent).catch(() => {});

/** Ask how far, and how the corners go along. */
export async function moveOutline() {
  const all = own();
  if (!all.length) return;
  await askFor(
    "Offset outline",
    "A positive distance moves the outline outward, a negative one inward.",
    "Apply",
    {
      by: { word: "Distance", kind: "length", value: 8 },
      join: {
        word: "Corners",
        kind: "choice",
        choices: [
          ["miter", "sharp"],
          ["round", "round"],
          ["bevel", "cut"],
        ],
      },
      what: {
        word: "Apply to",
        kind: "choice",
        choices: [
          ["copy", "a copy below it"],
          ["own", "the shape itself"],
        ],
      },
    },
    ({ what, ...values }) => arrange({ do: "offset-shapes", copies: what === "copy", ...values }, all),
  );
}

/** Ask how closely a path with fewer nodes is to keep to what it was. */
async function smooth() {
  const all = own();
  await askFor(
    "Smooth path",
    "Removes nodes. The path stays within this distance of its present outline; corners stay.",
    "Smooth",
    { within: { word: "Tolerance", kind: "points", value: 0.5 } },
    ({ within }) => send(all.map((f) => ({ do: "smooth-path", page: holderOf(f), object: f.id, smooth: within }))),
  );
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
  {
    word: "Place picture in shapes…",
    keys: [],
    help: "place one picture in several shapes, a group or text converted to outlines",
    when: may(2),
    run: () => framePicture().catch((error) => toast(error.message, true)),
    menu: 5,
  },
  ...HOW.map(([how, word]) => ({ word, keys: [], when: may(2), run: () => combine(how), menu: 5 })),
  { word: "Separate path into its parts", keys: [], when: may(1), run: () => quietly({ do: "part-shapes" }) },
  { word: "Offset outline…", keys: [], when: may(1), run: () => moveOutline().catch(() => {}), menu: 5 },
  { word: "Smooth path…", keys: [], when: may(1), run: () => smooth().catch(() => {}) },
);
