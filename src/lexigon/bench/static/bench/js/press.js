// The Press: start an output, follow its progress, look the finished file through.
import { pagesTold } from "./strip.js";
import { HttpError } from "./errors.js";
import { clock, get, post, readState } from "./http.js";

const WRONG = 8; // findings that are listed beside a file

export function press() {
  const state = readState("press-state");
  return {
    outputs: state.outputs,
    recipe: state.chosen,
    current: null,
    problem: "",
    page: 0,
    began: 0,
    init() {
      this.mark();
      document.addEventListener("lexigon:go", (event) => {
        // in a file of all pages, not of some
        const { page } = /** @type {CustomEvent} */ (event).detail;
        if (page === null || !this.shown || this.current.count !== pagesTold()) return;
        event.preventDefault();
        this.show(page);
      });
      const open = this.outputs.find((row) => row.state === "running" || row.state === "waiting");
      if (open) {
        this.current = open;
        this.began = Date.now();
        this.follow();
      } else if (this.outputs.length) this.open(this.outputs[0]);
    },
    get running() {
      return Boolean(this.current) && (this.current.state === "running" || this.current.state === "waiting");
    },
    get idle() {
      return !this.running;
    },
    get shown() {
      return Boolean(this.current) && this.current.state === "ready";
    },
    get failed() {
      return Boolean(this.current) && this.current.state === "failed";
    },
    get empty() {
      return !this.current || this.current.state === "stopped";
    },
    get failure() {
      return this.current ? this.current.error : "";
    },
    get facts() {
      return this.shown ? this.current.facts : [];
    },
    /** What there was to look at in the job when the file was made. */
    get found() {
      return this.shown ? this.current.findings || [] : [];
    },
    get wrong() {
      return this.found.slice(0, WRONG).map(({ text, page, label }) => ({
        text,
        where: `page ${label}`,
        href: page !== null && state.board ? `${state.board}?page=${page + 1}` : "",
      }));
    },
    get more() {
      return this.found.length > WRONG ? `and ${this.found.length - WRONG} more` : "";
    },
    get old() {
      return this.shown && this.current.old;
    },
    get of() {
      return this.shown ? `of ${this.current.count}` : "";
    },
    get subtitle() {
      return this.shown
        ? `${this.current.name}, exported ${clock(new Date(this.current.at))}`
        : "from the exported file";
    },
    get past() {
      return this.outputs
        .filter((row) => row.state === "ready")
        .map((row) => ({ ...row, when: clock(new Date(row.at)) }));
    },
    get progress() {
      if (!this.running) return "";
      if (this.current.state === "waiting") return "waiting to start…";
      const { done, total } = this.current;
      const left = done ? Math.ceil((((Date.now() - this.began) / done) * (total - done)) / 1000) : 0;
      return `page ${done} of ${total}${left > 1 ? ` · ${left} s left` : ""}`;
    },
    mark() {
      for (const button of this.$root.querySelectorAll("[data-recipe]"))
        if (button.role === "radio") button.setAttribute("aria-checked", String(button.dataset.recipe === this.recipe));
      if (this.$refs.landscape) this.$refs.landscape.value = state.landscape[this.recipe];
    },
    choose(event) {
      const field = event.currentTarget;
      this.recipe = field.dataset.recipe || field.value;
      this.mark();
    },
    async start() {
      this.problem = "";
      try {
        this.current = await post(state.start, {
          recipe: this.recipe,
          pages: this.$refs.range?.value ?? "",
          landscape: this.$refs.landscape?.value ?? null,
        });
        this.outputs = [this.current, ...this.outputs];
        this.began = Date.now();
        this.follow();
      } catch (error) {
        if (!(error instanceof HttpError)) throw error;
        this.problem = error.message;
      }
    },
    async follow() {
      const followed = this.current;
      while (this.running && this.current.id === followed.id) {
        if (this.$refs.bar) this.$refs.bar.value = this.current.total ? this.current.done / this.current.total : 0;
        await new Promise((resolve) => setTimeout(resolve, 250));
        try {
          const row = await get(followed.status);
          if (this.current.id !== followed.id || !this.running) return;
          this.outputs = this.outputs.map((other) => (other.id === row.id ? row : other));
          this.open(row);
        } catch (error) {
          if (!(error instanceof HttpError) || error.status) throw error;
        }
      }
    },
    async stop() {
      await post(this.current.stop, {});
      this.current = { ...this.current, state: "stopped" };
    },
    view(event) {
      this.open(this.outputs.find((row) => row.id === Number(event.currentTarget.dataset.id)));
    },
    open(row) {
      this.current = row;
      if (row.state !== "ready") return;
      this.$refs.file.href = row.file;
      this.show(0);
    },
    show(page) {
      this.page = Math.min(Math.max(page, 0), this.current.count - 1);
      this.$refs.proof.src = `${this.current.proof}${this.page}.png`;
      this.$refs.proof.alt = `Page ${this.page + 1} of the file`;
      this.$refs.page.value = this.page + 1;
    },
    back() {
      this.show(this.page - 1);
    },
    forth() {
      this.show(this.page + 1);
    },
    turnTo(event) {
      this.show((parseInt(event.target.value, 10) || 1) - 1);
    },
  };
}
