// Short messages at the foot of the window, and questions that need an answer before something is done.

let timer = 0;

export function toast(message, bad = false) {
  const element = document.getElementById("toast");
  element.textContent = message;
  element.classList.toggle("bad", bad);
  element.hidden = false;
  clearTimeout(timer);
  timer = setTimeout(() => { element.hidden = true; }, bad ? 9000 : 4000);
}

/** What went wrong before is past once something has gone right. */
export function calm() {
  const element = document.getElementById("toast");
  if (element?.classList.contains("bad")) element.hidden = true;
}

/** Ask in a dialog. `fields` are elements to show in it; resolves true if the answer is yes. With an `action` the dialog stays
 *  until that is done: what is refused is said in it, and what was typed stays where it is. */
export function ask(title, words, yes, fields = [], action = null) {
  const dialog = document.getElementById("ask");
  document.getElementById("ask-title").textContent = title;
  document.getElementById("ask-words").textContent = words;
  document.getElementById("ask-yes").textContent = yes;
  document.getElementById("ask-body").replaceChildren(...fields);
  const problem = document.getElementById("ask-problem");
  problem.textContent = "";
  dialog.querySelector("form").onsubmit = async (event) => {
    if (!action || event.submitter?.value !== "yes") return;
    event.preventDefault();
    event.submitter.disabled = true;
    try { await action(); dialog.close("yes"); } catch (error) { problem.textContent = error.message; } finally { event.submitter.disabled = false; }
  };
  const form = dialog.querySelector("form");
  form.onkeydown = (event) => { // Enter in a field is a yes: browsers would take the first button, which leaves it
    if (event.key !== "Enter" || !event.target.matches("input, select")) return;
    event.preventDefault();
    form.requestSubmit(document.getElementById("ask-yes"));
  };
  dialog.returnValue = "";
  dialog.showModal();
  return new Promise((resolve) => { dialog.addEventListener("close", () => resolve(dialog.returnValue === "yes"), { once: true }); });
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
