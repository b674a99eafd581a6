// The slip's part about cells of a table: those that are chosen, or the one that is typed in.
import { chooseWhole, doCells } from "../cellchoice.js";
import { cellsMeant } from "../cells.js";
import { parseLength } from "../numbers.js";
import { emit, state } from "../store.js";
import { part } from "./parts.js";

const VARIOUS = "various";
const STANDS = [["", "as the table’s style"], ["top", "at the head"], ["centre", "in the middle"], ["bottom", "at the foot"]];
const TURNS = [["0", "upright"], ["90", "quarter turn, clockwise"], ["180", "upside down"], ["270", "quarter turn, counter-clockwise"]];
const SIZES = [["content", "as their contents"], ["fixed", "fixed"], ["share", "a share"]];
const ALIGNS = [["", "as their paragraphs"], ["left", "left"], ["centre", "centred"], ["right", "right"], ["decimal", "at the decimal sign"]];
const EDGES = [["head right foot left", "all round"], ["head", "at the head"], ["foot", "at the foot"], ["left", "on the left"], ["right", "on the right"], ["across", "between rows"], ["down", "between columns"], ["head right foot left across down", "all of them"]];
const AS_STYLE = "style";

/** Choices, with a line for what is not the same in all cells. */
const orVarious = (rows, value) => (value === VARIOUS ? [[VARIOUS, "various"], ...rows] : rows);

/** What some rules have in common: null as the style has them. */
function ruleOf(rules, edges) {
  const said = edges.split(" ").map((edge) => rules[edge]).filter((one) => one !== "");
  return said.every((one) => JSON.stringify(one) === JSON.stringify(said[0])) ? said[0] ?? null : VARIOUS;
}

function fill(slip, { one, set, choose }) {
  const { cells } = slip;
  if (!cells) return;
  const swatches = state.swatches.map(({ id, name }) => [id, name]);
  choose("#cg", orVarious([[AS_STYLE, "as the table’s style"], ["", "none"], ...swatches], cells.fill), cells.fill === VARIOUS ? VARIOUS : cells.fill ? cells.fill.swatch : AS_STYLE);
  set("#cgt", `${Math.round((cells.fill?.tint ?? 1) * 100)} %`);
  choose("#cv", orVarious(STANDS, cells.vertical), cells.vertical);
  choose("#ct", orVarious(TURNS, cells.turn), String(cells.turn));
  set("#ch", cells.height === VARIOUS ? "" : cells.height);
  if (one("#ch")) one("#ch").placeholder = cells.height === VARIOUS ? VARIOUS : "as their words";
  choose("#cs", orVarious(SIZES, cells.size), cells.size);
  set("#csv", cells.value === VARIOUS ? "" : cells.value);
  choose("#ca", orVarious(ALIGNS, cells.align), cells.align);
  choose("#cr", EDGES, one("#cr")?.value || EDGES[0][0]);
  const rule = ruleOf(cells.rules, one("#cr").value);
  choose("#crs", orVarious([[AS_STYLE, "as the style"], ["", "colour of the words"], ...swatches], rule), rule === VARIOUS ? VARIOUS : rule ? rule.swatch : AS_STYLE);
  set("#crw", rule && rule !== VARIOUS ? rule.weight : "");
  if (one("#crw")) one("#crw").placeholder = rule === VARIOUS ? VARIOUS : "style";
}

part({
  fill,
  members: {
    cells: null,
    get hasCells() { return Boolean(this.cells); },
    get cellsWord() { return this.cells && this.cells.count > 1 ? `${this.cells.count} cells` : "Cell"; },
    get cellsTold() { return this.cells ? `of “${this.cells.name}”` : ""; },
    get severalCells() { return Boolean(this.cells) && this.cells.count > 1; },
    get joinedCells() { return Boolean(this.cells) && this.cells.joined; },
    get grounded() { return Boolean(this.cells?.fill && this.cells.fill.swatch); },
    get sized() { return Boolean(this.cells) && !["content", VARIOUS].includes(this.cells.size); },
    setCells(values) { this.tried(() => doCells({ do: "set-cells", ...values })); },
    setGround() {
      const [swatch, tint] = ["#cg", "#cgt"].map((name) => this.$root.querySelector(name).value);
      if (swatch === VARIOUS) return;
      if (swatch === AS_STYLE) { this.setCells({ as_style: ["fill"] }); return; }
      const of = Number(tint.replace(/[%\s]/g, "")) / 100;
      if (!(of >= 0 && of <= 1)) { this.problem = "A tint is between 0 and 100 %."; return; }
      this.setCells({ fill: { swatch, tint: of } });
    },
    setStands(event) { const { value } = event.target; if (value !== VARIOUS) this.setCells(value ? { vertical: value } : { as_style: ["vertical"] }); },
    setCellTurn(event) { if (event.target.value !== VARIOUS) this.setCells({ turn: Number(event.target.value) }); },
    setHigh(event) {
      const height = event.target.value.trim() ? this.read(event, state.sheet.unit) : 0;
      if (height !== null) this.setCells({ height });
    },
    setColumns() {
      const [size, typed] = ["#cs", "#csv"].map((name) => this.$root.querySelector(name).value);
      if (size === VARIOUS) return;
      const same = this.cells.size === size;
      let value = size === "fixed" ? 20 * state.sheet.points : 1;
      try { if (same && size !== "content") value = size === "fixed" ? parseLength(typed, state.sheet.unit) : Number(typed.replace(",", ".")); } catch (error) { this.problem = error.message; return; }
      if (!(value > 0)) { this.problem = size === "fixed" ? "A column is wider than nothing." : "Shares are numbers above nothing, such as 2."; return; }
      this.tried(() => doCells({ do: "set-columns", size, value: size === "content" ? 0 : value }));
    },
    setColumnAlign(event) { const { value } = event.target; if (value !== VARIOUS) this.tried(() => doCells({ do: "set-columns", ...(value ? { align: value } : { as_words: true }) })); },
    setRules(event) {
      const [edges, swatch, weight] = ["#cr", "#crs", "#crw"].map((name) => this.$root.querySelector(name).value);
      if (swatch === VARIOUS && event.target.id === "crs") return;
      const drawn = { do: "set-cells", edges: edges.split(" ") };
      if (event.target.id === "crs" && swatch === AS_STYLE) { this.tried(() => doCells(drawn)); return; }
      try {
        const heavy = weight.trim() ? parseLength(weight, "pt") : 0.5;
        this.tried(() => doCells({ ...drawn, rule: { weight: heavy, swatch: [AS_STYLE, VARIOUS, ""].includes(swatch) ? null : swatch } }));
      } catch (error) { this.problem = error.message; }
    },
    putInCells(event) { const { cells: way, behind } = event.currentTarget.dataset; this.tried(() => doCells({ do: "put-in-cells", way, behind: Boolean(behind) })); },
    takeOutCells(event) { const { cells: way } = event.currentTarget.dataset; this.tried(() => doCells({ do: "take-out-cells", way })); },
    wholeCells(event) { chooseWhole(event.currentTarget.dataset.cells); },
    joinCells() { this.tried(() => doCells({ do: "join-cells" })); },
    partCells() { this.tried(() => doCells({ do: "part-cells" })); },
    openSheet() { const meant = cellsMeant(); if (meant) emit("table", meant.table); },
  },
});
