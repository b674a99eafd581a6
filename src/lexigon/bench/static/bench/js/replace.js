// Find and replace: what is found is shown while one types, with what would come in its place; each hit can be unticked.
import { counted } from "./numerals.js";
import { HttpError, messageOf } from "./errors.js";
import { post, readState } from "./http.js";
import { plural } from "./survey.js";
import { undoable } from "./steps.js";
import { parseLength } from "./board/numbers.js";

const WAIT = 250;
const YES_NO = { "": null, 1: true, 0: false };
/** The size in a field, in points; null where it is empty. */
function points(field) {
  if (!field.value.trim()) return null;
  try {
    return parseLength(field.value, "pt");
  } catch (error) {
    throw new RangeError(messageOf(error));
  }
}
const shown = (size) => (size ? `${size} pt` : "");
let form = null; // the one on the page, for the list of kept searches beside it

function made(tag, name, text, more = {}) {
  return Object.assign(document.createElement(tag), { className: name, textContent: text, ...more });
}

export function findReplace() {
  let timer = 0,
    turn = 0;
  return {
    rows: [],
    jobs: [],
    count: 0,
    held: 0,
    revision: 0,
    left: new Set(),
    problem: "",
    told: "",
    leaveWords: true,
    asked: false,
    done: "",
    init() {
      form = this;
      this.$refs.words.value = this.$root.dataset.words;
      this.$refs.words.focus();
      if (this.$refs.words.value) this.look();
    },
    setLeave() {
      this.leaveWords = this.$refs.leave.checked;
      if (!this.leaveWords) this.$nextTick(() => this.$refs.put.focus());
    },
    changed(event) {
      if (event.target.closest(".hits")) return;
      if (event.target === this.$refs.put && event.target.value) {
        this.$refs.leave.checked = false;
        this.leaveWords = false;
      }
      clearTimeout(timer);
      timer = setTimeout(() => this.look(), WAIT);
    },
    sign(event) {
      const field = document.activeElement === this.$refs.put ? this.$refs.put : this.lastField || this.$refs.words;
      field.setRangeText(`<${event.target.value}>`, field.selectionStart, field.selectionEnd, "end");
      event.target.value = "";
      field.focus();
    },
    lastField: null,
    said() {
      const r = this.$refs,
        on = (name) => r[name].checked;
      return {
        query: {
          words: r.words.value,
          pattern: on("pattern"),
          whole: on("whole"),
          case: on("case"),
          marks: on("marks"),
          style: r.style.value,
          character: r.character.value,
          italic: YES_NO[r.italic.value],
          bold: YES_NO[r.bold.value],
          size: points(r.size),
          family: r.family.value,
          swatch: r.swatch.value,
          language: r.language.value,
          story: ["", "*", "chosen"].includes(r.scope.value) ? "" : r.scope.value,
          ...(r.scope.value === "chosen" ? readState("chosen") : {}),
        },
        exchange: {
          words: this.leaveWords ? null : r.put.value,
          keep_case: on("keepCase"),
          style: r.toStyle.value || null,
          character: r.toCharacter.value || null,
          italic: YES_NO[r.toItalic.value],
          bold: YES_NO[r.toBold.value],
          size: points(r.toSize),
          family: r.toFamily.value || null,
          swatch: r.toSwatch.value || null,
          language: r.toLanguage.value || null,
        },
      };
    },
    /** Fill the fields with a search that was kept. */
    take({ query, exchange }) {
      const r = this.$refs,
        yesNo = (value) => (value === null ? "" : value ? "1" : "0");
      for (const name of ["pattern", "whole", "case", "marks"]) r[name].checked = query[name];
      Object.assign(r.keepCase, { checked: exchange.keep_case });
      for (const [field, value] of [
        ["words", query.words],
        ["style", query.style],
        ["character", query.character],
        ["italic", yesNo(query.italic)],
        ["bold", yesNo(query.bold)],
        ["put", exchange.words || ""],
        ["toStyle", exchange.style || ""],
        ["toCharacter", exchange.character || ""],
        ["toItalic", yesNo(exchange.italic)],
        ["toBold", yesNo(exchange.bold)],
        ["size", shown(query.size)],
        ["toSize", shown(exchange.size)],
        ["family", query.family || ""],
        ["toFamily", exchange.family || ""],
        ["swatch", query.swatch || ""],
        ["toSwatch", exchange.swatch || ""],
        ["language", query.language || ""],
        ["toLanguage", exchange.language || ""],
      ])
        r[field].value = value;
      r.leave.checked = this.leaveWords = exchange.words === null;
      this.look();
    },
    get changes() {
      try {
        return Object.entries(this.said().exchange).some(([name, value]) => name !== "keep_case" && value !== null);
      } catch {
        return false;
      }
    },
    get ticked() {
      return this.count - this.held * Number(!this.leaveWords) - this.left.size;
    },
    get nothing() {
      return !this.asked || this.ticked <= 0 || !this.changes;
    },
    get word() {
      return this.asked && this.ticked > 0
        ? `Replace ${plural(this.ticked, "place")}${this.jobs.length > 1 ? " here, and all in the other jobs" : ""}`
        : "Replace";
    },
    get empty() {
      return this.asked && !this.count && !this.problem;
    },
    get more() {
      return this.count > this.rows.length
        ? `The first ${this.rows.length} of ${counted(this.count)} are listed; the others are replaced too.`
        : "";
    },
    async look() {
      clearTimeout(timer);
      const now = (turn += 1);
      this.problem = "";
      try {
        const said = this.said();
        const answer = await post(`${location.pathname}look/`, { ...said, everywhere: this.$refs.scope.value === "*" });
        if (now !== turn) return;
        const { query } = said;
        this.asked =
          Boolean(query.words || query.style || query.character || query.family || query.swatch || query.language) ||
          [query.italic, query.bold, query.size].some((value) => value !== null);
        Object.assign(this, {
          rows: answer.rows,
          jobs: answer.jobs,
          count: answer.count,
          held: answer.held,
          revision: answer.revision,
          left: new Set(),
        });
        this.told =
          this.done ||
          (this.asked
            ? `${plural(this.count, "place")}${answer.most ? " and more" : ""} found${this.held && !this.leaveWords ? `; ${this.held} with a note, a field or a picture in it stay as they are` : ""}`
            : "");
        this.done = "";
        this.lay();
      } catch (error) {
        if (!(error instanceof HttpError || error instanceof RangeError)) throw error;
        if (now !== turn) return;
        Object.assign(this, { rows: [], jobs: [], count: 0, held: 0, asked: true, problem: error.message, told: "" });
        this.lay();
      }
    },
    lay() {
      this.$refs.hits.replaceChildren(
        ...this.rows.map((row) => {
          const item = made("li", "hit", ""),
            words = made("label", "words", ""),
            box = made("input", "", "", {
              type: "checkbox",
              checked: !this.left.has(row.n) && !(row.held && !this.leaveWords),
              disabled: row.held && !this.leaveWords,
            });
          box.setAttribute("aria-label", `Replace this: ${row.text}`);
          box.addEventListener("change", () => {
            if (box.checked) this.left.delete(row.n);
            else this.left.add(row.n);
            this.left = new Set(this.left);
          });
          words.append(
            box,
            made("span", "", row.before),
            row.put === null ? made("mark", "", row.text) : made("del", "", row.text),
            ...(row.put === null ? [] : [made("ins", "", row.put)]),
            made("span", "", row.behind),
          );
          const where =
            row.page === null
              ? made("span", "aside", row.place)
              : made("a", "aside link", [row.place, `page ${row.label || row.page + 1}`].filter(Boolean).join(", "), {
                  href: `${this.$root.dataset.board}?page=${row.page + 1}`,
                });
          item.append(words, where);
          return item;
        }),
      );
    },
    tickAll() {
      this.left = new Set();
      this.lay();
    },
    tickNone() {
      this.left = new Set(Array.from({ length: this.count }, (_, n) => n));
      this.lay();
    },
    async exchange() {
      try {
        const answer = await post(`${location.pathname}exchange/`, {
          ...this.said(),
          everywhere: this.$refs.scope.value === "*",
          left: [...this.left],
          revision: this.revision,
        });
        this.done = `${plural(answer.count, "place")} replaced${answer.jobs > 1 ? ` in ${answer.jobs} jobs` : ""}. Undo reverses it.${answer.skipped ? ` Not changed: ${plural(answer.skipped, "other job")} without that style or colour.` : ""}`;
        undoable("replacing");
        await this.look();
      } catch (error) {
        if (!(error instanceof HttpError)) throw error;
        this.problem = error.message;
      }
    },
  };
}

/** The searches that are kept, beside the form. */
export function keptSearches() {
  return {
    kept: readState("searches"),
    init() {
      this.lay();
    },
    lay() {
      const rows = this.kept.map((one) => {
        const row = made("li", "kept", ""),
          forget = made("button", "quiet", "×", { type: "button", title: "Delete search" });
        forget.setAttribute("aria-label", `Forget “${one.name}”`);
        const use = made("button", "link truncate", one.name, { type: "button" });
        use.addEventListener("click", () => form.take(one.said));
        forget.addEventListener("click", () => this.keep({ name: one.name, forgotten: true }));
        row.append(use, forget);
        return row;
      });
      const name = made("input", "field", "", { maxLength: 80, placeholder: "Name for this search" }),
        keep = made("button", "button", "Save", { type: "button" });
      name.setAttribute("aria-label", "Name for this search");
      const go = () => {
        if (name.value.trim()) this.keep({ name: name.value, ...form.said() });
        else name.focus();
      };
      keep.addEventListener("click", go);
      name.addEventListener("keydown", (event) => {
        if (event.key === "Enter") go();
      });
      const last = made("li", "kept mt-2", "");
      last.append(name, keep);
      this.$refs.list.replaceChildren(...rows, last);
    },
    async keep(said) {
      try {
        this.kept = (await post(`${location.pathname}keep/`, said)).searches;
        this.lay();
      } catch (error) {
        if (!(error instanceof HttpError)) throw error;
        form.problem = error.message;
      }
    },
  };
}
