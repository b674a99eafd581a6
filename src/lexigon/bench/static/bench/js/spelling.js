// Spelling of the whole job: unknown words, the likeliest mistakes first; words that stand twice; words spelled in two ways.
import { counted } from "./numerals.js";
import { HttpError } from "./errors.js";
import { get, post, upload } from "./http.js";
import { plural } from "./survey.js";
import { undoable } from "./steps.js";
import { cancellable } from "./waiting.js";

function made(tag, name, text, more = {}) {
  return Object.assign(document.createElement(tag), { className: name, textContent: text, ...more });
}

let page = null,
  shelf = null;

export function spelling() {
  return {
    tab: "unknown",
    told: "Checking…",
    problem: "",
    unknown: [],
    doubled: [],
    variants: [],
    foreign: [],
    learned: [],
    mine: [],
    ticked: new Set(),
    looked: false,
    init() {
      page = this;
      this.look();
    },
    /** Look the job through; without `lay` the list in view stays as it is, so that nothing moves under the pointer. */
    async look(lay = true) {
      try {
        const answer = await cancellable("Checking the spelling…", (signal) =>
          get(`${location.pathname}look/`, signal),
        );
        if (!answer) {
          this.told = "Not checked. Open the page again to check the spelling.";
          return;
        }
        Object.assign(this, {
          unknown: answer.unknown,
          doubled: answer.doubled,
          variants: answer.variants,
          foreign: answer.foreign,
          learned: answer.learned,
          mine: answer.mine,
          ticked: new Set(answer.unknown.map(({ word }) => word).filter((word) => !lay && this.ticked.has(word))),
          looked: true,
        });
        const apart = answer.unchecked.map(
          ([language, count]) => `${plural(count, "word")} in ${language} not checked: there is no dictionary`,
        );
        apart.push(
          ...answer.foreign.map((one) => `${plural(one.words, `${one.name} word`)} without that language setting`),
        );
        this.told = [
          `${plural(answer.words, "word")} checked`,
          `${counted(answer.count)} unknown${answer.count > answer.unknown.length ? `, the first ${answer.unknown.length} listed` : ""}`,
          ...apart,
        ].join("; ");
        shelf?.lay();
        if (lay) this.lay();
      } catch (error) {
        if (!(error instanceof HttpError)) throw error;
        this.problem = error.message;
      }
    },
    showUnknown() {
      this.tab = "unknown";
      this.lay();
    },
    showDoubled() {
      this.tab = "doubled";
      this.lay();
    },
    showVariants() {
      this.tab = "variants";
      this.lay();
    },
    showForeign() {
      this.tab = "foreign";
      this.lay();
    },
    get clean() {
      return this.looked && !this[this.tab].length;
    },
    get tickedWord() {
      return plural(this.ticked.size, "word");
    },
    lay() {
      const rows = {
        unknown: () => this.unknown.map((one) => this.unknownRow(one)),
        doubled: () => this.doubled.map((one) => this.doubledRow(one)),
        variants: () => this.variants.map((one) => this.variantRow(one)),
        foreign: () => this.foreign.map((one) => this.foreignRow(one)),
      };
      this.$refs.list.replaceChildren(...rows[this.tab]());
    },
    context(at) {
      const line = made("p", "words", "");
      line.append(made("span", "", at.before), made("mark", "", at.text), made("span", "", at.behind));
      if (at.page !== null)
        line.append(
          made("a", "aside link ml-2", `page ${at.label || at.page + 1}`, {
            href: `${this.$root.dataset.board}?page=${at.page + 1}`,
          }),
        );
      return line;
    },
    unknownRow(one) {
      const row = made("li", "unknown", ""),
        { forms } = one,
        head = made("div", "unknown-head", ""),
        box = made("input", "", "", { type: "checkbox", checked: this.ticked.has(one.word) });
      row.dataset.words = forms.join("\n");
      box.setAttribute("aria-label", `Select ${one.word}`);
      box.addEventListener("change", () => {
        if (box.checked) this.ticked.add(one.word);
        else this.ticked.delete(one.word);
        this.ticked = new Set(this.ticked);
      });
      const more = made("div", "unknown-more", "", { hidden: true });
      const open = made("button", "word", one.word, { type: "button", title: "Occurrences and suggestions" });
      open.setAttribute("aria-expanded", "false");
      open.addEventListener("click", () => {
        more.hidden = !more.hidden;
        open.setAttribute("aria-expanded", String(!more.hidden));
        if (!more.hidden && !more.childElementCount) this.fill(more, one);
      });
      head.append(
        box,
        open,
        made(
          "span",
          "aside",
          [plural(one.count, "time"), ...(forms.length > 1 ? [`also ${forms.slice(1).join(", ")}`] : [])].join(", "),
        ),
      );
      if (one.near) head.append(this.putButton(one, one.near.replace("'", "’")));
      const learn = made("button", "link ml-auto", "learn", { type: "button", title: "Correct in this job" });
      learn.setAttribute("aria-label", `Learn ${one.word} for this job`);
      learn.addEventListener("click", () => this.learn(forms, false));
      head.append(learn);
      row.append(head, more);
      return row;
    },
    putButton(one, word) {
      const button = made("button", "put", word, {
        type: "button",
        title: `Replace with “${word}”, ${one.count === 1 ? "there" : `in all ${one.count} places`}`,
      });
      button.setAttribute("aria-label", `Replace ${one.word} by ${word}`);
      button.addEventListener("click", () => this.correct(one.forms, word));
      return button;
    },
    async fill(more, one) {
      const puts = made("div", "puts", "");
      const own = made("input", "field w-40", "", { placeholder: "other spelling", maxLength: 80 });
      own.setAttribute("aria-label", `Put in the place of ${one.word}`);
      own.addEventListener("keydown", (event) => {
        if (event.key === "Enter" && own.value.trim()) this.correct(one.forms, own.value.trim());
      });
      more.append(puts, ...one.places.map((at) => this.context(at)));
      const { words } = await get(
        `${location.pathname}suggested/?${new URLSearchParams({ word: one.word, language: one.language })}`,
      );
      puts.append(...words.filter((word) => word !== one.near).map((word) => this.putButton(one, word)), own);
    },
    doubledRow(one) {
      const row = made("li", "hit", "");
      row.append(this.context(one));
      return row;
    },
    variantRow(one) {
      const row = made("li", "variant", ""),
        words = one.spellings.map(([word]) => word);
      row.dataset.words = words.join("\n");
      row.append(made("span", "aside", one.kind));
      for (const [word, count] of one.spellings) {
        const use = made("button", "put", `${word} ${count}`, {
          type: "button",
          title: `Spell it “${word}” everywhere`,
        });
        use.setAttribute("aria-label", `Spell it ${word} everywhere`);
        use.addEventListener("click", () =>
          this.correct(
            words.filter((other) => other !== word),
            word,
          ),
        );
        row.append(use);
      }
      return row;
    },
    /** Passages in a language that they are not set in: one row for each language, with a button that sets them all. */
    foreignRow(one) {
      const row = made("li", "unknown", ""),
        head = made("div", "unknown-head", "");
      const use = made("button", "put ml-auto", `Set as ${one.name}`, {
        type: "button",
        title: `Set as ${one.name}: hyphenated and checked as such from now on`,
      });
      use.addEventListener("click", () =>
        this.act(
          "language",
          { language: one.language },
          "",
          ({ count }) => `${plural(count, "passage")} set as ${one.name}.`,
        ),
      );
      head.append(
        made("b", "", `${counted(one.words)} ${one.name} word${one.words === 1 ? "" : "s"}`),
        made(
          "span",
          "aside",
          `in ${plural(one.count, "passage")}${one.count > one.places.length ? `, of which ${one.places.length} are shown` : ""}`,
        ),
        use,
      );
      row.append(head, ...one.places.map((at) => this.context(at)));
      return row;
    },
    /** What is done to words stays in its row, which says so: the list is laid anew when somebody asks for it. */
    settle(words, said) {
      const wanted = new Set(words);
      for (const row of [...this.$refs.list.children].filter(({ dataset }) =>
        dataset.words?.split("\n").some((word) => wanted.has(word)),
      )) {
        const height = row.getBoundingClientRect().height;
        row.replaceChildren(
          made("span", "text-muted line-through", row.dataset.words.split("\n")[0]),
          made("span", "aside ml-3", said),
        );
        row.setAttribute("aria-disabled", "true");
        row.style.minHeight = `${height}px`;
      }
    },
    async act(what, asked, said, done) {
      this.problem = "";
      try {
        const answer = await post(`${location.pathname}${what}/`, asked);
        undoable();
        if (said) this.settle(asked.words, said);
        await this.look(!said);
        if (done) this.told = `${done(answer)} ${this.told}`;
      } catch (error) {
        if (!(error instanceof HttpError)) throw error;
        this.problem = error.message;
      }
    },
    /** The words of the ticked rows in all their forms. */
    get tickedForms() {
      return this.unknown.filter(({ word }) => this.ticked.has(word)).flatMap(({ forms }) => forms);
    },
    learn(words, mine) {
      return this.act("learn", { words, mine }, mine ? "learned for all your jobs" : "learned for this job");
    },
    learnHere() {
      return this.learn(this.tickedForms, false);
    },
    learnMine() {
      return this.learn(this.tickedForms, true);
    },
    forget(word) {
      return this.act("learn", { words: [word], forgotten: true }, "");
    },
    correct(words, put) {
      return this.act(
        "correct",
        { words, put },
        `is now ${put}`,
        ({ count }) => `${plural(count, "place")} corrected.`,
      );
    },
    gather() {
      return this.act(
        "correct",
        { words: this.tickedForms, style: this.$refs.style.value },
        "",
        ({ count }) => `${plural(count, "place")} set in that style.`,
      );
    },
  };
}

/** What was learned: in this job, and by whoever looks. */
export function learnedWords() {
  return {
    init() {
      shelf = this;
    },
    lay() {
      const row = (word, whose, forget) => {
        const item = made("li", "kept", ""),
          button = made("button", "quiet", "×", { type: "button" });
        button.setAttribute("aria-label", `Forget ${word}`);
        button.addEventListener("click", forget);
        item.append(made("span", "truncate", word), made("span", "aside ml-auto", whose), ...(forget ? [button] : []));
        return item;
      };
      this.$refs.list.replaceChildren(
        ...page.mine.map(({ word }) => row(word, "yours", () => page.forget(word))),
        ...page.learned.map(({ word, id }) => row(word, "this job", () => page.act("forget", { id }))),
      );
    },
  };
}

export function dictionaries() {
  return {
    problem: "",
    async add(event) {
      const form = new FormData();
      for (const file of event.target.files) form.append("file", file);
      form.append("language", this.$refs.language.value.trim());
      event.target.value = "";
      await this.send(form);
    },
    remove(event) {
      const form = new FormData();
      form.append("language", event.target.dataset.language);
      form.append("remove", "1");
      return this.send(form);
    },
    async send(form) {
      try {
        await upload(`${location.pathname}dictionary/`, form);
        location.reload();
      } catch (error) {
        if (!(error instanceof HttpError)) throw error;
        this.problem = error.message;
      }
    },
  };
}
