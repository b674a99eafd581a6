// The slip's part about what is kept elsewhere and shown in texts: standing copy, numbers, dates.
import { get } from "../../http.js";
import { ask, input, labelled, select } from "../../notice.js";
import { parseLength } from "../numbers.js";
import { emit, send, state, toast } from "../store.js";
import { cellOf } from "../cells.js";
import { caret, caretPlace, putIn, selectedWords } from "../text.js";
import { cite, noteChoices } from "../notes.js";
import { part } from "./parts.js";

part({
  members: {
    async putSomething() {
      const today = new Date();
      const inText = this.text.notable;
      const kinds = [...(cellOf(caret.story) ? [["sum", "sum of the column"]] : []), ...(inText ? [...noteChoices(), ["frame", "frame tied to the text"]] : []), ["page", "page number"], ["pages", "number of pages"], ["pages/section", "pages of the section"], ["reference", "reference to another place"], ...(inText ? [["table", "table"], ["term", "mark for the index"]] : []), ["section", "name of the section"], ["job", "name of the job"], ["heading//last", "running head: last chapter on the page"], ["heading//first", "running head: first chapter on the page"],
        ...state.styles.filter(({ level }) => level).map(({ id, name }) => [`heading/${id}/last`, `running head: last “${name}”`]),
        ...state.dates.map(([form, example]) => [`date//${form}`, `today’s date: ${example}`]), ["fact/size/", "finished size"], ["fact/words/", "number of words"], ["fact/paper/", "paper"],
        ...state.copies.map(({ id, name, uses }) => [`copy/${id}/`, `standing copy: ${name} (${uses} use${uses === 1 ? "" : "s"})`]), ["new", "new standing copy …"]];
      const which = select(kinds, cellOf(caret.story) ? "sum" : state.copies.length ? `copy/${state.copies[0].id}/` : "page");
      const name = input("", "Company name");
      const width = input(state.sheet.unit === "in" ? "0.5 in" : "10 mm");
      const height = input(state.sheet.unit === "in" ? "0.5 in" : "10 mm");
      const holds = select([["", "nothing"], ["text", "text"]], "");
      const stands = select([["", "in the line"], ["above", "right above the line"], ["near", "near, at a head or foot"], ["margin", "in the margin, beside it"]], "");
      const words = input("", `the words, for example ${today.getFullYear()}`);
      const find = input("", "words of the heading, the caption, the paragraph");
      const place = select([], "");
      place.size = 6;
      const shows = select([["", "its page number"], ["words", "its words"], ["number", "its number (of a list)"]], "");
      const seek = async () => {
        const { places } = await get(`/job/${state.key}/listings/places/?words=${encodeURIComponent(find.value)}`);
        place.replaceChildren(...places.map((one) => new Option(`${one.number ? `${one.number} ` : ""}${one.words}${one.label ? `  ·  ${one.label}` : ""}`, one.id)));
        place.selectedIndex = places.length ? 0 : -1;
      };
      let seeking = 0;
      find.addEventListener("input", () => { clearTimeout(seeking); seeking = setTimeout(() => seek().catch(() => {}), 200); });
      const across = input("3"), down = input("4");
      const cells = Object.assign(document.createElement("textarea"), { className: "field", rows: 4, placeholder: "or cells copied from a spreadsheet" });
      const words_ = selectedWords();
      const term = input(words_, "what the index lists"), under = input("", "another term; empty: none");
      const every = Object.assign(document.createElement("label"), { className: "check" });
      const everywhere = Object.assign(document.createElement("input"), { type: "checkbox" });
      every.append(everywhere, words_ ? `wherever “${words_}” stands in texts` : "wherever these words stand in texts");
      const main = Object.assign(document.createElement("label"), { className: "check" });
      const foremost = Object.assign(document.createElement("input"), { type: "checkbox" });
      main.append(foremost, "the main place: its number is set off");
      everywhere.addEventListener("change", () => { foremost.disabled = everywhere.checked; });
      if (words_) which.value = "term";
      const of = { term: [labelled("Term", term), labelled("Under", under), every, main], table: [labelled("Rows", down), labelled("Columns", across), labelled("Cells", cells)], reference: [labelled("Find", find), labelled("Place", place), labelled("Shows", shows)], new: [labelled("Name", name), labelled("Words", words)], frame: [labelled("Width", width), labelled("Height", height), labelled("Stands", stands), labelled("Holds", holds)] };
      const rows = [labelled("What", which), ...of.new, ...of.frame, ...of.term, ...of.table, ...of.reference];
      const show = () => { for (const [kind, own] of Object.entries(of)) for (const row of own) row.hidden = which.value !== kind; };
      which.addEventListener("change", () => { show(); if (which.value === "reference" && !place.options.length) seek().catch(() => {}); });
      show();
      let made = null;
      let size = null;
      const agreed = await ask("Put in", "What is kept in one place is shown here, and a change shows everywhere. Notes and frames go with the words.", "Put it in", rows, async () => {
        if (which.value === "frame") size = { width: parseLength(width.value, state.sheet.unit), height: parseLength(height.value, state.sheet.unit) };
        if (which.value === "reference" && !place.value) throw new Error("Choose the place that it leads to.");
        if (which.value !== "new") return;
        const before = new Set(state.copies.map(({ id }) => id));
        await send([{ do: "put-copy", name: name.value, text: words.value }]);
        made = state.copies.find(({ id }) => !before.has(id));
      });
      if (!agreed) return;
      this.tried(async () => {
        if (which.value.startsWith("note/")) { await cite(which.value.slice(5)); return; }
        if (which.value === "term") {
          await putIn({ do: "mark-term", name: term.value, under: under.value, every: everywhere.checked, main: foremost.checked && !everywhere.checked });
          toast(`Marked for the index: ${term.value.trim()}.`);
          return;
        }
        if (which.value === "table") {
          const { story, place: where } = await caretPlace();
          const known = new Set(state.tables);
          const answer = await send([{ do: "add-table", story, at: where, rows: Number(down.value) || 3, columns: Number(across.value) || 3, words: cells.value }]);
          if (!cells.value.trim() && answer.lists) emit("table", answer.lists.tables.find((id) => !known.has(id)));
          return;
        }
        if (size) { await putIn({ do: "add-inlay", ...size, text: holds.value ? "" : null, where: stands.value }); return; }
        if (which.value === "reference") { await putIn({ do: "insert-field", field: { kind: "reference", ref: place.value, form: shows.value } }); return; }
        const [kind, ref = "", form = ""] = which.value.split("/");
        const field = made ? { kind: "copy", ref: made.id } : kind === "pages" ? { kind, form: ref } : { kind, ref, form };
        await putIn({ do: "insert-field", field });
      });
    },
    async manageCopies() {
      const options = [...state.copies.map(({ id, name, uses }) => [id, `${name}, ${uses} use${uses === 1 ? "" : "s"}`]), ["", "a new one"]];
      const which = select(options, options[0][0]);
      const name = input();
      const words = input();
      const what = select([["keep", "Keep the words typed here"], ["keep words", "Delete it, its uses become plain text"], ["leave out", "Delete it and take it out everywhere"]], "keep");
      const fill = () => { const copy = state.copies.find(({ id }) => id === which.value); name.value = copy?.name || ""; words.value = copy?.text || ""; };
      which.addEventListener("change", fill);
      fill();
      await ask("Standing copy", "Named words used in many places and kept in one.", "Do it", [labelled("Which", which), labelled("Name", name), labelled("Words", words), labelled("What", what)], async () => {
        if (what.value === "keep") await send([{ do: "put-copy", id: which.value || null, name: name.value, text: words.value }]);
        else if (which.value) await send([{ do: "remove-copy", id: which.value, then: what.value }]);
      });
      this.refresh();
    },
  },
});
