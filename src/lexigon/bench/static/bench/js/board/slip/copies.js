// The slip's part about what is kept elsewhere and shown in texts: standing copy, numbers, dates; and what else is put in at the caret.
import { get } from "../../http.js";
import { askForm, formOf } from "../asking.js";
import { emit, send, state, toast } from "../store.js";
import { cellOf } from "../cells.js";
import { caret, caretPlace, selectedWords } from "../caret.js";
import { putIn } from "../text.js";
import { cite, noteChoices } from "../notes.js";
import { element } from "../../dom.js";
import { labelled } from "../../notice.js";
import { TABLE_FILES, fillFromFile } from "../tables.js";
import { part } from "./parts.js";

const SEEKING = 200; // milliseconds without another letter
const STANDS = [
  ["", "in the line"],
  ["above", "above the line"],
  ["near", "top or bottom of the column"],
  ["margin", "in the margin"],
];

/** What can be inserted at the caret, in groups: [id, word, further words to find it by]; an id is a kind of field, with what it leads to and
 *  its form behind slashes. @returns {[string, any[][]][]} */
function thingsToInsert(inText) {
  const uses = (copy) => `${copy.uses} use${copy.uses === 1 ? "" : "s"}`;
  return [
    [
      "Page numbers",
      [
        ["page", "page number", "folio"],
        ["pages", "number of pages", "page count"],
        ["pages/section", "pages of the section"],
      ],
    ],
    ...(inText ? /** @type {[string, any[][]][]} */ ([["Notes", noteChoices()]]) : []),
    [
      "References and index",
      [
        ["reference", "cross-reference", "reference see page link"],
        ...(inText ? [["term", "index entry", "mark term keyword"]] : []),
      ],
    ],
    [
      "Tables and frames",
      [
        ...(cellOf(caret.story) ? [["sum", "sum of the column", "total"]] : []),
        ...(inText
          ? [
              ["table", "table", "grid cells spreadsheet csv xlsx file"],
              ["frame", "anchored frame", "inline picture figure"],
            ]
          : []),
      ],
    ],
    [
      "Running heads",
      [
        ["heading//last", "running head: last chapter on the page"],
        ["heading//first", "running head: first chapter on the page"],
        ...state.styles
          .filter(({ level }) => level)
          .map(({ id, name }) => [`heading/${id}/last`, `running head: last “${name}”`]),
        ["section", "section name"],
        ["job", "job name", "title"],
      ],
    ],
    [
      "Dates and facts",
      [
        ...state.dates.map(([form, example]) => [`date//${form}`, `today’s date: ${example}`]),
        ["fact/size/", "finished size", "trim format"],
        ["fact/words/", "number of words", "word count"],
        ["fact/paper/", "paper"],
      ],
    ],
    [
      "Standing copy",
      [
        ...state.copies.map((copy) => [`copy/${copy.id}/`, `standing copy: ${copy.name} (${uses(copy)})`]),
        ["new", "new standing copy…"],
      ],
    ],
  ];
}

/** Fields for each thing, of which those of the one that is chosen are asked. */
function formToInsert(inText) {
  const words = selectedWords();
  const first = words && inText ? "term" : cellOf(caret.story) ? "sum" : "page";
  const of =
    (kind) =>
    ({ what }) =>
      what === kind;
  const side = state.sheet.unit === "in" ? 36 : 28.3465;
  const file = /** @type {HTMLInputElement} */ (
    element("input", { type: "file", class: "field", accept: TABLE_FILES })
  );
  const form = formOf({
    what: {
      word: "Item",
      kind: "list",
      groups: thingsToInsert(inText),
      value: first,
      changed: ({ what }) => {
        if (what === "reference" && !form.fields.place.options.length) seek();
      },
    },
    name: { word: "Name", empty: "Company name", when: of("new") },
    text: { word: "Text", empty: `for example ${new Date().getFullYear()}`, when: of("new") },
    width: { word: "Width", kind: "length", value: side, when: of("frame") },
    height: { word: "Height", kind: "length", value: side, when: of("frame") },
    where: { word: "Position", kind: "choice", choices: STANDS, when: of("frame") },
    holds: {
      word: "Content",
      kind: "choice",
      choices: [
        ["", "nothing"],
        ["text", "text"],
      ],
      when: of("frame"),
    },
    term: { word: "Term", value: words, empty: "as the index lists it", when: of("term") },
    under: { word: "Under", empty: "optional: the main term", when: of("term") },
    every: {
      word: words ? `Wherever “${words}” occurs in stories` : "Wherever these words occur in stories",
      kind: "check",
      when: of("term"),
    },
    main: {
      word: "Main entry: its page number is emphasised",
      kind: "check",
      when: ({ what, every }) => what === "term" && !every,
    },
    rows: { word: "Rows", kind: "count", value: 4, when: of("table") },
    columns: { word: "Columns", kind: "count", value: 3, when: of("table") },
    cells: { word: "Cells", lines: 3, empty: "or paste cells from a spreadsheet", when: of("table") },
    file: { shows: labelled("File", file), when: of("table") },
    find: { word: "Find", empty: "words of the heading, caption or paragraph", when: of("reference") },
    place: { word: "Target", kind: "choice", lines: 6, when: of("reference") },
    form: {
      word: "Shows",
      kind: "choice",
      choices: [
        ["", "page number"],
        ["words", "text"],
        ["number", "number (of a list item or note)"],
      ],
      when: of("reference"),
    },
  });
  const { find, place } = form.fields;
  const seek = async () => {
    const { places } = await get(`/job/${state.key}/listings/places/?words=${encodeURIComponent(find.value)}`).catch(
      () => ({ places: [] }),
    );
    place.replaceChildren(
      ...places.map(
        (one) =>
          new Option(
            `${one.number ? `${one.number} ` : ""}${one.words}${one.label ? `  ·  ${one.label}` : ""}`,
            one.id,
          ),
      ),
    );
    place.selectedIndex = places.length ? 0 : -1;
  };
  let seeking = 0;
  find.addEventListener("input", () => {
    clearTimeout(seeking);
    seeking = setTimeout(seek, SEEKING);
  });
  return { form, file };
}

/** Insert what was asked for at the caret; a table may come from a file. @param {Record<string, any>} asked @param {File} [file] */
async function insertInText({ what, ...values }, file) {
  if (what.startsWith("note/")) {
    await cite(what.slice(5));
    return;
  }
  if (what === "term") {
    await putIn({
      do: "mark-term",
      name: values.term,
      under: values.under,
      every: values.every,
      main: Boolean(values.main),
    });
    toast(`Index entry added: ${values.term.trim()}.`);
  } else if (what === "table") {
    const { story, place } = await caretPlace();
    const known = new Set(state.tables),
      group = crypto.randomUUID();
    const answer = await send(
      [{ do: "add-table", story, at: place, rows: values.rows, columns: values.columns, words: values.cells }],
      { group },
    );
    const id = answer.lists?.tables.find((one) => !known.has(one));
    if (file && id) await fillFromFile(id, file, group);
    else if (!values.cells.trim() && id) emit("table", id);
  } else if (what === "frame")
    await putIn({
      do: "add-inlay",
      width: values.width,
      height: values.height,
      text: values.holds ? "" : null,
      where: values.where,
    });
  else if (what === "reference")
    await putIn({ do: "insert-field", field: { kind: "reference", ref: values.place, form: values.form } });
  else {
    const [kind, ref = "", form = ""] = what.split("/");
    await putIn({ do: "insert-field", field: kind === "pages" ? { kind, form: ref } : { kind, ref, form } });
  }
}

part({
  members: {
    async insertSomething() {
      const { form, file } = formToInsert(this.text.notable);
      let made = null;
      const asked = await askForm(
        "Insert",
        "Inserted at the caret. Page numbers, running heads, dates and standing copy are updated automatically.",
        "Insert",
        form,
        async (values) => {
          if (values.what === "reference" && !values.place)
            throw new Error("Select the target of the cross-reference.");
          if (values.what !== "new") return;
          const before = new Set(state.copies.map(({ id }) => id));
          await send([{ do: "put-copy", name: values.name, text: values.text }]);
          made = state.copies.find(({ id }) => !before.has(id));
        },
      );
      if (asked) this.tried(() => insertInText(made ? { what: `copy/${made.id}/` } : asked, file.files[0]));
    },
    editStyles() {
      emit("styles");
    },
    async manageCopies() {
      const choices = [
        ...state.copies.map(({ id, name, uses }) => [id, `${name}, ${uses} use${uses === 1 ? "" : "s"}`]),
        ["", "new standing copy"],
      ];
      const of = (which) => state.copies.find(({ id }) => id === which);
      const form = formOf({
        id: {
          word: "Copy",
          kind: "choice",
          choices,
          value: choices[0][0],
          changed: ({ id }) => {
            form.fields.name.value = of(id)?.name || "";
            form.fields.text.value = of(id)?.text || "";
          },
        },
        name: { word: "Name", value: of(choices[0][0])?.name },
        text: { word: "Text", value: of(choices[0][0])?.text },
        then: {
          word: "Action",
          kind: "choice",
          choices: [
            ["keep", "Save the text above"],
            ["keep words", "Delete, and leave its text as plain text"],
            ["leave out", "Delete, and remove its text everywhere"],
          ],
        },
      });
      await askForm(
        "Standing copy",
        "Named text that is used in many places and changed in one.",
        "Apply",
        form,
        async ({ id, name, text, then }) => {
          if (then === "keep") await send([{ do: "put-copy", id: id || null, name, text }]);
          else if (id) await send([{ do: "remove-copy", id, then }]);
        },
      );
      this.refresh();
    },
  },
});
