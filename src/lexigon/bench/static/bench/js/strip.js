// The strip above every place of a job: whether all is saved, what undo and redo would do, how large and how many the pages are.
import { element, room } from "./dom.js";
import { clock } from "./http.js";
import { plural } from "./survey.js";
import { inSentence } from "./wording.js";

const at = (id) => room(id, false); // a place may be without one
const saved = at("saved"),
  size = at("job-size"),
  count = at("page-count");

/** The buttons of undo and redo. @type {Record<"undo" | "redo", HTMLButtonElement>} */
export const steps = { undo: /** @type {any} */ (at("undo")), redo: /** @type {any} */ (at("redo")) };

/** Say how it stands with what was done; without words that it is saved now. */
export function tellSaved(words = `saved ${clock()}`) {
  saved.textContent = words;
}

/** How many pages the job has, as it is told there. */
export const pagesTold = () => Number(count.textContent);
export function tellPages(pages) {
  count.textContent = String(pages);
  count.nextElementSibling.textContent = pages === 1 ? "page" : "pages";
}

/** How many findings Check has. */
export function tellFindings(count) {
  const check = document.querySelector('.strip-places a[href$="/check/"]');
  check.querySelector(".count")?.remove();
  if (count) check.append(element("b", { class: "count", text: String(count), title: plural(count, "finding") }));
}

export function tellSize(words) {
  size.textContent = words;
}

/** What a step would take back or do again: nothing where that is empty. @param {"undo" | "redo"} name */
export function tellStep(name, label) {
  steps[name].disabled = !label;
  steps[name].title = label ? `${name === "undo" ? "Undo" : "Redo"}: ${inSentence(label)}` : `Nothing to ${name}`;
}

/** Have the buttons do it. @param {(name: "undo" | "redo") => void} run */
export function onSteps(run) {
  for (const name of /** @type {("undo" | "redo")[]} */ (["undo", "redo"]))
    steps[name]?.addEventListener("click", () => run(name));
}
