// The slip's part about arranging: what is aligned to what, gaps, sizes, order.
import { areas, arrange, duplicate, order, repeat } from "../arranging.js";
import { element } from "../../dom.js";
import { combine } from "../shapes.js";
import { state } from "../store.js";
import { parseLength } from "../numbers.js";
import { part } from "./parts.js";

const to = (slip) => slip.$root.querySelector("#alto").value;
const CHOSEN = [["selection", "to all that is chosen"], ["first", "to what was chosen first"]];

part({
  members: {
    get arrangeable() { return Boolean(this.frame) && !this.frame.inherited && !this.frame.inlay; },
    get manyShapes() { return this.several > 1; },
    combineThese(event) { this.tried(() => combine(event.currentTarget.dataset.how)); },
    get arrangeTold() { return this.several > 1 ? `${this.several} objects` : "align, order, repeat"; },
    align(event) { const { edge } = event.currentTarget.dataset; this.tried(() => arrange({ do: "align-objects", edge, to: to(this) })); },
    spread(event) {
      const typed = this.$root.querySelector("#algap").value.trim();
      let gap = null;
      try { if (typed) gap = parseLength(typed, state.sheet.unit); } catch (error) { this.problem = error.message; return; }
      this.tried(() => arrange({ do: "spread-objects", axis: event.currentTarget.dataset.axis, to: to(this), gap }));
    },
    alike(event) { const { size } = event.currentTarget.dataset; this.tried(() => arrange({ do: "match-sizes", width: size === "width", height: size === "height" })); },
    putInOrder(event) { this.tried(() => order(event.currentTarget.dataset.order)); },
    duplicateThis() { this.tried(() => duplicate()); },
    repeatThis() { this.tried(repeat); },
  },
  fill(slip, { one, choose }) {
    if (!slip.arrangeable) return;
    const there = areas();
    const rows = [...(slip.several > 1 ? CHOSEN : []), ...there.map(([id, word]) => [id, `to ${word}`])];
    choose("#alto", rows, rows.some(([id]) => id === to(slip)) ? to(slip) : slip.several > 1 ? "selection" : "page");
    const button = (row) => element("button", { type: "button", class: "link", "data-area": row[0], text: row[2], click: () => slip.tried(() => arrange({ do: "fill-area", to: row[0] })) });
    one("#fillable").replaceChildren(...there.flatMap((row, n) => (n ? [" · ", button(row)] : [button(row)])));
  },
});
