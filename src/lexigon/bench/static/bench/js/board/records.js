// The drawer of fields: what the records of the job have, bound by pointing; and a record shown on the board.
import { adjustmentRow } from "../adjustments.js";
import { register } from "../commands.js";
import { element } from "../dom.js";
import { messageOf } from "../errors.js";
import { get } from "../http.js";
import { counted } from "../numerals.js";
import { active } from "./caret.js";
import { drawer, pull } from "./drawers.js";
import { chosen, holderOf, select, selectThese } from "./frames.js";
import { recordShown, showRecord } from "./recordview.js";
import { board, drawerPanel as panel } from "./rooms.js";
import { frames } from "./standing.js";
import { on, send, show, state, toast } from "./store.js";
import { putIn } from "./text.js";
import { KINDS } from "./values.js";

const base = `/job/${state.key}/merge/`;
const SET_STORED = `lexigon-record-set-${state.key}`;
let known = {
  sets: [],
  bindings: [],
  record: {},
  numbers: [],
  number: -1,
  set: "",
  used: [],
  properties: {},
  page_properties: {},
  text_properties: [],
};
let fresh = -1;
let lineRemoved = false;

const current = () => known.sets.find(({ id }) => id === known.set);
const columns = () => [...(current()?.fields ?? []), ...(current()?.computed ?? []).map(({ name }) => name)];
const isOpen = () => panel.dataset.open === "fields" && !panel.hidden;

async function load(record = known.number, set = known.set || localStorage.getItem(SET_STORED) || "") {
  const revision = state.revision;
  try {
    known = await get(`${base}fields/?${new URLSearchParams({ set, record: String(record) })}`);
    fresh = revision;
    if (isOpen()) again();
  } catch (error) {
    toast(messageOf(error), true);
  }
}

let again = () => {};

function fill(body) {
  again = () => {
    const { scrollTop } = body;
    const held = body.contains(document.activeElement) ? document.activeElement.dataset.key : "";
    if (document.activeElement?.matches("input.binding") && body.contains(document.activeElement)) return;
    body.replaceChildren();
    lay(body);
    body.scrollTop = scrollTop;
    if (held) body.querySelector(`[data-key="${CSS.escape(held)}"]`)?.focus({ preventScroll: true });
  };
  lay(body);
  if (fresh !== state.revision) load();
}

function lay(body) {
  body.append(
    element(
      "div",
      { class: "head" },
      element("h2", { text: "Fields" }),
      element("a", { class: "link", href: base, text: "Merge" }),
    ),
  );
  if (fresh < 0) {
    body.append(element("p", { class: "sub", text: "Reading the records…" }));
    return;
  }
  if (!current()) {
    body.append(
      element("p", {
        class: "sub mb-3",
        text: "Fields come with records: a name, a post and a portrait for each card, say. Import them first.",
      }),
      element("a", { class: "button w-full", href: base, text: "Import records" }),
    );
    return;
  }
  body.append(...records(), ...fieldRows(), ...selection(), ...repeating(), ...everything());
}

function records() {
  const sets = /** @type {HTMLSelectElement} */ (
    element("select", { class: "field mb-2", "aria-label": "Record set", "data-key": "sets" })
  );
  for (const one of known.sets) sets.add(new Option(one.name, one.id));
  sets.value = known.set;
  sets.addEventListener("change", () => {
    localStorage.setItem(SET_STORED, sets.value);
    known.number = -1;
    load(-1, sets.value).then(refreshRecord);
  });
  const at = known.numbers.indexOf(known.number);
  const step = (by, word, arrow) =>
    element("button", {
      type: "button",
      class: "quiet",
      "data-key": `step${by}`,
      "aria-label": word,
      title: word,
      disabled: !known.numbers[at + by] && known.numbers[at + by] !== 0,
      text: arrow,
      click: () => goTo(known.numbers[at + by]),
    });
  const box = /** @type {HTMLInputElement} */ (element("input", { type: "checkbox", "data-key": "live" }));
  box.checked = Boolean(recordShown.way);
  box.addEventListener("change", () => showRecord(box.checked ? "cover" : "", known.set, known.number));
  return [
    ...(known.sets.length > 1 ? [sets] : []),
    element(
      "div",
      { class: "mb-2 flex items-center gap-1" },
      step(-1, "Previous record", "‹"),
      element("span", {
        class: "flex-1 text-center",
        text: at < 0 ? "no record" : `Record ${counted(at + 1)} of ${counted(known.numbers.length)}`,
      }),
      step(1, "Next record", "›"),
    ),
    element("label", { class: "check mb-2" }, box, element("span", { text: "Show this record on the board" })),
    ...editsChange(),
  ];
}

const goTo = async (number) => {
  await load(number);
  await refreshRecord();
};

/** Show the record that the drawer is at, in the way that records are shown. */
const refreshRecord = () => showRecord(recordShown.way, known.set, known.number);

/** What edits on the board change while a record is shown. */
function editsChange() {
  if (!recordShown.way || state.role === "view") return [];
  const choices = [
    ["cover", "the design", "Edits change the design, for all records"],
    ["adjust", "this record", "Edits change this record only: its positions, crops and words"],
  ];
  return [
    element("p", { class: "sub mb-1", id: "edits-change", text: "Edits change" }),
    element(
      "div",
      { class: "seg mb-2", role: "group", "aria-labelledby": "edits-change" },
      ...choices.map(([way, text, title]) =>
        element("button", {
          type: "button",
          "data-key": `edits-${way}`,
          "aria-pressed": String(recordShown.way === way),
          title,
          text,
          click: () => showRecord(way, known.set, known.number),
        }),
      ),
    ),
    ...(known.adjustments ?? []).map((one) => adjustmentRow(one, (intent) => send([intent]).catch(() => {}))),
  ];
}

/** What a click on a field does now, in words. */
function target() {
  if (active()) return { word: "Insert at the caret", run: (name) => insert(name) };
  const one = chosen()[0];
  if (!one) return { word: "", run: () => toast("Select an object or click into text first, then a field.") };
  if (one.kind === "picture") return { word: "Bind the picture", run: (name) => bind(one, "picture", `{${name}}`) };
  if (one.kind === "code") return { word: "Bind the code", run: (name) => bind(one, "code", `{${name}}`) };
  if (one.kind === "text")
    return { word: "", run: () => toast("Click into the text with the text tool, where the field is to be shown.") };
  return {
    word: one.bare ? "Bind whether it is visible" : "Bind the picture in it",
    run: (name) => bind(one, one.bare ? "visible" : "picture", `{${name}}`),
  };
}

const insert = (name) =>
  putIn({ do: "insert-field", field: { kind: "record", ref: name, form: lineRemoved ? "line" : "" } });

/** Bind a property of an object, and of those of its kind that are selected with it. */
async function bind(one, property, value) {
  const all = chosen().some((other) => other.id === one.id) ? chosen().filter(({ kind }) => kind === one.kind) : [one];
  try {
    await send(
      all.map((each) => ({
        do: "bind-field",
        page: holderOf(each),
        frame: each.id,
        property_name: property,
        value,
      })),
    );
  } catch {
    /* the reason was shown */
  }
}

function fieldRows() {
  const to = target();
  const line = /** @type {HTMLInputElement} */ (element("input", { type: "checkbox", "data-key": "line" }));
  line.checked = lineRemoved;
  line.addEventListener("change", () => {
    lineRemoved = line.checked;
  });
  return [
    element("p", {
      class: "sub mb-1",
      text: to.word ? `${to.word}: click a field.` : "Select an object, or click into text, then click a field.",
    }),
    element(
      "ul",
      { class: "field-list" },
      ...columns().map((name) => {
        const row = element(
          "button",
          {
            type: "button",
            class: "field-row",
            draggable: "true",
            "data-key": `field-${name}`,
            "data-field": name,
            title: to.word ? `${to.word}: ${name}` : `${name}: drag it onto an object`,
            click: () => target().run(name),
            dragstart: (event) => event.dataTransfer.setData("application/x-lexigon-field", name),
          },
          element("b", { text: name }),
          element("span", { text: known.record[name] ?? "" }),
        );
        // The caret stays where it is: a press would take the focus from the text.
        row.addEventListener("mousedown", (event) => active() && event.preventDefault());
        return element("li", {}, row);
      }),
    ),
    ...(active()
      ? [
          element(
            "label",
            { class: "check mt-1", title: "Leave the line out when the field is empty" },
            line,
            element("span", { text: "Remove the line when empty" }),
          ),
        ]
      : []),
  ];
}

/** The properties of an object that can be bound. */
function propertiesOf(one) {
  if (one.kind === "text")
    return ["visible", "x", "y", "width", "height", "rotation", "fill", "tint", ...known.text_properties];
  const places = ["visible", "x", "y", "width", "height", "rotation"];
  if (one.kind === "code") return ["code", ...places];
  if (one.kind === "picture") return ["picture", ...places, "fill", "tint", "stroke"];
  return ["fill", "tint", "stroke", "picture", ...places];
}

function selection() {
  const one = chosen()[0];
  const page = one ? null : state.view.find((index) => index >= 0);
  if (!one && page === undefined) return [];
  const own = one ? one.bindings : known.bindings.filter((row) => row.kind === "page" && row.page === page);
  const pairs = one ? own : own.map((row) => [row.property, row.value]);
  const words = one ? known.properties : known.page_properties;
  const put = (property, value) =>
    one
      ? bind(one, property, value)
      : send([{ do: "bind-pages", pages: [state.ids[page]], property_name: property, value }]).catch(() => {});
  const left = (one ? propertiesOf(one) : Object.keys(known.page_properties)).filter(
    (name) => !pairs.some(([had]) => had === name),
  );
  const add = /** @type {HTMLSelectElement} */ (
    element("select", { class: "field", "aria-label": "Add binding", "data-key": "add-binding" })
  );
  add.add(new Option("Add binding…", ""));
  for (const name of left) add.add(new Option(words[name], name));
  add.addEventListener("change", () => {
    const property = add.value;
    if (property) put(property, `{${columns()[0]}}`);
  });
  return [
    element("h3", {
      class: "mt-3 mb-1 font-semibold",
      text: one ? one.name : `Page ${state.labels[page] || page + 1}`,
    }),
    ...pairs.map(([property, value]) => bindingRow(words[property], property, value, put)),
    add,
  ];
}

/** The object that would be repeated: the selected one, or the outermost group that it is in. */
function repeatable() {
  const one = chosen()[0];
  if (!one || one.master || one.role) return null;
  if (one.groups.length) return { id: one.groups[0], page: one.page, repeat: one.groupMixes[0]?.repeat ?? null };
  return { id: one.id, page: one.page, repeat: one.repeat };
}

/** Whether and how the selected object is repeated for every record. */
function repeating() {
  const one = repeatable();
  if (!one) return [];
  const put = (values) =>
    send([
      {
        do: "repeat-object",
        page: state.pages[one.page].id,
        frame: one.id,
        repeat: values && { ...one.repeat, ...values },
      },
    ]).catch(() => {});
  const box = /** @type {HTMLInputElement} */ (element("input", { type: "checkbox", "data-key": "repeat" }));
  box.checked = Boolean(one.repeat);
  box.addEventListener("change", () => put(box.checked ? {} : null));
  const rows = [
    element(
      "label",
      { class: "check mt-3", title: "Repeat for every record: in rows and columns, over as many pages as it takes" },
      box,
      element("span", { text: "Repeat for every record" }),
    ),
  ];
  if (!one.repeat) return rows;
  const [across, down] = one.repeat.gap ?? [0, 0];
  const length = (word, key, value, change) => {
    const field = /** @type {HTMLInputElement} */ (
      element("input", { class: "field binding", "data-key": key, "aria-label": word, autocomplete: "off" })
    );
    field.value = KINDS.length.show(value);
    field.addEventListener("change", () => {
      try {
        change(KINDS.length.read(field.value));
      } catch (error) {
        toast(messageOf(error), true);
      }
    });
    field.addEventListener("keydown", (event) => {
      event.stopPropagation();
      if (event.key === "Enter") field.blur();
    });
    return labelledRow(word, field);
  };
  const choice = (word, key, options, value, change) => {
    const field = /** @type {HTMLSelectElement} */ (
      element("select", { class: "field", "data-key": key, "aria-label": word })
    );
    for (const [id, text] of options) field.add(new Option(text, id));
    field.value = value;
    field.addEventListener("change", () => change(field.value));
    return labelledRow(word, field);
  };
  const others = new Map(
    frames()
      .filter((f) => f.page === one.page && !f.master && !f.role)
      .map((f) => [f.groups[0] ?? f.id, f.groupNames[0] ?? f.name]),
  );
  others.delete(one.id);
  return [
    ...rows,
    length("Gap between columns", "gap-x", across, (value) => put({ gap: [value, down] })),
    length("Gap between rows", "gap-y", down, (value) => put({ gap: [across, value] })),
    choice(
      "Group by",
      "group",
      [["", "no groups"], ...columns().map((name) => [name, name])],
      one.repeat.group ?? "",
      (group) => put({ group }),
    ),
    choice("Heading", "heading", [["", "none"], ...others], one.repeat.heading ?? "", (heading) => put({ heading })),
    ...(one.repeat.heading ? [headingOnEachPage(one.repeat, put)] : []),
  ];
}

function headingOnEachPage(repeat, put) {
  const box = /** @type {HTMLInputElement} */ (
    element("input", { type: "checkbox", "data-key": "heading-on-each-page" })
  );
  box.checked = Boolean(repeat.heading_on_each_page);
  box.addEventListener("change", () => put({ heading_on_each_page: box.checked }));
  return element(
    "label",
    { class: "check mt-1", title: "Show the heading again where its group continues on another page" },
    box,
    element("span", { text: "Heading on each page" }),
  );
}

const labelledRow = (word, field) =>
  element("div", { class: "binding-row" }, element("span", { class: "sub", text: word }), field);

function bindingRow(word, property, value, put) {
  const field = /** @type {HTMLInputElement} */ (
    element("input", {
      class: "field binding",
      "data-key": `binding-${property}`,
      "aria-label": `${word}: text with fields in braces`,
      title: "Text with fields in braces, such as {surname}",
      autocomplete: "off",
      list: "",
    })
  );
  field.value = value;
  field.addEventListener("change", () => field.value.trim() && put(property, field.value));
  field.addEventListener("keydown", (event) => {
    event.stopPropagation();
    if (event.key === "Enter") field.blur();
    if (event.key === "Escape") {
      field.value = value;
      field.blur();
    }
  });
  return element(
    "div",
    { class: "binding-row" },
    element("span", { class: "sub", text: word }),
    field,
    element("button", {
      type: "button",
      class: "quiet",
      "aria-label": `Remove binding: ${word}`,
      title: "Remove binding",
      text: "×",
      click: () => put(property, ""),
    }),
  );
}

/** Everything in the job that is bound, to go to. */
function everything() {
  if (!known.bindings.length) return [];
  return [
    element(
      "details",
      { class: "mt-4" },
      element("summary", { class: "font-semibold", text: `All bindings (${counted(known.bindings.length)})` }),
      element(
        "ul",
        { class: "mt-1" },
        ...known.bindings.map((row) =>
          element(
            "li",
            {},
            element(
              "button",
              { type: "button", class: "use-row", click: () => goToBinding(row) },
              element("span", {
                text: `${row.name}: ${row.kind === "story" ? row.value : `${{ ...known.properties, ...known.page_properties }[row.property].toLowerCase()} ${row.value}`}`,
              }),
            ),
          ),
        ),
      ),
    ),
  ];
}

async function goToBinding(row) {
  if (row.page !== null && row.page !== undefined && !state.view.includes(row.page)) await show(row.page);
  const one = frames().find((f) => (row.kind === "story" ? f.story === row.story : f.id === row.object));
  if (one) select(one);
  else if (row.kind === "page") selectThese([]);
}

// A field dropped on an object is bound to it.
board.addEventListener("dragover", (event) => {
  if ([...event.dataTransfer.types].includes("application/x-lexigon-field")) event.preventDefault();
});
board.addEventListener("drop", (event) => {
  const name = event.dataTransfer.getData("application/x-lexigon-field");
  if (!name) return;
  event.preventDefault();
  event.stopPropagation();
  const box = document.elementsFromPoint(event.clientX, event.clientY).find((one) => one.matches(".frame-box"));
  const one = box && frames().find((f) => f.id === box.dataset.id && f.page === Number(box.dataset.page));
  if (!one) {
    toast("Drop the field on an object.");
    return;
  }
  if (one.kind === "text") {
    bindText(one, name);
    return;
  }
  bind(one, one.kind === "code" ? "code" : "picture", `{${name}}`);
});

/** A field dropped on a text frame comes at the end of its text. */
async function bindText(one, name) {
  const last = one.lines[one.lines.length - 1];
  if (!last) {
    toast("Click into this frame and insert the field where it is to be shown.");
    return;
  }
  const place = { paragraph: last.p, offset: last.e };
  const field = { kind: "record", ref: name, form: "" };
  await send([{ do: "insert-field", story: one.story, start: place, end: place, field }]).catch(() => {});
}

on("taken", () => {
  if (isOpen() || recordShown.way === "cover") load().then(refreshRecord);
});
on("record", () => {
  if (isOpen()) again();
});
on("frame", () => {
  if (isOpen()) again();
});
let typing = false;
on("text", () => {
  if (typing === active()) return;
  typing = active();
  if (isOpen()) again();
});

drawer({
  id: "fields",
  word: "Fields",
  key: "",
  help: "Fields of the records that the job is merged with",
  fill,
  after: [],
});

register({
  word: "Show record on the board",
  help: "the piece with the values of a record, as it will be exported",
  run: async () => {
    await load();
    if (!current()) {
      pull("fields", true);
      return;
    }
    await showRecord(recordShown.way ? "" : "cover", known.set, known.number);
  },
});

if (state.record) {
  // The page was opened to adjust a record.
  const [set, number] = state.record.split(":");
  Object.assign(known, { set, number: Number(number) });
  load().then(() => showRecord("adjust", known.set, known.number));
}
