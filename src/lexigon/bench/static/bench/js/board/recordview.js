// A record on the board. Its drawing covers that of the pages, and what is under it can be selected and changed as usual: that is the
// design. Or its pages take the place of the design, and what is done to them changes this record only.
import { ONLY_THIS_RECORD, wordsField, wordsIn } from "../adjustments.js";
import { element } from "../dom.js";
import { Cancelled, messageOf } from "../errors.js";
import { setFeatures } from "../features.js";
import { get } from "../http.js";
import { ask, labelled } from "../notice.js";
import { counted } from "../numerals.js";
import { leave } from "./caret.js";
import { board, recordBand } from "./rooms.js";
import { content, make, pageGroup } from "./sheet.js";
import { emit, idle, on, send, show, state, toast } from "./store.js";

/** The record that is shown, and the way: "" for none, "cover" above the design, "adjust" in its place. */
export const recordShown = { way: "", set: "", number: -1 };
const GONE = "That record is no longer in the job. The board shows the design again.";

let under = new AbortController();

/** Show a record on the board, or none. */
export async function showRecord(way, set, number) {
  const former = state.record;
  const own = number < 0 ? "" : way;
  Object.assign(recordShown, { way: own, set, number });
  under.abort();
  board.classList.toggle("record-shown", own === "cover");
  if (own !== "cover") for (const one of document.querySelectorAll(".record-drawing")) one.remove();
  state.record = own === "adjust" ? `${set}:${number}` : "";
  layBand();
  emit("record");
  if (state.record !== former) {
    if (state.record) leave(); // words are those of the design
    await idle();
    await show(state.view[0], true);
  }
  if (own === "cover") await cover();
}

/** The band at the head of the board that says what edits change. */
function layBand() {
  const adjusts = recordShown.way === "adjust";
  recordBand.hidden = !adjusts;
  if (!adjusts) return;
  recordBand.replaceChildren(
    element("span", { text: `Record ${counted(recordShown.number + 1)}: edits change this record only` }),
    element("button", {
      type: "button",
      class: "button",
      text: "Done",
      click: () => showRecord("", recordShown.set, recordShown.number),
    }),
  );
}

async function cover() {
  under = new AbortController();
  const { set, number } = recordShown;
  try {
    const answer = await get(
      `/job/${state.key}/merge/piece/?${new URLSearchParams({ set, record: String(number) })}`,
      under.signal,
    );
    if (recordShown.way !== "cover" || number !== recordShown.number) return;
    for (const index of state.view)
      layDrawing(
        index,
        answer.pages.find((page) => page.index === index),
      );
  } catch (error) {
    if (!(error instanceof Cancelled)) toast(messageOf(error), true);
  }
}

function layDrawing(index, page) {
  const group = pageGroup(index);
  if (!group) return;
  group.querySelector(".record-drawing")?.remove();
  const drawing = make("g", { class: "record-drawing", "aria-hidden": "true" });
  if (page) {
    const read = new DOMParser().parseFromString(
      `<svg xmlns="http://www.w3.org/2000/svg" xmlns:xlink="http://www.w3.org/1999/xlink">${page.svg
        .replace(/\bid="([^"]+)"/g, 'id="rec-$1"')
        .replace(/url\(#([^)]+)\)/g, "url(#rec-$1)")
        .replace(/href="#([^"]+)"/g, 'href="#rec-$1"')}</svg>`,
      "image/svg+xml",
    );
    drawing.append(...[...read.documentElement.childNodes].map((one) => document.importNode(one, true)));
  }
  content(index).after(drawing);
  setFeatures(drawing);
}

/** Change words of the record that is shown, for it alone. */
on("record-words", async ({ story }) => {
  const { set, number } = recordShown;
  if (state.role === "view") return;
  try {
    await idle();
    const own = await get(
      `/job/${state.key}/merge/words/?${new URLSearchParams({ set, record: String(number), story })}`,
    );
    if (state.record !== `${set}:${number}`) return;
    const field = wordsField(own.text);
    ask(`Words of “${own.name}” for this record`, ONLY_THIS_RECORD, "Apply", [labelled("Words", field)], async () => {
      const text = wordsIn(field, own.text);
      if (text) await send([{ do: "adjust-record", set, record: own.record, object: own.object, text }]);
    });
  } catch (error) {
    toast(messageOf(error), true);
  }
});

on("pages", ({ turned }) => {
  if (recordShown.way === "cover" && turned) cover();
  if (state.record && state.view.some((index) => state.pages[index]?.record === "")) {
    toast(GONE, true);
    showRecord("", recordShown.set, recordShown.number);
  }
});
