// Importing records and the pictures that go with them: dropped, selected, pasted, or typed here.
import { element } from "../dom.js";
import { messageOf } from "../errors.js";
import { upload } from "../http.js";
import { ask as question, input, labelled, question as dialog, select, toast } from "../notice.js";
import { counted } from "../numerals.js";
import { plural } from "../survey.js";
import { emptyPlace, importing, mergeroom, ofRecords } from "./rooms.js";
import { accept, change, chooseSet, current, doIntents, on, state } from "./state.js";

const MOST_PICTURES = 50; // in one request
const ZIP = /\.zip$/i;
const DIRECTORY = 1_000_000; // bytes at the end of a zip file in which its directory is looked for
const RECORDS_INSIDE = /\.(csv|tsv|txt|tab|xlsx|ods|json|vcf)(PK|[^a-z0-9]|$)/i;
const RECORDS = /\.(csv|tsv|txt|tab|xlsx|ods|json|vcf)$/i;
const { file, sets } = importing;

const withoutSuffix = (name) => name.replace(/\.[^.]+$/, "");

/** Ask how a file, or pasted text, is read, then import it. @param {File | null} source @param {string} [pasted] */
async function importRecords(source, pasted = "") {
  const name = input(withoutSuffix(source?.name ?? "Records"));
  const target = select([["", "a new record set"], ...state.sets.map((one) => [one.id, `replace “${one.name}”`])], "");
  const own = state.sets.find((one) => one.source && one.source === source?.name);
  if (own) target.value = own.id;
  const separator = select([["", "recognised"], ...Object.entries(state.separators)]);
  const encoding = select([["", "recognised"], ...state.encodings.map((one) => [one, one])]);
  const sheet = select([["", "recognised"]]);
  const header = select([
    ["", "recognised"],
    ["yes", "has the names of the fields"],
    ["no", "is a record"],
  ]);
  const cells = input("");
  cells.placeholder = "all, or B3:F40";
  const rows = {
    separator: labelled("Separator", separator),
    encoding: labelled("Encoding", encoding),
    sheet: labelled("Sheet", sheet),
    cells: labelled("Cells", cells),
    header: labelled("First row", header),
  };
  const nameRow = labelled("Name", name),
    targetRow = labelled("Import as", target),
    told = element("p", { class: "sub", role: "status", text: "Reading…" }),
    view = element("div", { class: "merge-look" }),
    changes = element("div", { class: "sub" });
  const form = (more = {}) => {
    const data = new FormData();
    if (source) data.append("file", source);
    else data.append("text", pasted);
    const values = {
      separator: separator.value,
      encoding: encoding.value,
      sheet: sheet.value,
      cells: cells.value,
      header: header.value,
      set: target.value,
      ...more,
    };
    for (const [key, value] of Object.entries(values)) data.append(key, value);
    return data;
  };
  let asked = 0;
  const look = async () => {
    const mine = ++asked;
    nameRow.hidden = Boolean(target.value);
    try {
      const answer = await upload(`${location.pathname}look/`, form());
      if (mine !== asked) return;
      const { recognition } = answer;
      rows.separator.hidden = recognition.kind !== "delimited";
      rows.encoding.hidden = !recognition.encoding;
      rows.header.hidden = rows.cells.hidden = ["JSON", "vCard"].includes(recognition.kind);
      rows.sheet.hidden = recognition.sheets.length < 2;
      if (recognition.sheets.length > 1 && sheet.options.length === 1)
        for (const one of recognition.sheets) sheet.add(new Option(one, one));
      separator.options[0].text = recognition.separator
        ? `recognised: ${state.separators[recognition.separator] ?? recognition.separator}`
        : "recognised";
      encoding.options[0].text = recognition.encoding ? `recognised: ${recognition.encoding}` : "recognised";
      sheet.options[0].text = recognition.sheet ? `recognised: ${recognition.sheet}` : "recognised";
      header.options[0].text = `recognised: ${recognition.header ? "has the names" : "is a record"}`;
      const ragged = recognition.ragged.length
        ? ` Rows with more or fewer values than most: ${recognition.ragged.join(", ")}.`
        : "";
      const inside = recognition.file ? ` Read from “${recognition.file}”.` : "";
      told.textContent = `${plural(answer.count, "record")}, ${plural(answer.fields.length, "field")}.${inside}${ragged}`;
      told.className = "sub";
      view.replaceChildren(preview(answer));
      changes.replaceChildren(...(answer.reload ? reloadWords(answer.reload) : []));
    } catch (error) {
      if (mine !== asked) return;
      told.textContent = messageOf(error);
      told.className = "problem";
      view.replaceChildren();
    }
  };
  for (const one of [separator, encoding, sheet, cells, header, target]) one.addEventListener("change", look);
  look();
  dialog.classList.add("wide");
  const agreed = await question(
    source ? `Import records from “${source.name}”` : "Import the pasted records",
    "The first records as they will be read. Values stay as they are in the file.",
    "Import",
    [targetRow, nameRow, ...Object.values(rows), told, view, changes],
    async () => {
      accept(await upload(`${location.pathname}import/`, form({ name: finalName(), source: source?.name ?? "" })));
    },
  );
  dialog.classList.remove("wide");
  function finalName() {
    return target.value ? (state.sets.find(({ id }) => id === target.value)?.name ?? "") : name.value;
  }
  return agreed;
}

function preview({ fields, rows }) {
  const head = fields.map(({ name, kind, odd }) =>
    element("th", {}, name, element("small", { text: `${kind}${odd ? `, ${odd} unlike the others` : ""}` })),
  );
  return element(
    "table",
    {},
    element("thead", {}, element("tr", {}, ...head)),
    element(
      "tbody",
      {},
      ...rows.map((row) => element("tr", {}, ...row.map((value) => element("td", { text: value, title: value })))),
    ),
  );
}

/** What changes in a set whose records are replaced. */
function reloadWords({ added, removed, changed, counts, new_fields: news, lost_fields: lost }) {
  const lines = [
    `${plural(counts[0], "record")} new, ${counted(counts[1])} gone, ${counted(counts[2])} changed.`,
    ...(news.length ? [`New fields: ${news.join(", ")}.`] : []),
    ...(lost.length ? [`Fields that are gone: ${lost.join(", ")}.`] : []),
  ];
  const details = [
    ...changed.map((one) => `${one.key}: ${one.field} “${one.old}” becomes “${one.new}”`),
    ...added.map((one) => `${one}: new`),
    ...removed.map((one) => `${one}: gone`),
  ];
  return [
    ...lines.map((text) => element("p", { text })),
    ...(details.length
      ? [
          element(
            "details",
            {},
            element("summary", { text: "Show each change" }),
            element("ul", { class: "max-h-40 overflow-auto" }, ...details.map((text) => element("li", { text }))),
          ),
        ]
      : []),
  ];
}

/** Import pictures into the job, for records to name. */
async function importPictures(files) {
  let count = 0;
  const refused = [];
  for (let at = 0; at < files.length; at += MOST_PICTURES) {
    const data = new FormData();
    for (const one of files.slice(at, at + MOST_PICTURES)) data.append("file", one);
    try {
      const answer = await upload(mergeroom.dataset.pictures, data);
      refused.push(...answer.refused);
      if (answer.pictures.length) {
        const made = await doIntents(...answer.pictures.map((one) => ({ do: "add-picture", picture: one.file })));
        if (made) count += answer.pictures.length;
      }
    } catch (error) {
      refused.push(messageOf(error));
    }
  }
  if (refused.length) toast(refused.slice(0, 4).join(" "), true);
  else if (count) toast(`${plural(count, "picture")} imported.`);
}

/** Whether a file is a zip file with records beside the pictures that they name: its directory, at its end, has the
 * names as they are. @param {File} one */
async function hasRecords(one) {
  if (!ZIP.test(one.name)) return false;
  const end = await one.slice(Math.max(one.size - DIRECTORY, 0)).arrayBuffer();
  return RECORDS_INSIDE.test(new TextDecoder("latin1").decode(end));
}

/** Files that were dropped: records are asked about, all else are pictures. */
async function take(files) {
  const records = files.filter(({ name }) => RECORDS.test(name));
  const pictures = files.filter(({ name }) => !RECORDS.test(name));
  if (pictures.length) await importPictures(pictures);
  for (const one of pictures) if (await hasRecords(one)) records.push(one);
  for (const one of records) {
    if (one.size > state.largest) {
      const [own, most] = [one.size, state.largest].map((bytes) => counted(Math.round(bytes / 1e6)));
      toast(
        `“${one.name}” has ${own} MB; a file of records has at most ${most} MB. Split it into several files.`,
        true,
      );
    } else await importRecords(one);
  }
}

/** The files of a drop, those in folders included. */
async function dropped(transfer) {
  const entries = [...transfer.items].map((item) => item.webkitGetAsEntry?.()).filter(Boolean);
  if (!entries.length) return [...transfer.files];
  const files = [];
  const walk = async (entry) => {
    if (entry.isFile) files.push(await new Promise((resolve, reject) => entry.file(resolve, reject)));
    else {
      const reader = entry.createReader();
      for (;;) {
        const part = await new Promise((resolve, reject) => reader.readEntries(resolve, reject));
        if (!part.length) break;
        for (const one of part) await walk(one);
      }
    }
  };
  for (const entry of entries) await walk(entry);
  return files.filter(({ name }) => !name.startsWith("."));
}

mergeroom.addEventListener("dragover", (event) => {
  if (![...event.dataTransfer.types].includes("Files")) return;
  event.preventDefault();
  mergeroom.classList.add("dropping");
});
mergeroom.addEventListener("dragleave", (event) => {
  if (!mergeroom.contains(/** @type {Node} */ (event.relatedTarget))) mergeroom.classList.remove("dropping");
});
mergeroom.addEventListener("drop", async (event) => {
  event.preventDefault();
  mergeroom.classList.remove("dropping");
  if (document.body.dataset.role !== "view") take(await dropped(event.dataTransfer));
});
file.addEventListener("change", async () => {
  const files = [...file.files];
  file.value = "";
  await take(files);
});
importing.label.addEventListener("keydown", (event) => {
  if (event.key === "Enter" || event.key === " ") file.click();
});

importing.paste.addEventListener("click", async () => {
  const text = /** @type {HTMLTextAreaElement} */ (
    element("textarea", { class: "field", rows: "9", "aria-label": "Records", placeholder: "name\tpost\tphone" })
  );
  const agreed = await question(
    "Paste records",
    "Copy the rows in your spreadsheet, with the names of the fields in the first row, and paste them here.",
    "Continue…",
    [text],
    async () => {
      if (!text.value.trim()) throw new Error("Paste records first.");
    },
  );
  if (agreed) importRecords(null, text.value);
});

importing.fresh.addEventListener("click", () => {
  const name = input("Records"),
    fields = input("", "name, post, phone");
  question(
    "New record set",
    "Type the names of the fields, separated by commas. Records are typed in the table.",
    "Add",
    [labelled("Name", name), labelled("Fields", fields)],
    () => change("new", { name: name.value, fields: fields.value }, false),
  );
});

/** The name and the key field of the set in view, or its end. */
importing.setUp.addEventListener("click", async () => {
  const own = current();
  const name = input(own.name);
  const key = select([["", "the numbers of the records"], ...own.fields.map((one) => [one, one])], own.key);
  const remove = element("button", {
    type: "button",
    class: "button danger",
    text: "Delete record set",
    click: () => {
      dialog.close();
      doIntents({ do: "remove-record-set", id: own.id });
    },
  });
  question(
    "Record set",
    "The key field names the records: reloaded records are compared by it, and adjustments are stored under it.",
    "Apply",
    [labelled("Name", name), labelled("Key field", key), remove],
    async () => {
      const intents = [];
      if (name.value !== own.name) intents.push({ do: "change-record-set", id: own.id, name: name.value });
      if (key.value !== own.key) intents.push({ do: "change-record-set", id: own.id, key: key.value });
      if (intents.length) await change("change", { intents }, false);
    },
  );
});

/** The computed fields of the set in view, one a line. */
importing.computed.addEventListener("click", () => {
  const own = current();
  if (!own) return;
  const text = /** @type {HTMLTextAreaElement} */ (
    element("textarea", {
      class: "field font-mono",
      rows: "7",
      spellcheck: "false",
      "aria-label": "Computed fields",
      placeholder: 'label = upper(name) & ", " & post',
    })
  );
  text.value = own.computed.map((one) => `${one.name} = ${one.expression}`).join("\n");
  question(
    "Computed fields",
    `One a line: a name, “=”, and an expression of fields. The fields are ${own.fields.join(", ")}.`,
    "Apply",
    [text],
    async () => {
      const computed = text.value
        .split("\n")
        .filter((line) => line.trim())
        .map((line) => {
          const at = line.indexOf("=");
          if (at < 1) throw new Error(`“${line.trim()}” has no “=” between a name and an expression.`);
          return { name: line.slice(0, at).trim(), expression: line.slice(at + 1).trim() };
        });
      await change("computed", { set: own.id, computed }, false);
    },
  );
});

importing.addRow.addEventListener("click", () => change("change-rows", { set: state.set, add: 1 }));
importing.deleteRow.addEventListener("click", () => {
  if (state.record >= 0) change("change-rows", { set: state.set, remove: [state.record] });
});

sets.addEventListener("change", () => chooseSet(sets.value));
on("sets", () => {
  sets.replaceChildren(...state.sets.map((one) => new Option(one.name, one.id)));
  sets.value = state.set;
  const some = state.sets.length > 0;
  sets.hidden = !some;
  emptyPlace.hidden = some;
  for (const one of ofRecords) one.hidden = !some;
});
