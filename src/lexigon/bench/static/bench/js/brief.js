// The Brief's form: while one types, the server reads the values and draws the spread from them.
import { HttpError, post, readState } from "./http.js";

const FAMILIES = { margins: "margins", bleed: "bleed", size: "type", leading: "type", family: "type", columns: "type", gutter: "type", language: "type" };

export function brief() {
  let timer = 0;
  let latest = 0;
  return {
    init() {
      const state = readState("brief-state");
      this.showErrors(state.errors);
      const bleeds = [...this.bleeds()].map((field) => field.value);
      this.$refs.together.checked = new Set(bleeds).size === 1;
    },
    bleeds() { return this.$root.querySelectorAll("[data-bleed]"); },
    values() {
      const values = { facing: "" };
      for (const [name, value] of new FormData(this.$root)) if (name !== "csrfmiddlewaretoken") values[name] = value;
      return values;
    },
    typed(event) {
      if (event.target.matches("[data-bleed]") && this.$refs.together.checked) for (const field of this.bleeds()) field.value = event.target.value;
      if (event.target.matches("#named, #unit")) return;
      clearTimeout(timer);
      timer = setTimeout(() => this.ask({}), 60);
    },
    async ask(more) {
      const number = ++latest;
      const values = this.values();
      if (more.unit_to) values.unit = this.unit || values.unit;
      try {
        const answer = await post("/brief/reading/", { values, ...more });
        if (number !== latest) return;
        if (more.unit_to || more.size || more.turn) this.fill(answer.values);
        this.showErrors(answer.errors);
        this.$refs.named.value = answer.size || "";
        if (answer.drawing) this.$refs.drawing.innerHTML = answer.drawing;
      } catch (error) {
        if (!(error instanceof HttpError)) throw error;
        this.$refs.verdict.textContent = error.message;
      }
    },
    fill(values) {
      for (const [name, value] of Object.entries(values)) {
        const field = this.$root.elements.namedItem(name);
        if (field && field.type !== "checkbox") field.value = value;
      }
      this.unit = values.unit;
    },
    showErrors(errors) {
      for (const place of this.$root.querySelectorAll("[data-error]")) place.textContent = "";
      for (const field of this.$root.querySelectorAll("[aria-invalid]")) field.removeAttribute("aria-invalid");
      for (const [name, message] of Object.entries(errors)) {
        this.$root.elements.namedItem(name)?.setAttribute("aria-invalid", "true");
        const place = this.$root.querySelector(`[data-error="${FAMILIES[name.split(".")[0]] || name}"]`);
        if (place && !place.textContent) place.textContent = message;
      }
      const count = Object.keys(errors).length;
      this.$refs.verdict.textContent = count ? `${count} to put right` : "";
      this.$refs.go.disabled = count > 0;
      this.unit = this.unit || this.values().unit;
    },
    chooseSize(event) { if (event.target.value) this.ask({ size: event.target.value }); },
    chooseUnit(event) { this.ask({ unit_to: event.target.value }); },
    turn() { this.ask({ turn: true }); },
    unit: "",
  };
}
