// The slip's part about pages and master pages, where nothing is selected: their set-up, and a printer's template laid over them.
import { element } from "../../dom.js";
import { setSnap, snapsTo } from "../gestures.js";
import { parseLength } from "../numbers.js";
import { askGrid } from "../guides.js";
import { SNAPS } from "../snapping.js";
import { upload } from "../../http.js";
import { gridFrom, setGridFrom } from "../sheet.js";
import { editMaster, leaveMaster, send, show, state, toast } from "../store.js";
import { part } from "./parts.js";

/** What edges snap to, each to be switched off. */
function showSnaps(box) {
  if (!box || box.childElementCount) return;
  for (const [kind, word] of SNAPS) {
    const control = element("input", { type: "checkbox", change: () => setSnap(kind, control.checked) });
    control.checked = snapsTo(kind);
    box.append(element("label", { class: "check" }, control, element("span", { text: word })));
  }
}

function fill(slip, { set, choose, check }) {
  const masters = [["", "none"], ...state.masters.map(({ id, name }) => [id, name])];
  const { page, master } = slip;
  if (page) {
    choose("#pm", masters, page.master);
    set("#gridfrom", String(gridFrom() ?? ""));
    showSnaps(slip.$root.querySelector("#snaps"));
    if (slip.hasOverlay) set("#ofade", String(Math.round((slip.overlays[0].opacity ?? 0.5) * 100)));
  }
  if (master) {
    choose("#mb", masters.filter(([id]) => id !== master.id), master.based);
    set("#mn", master.name);
    for (const side of ["head", "foot", "inner", "outer"]) set(`[data-margin="${side}"]`, master.margins[side]);
    set("#mc", master.columns);
    set("#mg", master.gutter);
    set("#mguides", master.guides);
    check("#mt", master.turned);
  }
}

part({
  fill,
  members: {
    get masterOwn() { return Boolean(this.master) && this.master.own; },
    get pageCount() { return `${state.labels[0]} to ${state.labels[state.labels.length - 1]}`; },
    setGridFrom(event) { setGridFrom(event.target.value === "" ? null : Number(event.target.value)); },
    // Pages and master pages
    setMaster(event) { this.tried(() => send([{ do: "apply-master", master: event.target.value || null, pages: [this.page.id] }])); },
    editMaster() { const id = this.$root.querySelector("#pm").value; if (id) editMaster(id); else toast("This page uses no master page."); },
    leaveMaster() { leaveMaster(); },
    changeMaster(values) { this.tried(() => send([{ do: "change-master", master: this.master.id, ...values }])); },
    renameMaster(event) { this.changeMaster({ name: event.target.value }); },
    baseMaster(event) { this.changeMaster({ rebase: true, based_on: event.target.value || null }); },
    turnMaster(event) { this.changeMaster({ turned: event.target.checked }); },
    followBrief() { this.changeMaster({ own: false }); },
    setMargin() {
      const margins = {};
      for (const field of this.$root.querySelectorAll("[data-margin]")) {
        try { margins[field.dataset.margin] = parseLength(field.value, state.sheet.unit); } catch (error) { this.problem = error.message; field.value = field.dataset.was; return; }
      }
      this.changeMaster({ margins });
    },
    setMasterColumns(event) { const columns = parseInt(event.target.value, 10); if (columns) this.changeMaster({ columns }); },
    setMasterGutter(event) { const gutter = this.read(event, state.sheet.unit); if (gutter !== null) this.changeMaster({ gutter }); },
    /** Guides as they are typed: "x 20mm, y 3in" */
    setGuides(event) {
      try {
        const guides = event.target.value.split(",").map((part) => part.trim()).filter(Boolean).map((part) => {
          const [, axis, at] = /^([xy])\s*(.+)$/i.exec(part) || [];
          if (!axis) throw new Error(`“${part}” is not a guide such as x 20mm or y 3in.`);
          const place = { axis: axis.toLowerCase(), at: parseLength(at, state.sheet.unit) };
          const was = state.view.flatMap((index) => state.pages[index].lines.guides).find((guide) => guide.own && guide.axis === place.axis && Math.abs(guide.at - place.at) < 0.02);
          return was ? { axis: was.axis, at: was.at, side: was.side, layer: was.layer || null } : place;
        });
        this.changeMaster({ guides });
      } catch (error) { this.problem = error.message; event.target.value = event.target.dataset.was || ""; }
    },
    setPageGrid() { this.tried(askGrid); },
    async mainFrame() {
      const index = state.view[state.view.length - 1];
      const { area } = state.pages[index].lines;
      const rect = { x: area.x, y: area.y, width: area.w, height: area.h };
      this.tried(() => send([{ do: "add-text-frame", page: state.pages[index].id, rect, main: true, name: "Main text" }]));
    },
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
    fadeOverlay(event) { for (const overlay of this.overlays) this.tried(() => send([{ do: "put-overlay", overlay: { ...overlay, opacity: Number(event.target.value) / 100 } }])); },
    dropOverlay() { this.tried(() => send(this.overlays.map(({ id }) => ({ do: "remove-overlay", id })))); },
    goTo(event) {
      const wanted = event.target.value.trim();
      const index = state.labels.indexOf(wanted);
      if (index < 0) { toast(`There is no page “${wanted}”; the job has pages ${this.pageCount}.`, true); return; }
      show(index);
    },
  },
});
