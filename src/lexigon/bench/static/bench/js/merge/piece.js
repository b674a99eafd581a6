// The piece with the record in view: its pages, what is wrong with it, and steps to other records.
import { ONLY_THIS_RECORD, adjustmentRow, wordsField, wordsIn } from "../adjustments.js";
import { element } from "../dom.js";
import { setFeatures } from "../features.js";
import { Cancelled, messageOf } from "../errors.js";
import { counted, figures, readNumber } from "../numerals.js";
import { plural } from "../survey.js";
import { ask as question, input, labelled, select, toast } from "../notice.js";
import { pieceRooms } from "./rooms.js";
import { ask, change, choose, columns, current, doIntents, on, state } from "./state.js";

const NS = "http://www.w3.org/2000/svg";
const { steps, name, problems, pages, unbound, adjustments, slide, jump, back, forth } = pieceRooms;

let under = new AbortController();
let shown = null;

/** Fetch and show the record in view; of several in a row only the last. */
async function load() {
  under.abort();
  under = new AbortController();
  const number = state.record;
  place();
  if (number < 0 || !current()) {
    pages.replaceChildren();
    problems.replaceChildren();
    return;
  }
  layProblems();
  try {
    const answer = await ask("piece", { record: String(number) }, under.signal);
    if (number !== state.record) return;
    shown = answer;
    lay();
  } catch (error) {
    if (!(error instanceof Cancelled)) toast(messageOf(error), true);
  }
}

function place() {
  const at = state.numbers.indexOf(state.record);
  steps.hidden = at < 0;
  slide.max = String(Math.max(state.numbers.length - 1, 0));
  slide.value = String(Math.max(at, 0));
  back.disabled = at <= 0;
  forth.disabled = at >= state.numbers.length - 1;
  name.textContent = at < 0 ? "" : `Record ${counted(at + 1)} of ${counted(state.numbers.length)}`;
  unbound.hidden = state.bound || !current();
}

function lay() {
  place();
  const names = shown.pages.map(({ label, w, h, svg, boxes }) => {
    const read = new DOMParser().parseFromString(
      `<svg xmlns="${NS}" xmlns:xlink="http://www.w3.org/1999/xlink" class="page-of" viewBox="0 0 ${w} ${h}"><rect width="${w}" height="${h}" fill="#fff"/>${svg}</svg>`,
      "image/svg+xml",
    );
    const drawing = document.importNode(read.documentElement, true);
    drawing.style.width = `min(100%, ${(62 * w) / h}vh)`;
    drawing.setAttribute("role", "img");
    drawing.setAttribute("aria-label", `Page ${label} with record ${shown.number + 1}`);
    setFeatures(drawing);
    for (const [number, ...box] of boxes ?? []) drawing.append(entryBox(number, box));
    return element("figure", {}, drawing, element("figcaption", { text: `Page ${label}` }));
  });
  if (shown.note) names.push(element("p", { class: "sub", text: shown.note }));
  layAdjustments();
  pages.replaceChildren(
    ...(names.length ? names : [element("p", { class: "note", text: "This record uses no pages: it is left out." })]),
  );
}

/** The box of a record among others on its page: a click selects the record. */
function entryBox(number, [x, y, width, height]) {
  const box = document.createElementNS(NS, "rect");
  for (const [name, value] of Object.entries({ x, y, width, height })) box.setAttribute(name, String(value));
  box.setAttribute("class", number === shown.number ? "entry current" : "entry");
  box.addEventListener("click", () => choose(number));
  return box;
}

/** Change an object for the record in view alone. */
function adjustObject(one) {
  const right = input("0"),
    down = input("0");
  const rows = [labelled("Move right", right), labelled("Move down", down)];
  let words = null,
    focus = null,
    rotation = null;
  if (one.text) {
    words = wordsField(one.text);
    rows.push(labelled("Words", words));
  }
  if (one.focus) {
    focus = one.focus.map((value) => input(figures(value * 100, 1)));
    rotation = input(figures(one.rotation, 2));
    rows.push(labelled("Focus across %", focus[0]), labelled("Focus down %", focus[1]), labelled("Rotation", rotation));
  }
  question(`Adjust “${one.name}” for this record`, ONLY_THIS_RECORD, "Apply", rows, async () => {
    const share = (field) => Math.min(Math.max(readNumber(field.value) / 100, 0), 1);
    await change(
      "adjust",
      {
        set: state.set,
        record: state.record,
        object: one.id,
        right: right.value,
        down: down.value,
        focus: focus && focus.map(share),
        rotation: rotation && readNumber(rotation.value),
        text: words && wordsIn(words, one.text),
      },
      false,
    );
  });
}

/** The board, with the first page of the record in place of the design. */
const boardAddress = () =>
  `/job/${state.key}/board/?${new URLSearchParams({
    page: String((shown.pages[0]?.index ?? 0) + 1),
    record: `${state.set}:${shown.number}`,
  })}`;

/** What was changed for this record, and what can be. */
function layAdjustments() {
  const list = shown.adjustments.map((one) => adjustmentRow(one, doIntents));
  const object = select([
    ["", "Adjust only this record…"],
    ...shown.objects.map((one) => [one.id, `${one.name}, page ${one.page + 1}`]),
  ]);
  object.setAttribute("aria-label", "Adjust only this record");
  object.addEventListener("change", () => {
    const one = shown.objects.find(({ id }) => id === object.value);
    object.value = "";
    if (one) adjustObject(one);
  });
  adjustments.replaceChildren(
    ...(list.length ? [element("h2", { class: "mt-3 text-[13px] font-semibold", text: "Adjustments" }), ...list] : []),
    element(
      "div",
      { class: "mt-3 flex gap-2", "data-edits": true },
      object,
      element("a", { class: "button flex-none", href: boardAddress(), text: "Adjust on the board" }),
    ),
  );
}

function layProblems() {
  const verdict = state.verdicts.get(state.record);
  const list = verdict?.problems ?? [];
  problems.replaceChildren(
    ...list.map((problem) => {
      const own = current();
      const canUse = problem.field && own?.fields.includes(problem.field);
      const level = verdict.level === "error" && !["empty", "duplicate"].includes(problem.kind) ? "error" : "";
      return element(
        "div",
        { class: `merge-problem ${level}` },
        element("i", {}),
        element(
          "div",
          {},
          element("p", { text: problem.text }),
          element(
            "div",
            { class: "mt-1 flex flex-wrap gap-2", "data-edits": true },
            ...(canUse
              ? problem.suggestions.map((suggestion) =>
                  element("button", {
                    type: "button",
                    class: "button",
                    text: `Use “${suggestion}”`,
                    title: `Write “${suggestion}” into ${problem.field} of this record`,
                    click: () => write(problem.field, suggestion),
                  }),
                )
              : []),
          ),
        ),
      );
    }),
    ...(list.some(({ kind }) => kind === "overset") ? state.fits.map(offer) : []),
    ...(verdict && !list.length ? [element("p", { class: "sub", text: "Nothing is wrong with this record." })] : []),
  );
}

/** What makes text fit with all records, each offer with its effect. */
function offer(fit) {
  const { story, name: called, records, size, fitting, possible, tracking, closer } = fit;
  const points = (value) => `${figures(value, 2)} pt`;
  const choice = (way, text, help) =>
    element("button", {
      type: "button",
      class: "button",
      text,
      title: `${text}: ${help}`,
      click: () => change("fit", { set: state.set, story, way }),
    });
  const choices = [];
  if (possible)
    choices.push(
      choice("size", `Set all records in ${points(fitting)}`, `instead of ${points(size)}; the set stays uniform`),
      choice("each", "Reduce only where needed", `each record as large as fits, ${points(fitting)} to ${points(size)}`),
    );
  if (closer !== null)
    choices.push(
      choice(
        "tracking",
        `Set all records with tracking ${figures(closer, 1)}`,
        `in 1/1000 em, instead of ${figures(tracking, 1)}; the size stays ${points(size)}`,
      ),
    );
  const frames = /** @type {const} */ ([
    ["width", "wide", fit.wider, fit.width, fit.beside],
    ["height", "high", fit.higher, fit.height, fit.overlaps],
  ]);
  for (const [way, measure, larger, now, overlaps] of frames)
    if (larger !== null)
      choices.push(
        choice(
          way,
          `Make the frame ${larger} ${measure}`,
          `its ${way} is ${now} now` + (overlaps.length ? `; it will overlap ${quotedList(overlaps)}` : ""),
        ),
      );
  const notes = [`“${called}” does not fit with ${plural(records, "record")}.`];
  if (possible) notes.push(`All records fit in ${points(fitting)} instead of ${points(size)}.`);
  else notes.push("Type of 4 pt would still be too large.");
  for (const [way, , larger, , overlaps] of frames)
    if (larger !== null && overlaps.length)
      notes.push(`${way === "width" ? "A wider" : "A higher"} frame will overlap ${quotedList(overlaps)}.`);
  if (!choices.length) notes.push("Enlarge the frame, or shorten these records.");
  return element(
    "div",
    { class: "note mb-2", "data-edits": true },
    element("p", { class: "mb-2", text: notes.join(" ") }),
    element("div", { class: "flex flex-wrap gap-2" }, ...choices),
  );
}

const quotedList = (names) => names.map((one) => `“${one}”`).join(", ");

const write = (field, value) => change("cells", { set: state.set, changes: [{ row: state.record, field, value }] });

function step(by) {
  const at = state.numbers.indexOf(state.record) + by;
  if (at >= 0 && at < state.numbers.length) choose(state.numbers[at]);
}
back.addEventListener("click", () => step(-1));
forth.addEventListener("click", () => step(1));
slide.addEventListener("input", () => choose(state.numbers[Number(slide.value)]));

/** Records worth a look, by where their number comes from. */
function layJump() {
  const fields = state.extremes?.fields ?? {};
  const used = columns().filter((one) => state.used.some((own) => own.toLowerCase() === one.toLowerCase()));
  const ends = used.filter((one) => fields[one]);
  jump.replaceChildren(
    new Option("Go to…", ""),
    new Option("next with a finding", "finding"),
    ...(state.extremes?.most_words === null || state.extremes?.most_words === undefined
      ? []
      : [new Option("most words", String(state.extremes.most_words))]),
    ...ends.map((one) => new Option(`longest ${one}`, String(fields[one][0]))),
    ...ends.map((one) => new Option(`shortest ${one}`, String(fields[one][1]))),
  );
}
jump.addEventListener("change", () => {
  const to = jump.value;
  jump.value = "";
  if (to === "finding") {
    const at = state.numbers.indexOf(state.record);
    const order = [...state.numbers.slice(at + 1), ...state.numbers.slice(0, at + 1)];
    const next = order.find((number) => state.verdicts.get(number)?.problems.length);
    if (next === undefined) toast(state.checked.done ? "No record has a finding." : "No finding so far.");
    else choose(next);
  } else if (to) choose(Number(to));
});

on("record", load);
on("numbers", () => {
  place();
  if (state.record >= 0) load();
});
on("verdicts", () => {
  layProblems();
  layJump();
});
on("sets", () => {
  layJump();
  place();
});
