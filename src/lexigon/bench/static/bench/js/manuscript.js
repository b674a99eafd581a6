// Handing in a manuscript: read on the server, shown as recognised, poured when the user says so.
import { cancellable } from "./waiting.js";
import { HttpError } from "./errors.js";
import { get, post, readState, upload } from "./http.js";
import { NEW, layFound, layParts, layUses, plural } from "./survey.js";
import { layHunks, toldOf } from "./versions.js";

const HEADINGS = ["part", "chapter", "section", "subsection", "heading5", "heading6", "title"];

export function manuscript() {
  let file = null;
  return {
    problem: "",
    styleProblem: "",
    useStyle: null,
    savedBy: "",
    busy: false,
    busyWord: "",
    found: false,
    waiting: true,
    hover: "",
    heading: "",
    facts: "",
    styles: [],
    counted: [],
    doubts: [],
    doubtful: "",
    sample: [],
    headings: [],
    offered: [],
    uses: [],
    targets: [],
    mapping: {},
    cleaned: {},
    cleanUps: [],
    before: null,
    told: [],
    stays: [],
    facets: [],
    houses: readState("houses"),
    house: "",
    houseName: "",
    houseSaid: "",
    restyled: {},
    looking: false,
    lookAgain: false,
    comparing: false,
    hunks: [],
    ticked: new Set(),
    differing: 0,
    hunkTold: "",
    taken: 0,
    revision: 0,
    id: 0,
    long: false,
    done: null,
    over() {
      this.hover = "over";
    },
    out() {
      this.hover = "";
    },
    choose(event) {
      event.target.querySelector("input").click();
    },
    chosen(event) {
      if (event.target.files[0]) this.take(event.target.files[0]);
      event.target.value = "";
    },
    dropped(event) {
      this.hover = "";
      if (event.dataTransfer.files[0]) this.take(event.dataTransfer.files[0]);
    },
    async take(chosen) {
      file = chosen;
      Object.assign(this, { restyled: {}, mapping: {}, cleaned: {}, house: "", id: 0 });
      await this.look();
    },
    trySample(event) {
      return this.take({ name: event.target.dataset.sample, sample: true });
    },
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
      if (answer.state !== until)
        throw new HttpError(answer.error || "Stopped. If pages were already added, undo removes them.", 400);
      return answer;
    },
    async stop() {
      await post(`${location.pathname}${this.id}/stop/`, {});
    },
    get part() {
      return this.done;
    },
    /** What of the text before stays when this one is poured in its place. */
    get staying() {
      return `${this.stays.slice(0, -1).join(", ")}${this.stays.length > 1 ? " and " : ""}${this.stays.at(-1) ?? ""} in place; sections begin where their text does`;
    },
    /** Have it looked through as it is chosen now; what is chosen meanwhile is looked through behind that. */
    async look() {
      if (this.looking) {
        this.lookAgain = true;
        return;
      }
      this.looking = true;
      do {
        this.lookAgain = false;
        await this.looked();
      } while (this.lookAgain);
      this.looking = false;
    },
    async looked() {
      this.problem = "";
      this.busy = true;
      this.busyWord = `Reading ${file.name} …`;
      const form = new FormData();
      if (this.id && this.found) form.append("again", String(this.id));
      else if (file.sample) form.append("sample", file.name);
      else form.append("file", file); // it is there already: only the choices are others
      form.append("mapping", JSON.stringify(this.mapping));
      form.append("cleaned", JSON.stringify(this.cleaned));
      try {
        const first = await cancellable(this.busyWord, (signal) => upload(this.$root.dataset.look, form, signal));
        if (!first) {
          this.busy = false;
          return;
        }
        const answer = await this.followed(first, "read");
        if (!this.found)
          Object.assign(this, {
            mapping: { ...answer.mapping },
            cleaned: { ...answer.cleaned },
            restyled: { ...answer.restyled },
          }); // as the version before was taken in
        this.savedBy = answer.saved || "";
        this.id = answer.id;
        this.heading = answer.name;
        this.facts = [
          plural(answer.words, "word"),
          answer.encoding,
          answer.joined ? `${plural(answer.joined, "wrapped line")} joined` : "",
          answer.emphasis ? `${plural(answer.emphasis, "emphasis").replace("emphasiss", "emphases")}` : "",
          answer.dropped ? `${plural(answer.dropped, "control character")} left out` : "",
        ]
          .filter(Boolean)
          .join(" · ");
        this.doubtful = answer.doubtful ? plural(answer.doubtful, "doubtful case") : "";
        this.doubts = answer.doubts || [];
        this.counted = answer.styles;
        this.headings = answer.headings;
        this.offered = answer.offered;
        this.told = answer.told || [];
        this.stays = answer.stays || [];
        this.uses = answer.uses || [];
        this.targets = answer.targets || [];
        this.cleanUps = answer.found || [];
        this.before = answer.before;
        this.facets = [
          answer.longest?.[0]
            ? `The longest paragraph has ${plural(answer.longest[0], "word")}: ${answer.longest[1]}`
            : "",
          ...(answer.foreign || []).map(
            ([language, words, begins]) => `${plural(words, "word")} in ${language}: ${begins}`,
          ),
          ...(answer.lacking || []).map(
            ({ sign, name, count, about }) =>
              `No font here has ${sign} (${name}), ${count === 1 ? "once" : `${count} times`}: … ${about} …`,
          ),
        ].filter(Boolean);
        this.$nextTick(() => {
          this.lay();
          this.layHouses();
        });
        this.sample = answer.sample.map((p, n) => ({ ...p, n }));
        this.restyle();
        this.comparing = false;
        this.found = true;
        this.waiting = false;
      } catch (error) {
        if (!(error instanceof HttpError)) throw error;
        this.problem = `${file.name}: ${error.message}`;
        this.dismissFound();
      }
      this.busy = false;
    },
    get headingWord() {
      return plural(this.headings.length, "heading");
    },
    /** The rows with their choices. */
    lay() {
      layUses(this.$refs.uses, this.uses, this.targets, this.mapping, (name, style) =>
        this.styleOr(style, name, (id) => {
          this.mapping[name] = id;
          this.restyled = {};
          this.look();
        }),
      );
      layFound(this.$refs.found, this.cleanUps, (id, on) => {
        this.cleaned[id] = on;
        this.look();
      });
      layParts(this.$refs.headings, this.headings, this.before, this.offered, this.restyled, (n, style) =>
        this.styleOr(style, "", (id) => {
          if (id === this.headings.find((one) => one.n === n).style) delete this.restyled[n];
          else this.restyled[n] = id; // what was chosen stays when clean-ups are switched
          this.restyle();
          if (style === NEW) this.lay();
        }),
      );
    },
    /** Use a style; a new one is asked for first, under the name that the document has for it. */
    styleOr(style, name, use) {
      if (style !== NEW) {
        use(style);
        return;
      }
      this.useStyle = use;
      this.styleProblem = "";
      this.$refs.styleName.value = name;
      this.$refs.styleBase.replaceChildren(
        ...this.targets.filter(({ id }) => id !== "-").map(({ id, name: word }) => new Option(word, id)),
      );
      this.$refs.styleBase.value = this.uses.find((one) => one.name === name)?.target || "body";
      this.$refs.styleLevel.value = "0";
      this.$refs.newStyle.showModal();
      this.$refs.styleName.select();
    },
    async makeStyle(event) {
      event.preventDefault();
      const asked = {
        name: this.$refs.styleName.value.trim(),
        based_on: this.$refs.styleBase.value,
        level: Number(this.$refs.styleLevel.value),
      };
      try {
        const answer = await post(`${location.pathname}style/`, asked);
        this.targets = answer.targets;
        this.offered = [...this.offered, answer.targets.find(({ id }) => id === answer.id)];
        this.$refs.newStyle.close();
        this.useStyle(answer.id);
      } catch (error) {
        if (!(error instanceof HttpError)) throw error;
        this.styleProblem = error.message;
      }
    },
    closeStyle() {
      this.$refs.newStyle.close();
    },
    /** Take this manuscript in as those of a house were. */
    async byHouse(event) {
      this.house = event.target.value;
      const found = this.houses.find(({ name }) => name === this.house);
      Object.assign(this, {
        mapping: { ...found?.mapping },
        cleaned: { ...found?.cleaned },
        restyled: {},
        houseName: this.house,
      });
      await this.look();
    },
    get savedWords() {
      return this.savedBy ? `With the choices made for “${this.savedBy}”.` : "";
    },
    /** Forget what was chosen for the version before: everything is guessed anew. */
    async startAfresh() {
      Object.assign(this, { mapping: {}, cleaned: {}, restyled: {}, house: "" });
      await this.look();
    },
    async keepHouse(forgotten = false) {
      const name = (forgotten ? this.house : this.houseName).trim();
      this.houseSaid = "";
      try {
        const said = {
          name,
          forgotten,
          mapping: Object.fromEntries(this.uses.map((use) => [use.name, use.target])),
          cleaned: Object.fromEntries(this.cleanUps.map((one) => [one.id, one.on])),
        };
        this.houses = (await post(`${location.pathname}houses/`, said)).houses;
        this.house = forgotten ? "" : name;
        this.houseSaid = forgotten
          ? `“${name}” is forgotten.`
          : `Kept. The next manuscript of “${name}” can be taken in the same way.`;
        this.layHouses();
      } catch (error) {
        if (!(error instanceof HttpError)) throw error;
        this.houseSaid = error.message;
      }
    },
    keepThis() {
      return this.keepHouse();
    },
    forgetHouse() {
      return this.keepHouse(true);
    },
    layHouses() {
      this.$refs.house.replaceChildren(
        new Option("none (guess)", ""),
        ...this.houses.map(({ name }) => new Option(name, name)),
      );
      this.$refs.house.value = this.house;
    },
    setHouseName(event) {
      this.houseName = event.target.value;
    },
    get namedHouse() {
      return Boolean(this.houseName.trim());
    },
    /** How many of each style, and how it begins, as the headings were chosen. */
    restyle() {
      const counts = new Map(this.counted.map((style) => [style.id, { ...style }]));
      for (const { n, style } of this.headings) {
        const id = this.restyled[n] || style;
        if (counts.has(style)) counts.get(style).count -= 1;
        if (!counts.has(id))
          counts.set(id, { id, name: this.offered.find((one) => one.id === id)?.name || id, count: 0 });
        counts.get(id).count += 1;
      }
      this.styles = [...counts.values()].filter(({ count }) => count > 0);
      const found = new Map(this.headings.map(({ n, style }) => [n, style]));
      this.sample = this.sample.map((p) => {
        if (!found.has(p.n)) return { ...p, tone: HEADINGS.includes(p.id) ? "heading" : "" };
        const id = this.restyled[p.n] || found.get(p.n);
        return {
          ...p,
          id,
          style: this.offered.find((one) => one.id === id)?.name || p.style,
          tone: HEADINGS.includes(id) ? "heading" : "",
        };
      });
    },
    dismissFound() {
      this.found = false;
      this.waiting = true;
      this.comparing = false;
    },
    /** What differs from the text that is in the job. */
    async compare() {
      this.problem = "";
      this.busy = true;
      this.busyWord = "Comparing…";
      try {
        const answer = await cancellable("Comparing the two versions…", (signal) =>
          post(`${location.pathname}${this.id}/compare/`, { styles: this.restyled }, signal),
        );
        if (!answer) {
          this.busy = false;
          return;
        }
        Object.assign(this, {
          hunks: answer.hunks,
          differing: answer.count,
          revision: answer.revision,
          hunkTold: toldOf(answer),
          comparing: true,
        });
        this.tickUsual();
        this.$nextTick(() => this.$refs.hunkHead.scrollIntoView({ block: "start" }));
      } catch (error) {
        if (!(error instanceof HttpError)) throw error;
        this.problem = error.message;
      }
      this.busy = false;
    },
    layHunks() {
      layHunks(this.$refs.hunks, this.hunks, this.ticked, () => {
        this.taken = this.ticked.size;
      });
      this.taken = this.ticked.size;
    },
    tick(which) {
      this.ticked = new Set(which);
      this.$nextTick(() => this.layHunks());
    },
    tickUsual() {
      this.tick(this.hunks.filter((one) => one.usual).map((one) => one.n));
    },
    tickAll() {
      this.tick(Array.from({ length: this.differing }, (_, n) => n));
    },
    tickNone() {
      this.tick([]);
    },
    get takeWord() {
      return this.taken ? `Take over ${plural(this.taken, "change")}` : "Take over nothing and remember this version";
    },
    async takeOver() {
      this.busy = true;
      this.busyWord = "Applying changes…";
      try {
        const answer = await post(`${location.pathname}${this.id}/take/`, {
          numbers: [...this.ticked],
          revision: this.revision,
        });
        location.assign(answer.goto);
      } catch (error) {
        if (!(error instanceof HttpError)) throw error;
        this.problem = error.message;
        this.busy = false;
      }
    },
    dismiss() {
      this.dismissFound();
    },
    async pour() {
      this.busy = true;
      this.busyWord = "Composing the pages…";
      try {
        const answer = await this.followed(
          await post(`${location.pathname}${this.id}/pour/`, {
            styles: this.restyled,
            whole: Boolean(this.$refs.keep && !this.$refs.keep.checked),
          }),
          "ready",
        );
        location.assign(answer.goto);
      } catch (error) {
        if (!(error instanceof HttpError)) throw error;
        this.problem = error.message;
        this.busy = false;
      }
    },
  };
}
