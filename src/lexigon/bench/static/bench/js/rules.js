// Mark-up rules: a list in the order in which they act; a new one shows what it finds while it is typed.
import { HttpError } from "./errors.js";
import { get, post, readState } from "./http.js";
import { plural } from "./survey.js";
import { undoable } from "./steps.js";

const WAIT = 250;
let page = null; // the component of the list, for the library beside it
let shelf = null;

function made(tag, name, text, more = {}) {
  return Object.assign(document.createElement(tag), { className: name, textContent: text, ...more });
}

function tool(sign, label, run) {
  const button = made("button", "quiet", sign, { type: "button", title: label });
  button.setAttribute("aria-label", label);
  button.addEventListener("click", run);
  return button;
}

export function markupRules() {
  let timer = 0,
    turn = 0;
  return {
    rules: readState("rules"),
    problem: "",
    told: "",
    changing: "",
    missing: /** @type {{kind: string, name: string} | null} */ (null),
    get missingWords() {
      return this.missing ? `There is no ${this.missing.kind} style “${this.missing.name}” in this job.` : "";
    },
    get createWords() {
      return this.missing ? `Create “${this.missing.name}”` : "";
    },
    /** Make the style that the typed rule names; it is set up under Styles afterwards. */
    async createStyle() {
      const { kind, name } = this.missing;
      if (
        await this.send([
          { do: "put-style", kind, name, ...(kind === "paragraph" ? { based_on: this.$root.dataset.body } : {}) },
        ])
      )
        await this.look();
    },
    get heading() {
      return this.changing ? "Edit rule" : "New rule";
    },
    get word() {
      return this.changing ? "Apply changes" : "Add rule";
    },
    init() {
      page = this;
      this.lay();
    },
    lay() {
      this.$refs.list.replaceChildren(
        ...this.rules.map((rule, at) => {
          const row = made("li", `rule ${rule.on ? "" : "off"}`, "");
          const box = made("input", "", "", {
            type: "checkbox",
            checked: rule.on,
            title: rule.on ? "On; switch off" : "Off; switch on",
          });
          box.setAttribute("aria-label", `Acts: ${rule.line}`);
          box.addEventListener("change", () => this.send([{ do: "switch-marking", id: rule.id, on: box.checked }]));
          const line = made("button", "line", rule.line, { type: "button", title: "Apply changes" });
          line.addEventListener("click", () => this.change(rule));
          const tools = made("span", "rule-tools", "");
          tools.append(
            tool("↑", `Earlier: ${rule.line}`, () => this.send([{ do: "move-marking", id: rule.id, to: at - 1 }])),
            tool("↓", `Later: ${rule.line}`, () => this.send([{ do: "move-marking", id: rule.id, to: at + 1 }])),
            tool("☆", `Save in your library: ${rule.line}`, () => shelf.keep(rule.line)),
            tool("once", `Apply once and convert to formatting: ${rule.line}`, () =>
              this.send([{ do: "do-marking", id: rule.id }]),
            ),
            tool("×", `Delete: ${rule.line}`, () => this.send([{ do: "remove-marking", id: rule.id }])),
          );
          row.append(
            box,
            line,
            made("span", rule.problem ? "problem" : "aside", rule.problem || plural(rule.count, "place")),
            tools,
          );
          return row;
        }),
      );
    },
    change(rule) {
      this.changing = rule.id;
      this.$refs.line.value = rule.line;
      this.$refs.line.focus();
      this.look();
    },
    leave() {
      this.changing = "";
      this.$refs.line.value = "";
      this.problem = this.told = "";
      this.missing = null;
      this.$refs.hits.replaceChildren();
    },
    typed() {
      clearTimeout(timer);
      timer = setTimeout(() => this.look(), WAIT);
    },
    async look() {
      const now = (turn += 1),
        line = this.$refs.line.value;
      if (!line.trim()) {
        this.leave();
        return;
      }
      try {
        const answer = await get(`${location.pathname}look/?line=${encodeURIComponent(line)}`);
        if (now !== turn) return;
        this.problem = "";
        this.missing = answer.missing || null;
        this.told = this.missing
          ? ""
          : answer.count
            ? `It finds ${plural(answer.count, "place")}${answer.count > answer.rows.length ? `; the first ${answer.rows.length}:` : ":"}`
            : "It finds nothing in this story yet.";
        this.$refs.hits.replaceChildren(
          ...answer.rows.map((row) => {
            const item = made("li", "hit", ""),
              words = made("span", "words", "");
            words.append(made("span", "", row.before), made("mark", "", row.text), made("span", "", row.behind));
            item.append(
              words,
              row.page === null
                ? made("span", "aside", "")
                : made("a", "aside link", `page ${row.label || row.page + 1}`, {
                    href: `${this.$root.dataset.board}?page=${row.page + 1}`,
                  }),
            );
            return item;
          }),
        );
      } catch (error) {
        if (!(error instanceof HttpError)) throw error;
        if (now !== turn) return;
        this.problem = error.message;
        this.told = "";
        this.missing = null;
        this.$refs.hits.replaceChildren();
      }
    },
    async add() {
      clearTimeout(timer);
      const line = this.$refs.line.value.trim();
      if (line && (await this.send([{ do: "put-marking", line, ...(this.changing ? { id: this.changing } : {}) }])))
        this.leave();
    },
    async send(intents) {
      try {
        this.rules = (await post(`${location.pathname}edits/`, { intents })).rules;
        this.problem = "";
        undoable();
        this.lay();
        return true;
      } catch (error) {
        if (!(error instanceof HttpError)) throw error;
        this.problem = error.message;
        this.lay();
        return false;
      }
    },
  };
}

export function ruleLibrary() {
  return {
    kept: readState("library"),
    init() {
      shelf = this;
      this.lay();
    },
    lay() {
      this.$refs.list.replaceChildren(
        ...this.kept.map((line) => {
          const row = made("li", "kept", ""),
            use = made("button", "link truncate", line, { type: "button", title: line });
          use.addEventListener("click", () => page.send([{ do: "put-marking", line }]));
          row.append(
            use,
            tool("×", `Delete from library: ${line}`, () => this.keep(line, true)),
          );
          return row;
        }),
      );
    },
    async keep(line, forgotten = false) {
      this.kept = (await post(`${location.pathname}keep/`, { line, forgotten })).library;
      this.lay();
    },
  };
}
