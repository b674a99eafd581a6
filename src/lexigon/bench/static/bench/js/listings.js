// Listings: what each gathers, set up while its entries are in view; what bringing it up to date in its text would do.
import { element } from "./dom.js";
import { HttpError } from "./errors.js";
import { post, readState } from "./http.js";
import { ask, toast } from "./notice.js";
import { plural } from "./survey.js";
import { undoable } from "./steps.js";

const WAIT = 300;
const BETWEEN = [
  ["\t", "a tab"],
  [", ", "a comma"],
  [" ", "a space"],
  [" · ", "a dot"],
  [" – ", "a dash"],
  ["", "nothing"],
];
const NUMBERS = [
  ["after", "after the text"],
  ["before", "before the text"],
  ["none", "none"],
];
const ORDERS = [
  ["appearance", "in order of appearance"],
  ["alphabetical", "alphabetical"],
];
const TAKES = [
  ["all", "all text"],
  ["sentences", "first sentences"],
  ["words", "first words"],
];
const EXPLAINED = [
  ["no", "none"],
  ["sentence", "rest of the sentence"],
  ["mark", "text up to a mark"],
  ["paragraph", "rest of the paragraph"],
];
const PLAIN = {
  letters: false,
  run_in: false,
  continued: "",
  over: "job",
  number: "after",
  separator: "\t",
  order: "appearance",
  merged: false,
  ranges: false,
  sections: [],
  stories: [],
};
const whole = (one) => ({ ...PLAIN, ...one }); // what is as usual is not said
const blank = (choices) =>
  whole({
    id: `l${crypto.randomUUID().slice(0, 8)}`,
    name: "New listing",
    sources: choices.paragraphs.slice(0, 1).map(({ id }) => ({ style: id })),
  });

/** What an update would do, singly; those that an editor has changed ask which words are to stand. */
export function differenceRows(listing, decide) {
  return listing.differences.map((one) =>
    element(
      "li",
      { class: `difference ${one.asks ? "asks" : ""}` },
      element("span", { class: "words", text: one.mine || one.new || one.old }),
      element("span", { class: "sub", text: one.said }),
      one.new && one.new !== (one.mine || one.old) ? element("span", { class: "words new", text: `→ ${one.new}` }) : "",
      one.asks
        ? element(
            "span",
            { class: "choices" },
            element("button", {
              type: "button",
              class: "link",
              text: "Keep my text",
              click: () => decide({ mine: [one.entry] }),
            }),
            element("button", {
              type: "button",
              class: "link",
              text: one.what === "kept" ? "Remove" : "Use the new text",
              click: () => decide({ taken: [one.entry] }),
            }),
          )
        : "",
    ),
  );
}

/** How a listing stands, in words. */
export function stateOf(listing) {
  const asks = listing.differences.filter((one) => one.asks).length,
    waits = listing.differences.length - asks;
  if (!listing.stands) return "It is not in a story yet.";
  const where = listing.stands.label ? `It is on page ${listing.stands.label}` : "It is in a story";
  if (!listing.differences.length) return `${where}, up to date.`;
  return `${where}: ${[waits && plural(waits, "change"), asks && `${asks} to decide on`].filter(Boolean).join(", ")}.`;
}

/** Entries as they are gathered; `go` leads to one, or the address of the job of the publication that it stands in. */
export const entryRow = (one, go) =>
  element(
    "li",
    { class: `entry deep-${Math.min(one.level, 4)}` },
    element(
      "button",
      { type: "button", class: "go", title: one.words, click: () => (one.away ? location.assign(one.away) : go(one)) },
      element("span", { class: "truncate", text: one.words }),
      element("span", {
        class: "aside",
        text: one.count > 1 ? `${one.label} +${one.count - 1}` : one.label || (one.count ? "–" : ""),
      }),
    ),
  );

export function listings() {
  let timer = 0,
    turn = 0;
  return {
    all: readState("listings").map(whole),
    choices: readState("choices"),
    at: "",
    problem: "",
    started: false,
    get one() {
      return this.all.find(({ id }) => id === this.at);
    },
    get none() {
      return !this.all.length;
    },
    get state() {
      return this.one ? stateOf(this.one) : "";
    },
    get late() {
      return Boolean(this.one?.differences.some((one) => !one.asks));
    },
    get placed() {
      return Boolean(this.one?.stands);
    },
    get counted() {
      return this.one ? plural(this.one.rows.length, "entry", "entries") : "";
    },
    init() {
      this.choose(new URLSearchParams(location.search).get("listing") || this.all[0]?.id || "");
    },
    choose(id) {
      this.at = this.all.some((one) => one.id === id) ? id : this.all[0]?.id || "";
      this.problem = "";
      this.lay();
    },
    lay() {
      const { tabs, make, form, rows, differences } = this.$refs;
      tabs.replaceChildren(
        ...this.all.map((one) => {
          const tab = element("button", {
            type: "button",
            class: "chip",
            "aria-pressed": String(one.id === this.at),
            text: one.name,
            click: () => this.choose(one.id),
          });
          if (one.differences.length)
            tab.append(element("b", { class: "count", text: one.differences.length, title: "not up to date" }));
          return tab;
        }),
      );
      make.replaceChildren(
        element("option", { value: "", text: "Add listing…" }),
        ...this.choices.ready.map((one, n) => element("option", { value: String(n), text: one.name })),
        element("option", { value: "blank", text: "Custom listing" }),
      );
      form.replaceChildren(...(this.one ? this.fields(this.one) : []));
      rows.replaceChildren(
        ...(this.one?.rows || []).map((one) =>
          entryRow(one, ({ page }) => {
            if (page !== null) location.assign(`${this.$root.dataset.board}?page=${page + 1}`);
          }),
        ),
      );
      differences.replaceChildren(...(this.one ? differenceRows(this.one, (what) => this.change("update", what)) : []));
    },
    fields(one) {
      const set = (values, now = true) => {
        Object.assign(one, values);
        this.keep(now);
      };
      const picked = (options, value, change, label) => {
        const known = options.some(([key]) => key === value) ? options : [...options, [value, `“${value}”`]];
        return element(
          "select",
          { class: "field", "aria-label": label, change: (event) => change(event.target.value) },
          ...known.map(([key, word]) => element("option", { value: key, text: word, selected: key === value })),
        );
      };
      const labelled = (word, control, help = "") =>
        element("label", { class: "labelled roomy", title: help }, element("span", { text: word }), control);
      const check = (word, name) =>
        element(
          "label",
          { class: "check" },
          element("input", {
            type: "checkbox",
            checked: Boolean(one[name]),
            change: (event) => set({ [name]: event.target.checked }),
          }),
          word,
        );
      const marks = one.sources.some(({ of }) => of === "marks"); // an index is in the order of the language, of all that is marked
      const sections =
        this.choices.sections.length && !marks
          ? element(
              "fieldset",
              { class: "mt-3" },
              element("legend", { class: "sub mb-1", text: "Sections (none ticked: all)" }),
              element(
                "div",
                { class: "flex flex-wrap gap-4" },
                ...this.choices.sections.map((section) =>
                  element(
                    "label",
                    { class: "check" },
                    element("input", {
                      type: "checkbox",
                      checked: one.sections.includes(section.id),
                      change: (event) =>
                        set({
                          sections: event.target.checked
                            ? [...one.sections, section.id]
                            : one.sections.filter((id) => id !== section.id),
                        }),
                    }),
                    section.name,
                  ),
                ),
              ),
            )
          : "";
      return [
        element(
          "div",
          { class: "grid grid-cols-2 gap-x-5 gap-y-2" },
          labelled(
            "Name",
            element("input", {
              class: "field",
              value: one.name,
              maxlength: "80",
              "data-key": "name",
              input: (event) => set({ name: event.target.value }, false),
            }),
          ),
          marks
            ? element("span")
            : labelled(
                "Order",
                picked(ORDERS, one.order, (order) => set({ order }), "Order"),
              ),
          labelled(
            "Page number",
            picked(NUMBERS, one.number, (number) => set({ number }), "Page number"),
          ),
          labelled(
            "Separator",
            picked(BETWEEN, one.separator, (separator) => set({ separator }), "Separator between text and number"),
            "Separator: between text and page number; a tab stop is set in the style of the entries",
          ),
          marks ? "" : check("Combine equal entries, with all their pages", "merged"),
          check("Combine consecutive pages: 3–5", "ranges"),
          marks ? check("A heading for each letter", "letters") : "",
          marks ? check("Run-in: sub-entries follow in the same paragraph: knot, 3; nests, 5", "run_in") : "",
          marks && !one.run_in
            ? labelled(
                "Continued",
                element("input", {
                  class: "field",
                  value: one.continued,
                  maxlength: "80",
                  placeholder: "optional, for example: continued",
                  "data-key": "continued",
                  input: (event) => set({ continued: event.target.value.trim() }, false),
                }),
                "Continued: wording at the top of a column that continues the sub-entries of a term: knot (continued)",
              )
            : "",
        ),
        element("h3", { class: "mb-1 mt-4 font-semibold", text: "Gathered from" }),
        this.choices.publication
          ? labelled(
              "Scope",
              picked(
                [
                  ["job", "this job"],
                  ["publication", `all jobs of “${this.choices.publication}”`],
                ],
                one.over,
                (over) => set({ over }),
                "Scope",
              ),
            )
          : "",
        element("ul", { class: "sources" }, ...one.sources.map((source, n) => this.source(one, source, n, set))),
        marks
          ? ""
          : element("button", {
              type: "button",
              class: "link mt-2",
              text: "Add a style",
              click: () => set({ sources: [...one.sources, { style: this.choices.paragraphs[0].id }] }),
            }),
        sections,
        marks ? this.terms() : "",
      ];
    },
    source(one, source, n, set) {
      const change = (values) =>
        set({ sources: one.sources.map((other, at) => (at === n ? { ...other, ...values } : other)) });
      const group = (label, of, list) =>
        element(
          "optgroup",
          { label },
          ...list.map(({ id, name }) =>
            element("option", {
              value: `${of}/${id}`,
              text: name,
              selected: of === (source.of || "paragraphs") && id === source.style,
            }),
          ),
        );
      const take = source.take || "all";
      const count = element("input", {
        class: "field",
        inputmode: "numeric",
        value: String(source.count || 1),
        "aria-label": "Number of them",
        change: (event) => change({ count: Math.max(1, Math.min(10000, Math.round(Number(event.target.value)) || 1)) }),
      });
      count.hidden = take === "all";
      const explain = source.explain || "no";
      const mark = element("input", {
        class: "field",
        value: source.mark ?? ";",
        maxlength: "20",
        "aria-label": "Mark",
        title: "The mark that ends the explanation",
        change: (event) => change({ mark: event.target.value || ";" }),
      });
      mark.hidden = explain !== "mark";
      const explained =
        source.of !== "words"
          ? ""
          : element(
              "span",
              { class: "explained" },
              element(
                "select",
                {
                  class: "field",
                  "aria-label": "Explanation",
                  title: "Explanation: the text after the words that belongs to their entry, as in a glossary",
                  change: (event) => change({ explain: event.target.value }),
                },
                ...EXPLAINED.map(([key, word]) =>
                  element("option", { value: key, text: word, selected: key === explain }),
                ),
              ),
              mark,
            );
      const marks = source.of === "marks"; // terms have levels of their own, and are taken whole
      return element(
        "li",
        {},
        element(
          "select",
          {
            class: "field",
            "aria-label": "Style",
            change: (event) => {
              const [of, id] = event.target.value.split("/");
              change({ of, style: id });
            },
          },
          group("Paragraphs in", "paragraphs", this.choices.paragraphs),
          group("Words in", "words", this.choices.characters),
          group("Notes", "notes", this.choices.notes),
          group("Marked", "marks", [{ id: "marks", name: "index entries" }]),
        ),
        marks
          ? element("span")
          : element(
              "select",
              {
                class: "field",
                "aria-label": "Level",
                change: (event) => change({ level: Number(event.target.value) }),
              },
              ...[1, 2, 3, 4, 5, 6, 7, 8, 9].map((level) =>
                element("option", {
                  value: String(level),
                  text: `level ${level}`,
                  selected: level === (source.level || 1),
                }),
              ),
            ),
        marks
          ? element("span")
          : element(
              "span",
              { class: "flex gap-1" },
              element(
                "select",
                { class: "field", "aria-label": "Extent", change: (event) => change({ take: event.target.value }) },
                ...TAKES.map(([key, word]) => element("option", { value: key, text: word, selected: key === take })),
              ),
              count,
            ),
        element(
          "select",
          {
            class: "field",
            "aria-label": "Entry style",
            title: "Entry style: the style of its entries",
            change: (event) => change({ entry: event.target.value }),
          },
          element("option", { value: "", text: marks ? "set as an index" : "set as contents" }),
          ...this.choices.paragraphs.map(({ id, name }) =>
            element("option", { value: id, text: `set in ${name}`, selected: id === source.entry }),
          ),
        ),
        element("button", {
          type: "button",
          class: "quiet",
          text: "×",
          title: "Remove this style",
          "aria-label": "Remove this style",
          disabled: one.sources.length === 1,
          click: () => set({ sources: one.sources.filter((_, at) => at !== n) }),
        }),
        explained,
      );
    },
    /** The terms of the index: their words, what each stands under, is sorted as, leads to. */
    terms() {
      const all = this.choices.terms,
        names = new Map(all.map(({ id, name }) => [id, name]));
      const list = element(
        "datalist",
        { id: "index-terms" },
        ...all.map(({ name }) => element("option", { value: name })),
      );
      const row = (one) => {
        const said = {
          id: one.id || null,
          name: one.name || "",
          under: names.get(one.parent) || "",
          sort: one.sort || "",
          see: (one.see || []).map((id) => names.get(id)),
          also: (one.also || []).map((id) => names.get(id)),
        };
        const keep = () => {
          if (said.name.trim()) this.send("term/", said);
        };
        const field = (label, name, many = false) =>
          element("input", {
            class: "field",
            "aria-label": label,
            placeholder: label.toLowerCase(),
            list: name === "sort" || name === "name" ? null : "index-terms",
            value: many ? said[name].join("; ") : said[name],
            change: (event) => {
              said[name] = many
                ? event.target.value
                    .split(";")
                    .map((word) => word.trim())
                    .filter(Boolean)
                : event.target.value;
              if (one.id || name === "name") keep();
            },
          });
        return element(
          "li",
          {},
          field("Term", "name"),
          field("Under", "under"),
          field("Sorted as", "sort"),
          field("See", "see", true),
          field("See also", "also", true),
          element("button", {
            type: "button",
            class: "quiet",
            text: "×",
            title: "Delete term and its index entries",
            "aria-label": `Delete ${said.name}`,
            disabled: !one.id,
            click: () => this.send("term/", { id: one.id, gone: true }),
          }),
        );
      };
      return element(
        "div",
        {},
        element("h3", { class: "mb-1 mt-4 font-semibold", text: "Terms" }),
        element("p", {
          class: "sub mb-2",
          text: "To mark text, select it on the board and use Insert…, index entry. A term without entries can refer to others with “See”.",
        }),
        element("button", {
          type: "button",
          class: "link mb-2",
          text: "Mark from a list of words…",
          click: () => this.markByList(),
        }),
        list,
        element("ul", { class: "terms" }, ...[...all].sort((a, b) => a.name.localeCompare(b.name)).map(row), row({})),
      );
    },
    /** Words wherever they stand, each for its term. */
    async markByList() {
      const words = Object.assign(document.createElement("textarea"), {
        className: "field",
        rows: 9,
        placeholder: "dunlin\ndunlins = dunlin\ndunlin nests = dunlin > nests",
      });
      words.setAttribute("aria-label", "Words to be marked");
      const before = this.counted;
      const done = await ask(
        "Mark from a list",
        "One entry on each line, marked wherever it occurs. “dunlins = dunlin” lists it under another word, “dunlin nests = dunlin > nests” as a sub-entry.",
        "Mark",
        [words],
        async () => {
          if (!words.value.trim()) throw new Error("Type the words to mark, one on each line.");
          await this.send("term/", { words: words.value }, true);
        },
      );
      if (done && before !== this.counted) toast(`The index has ${this.counted} now.`);
    },
    add() {
      const { make } = this.$refs,
        which = make.value;
      if (!which) return;
      const one = which === "blank" ? blank(this.choices) : whole(this.choices.ready[Number(which)]);
      const names = this.all.map(({ name }) => name);
      for (let n = 2, { name } = one; names.includes(one.name); n += 1) one.name = `${name} ${n}`;
      this.at = one.id;
      this.send("set-up/", { listing: one });
    },
    keep(now) {
      clearTimeout(timer);
      const { rows: _, stands: _s, differences: _d, ...listing } = this.one;
      const go = () => this.send("set-up/", { listing });
      if (now) go();
      else timer = setTimeout(go, WAIT);
    },
    change(what, more = {}) {
      return this.send("change/", { listing: this.at, what, ...more });
    },
    update() {
      this.change("update");
    },
    takeOut() {
      this.change("delete");
    },
    remove() {
      this.change("delete");
    },
    async send(name, asked, dialog = false) {
      const now = (turn += 1);
      try {
        const answer = await post(`${location.pathname}${name}`, asked);
        if (now !== turn) return;
        const typing =
          /** @type {HTMLElement | null} */ (document.activeElement)?.dataset?.key === "name"
            ? /** @type {HTMLInputElement} */ (document.activeElement)
            : null;
        const typed = typing && { value: typing.value, at: typing.selectionStart };
        Object.assign(this, { all: answer.listings.map(whole), choices: answer.choices, problem: "" });
        undoable();
        this.choose(this.at);
        const name_ = /** @type {HTMLInputElement | null} */ (this.$refs.form.querySelector("[data-key=name]"));
        if (typed && name_) {
          name_.value = typed.value;
          name_.focus();
          name_.setSelectionRange(typed.at, typed.at);
        }
      } catch (error) {
        if (dialog || !(error instanceof HttpError)) throw error;
        this.problem = error.message;
      }
    },
  };
}
