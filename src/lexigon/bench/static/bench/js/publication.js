// A publication: its jobs put in order and counted, their styles compared with those of the job that leads and brought into line.
import { steps, tellSaved } from "./strip.js";
import { HttpError } from "./errors.js";
import { get, post, readState } from "./http.js";

const plural = (count, word) => `${count} ${word}${count === 1 ? "" : "s"}`;

let warning = null; // the note beside the button, which the list keeps up to date

/** Listings that are out of date, and trims that differ. */
export const publicationWarning = () => ({
  words: "",
  init() {
    warning = this;
  },
  show(parts) {
    const stale = parts.filter((one) => one.stale.length).map((one) => `“${one.name}”: ${one.stale.join(", ")}`);
    const odd = parts.filter((one) => one.trim).map((one) => `“${one.name}”`);
    this.words = [
      stale.length && `Out of date in ${stale.join("; ")}.`,
      odd.length && `${odd.join(", ")}: a different trim from the others.`,
    ]
      .filter(Boolean)
      .join(" ");
  },
});

export function publication() {
  const state = readState("publication-state");
  let turn = Promise.resolve();
  let looks = 0;
  return {
    told: state,
    differences: null,
    looking: {},
    trouble: "",
    job: "",
    ticked: [],
    async init() {
      this.$watch("told", () => this.warn());
      await this.tried(async () => {
        this.told = await post(state.addresses.follow);
      });
      this.warn();
      this.look(true);
    },
    get name() {
      return this.told.plan.name;
    },
    /** What is to be known before a file is made, beside its button. */
    warn() {
      warning?.show(this.told.parts);
    },
    get none() {
      return !this.told.parts.length && !this.told.missing;
    },
    get missing() {
      return this.told.missing > 0;
    },
    get missingWords() {
      return `${plural(this.told.missing, "job")} of it ${this.told.missing === 1 ? "is" : "are"} in the bin, and left out until taken back.`;
    },
    get anyFree() {
      return this.told.free.length > 0;
    },
    get noFree() {
      return !this.anyFree;
    },
    get free() {
      return this.told.free.map((one) => ({ ...one, words: `${one.name} (${one.kind})` }));
    },
    get parts() {
      const { parts } = this.told;
      return parts.map((one, at) => ({
        ...one,
        ...this.differing(one),
        words: `${plural(one.pages, "page")}, ${one.first === one.last ? one.first : `${one.first} to ${one.last}`}${one.blank ? ", after an empty page" : ""}`,
        looks: Boolean(this.looking[one.job]),
        lookWords: `${this.looking[one.job]} to check before exporting`,
        isStale: one.stale.length > 0,
        staleWords: `${one.stale.join(", ")}: not up to date`,
        first_: at === 0,
        last_: at === parts.length - 1,
        on: one.counted === "on",
        own: one.counted === "own",
        apart: one.counted === "apart",
        upWords: `Move “${one.name}” up`,
        downWords: `Move “${one.name}” down`,
        outWords: `Remove “${one.name}” from the publication`,
        selectId: `counted-${one.job}`,
        follows: !one.lead,
      }));
    },
    differing({ job }) {
      if (!this.differences) return { differWords: "comparing…" };
      const count = (this.differences[job] || []).filter(({ what }) => what === "differs").length;
      return {
        differWords: count ? `${plural(count, "style")} differ${count === 1 ? "s" : ""}` : "styles match the lead job",
      };
    },
    /** Compare the styles; `whole` looks the jobs through, too. */
    async look(whole = false) {
      const number = ++looks;
      this.differences = null;
      if (!this.told.parts.length) {
        this.differences = {};
        return;
      }
      await this.tried(async () => {
        const found = await get(`${state.addresses.differences}${whole ? "?looking=1" : ""}`);
        if (number === looks) Object.assign(this, found);
      });
    },
    async tried(action) {
      this.trouble = "";
      try {
        await action();
      } catch (error) {
        if (!(error instanceof HttpError)) throw error;
        this.trouble = error.message;
        if (error.data.field === "stale") location.reload();
      }
    },
    /** Make the plan another, `changed` says how: kept before it is shown, one change after the other. */
    change(changed) {
      const done = turn.then(() => this.keep(changed(this.told.plan)));
      turn = done.catch(() => {});
      return done;
    },
    keep(changes) {
      const was = this.told.plan;
      return this.tried(async () => {
        this.told = await post(state.addresses.change, { plan: { ...was, ...changes }, was });
        tellSaved();
        for (const way of /** @type {("undo" | "redo")[]} */ (["undo", "redo"])) steps[way].disabled = !this.told[way];
        document.title = `${this.name} · Lexigon`;
        document.querySelector(".strip-mark b").textContent = this.name;
        const more = this.told.parts.some(({ job }) => !was.parts.some((part) => part.job === job));
        if (changes.parts || changes.lead !== undefined) this.look(more);
      });
    },
    async move(event) {
      const { job, by } = event.currentTarget.dataset;
      await this.change((plan) => {
        const parts = [...plan.parts];
        const shown = this.told.parts.map((part) => part.job);
        const other = shown[shown.indexOf(job) + Number(by)];
        const [a, b] = [parts.findIndex((part) => part.job === job), parts.findIndex((part) => part.job === other)];
        if (b >= 0) parts.splice(b, 0, parts.splice(a, 1)[0]);
        return { parts };
      });
      await this.$nextTick();
      const row = this.$root.querySelector(`li[data-job="${job}"]`);
      (
        row?.querySelector(`[data-by="${by}"]:not(:disabled)`) || row?.querySelector("[data-by]:not(:disabled)")
      )?.focus();
    },
    leaveOut(event) {
      const { job } = event.currentTarget.dataset;
      return this.change((plan) => ({ parts: plan.parts.filter((part) => part.job !== job) }));
    },
    count(event) {
      const { job } = event.target.dataset;
      const { value } = event.target;
      return this.change((plan) => ({
        parts: plan.parts.map((part) => (part.job === job ? { job, counted: value } : part)),
      }));
    },
    add() {
      const { value } = this.$refs.add;
      const found = this.told.free.find(({ job }) => job === value);
      const first = found?.usual === "on" && this.told.parts.every(({ counted }) => counted === "apart");
      return found
        ? this.change((plan) => ({ parts: [...plan.parts, { job: found.job, counted: first ? "own" : found.usual }] }))
        : null;
    },
    rename() {
      this.$refs.newname.value = this.name;
      this.$refs.naming.showModal();
      this.$refs.newname.select();
    },
    noName() {
      this.$refs.naming.close();
    },
    named() {
      const name = this.$refs.newname.value;
      return this.change(() => ({ name }));
    },
    compare(event) {
      if (!this.differences) return;
      this.job = event.currentTarget.dataset.job;
      this.tickAll();
      this.$refs.dialog.showModal();
    },
    tickAll() {
      this.ticked = this.compared.filter(({ what }) => what === "differs").map(({ key }) => key);
    },
    get compared() {
      const found = (this.differences || {})[this.job] || [];
      return ["differs", "missing"]
        .flatMap((what) => found.filter((one) => one.what === what))
        .map((one) => ({
          ...one,
          key: `${one.table}/${one.id}`,
          title: `${one.kind[0].toUpperCase()}${one.kind.slice(1)} “${one.name}”`,
          ticked: this.ticked.includes(`${one.table}/${one.id}`),
          words:
            one.what === "missing"
              ? "is missing"
              : one.values.map(([what, there, here]) => `${what}: ${here} → ${there}`).join("; ") +
                (one.more ? `; and ${one.more} more` : ""),
        }));
    },
    nameOf(wanted) {
      return this.told.parts.find(wanted)?.name || "";
    },
    get comparedTitle() {
      return `“${this.nameOf((part) => part.job === this.job)}” compared with “${this.nameOf((part) => part.lead)}”`;
    },
    get comparedWords() {
      return this.compared.length
        ? "Ticked items get the value of the lead job (→), with everything they depend on. This can be undone in the job."
        : "All styles, inks and kinds of notes match the lead job.";
    },
    get nothingTicked() {
      return !this.ticked.length;
    },
    tick(event) {
      const { key } = event.target.dataset;
      this.ticked = event.target.checked ? [...this.ticked, key] : this.ticked.filter((one) => one !== key);
    },
    async makeLead() {
      this.$refs.dialog.close();
      const lead = this.job;
      await this.change(() => ({ lead }));
    },
    async align() {
      const entries = this.ticked.map((key) => [key.slice(0, key.indexOf("/")), key.slice(key.indexOf("/") + 1)]);
      await this.tried(async () => {
        Object.assign(this, await post(state.addresses.align, { job: this.job, entries }));
      });
      this.tickAll();
      if (this.trouble || !this.compared.length) this.$refs.dialog.close();
    },
  };
}
