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
const FROM = [
  ["", "automatic"],
  ["0", "at any zoom"],
  ...[50, 75, 100, 150, 200].map((percent) => [String(percent), `from ${percent} %`]),
];

/** A field for a margin: all four are sent, as they stand. */
const margin = (id, word, side) => ({
  id,
  word,
  kind: "length",
  value: ({ master }) => master.margins[side],
  set(slip, value) {
    slip.master.margins[side] = length(value); // known at once, for the next one
    slip.changeMaster({
      margins: {
        ...Object.fromEntries(Object.entries(slip.master.margins).map(([name, is]) => [name, KINDS.length.read(is)])),
        [side]: value,
      },
    });
  },
});

/** Guides as they are typed: "x 20mm, y 3in". Those that are there stay what they are. */
function readGuides(text) {
  return text
    .split(",")
    .map((one) => one.trim())
    .filter(Boolean)
    .map((one) => {
      const [, axis, at] = /^([xy])\s*(.+)$/i.exec(one) || [];
      if (!axis) throw new Error(`“${one}” is not a guide such as x 20mm or y 3in.`);
      const place = { axis: axis.toLowerCase(), at: KINDS.length.read(at) };
      const was = state.view
        .flatMap((index) => state.pages[index].lines.guides)
        .find((guide) => guide.own && guide.axis === place.axis && Math.abs(guide.at - place.at) < 0.02);
      return was ? { axis: was.axis, at: was.at, side: was.side, layer: was.layer || null } : place;
    });
}

part({
  about: (slip) => slip.idlePage,
  rows: {
    "master of page": [
      {
        id: "pm",
        word: "Master page",
        title: "the master page that this page shows",
        kind: "choice",
        choices: masters,
        value: ({ page }) => page.master,
        set: (slip, master) =>
          slip.tried(() => send([{ do: "apply-master", master: master || null, pages: [slip.page.id] }])),
      },
    ],
    overlay: [
      {
        id: "ofade",
        word: "Opacity",
        kind: "range",
        when: (slip) => slip.hasOverlay,
        more: { min: 5, max: 100, step: 5 },
        value: ({ overlays }) => Math.round((overlays[0].opacity ?? 0.5) * 100),
        set(slip, percent) {
          for (const overlay of slip.overlays)
            slip.tried(() => send([{ do: "put-overlay", overlay: { ...overlay, opacity: percent / 100 } }]));
        },
      },
    ],
    grid: [
      {
        id: "gridfrom",
        word: "Baseline grid",
        title: "the zoom from which the baseline grid is shown",
        kind: "choice",
        choices: FROM,
        value: () => gridFrom() ?? "",
        set: (_, from) => setGridFrom(from === "" ? null : Number(from)),
      },
    ],
    snapping: SNAPS.map(([kind, word]) => ({
      word,
      kind: "check",
      value: () => snapsTo(kind),
      set: (_, on) => setSnap(kind, on),
    })),
  },
  members: {
    get pageCount() {
      return `${state.labels[0]} to ${state.labels[state.labels.length - 1]}`;
    },
    editMaster() {
      if (this.page.master) editMaster(this.page.master);
      else toast("This page uses no master page.");
    },
    setPageGrid() {
      this.tried(askGrid);
    },
    // The printer's template, laid over the page
    get overlays() {
      return this.page ? this.page.overlays || [] : [];
    },
    get overlayWords() {
      return this.overlays.length ? this.overlays.map(({ name }) => name).join(", ") : "none";
    },
    get hasOverlay() {
      return this.overlays.length > 0;
    },
    chooseOverlay() {
      this.$root.querySelector("#overlay").click();
    },
    addOverlay(event) {
      const [file] = event.target.files;
      if (!file) return;
      const data = new FormData();
      data.append("file", file);
      data.append("page", this.page.id);
      event.target.value = "";
      this.tried(async () => {
        await upload(`/job/${state.key}/overlay/`, data);
        await show(state.view[0]);
        toast("The template is shown on top of the page. T hides it. It never prints.");
      });
    },
    dropOverlay() {
      this.tried(() => send(this.overlays.map(({ id }) => ({ do: "remove-overlay", id }))));
    },
    goTo(event) {
      const wanted = event.target.value.trim();
      const index = state.labels.indexOf(wanted);
      if (index < 0) {
        toast(`There is no page “${wanted}”; the job has pages ${this.pageCount}.`, true);
        return;
      }
      show(index);
    },
  },
});

part({
  about: (slip) => slip.idleMaster,
  rows: {
    master: [
      {
        id: "mn",
        word: "Name",
        kind: "text",
        more: { maxlength: 80 },
        value: ({ master }) => master.name,
        set: (slip, name) => slip.changeMaster({ name }),
      },
      {
        id: "mb",
        word: "Based on",
        title: "another master page, whose objects are shown on this one, too",
        kind: "choice",
        choices: ({ master }) => masters().filter(([id]) => id !== master.id),
        value: ({ master }) => master.based,
        set: (slip, base) => slip.changeMaster({ rebase: true, based_on: base || null }),
      },
      {
        id: "mt",
        word: "Landscape pages",
        kind: "check",
        value: ({ master }) => master.turned,
        set: (slip, turned) => slip.changeMaster({ turned }),
      },
    ],
    margins: [
      margin("mh", "Top", "head"),
      margin("mf", "Bottom", "foot"),
      margin("mi", "Inside", "inner"),
      margin("mo", "Outside", "outer"),
      {
        id: "mc",
        word: "Columns",
        kind: "whole",
        value: ({ master }) => master.columns,
        set: (slip, columns) => slip.changeMaster({ columns }),
      },
      {
        id: "mg",
        word: "Gutter",
        kind: "length",
        value: ({ master }) => master.gutter,
        set: (slip, gutter) => slip.changeMaster({ gutter }),
      },
    ],
    guides: [
      {
        id: "mguides",
        word: "Guides",
        title: "guides by position, from the left and top of the page",
        kind: "text or none",
        empty: "x 20mm, y 3in",
        value: ({ master }) => master.guides,
        read: readGuides,
        set: (slip, guides) => slip.changeMaster({ guides }),
      },
    ],
  },
  members: {
    get masterOwn() {
      return Boolean(this.master) && this.master.own;
    },
    leaveMaster() {
      leaveMaster();
    },
    changeMaster(values) {
      this.tried(() => send([{ do: "change-master", master: this.master.id, ...values }]));
    },
    followBrief() {
      this.changeMaster({ own: false });
    },
    async mainFrame() {
      const index = state.view[state.view.length - 1];
      const { area } = state.pages[index].lines;
      const rect = { x: area.x, y: area.y, width: area.w, height: area.h };
      this.tried(() =>
        send([{ do: "add-text-frame", page: state.pages[index].id, rect, main: true, name: "Main text" }]),
      );
    },
  },
});
