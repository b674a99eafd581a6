// The slip's part about arranging: what is aligned to what, gaps, sizes, order.
import { areas, arrange, duplicate, order, repeat } from "../arranging.js";
import { combine } from "../shapes.js";
import { KINDS } from "../values.js";
import { part } from "./parts.js";

/** What edges are brought to, and the gap that was typed: null for equal ones. */
const meant = { to: "", gap: null };
const CHOSEN = [
  ["selection", "the selection"],
  ["first", "the object selected first"],
];

const choices = (slip) => [...(slip.several > 1 ? CHOSEN : []), ...areas().map(([id, word]) => [id, word])];
const to = (slip) =>
  choices(slip).some(([id]) => id === meant.to) ? meant.to : slip.several > 1 ? "selection" : "page";
const align = (slip, edge) => slip.tried(() => arrange({ do: "align-objects", edge, to: to(slip) }));

part({
  about: (slip) => slip.arrangeable,
  rows: {
    "align to": [
      {
        id: "alto",
        word: "Align to",
        title: "the area or object that the selection is aligned to",
        kind: "choice",
        choices,
        value: to,
        set: (_, area) => {
          meant.to = area;
        },
      },
    ],
    align: [
      {
        word: "Align horizontally",
        kind: "buttons",
        choices: [
          ["left", "Left"],
          ["centre", "Centre"],
          ["right", "Right"],
        ],
        set: align,
      },
      {
        word: "Align vertically",
        kind: "buttons",
        choices: [
          ["head", "Top"],
          ["middle", "Middle"],
          ["foot", "Bottom"],
        ],
        set: align,
      },
    ],
    spread: [
      {
        id: "algap",
        word: "Gap",
        title: "distance between the objects; leave empty to distribute them evenly between the outermost two",
        kind: "length",
        empty: "equal",
        value: () => meant.gap,
        read: (text) => (text.trim() ? KINDS.length.read(text) : null),
        set: (_, gap) => {
          meant.gap = gap;
        },
      },
      {
        word: "Distribute:",
        kind: "links",
        choices: [
          ["across", "horizontally"],
          ["down", "vertically"],
        ],
        set: (slip, axis) => slip.tried(() => arrange({ do: "spread-objects", axis, to: to(slip), gap: meant.gap })),
      },
    ],
    order: [
      {
        word: "Stacking order",
        kind: "buttons",
        choices: [
          ["back", "To back", "Send to back (Shift B)"],
          ["backward", "Backward", "Send backward, one step (B)"],
          ["forward", "Forward", "Bring forward, one step (F)"],
          ["front", "To front", "Bring to front (Shift F)"],
        ],
        set: (slip, where) => slip.tried(() => order(where)),
      },
      {
        word: "Combine shapes",
        kind: "buttons",
        when: (slip) => slip.several > 1,
        set: (slip, how) => slip.tried(() => combine(how)),
        choices: [
          ["unite", "Unite", "Unite: one shape of all"],
          ["subtract", "Subtract", "Subtract: cuts the upper shapes out of the lowest"],
          ["intersect", "Intersect", "Intersect: leaves only the area that all share"],
          ["divide", "Divide", "Divide: cuts the shapes into pieces along each other’s outlines"],
        ],
      },
    ],
    sizes: [
      {
        word: "Match:",
        kind: "links",
        choices: [
          ["width", "width"],
          ["height", "height"],
        ],
        set: (slip, size) =>
          slip.tried(() => arrange({ do: "match-sizes", width: size === "width", height: size === "height" })),
      },
      {
        word: "Enlarge to fill:",
        kind: "links",
        choices: () => areas().map(([id, , word]) => [id, word]),
        set: (slip, area) => slip.tried(() => arrange({ do: "fill-area", to: area })),
      },
    ],
  },
  members: {
    get arrangeable() {
      return Boolean(this.frame) && !this.frame.inherited && !this.frame.inlay;
    },
    get arrangeTold() {
      return this.several > 1 ? `${this.several} objects` : "align, distribute, stacking order";
    },
    duplicateThis() {
      this.tried(() => duplicate());
    },
    repeatThis() {
      this.tried(repeat);
    },
  },
});
