// Handing in a manuscript: read on the server, shown as recognised, poured when the user says so.
import { HttpError, get, post, upload } from "./http.js";

const HEADINGS = ["part", "chapter", "section", "title"];
const plural = (count, word) => `${count.toLocaleString("en-GB")} ${word}${count === 1 ? "" : "s"}`;

export function manuscript() {
  let file = null;
  return {
    problem: "", busy: false, busyWord: "", found: false, waiting: true, hover: "", heading: "", facts: "", styles: [], counted: [], doubts: [], doubtful: "", sample: [], headings: [], offered: [], uses: [], targets: [], mapping: {}, told: [], restyled: {}, replaces: false, id: 0, long: false, done: null,
    over() { this.hover = "over"; },
    out() { this.hover = ""; },
    choose(event) { event.target.querySelector("input").click(); },
    chosen(event) { if (event.target.files[0]) this.take(event.target.files[0]); event.target.value = ""; },
    dropped(event) { this.hover = ""; if (event.dataTransfer.files[0]) this.take(event.dataTransfer.files[0]); },
    async take(chosen) { file = chosen; this.restyled = {}; this.mapping = {}; await this.look(); },
    again() { this.look(); },
    /** A long text is read and poured in the background: how far it is, until it is done. */
    async followed(answer, until) {
      this.id = answer.id || this.id;
      this.long = ["waiting", "running"].includes(answer.state);
      while (["waiting", "running"].includes(answer.state)) {
        this.done = answer.total ? answer.done / answer.total : null;
        await new Promise((wait) => setTimeout(wait, 700));
        answer = await get(`${location.pathname}${this.id}/`);
      }
      this.long = false;
      this.done = null;
      if (answer.state !== until) throw new HttpError(answer.error || "It was stopped. If its pages are there already, undo takes them back.", 400);
      return answer;
    },
    async stop() { await post(`${location.pathname}${this.id}/stop/`, {}); },
    get part() { return this.done; },
    async look() {
      this.problem = "";
      this.busy = true;
      this.busyWord = `Reading ${file.name} …`;
      const form = new FormData();
      form.append("file", file);
      form.append("quotes", this.$refs.quotes.checked ? "1" : "");
      form.append("mapping", JSON.stringify(this.mapping));
      try {
        const answer = await this.followed(await upload(this.$root.dataset.look, form), "read");
        this.id = answer.id;
        this.heading = answer.name;
        this.facts = [plural(answer.words, "word"), answer.encoding, answer.joined ? `${plural(answer.joined, "wrapped line")} joined` : "",
          answer.emphasis ? `${plural(answer.emphasis, "emphasis").replace("emphasiss", "emphases")}` : "", answer.dropped ? `${plural(answer.dropped, "control character")} left out` : ""].filter(Boolean).join(" · ");
        this.doubtful = answer.doubtful ? plural(answer.doubtful, "doubtful place") : "";
        this.doubts = answer.doubts || [];
        this.counted = answer.styles;
        this.headings = answer.headings;
        this.offered = answer.offered;
        this.told = answer.told || [];
        this.uses = answer.uses || [];
        this.targets = answer.targets || [];
        this.$nextTick(() => { this.layHeadings(); this.layUses(); });
        this.sample = answer.sample.map((p, n) => ({ ...p, n }));
        this.restyle();
        this.replaces = Number(this.$root.dataset.words) > 0;
        this.found = true;
        this.waiting = false;
      } catch (error) {
        if (!(error instanceof HttpError)) throw error;
        this.problem = `${file.name}: ${error.message}`;
        this.dismissFound();
      }
      this.busy = false;
    },
    get headingWord() { return plural(this.headings.length, "heading"); },
    /** Each heading that was found, with what else it may be. */
    layHeadings() {
      this.$refs.headings.replaceChildren(...this.headings.map(({ n, style, text }) => {
        const row = document.createElement("li");
        row.className = "grid grid-cols-[minmax(0,1fr)_150px] items-center gap-3 py-0.5";
        const words = document.createElement("span");
        Object.assign(words, { className: "truncate", textContent: text, title: text });
        const choice = document.createElement("select");
        choice.className = "field";
        choice.setAttribute("aria-label", `Style of “${text}”`);
        choice.append(...this.offered.map(({ id, name }) => new Option(name, id)));
        choice.value = this.restyled[n] || style; // what was chosen stays when the marks are set anew
        choice.addEventListener("change", () => { if (choice.value === style) delete this.restyled[n]; else this.restyled[n] = choice.value; this.restyle(); });
        row.append(words, choice);
        return row;
      }));
    },
    /** Each style of the document with its own words, what it becomes, and why. */
    layUses() {
      this.$refs.uses.replaceChildren(...this.uses.map((use) => {
        const row = document.createElement("div");
        row.className = "use";
        const part = (tag, words, name) => Object.assign(document.createElement(tag), { textContent: words, className: name, title: words });
        const choice = document.createElement("select");
        choice.className = "field";
        choice.setAttribute("aria-label", `“${use.name}” becomes`);
        choice.append(...this.targets.map(({ id, name }) => new Option(name, id)));
        choice.value = use.target;
        choice.addEventListener("change", () => { this.mapping[use.name] = choice.value; this.restyled = {}; this.look(); });
        row.append(part("b", use.name, "truncate"), part("span", plural(use.count, "paragraph"), "aside"), part("span", use.sample || "…", "truncate sample"), choice, part("span", this.mapping[use.name] ? "chosen by you" : use.why, "aside why"));
        return row;
      }));
    },
    /** How many of each style, and how it begins, as the headings were chosen. */
    restyle() {
      const counts = new Map(this.counted.map((style) => [style.id, { ...style }]));
      for (const { n, style } of this.headings) {
        const id = this.restyled[n] || style;
        if (counts.has(style)) counts.get(style).count -= 1;
        if (!counts.has(id)) counts.set(id, { id, name: this.offered.find((one) => one.id === id)?.name || id, count: 0 });
        counts.get(id).count += 1;
      }
      this.styles = [...counts.values()].filter(({ count }) => count > 0);
      const found = new Map(this.headings.map(({ n, style }) => [n, style]));
      this.sample = this.sample.map((p) => {
        if (!found.has(p.n)) return { ...p, tone: HEADINGS.includes(p.id) ? "heading" : "" };
        const id = this.restyled[p.n] || found.get(p.n);
        return { ...p, id, style: this.offered.find((one) => one.id === id)?.name || p.style, tone: HEADINGS.includes(id) ? "heading" : "" };
      });
    },
    dismissFound() { this.found = false; this.waiting = true; },
    dismiss() { this.dismissFound(); },
    async pour() {
      this.busy = true;
      this.busyWord = "Composing the book …";
      try {
        const answer = await this.followed(await post(`${location.pathname}${this.id}/pour/`, { quotes: this.$refs.quotes.checked, styles: this.restyled }), "ready");
        location.assign(answer.goto);
      } catch (error) {
        if (!(error instanceof HttpError)) throw error;
        this.problem = error.message;
        this.busy = false;
      }
    },
  };
}
