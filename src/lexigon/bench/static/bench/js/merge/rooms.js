// The elements that the template of Merge gives, each asked for once.
import { room } from "../dom.js";

const input = (id) => /** @type {HTMLInputElement} */ (room(id));
const select = (id) => /** @type {HTMLSelectElement} */ (room(id));
const button = (id) => /** @type {HTMLButtonElement} */ (room(id));

export const mergeroom = room("mergeroom");
export const progress = room("progress");
export const emptyPlace = room("empty");
/** What is only there when there are records. */
export const ofRecords = ["search", "set-up", "filters"].map((id) => room(id));

export const importing = {
  label: room("import"),
  file: input("file"),
  sets: select("sets"),
  paste: button("paste"),
  fresh: button("new"),
  setUp: button("set-up"),
  computed: button("computed"),
  addRow: button("add-row"),
  deleteRow: button("delete-row"),
};

export const tableRooms = {
  table: room("table"),
  head: room("head"),
  body: room("body"),
  shows: room("shows"),
  search: input("search"),
};

export const pieceRooms = {
  steps: room("steps"),
  name: room("record-name"),
  problems: room("problems"),
  pages: room("piece"),
  unbound: room("unbound"),
  adjustments: room("adjustments"),
  slide: input("slide"),
  jump: select("jump"),
  back: button("back"),
  forth: button("forth"),
};

export const exportFields = {
  recipe: select("recipe"),
  form: select("form"),
  name: input("name"),
  sheet: select("sheet"),
  gap: input("gap"),
  order: select("order"),
  flip: select("flip"),
  marks: input("marks"),
  records: select("records"),
  range: input("range"),
};

export const exportRooms = {
  problem: room("export-problem"),
  note: room("export-note"),
  sheetNote: room("sheet-note"),
  running: room("running"),
  words: room("running-words"),
  list: room("outputs"),
  bar: /** @type {HTMLProgressElement} */ (/** @type {unknown} */ (room("bar"))),
  button: button("export"),
  stop: button("stop"),
};

export const tabs = ["piece", "export"].map((id) => ({ tab: room(`${id}-tab`), panel: room(`${id}-panel`) }));
