// The Brief's form: while one types, the server reads the values and draws the piece from them.
import { HttpError } from "./errors.js";
import { post, readState } from "./http.js";

// Which message place a field's error is shown at.
const PLACES = {
  margins: "margins",
  bleed: "bleed",
  safe: "bleed",
  size: "type",
  leading: "type",
  family: "type",
  language: "type",
  exceptions: "type",
  columns: "columns",
  gutter: "columns",
  rows: "columns",
  row_gutter: "columns",
  pages: "spine",
  spine: "spine",
  whole: "spine",
  flap: "spine",
  fold: "fold",
  panels: "fold",
  allowance: "fold",
  paper: "paper",
  binding: "paper",
  ppi: "ppi",
};

const DRAFT = `lexigon-brief-${location.pathname}${location.search}`;

/** Begin with a saved set-up, a template or the usual values; the typed name stays. */
function startFrom(from, kind, name) {
  location.search = String(
    new URLSearchParams([...new URLSearchParams(from || { kind }), ...(name ? [["name", name]] : [])]),
  );
}

/** A new job from a template: nothing is made before its button is pressed. */
export const fromTemplate = () => ({
  startFrom(event) {
    startFrom(event.target.value, this.$root.dataset.kind, this.$root.querySelector("#name").value);
  },
});

export function brief() {
  let timer = 0;
  let latest = 0;
  let asking = null;
  /** Choices (kind, size, unit, turn) whose usual values have not come yet, and the fields as they were when the first was made: an
   *  answer that a later question overtakes fills nothing, so the later one asks for them, too. */
  let due = { more: {}, values: null };
  let state = {};
  let view = "after";
  return {
    unit: "",
    restored: false,
    gone: null,
    get goneWords() {
      return this.gone ? `“${this.gone.name}” is deleted.` : "";
    },
    init() {
      state = readState("brief-state");
      this.kind = state.values.kind;
      this.showKind();
      for (const group of ["margins", "bleed"])
        this.together(group).checked = new Set([...this.four(group)].map((field) => field.value)).size === 1;
      this.show(state);
      this.$refs.keptlist.addEventListener("click", (event) => this.changeKept(event));
      if (this.$refs.papers) this.layPaper();
      this.bringBack();
    },
    four(group) {
      return this.$root.querySelectorAll(`[data-four="${group}"]`);
    },
    together(group) {
      return this.$root.querySelector(`[data-together="${group}"]`);
    },
    /** Only the fields that the kind of piece has are shown, and sent. */
    showKind() {
      for (const element of this.$root.querySelectorAll("[data-kinds]")) {
        const shown = element.dataset.kinds.split(" ").includes(this.kind.replace(" ", "-"));
        element.hidden = !shown;
        for (const field of element.matches("input, select") ? [element] : element.querySelectorAll("input, select"))
          field.disabled = !shown;
      }
      for (const pill of this.$root.querySelectorAll("[data-kind]")) {
        const chosen = pill.dataset.kind === this.kind;
        pill.setAttribute("aria-checked", String(chosen));
        if (chosen) {
          this.$refs.title.textContent = pill.dataset.word;
          this.$refs.go.textContent = pill.dataset.make;
        }
      }
    },
    /** Where pages do not face each other there is no spine: inner is left, outer is right. */
    nameSides() {
      const facing = ["book", "magazine"].includes(this.kind) && this.$root.querySelector("[name=facing]").checked;
      const words = facing ? { inner: "Inside", outer: "Outside" } : { inner: "Left", outer: "Right" };
      for (const [side, word] of Object.entries(words))
        for (const group of ["m", "b"]) this.$root.querySelector(`label[for="${group}-${side}"]`).textContent = word;
    },
    values() {
      const values = { facing: "", main: "", grid: "" };
      for (const [name, value] of new FormData(this.$root)) if (name !== "csrfmiddlewaretoken") values[name] = value;
      values.kind = this.kind;
      return values;
    },
    typed(event) {
      const { target } = event;
      if (target.name) sessionStorage.setItem(DRAFT, JSON.stringify(this.values()));
      if (target.dataset.four && this.together(target.dataset.four).checked)
        for (const field of this.four(target.dataset.four)) field.value = target.value;
      if (target.matches("#named, #unit, #from, #keepname, [data-paper]") || target.dataset.together) return;
      clearTimeout(timer);
      timer = setTimeout(() => this.ask({}), 60);
    },
    async ask(more) {
      const number = ++latest;
      asking = this.asked(number, more);
      try {
        await asking;
      } finally {
        if (number === latest) asking = null;
      }
    },
    async asked(number, more) {
      const values = this.values();
      due = {
        more: { ...due.more, ...more, turn: Boolean(due.more.turn) !== Boolean(more.turn) },
        values: due.values || values,
      };
      const chosen = due.more.unit_to || due.more.size || due.more.turn || due.more.kind;
      if (!chosen) due.values = null;
      if (due.more.unit_to) values.unit = this.unit || values.unit;
      try {
        const answer = await post("/brief/reading/", { values, job: state.job, ...due.more });
        if (number !== latest) return;
        if (chosen) this.fill(answer.values, due.values);
        due = { more: {}, values: null };
        for (const name of ["pages", "paper"])
          if (answer.values.interior) this.fill({ [name]: answer.values[name] }, values);
        this.show(answer);
      } catch (error) {
        if (!(error instanceof HttpError)) throw error;
        this.$refs.verdict.textContent = error.message;
      }
    },
    /** Put values into their fields; what was typed since the values of `asked` were sent stays. */
    fill(values, asked = null) {
      const now = asked && this.values();
      for (const [name, value] of Object.entries(values)) {
        if (asked && name in asked && name in now && asked[name] !== now[name]) continue;
        for (const field of this.$root.querySelectorAll(`[name="${CSS.escape(name)}"]`)) {
          if (field.type === "checkbox") field.checked = Boolean(value);
          else field.value = value;
        }
      }
      if (values.unit) this.unit = values.unit;
    },
    show(answer) {
      state = { ...state, drawing: answer.drawing || state.drawing, before: answer.before || state.before };
      this.$refs.named.value = answer.size || "";
      for (const place of this.$root.querySelectorAll("[data-notes]")) {
        place.replaceChildren(
          ...answer.notes
            .filter((note) => note.place === place.dataset.notes)
            .map((note) => {
              const element = document.createElement("p");
              element.className = `note mt-2 ${note.tone}`;
              element.textContent = note.text;
              return element;
            }),
        );
      }
      this.nameSides();
      this.showErrors(answer.errors);
      this.paint();
      const tied = Boolean(this.$root.querySelector("#interior")?.value) && this.kind === "cover";
      this.$root.querySelector("#pages-c").readOnly = tied;
    },
    paint() {
      const svg = view === "before" ? state.before : state.drawing;
      if (svg) this.$refs.drawing.innerHTML = svg;
    },
    look(event) {
      view = event.currentTarget.dataset.look;
      for (const button of event.currentTarget.parentNode.children)
        button.setAttribute("aria-pressed", String(button.dataset.look === view));
      this.paint();
    },
    showErrors(errors) {
      for (const place of this.$root.querySelectorAll("[data-error]")) place.textContent = "";
      for (const field of this.$root.querySelectorAll("[aria-invalid]")) field.removeAttribute("aria-invalid");
      for (const [name, message] of Object.entries(errors)) {
        for (const field of this.$root.querySelectorAll(`[name="${CSS.escape(name)}"]:not(:disabled)`))
          field.setAttribute("aria-invalid", "true");
        const wanted = name === "pages" && this.kind !== "cover" ? "width" : PLACES[name.split(".")[0]] || name;
        let place = this.$root.querySelector(`[data-error="${wanted}"]`);
        if (!place || place.closest("[hidden]")) place = this.$root.querySelector('[data-error="name"]');
        if (!place.textContent) place.textContent = message;
      }
      const count = Object.keys(errors).length;
      this.$refs.verdict.textContent = count ? `${count} to put right` : "";
      this.$refs.go.disabled = count > 0;
      this.unit = this.unit || this.values().unit;
    },
    chooseKind(event) {
      this.kind = event.currentTarget.dataset.kind;
      this.$root.querySelector("[name=kind]").value = this.kind;
      this.showKind();
      this.ask({ kind: this.kind });
    },
    chooseSize(event) {
      if (event.target.value) this.ask({ size: event.target.value });
    },
    chooseUnit(event) {
      this.ask({ unit_to: event.target.value });
    },
    chooseFold(event) {
      const usual = { half: "2", letter: "3", accordion: "3", gate: "3" };
      this.$root.querySelector("#panels").value = usual[event.target.value];
    },
    turn() {
      this.ask({ turn: true });
    },
    startFrom(event) {
      startFrom(event.target.value, this.kind, this.values().name);
    },
    /** What was typed is kept in the window until it is sent: leaving the page loses nothing. */
    bringBack() {
      const draft = JSON.parse(sessionStorage.getItem(DRAFT) || "null");
      const now = this.values();
      if (draft && Object.keys(draft).some((name) => name in now && draft[name] !== now[name])) {
        this.fill(Object.fromEntries(Object.entries(draft).filter(([name]) => name in now)));
        this.restored = true;
        this.ask({});
      }
      this.$root.addEventListener("submit", (event) => {
        if (asking) {
          // what is usual for the kind or the size that was just chosen is on its way to its fields
          event.preventDefault();
          const again = () => {
            if (!this.$refs.go.disabled) this.$root.requestSubmit(event.submitter);
          };
          asking.then(again, again);
        } else sessionStorage.removeItem(DRAFT);
      });
    },
    discard() {
      sessionStorage.removeItem(DRAFT);
      location.reload();
    },
    async tried(place, action) {
      const problem = this.$root.querySelector(`[data-error="${place}"]`);
      problem.textContent = "";
      try {
        return await action();
      } catch (error) {
        if (!(error instanceof HttpError)) throw error;
        problem.textContent = error.message;
        return null;
      }
    },
    async keep() {
      const name = this.$refs.keepname.value;
      this.layKept(await this.tried("keep", () => post("/brief/keep/", { name, values: this.values() })));
    },
    async changeKept(event) {
      const { do: what } = event.target.dataset;
      const row = event.target.closest("[data-id]");
      if (!what || !row) return;
      if (what === "rename") {
        const field = document.createElement("input");
        field.className = "field";
        field.value = row.firstElementChild.textContent;
        field.setAttribute("aria-label", "New name");
        field.addEventListener("keydown", (press) => {
          if (press.key === "Enter") {
            press.preventDefault();
            event.target.click();
          }
        });
        row.firstElementChild.replaceWith(field);
        field.focus();
        event.target.textContent = "Save";
        event.target.dataset.do = "renamed";
        return;
      }
      const name = what === "renamed" ? row.querySelector("input").value : "";
      if (what === "renamed" && !name.trim()) {
        this.$root.querySelector('[data-error="keep"]').textContent = "Type the new name.";
        return;
      }
      this.layKept(await this.tried("keep", () => post(`/brief/kept/${row.dataset.id}/`, { name })));
    },
    /** A set-up that was deleted is kept again, with all it held. */
    async putBack() {
      const answer = await this.tried("keep", () => post("/brief/keep/", this.gone));
      this.layKept(answer);
    },
    layKept(answer) {
      if (!answer) return;
      this.gone = answer.gone || null;
      this.$refs.keepname.value = "";
      this.$refs.keptlist.replaceChildren(
        ...answer.setups.map(({ id, name }) => {
          const row = document.createElement("li");
          row.className = "flex items-center gap-2 py-0.5";
          row.dataset.id = id;
          const words = document.createElement("span");
          words.className = "min-w-0 flex-1 truncate";
          words.textContent = name;
          row.append(
            words,
            ...["rename", "delete"].map((what) => {
              const button = document.createElement("button");
              Object.assign(button, {
                type: "button",
                className: "link text-[12px]",
                textContent: what[0].toUpperCase() + what.slice(1),
              });
              button.dataset.do = what;
              return button;
            }),
          );
          return row;
        }),
      );
      const from = this.$root.querySelector("#from");
      const chosen = from?.value;
      this.$refs.kept?.replaceChildren(...answer.setups.map(({ id, name }) => new Option(name, `from=${id}`)));
      if (from) from.value = [...from.options].some(({ value }) => value === chosen) ? chosen : "";
    },

    // Papers: the chosen one's figures, editable; each way to say its thickness follows the other.
    layPaper(paper = state.papers.find(({ id }) => id === this.$refs.paper.value) || state.papers[0]) {
      this.paperId = paper?.id;
      const fields = [
        ["name", "Name"],
        ["inches", "in a page"],
        ["microns", "µm a leaf"],
        ["weight", "Weight"],
        ["opacity", "Opacity %"],
      ];
      this.$refs.papers.replaceChildren(
        ...fields.map(([key, word]) => {
          const row = document.createElement("div");
          row.className = "labelled";
          const label = document.createElement("label");
          label.textContent = word;
          label.htmlFor = `paper-${key}`;
          const field = document.createElement("input");
          Object.assign(field, {
            className: "field",
            id: `paper-${key}`,
            value: paper ? paper[key] : "",
            autocomplete: "off",
          });
          field.dataset.paper = key;
          row.append(label, field);
          return row;
        }),
      );
      const [inches, microns] = ["inches", "microns"].map((key) =>
        this.$refs.papers.querySelector(`[data-paper=${key}]`),
      );
      inches.addEventListener("input", () => {
        if (Number(inches.value)) microns.value = Math.round(Number(inches.value) * 2 * 25400);
      });
      microns.addEventListener("input", () => {
        if (Number(microns.value)) inches.value = (Number(microns.value) / 50800).toFixed(6);
      });
      this.$refs.paper.onchange = () => this.layPaper();
    },
    addPaper() {
      this.layPaper({
        id: `paper-${Date.now().toString(36)}`,
        name: "",
        inches: "",
        microns: "",
        weight: "",
        opacity: "",
      });
    },
    async savePaper() {
      const value = (key) => this.$refs.papers.querySelector(`[data-paper=${key}]`).value.trim();
      const paper = {
        id: this.paperId,
        name: value("name"),
        page: (Number(value("inches").replace(",", ".")) || 0) * 72,
        weight: value("weight"),
        opacity: value("opacity") ? Number(value("opacity")) / 100 : null,
      };
      if (await this.tried("paper", () => post(`/job/${state.job}/edits/`, { intents: [{ do: "put-paper", paper }] })))
        location.reload();
    },
    async dropPaper() {
      if (
        await this.tried("paper", () =>
          post(`/job/${state.job}/edits/`, { intents: [{ do: "remove-paper", id: this.paperId }] }),
        )
      )
        location.reload();
    },
    async foldOut(event) {
      const { fold } = event.currentTarget.dataset;
      if (await this.tried("name", () => post(`/job/${state.job}/fold-out/`, { direction: fold }))) location.reload();
    },
  };
}
