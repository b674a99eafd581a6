// Short messages at the foot of the window, and questions that need an answer before something is done.
import { element } from "./dom.js";
import { messageOf } from "./errors.js";

let timer = 0;

const message = element("div", { class: "toast", id: "toast", role: "alert", hidden: true });
document.body.append(message);

export function toast(words, bad = false) {
  message.textContent = words;
  message.classList.toggle("bad", bad);
  message.hidden = false;
  clearTimeout(timer);
  timer = setTimeout(
    () => {
      message.hidden = true;
    },
    bad ? 9000 : 4000,
  );
}

/** A hint is followed: it is no longer needed. */
export function hush() {
  message.hidden = true;
}

/** What went wrong before is past once something has gone right. */
export function calm() {
  if (message.classList.contains("bad")) message.hidden = true;
}

const title = element("h2", { class: "mb-2 text-[15px]", id: "ask-title" }),
  about = element("p", { class: "sub mb-3", id: "ask-words" });
const body = element("div", { class: "grid gap-2", id: "ask-body" }),
  problem = element("p", { class: "problem", role: "alert", id: "ask-problem" });
const yes = element("button", { class: "button first", value: "yes", id: "ask-yes" });
const form = /** @type {HTMLFormElement} */ (
  element(
    "form",
    { method: "dialog", class: "w-96 max-w-full" },
    title,
    about,
    body,
    problem,
    element(
      "div",
      { class: "mt-4 flex justify-end gap-2" },
      element("button", { class: "button", value: "", text: "Cancel" }),
      yes,
    ),
  )
);
/** The dialog of questions: who shows more than fields in it changes its look. */
export const question = /** @type {HTMLDialogElement} */ (
  element("dialog", { id: "ask", "aria-labelledby": "ask-title" }, form)
);
document.body.append(question);

/** Ask in a dialog. `fields` are elements to show in it; resolves true if the answer is yes. With an `action` the dialog stays
 *  until that is done: what is refused is said in it, and what was typed stays where it is. */
export function ask(heading, words, agree, fields = [], action = null) {
  title.textContent = heading;
  about.textContent = words;
  yes.textContent = agree;
  body.replaceChildren(...fields);
  problem.textContent = "";
  form.onsubmit = async (event) => {
    if (!action || /** @type {HTMLButtonElement} */ (event.submitter)?.value !== "yes") return;
    event.preventDefault();
    yes.toggleAttribute("disabled", true);
    try {
      await action();
      question.close("yes");
    } catch (error) {
      problem.textContent = messageOf(error);
    } finally {
      yes.toggleAttribute("disabled", false);
    }
  };
  form.onkeydown = (event) => {
    // Enter in a field is a yes: browsers would take the first button, which leaves it
    if (event.key !== "Enter" || !(/** @type {Element} */ (event.target).matches("input, select"))) return;
    event.preventDefault();
    form.requestSubmit(yes);
  };
  question.returnValue = "";
  question.showModal();
  return new Promise((resolve) => {
    question.addEventListener("close", () => resolve(question.returnValue === "yes"), { once: true });
  });
}

/** Words that could not be inserted: in sight until they are copied or let go. What is typed on meanwhile goes behind them. */
export async function offerWords(words) {
  const shown = /** @type {HTMLTextAreaElement | null} */ (
    question.open ? body.querySelector("textarea.unplaced") : null
  );
  if (shown) {
    shown.value += words;
    return;
  }
  if (question.open) question.close();
  const field = element("textarea", { class: "field unplaced", rows: "5", "aria-label": "Your words" });
  /** @type {HTMLTextAreaElement} */ (field).value = words;
  const answer = ask(
    "These words could not be inserted",
    "They are all here. Copy them, then paste them where they belong.",
    "Copy",
    [field],
  );
  /** @type {HTMLTextAreaElement} */ (field).setSelectionRange(words.length, words.length);
  if (await answer) await navigator.clipboard.writeText(/** @type {HTMLTextAreaElement} */ (field).value);
}

/** A labelled field for a question. */
export function labelled(word, field) {
  const row = document.createElement("label");
  row.className = "labelled";
  const span = document.createElement("span");
  span.textContent = word;
  row.append(span, field);
  return row;
}

export function select(options, value = "") {
  const field = document.createElement("select");
  field.className = "field";
  for (const [id, word] of options) field.add(new Option(word, id));
  field.value = value;
  return field;
}

export function input(value = "", placeholder = "") {
  const field = document.createElement("input");
  Object.assign(field, { className: "field", value, placeholder, autocomplete: "off" });
  return field;
}
