// The slip's part about arranging: what is aligned to what, gaps, sizes, order.
import { areas, arrange, duplicate, order, repeat } from "../arranging.js";
import { combine } from "../shapes.js";
import { KINDS } from "../values.js";
import { part } from "./parts.js";

/** What edges are brought to, and the gap that was typed: null for equal ones. */
const meant = { to: "", gap: null };
const CHOSEN = [["selection", "to the selection"], ["first", "to the object selected first"]];

const choices = (slip) => [...(slip.several > 1 ? CHOSEN : []), ...areas().map(([id, word]) => [id, `to ${word}`])];
const to = (slip) => (choices(slip).some(([id]) => id === meant.to) ? meant.to : slip.several > 1 ? "selection" : "page");
const align = (slip, edge) => slip.tried(() => arrange({ do: "align-objects", edge, to: to(slip) }));

part({
  about: (slip) => slip.arrangeable,
  rows: {
    "align to": [{ id: "alto", word: "Align", title: "What edges are brought to", kind: "choice", choices, value: to, set: (_, area) => { meant.to = area; } }],
    align: [
      { word: "Align across", kind: "buttons", choices: [["left", "Left"], ["centre", "Centre"], ["right", "Right"]], set: align },
      { word: "Align down", kind: "buttons", choices: [["head", "Head"], ["middle", "Middle"], ["foot", "Foot"]], set: align },
    ],
    spread: [
      {
        id: "algap", word: "Gap", title: "Between the selected objects; leave empty for equal gaps between the outermost", kind: "length", empty: "equal", value: () => meant.gap,
        read: (text) => (text.trim() ? KINDS.length.read(text) : null), set: (_, gap) => { meant.gap = gap; },
      },
      { word: "Spread evenly", kind: "buttons", choices: [["across", "Across"], ["down", "Down"]], set: (slip, axis) => slip.tried(() => arrange({ do: "spread-objects", axis, to: to(slip), gap: meant.gap })) },
    ],
    order: [
      {
        word: "Order", kind: "buttons", choices: [["back", "Back", "To the back (Shift B)"], ["backward", "Down", "One backward (B)"], ["forward", "Up", "One forward (F)"], ["front", "Front", "To the front (Shift F)"]],
        set: (slip, where) => slip.tried(() => order(where)),
      },
      {
        word: "New shapes out of these", kind: "buttons", when: (slip) => slip.several > 1, set: (slip, how) => slip.tried(() => combine(how)),
        choices: [["unite", "Unite", "One shape of all"], ["subtract", "Subtract", "Subtract: the upper shapes from the lowest"], ["intersect", "Share", "Only what all share"], ["divide", "Divide", "The pieces they cut each other into"]],
      },
    ],
    sizes: [
      { word: "Same:", kind: "links", choices: [["width", "width"], ["height", "height"]], set: (slip, size) => slip.tried(() => arrange({ do: "match-sizes", width: size === "width", height: size === "height" })) },
      { word: "Fill:", kind: "links", choices: () => areas().map(([id, , word]) => [id, word]), set: (slip, area) => slip.tried(() => arrange({ do: "fill-area", to: area })) },
    ],
  },
  members: {
    get arrangeable() { return Boolean(this.frame) && !this.frame.inherited && !this.frame.inlay; },
    get arrangeTold() { return this.several > 1 ? `${this.several} objects` : "align, order, repeat"; },
    duplicateThis() { this.tried(() => duplicate()); },
    repeatThis() { this.tried(repeat); },
  },
});
