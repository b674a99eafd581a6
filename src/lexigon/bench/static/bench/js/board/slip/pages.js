// The slip's part about pages and master pages, where nothing is selected: their set-up, and a printer's template laid over them.
import { setSnap, snapsTo } from "../gestures.js";
import { askGrid } from "../guides.js";
import { SNAPS } from "../snapping.js";
import { upload } from "../../http.js";
import { gridFrom, setGridFrom } from "../sheet.js";
import { editMaster, leaveMaster, length, send, show, state, toast } from "../store.js";
import { KINDS } from "../values.js";
import { part } from "./parts.js";

const masters = () => [["", "none"], ...state.masters.map(({ id, name }) => [id, name])];
const FROM = [["", "when its lines are separated"], ["0", "at any zoom"], ...[50, 75, 100, 150, 200].map((percent) => [String(percent), `from ${percent} %`])];

/** A field for a margin: all four are sent, as they stand. */
const margin = (id, word, side) => ({
  id, word, kind: "length", value: ({ master }) => master.margins[side],
  set(slip, value) {
    slip.master.margins[side] = length(value); // known at once, for the next one
    slip.changeMaster({ margins: { ...Object.fromEntries(Object.entries(slip.master.margins).map(([name, is]) => [name, KINDS.length.read(is)])), [side]: value } });
  },
});

/** Guides as they are typed: "x 20mm, y 3in". Those that are there stay what they are. */
function readGuides(text) {
  return text.split(",").map((one) => one.trim()).filter(Boolean).map((one) => {
    const [, axis, at] = /^([xy])\s*(.+)$/i.exec(one) || [];
    if (!axis) throw new Error(`“${one}” is not a guide such as x 20mm or y 3in.`);
    const place = { axis: axis.toLowerCase(), at: KINDS.length.read(at) };
    const was = state.view.flatMap((index) => state.pages[index].lines.guides).find((guide) => guide.own && guide.axis === place.axis && Math.abs(guide.at - place.at) < 0.02);
    return was ? { axis: was.axis, at: was.at, side: was.side, layer: was.layer || null } : place;
  });
}

part({
  about: (slip) => slip.idlePage,
  rows: {
    "master of page": [{ id: "pm", word: "Uses", title: "The master page that this one shows", kind: "choice", choices: masters, value: ({ page }) => page.master, set: (slip, master) => slip.tried(() => send([{ do: "apply-master", master: master || null, pages: [slip.page.id] }])) }],
    overlay: [{
      id: "ofade", word: "Shown", kind: "range", when: (slip) => slip.hasOverlay, more: { min: 5, max: 100, step: 5 }, value: ({ overlays }) => Math.round((overlays[0].opacity ?? 0.5) * 100),
      set(slip, percent) { for (const overlay of slip.overlays) slip.tried(() => send([{ do: "put-overlay", overlay: { ...overlay, opacity: percent / 100 } }])); },
    }],
    grid: [{ id: "gridfrom", word: "Lines", title: "When the baseline grid is drawn: how near the page has to be for it", kind: "choice", choices: FROM, value: () => gridFrom() ?? "", set: (_, from) => setGridFrom(from === "" ? null : Number(from)) }],
    snapping: SNAPS.map(([kind, word]) => ({ word, kind: "check", value: () => snapsTo(kind), set: (_, on) => setSnap(kind, on) })),
  },
  members: {
    get pageCount() { return `${state.labels[0]} to ${state.labels[state.labels.length - 1]}`; },
    editMaster() { if (this.page.master) editMaster(this.page.master); else toast("This page uses no master page."); },
    setPageGrid() { this.tried(askGrid); },
    // The printer's template, laid over the page
    get overlays() { return this.page ? this.page.overlays || [] : []; },
    get overlayWords() { return this.overlays.length ? this.overlays.map(({ name }) => name).join(", ") : "none"; },
    get hasOverlay() { return this.overlays.length > 0; },
    chooseOverlay() { this.$root.querySelector("#overlay").click(); },
    addOverlay(event) {
      const [file] = event.target.files;
      if (!file) return;
      const data = new FormData();
      data.append("file", file);
      data.append("page", this.page.id);
      event.target.value = "";
      this.tried(async () => { await upload(`/job/${state.key}/overlay/`, data); await show(state.view[0]); toast("The template lies over the page. T hides it; it never prints."); });
    },
    dropOverlay() { this.tried(() => send(this.overlays.map(({ id }) => ({ do: "remove-overlay", id })))); },
    goTo(event) {
      const wanted = event.target.value.trim();
      const index = state.labels.indexOf(wanted);
      if (index < 0) { toast(`There is no page “${wanted}”; the job has pages ${this.pageCount}.`, true); return; }
      show(index);
    },
  },
});

part({
  about: (slip) => slip.idleMaster,
  rows: {
    master: [
      { id: "mn", word: "Name", kind: "text", more: { maxlength: 80 }, value: ({ master }) => master.name, set: (slip, name) => slip.changeMaster({ name }) },
      { id: "mb", word: "Base", title: "Another master page, whose frames show on this one too", kind: "choice", choices: ({ master }) => masters().filter(([id]) => id !== master.id), value: ({ master }) => master.based, set: (slip, base) => slip.changeMaster({ rebase: true, based_on: base || null }) },
      { id: "mt", word: "Its pages lie on their side", kind: "check", value: ({ master }) => master.turned, set: (slip, turned) => slip.changeMaster({ turned }) },
    ],
    margins: [
      margin("mh", "Head", "head"), margin("mf", "Foot", "foot"), margin("mi", "Inner", "inner"), margin("mo", "Outer", "outer"),
      { id: "mc", word: "Cols", kind: "whole", value: ({ master }) => master.columns, set: (slip, columns) => slip.changeMaster({ columns }) },
      { id: "mg", word: "Gutter", kind: "length", value: ({ master }) => master.gutter, set: (slip, gutter) => slip.changeMaster({ gutter }) },
    ],
    guides: [{ id: "mguides", word: "Guides", title: "Typed guides, from the page's left and head", kind: "text or none", empty: "x 20mm, y 3in", value: ({ master }) => master.guides, read: readGuides, set: (slip, guides) => slip.changeMaster({ guides }) }],
  },
  members: {
    get masterOwn() { return Boolean(this.master) && this.master.own; },
    leaveMaster() { leaveMaster(); },
    changeMaster(values) { this.tried(() => send([{ do: "change-master", master: this.master.id, ...values }])); },
    followBrief() { this.changeMaster({ own: false }); },
    async mainFrame() {
      const index = state.view[state.view.length - 1];
      const { area } = state.pages[index].lines;
      const rect = { x: area.x, y: area.y, width: area.w, height: area.h };
      this.tried(() => send([{ do: "add-text-frame", page: state.pages[index].id, rect, main: true, name: "Main text" }]));
    },
  },
});
