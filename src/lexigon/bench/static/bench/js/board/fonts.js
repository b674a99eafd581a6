// The fonts of the job: every family set in itself, searched, used, brought in from files, taken out.
import { fontsDialog as dialog, ownFonts } from "./rooms.js";
import { messageOf } from "../errors.js";
import { upload } from "../http.js";
import { ask } from "../notice.js";
import { active, focusText } from "./caret.js";
import { inquire, on, send, show, state, take, toast } from "./store.js";

const list = dialog.querySelector(".font-list");
const search = dialog.querySelector("input[type=search]");
const picker = dialog.querySelector("input[type=file]");
let families = [];
let picked = "";
let use = null;

/** Open the list; `current` is the family of the selection, `apply` sets it in another. */
export async function openFonts({ current, apply }) {
  picked = current || "";
  use = apply;
  search.value = "";
  families = [];
  list.replaceChildren(); // what was counted when the list was last open says nothing of today
  dialog.showModal();
  search.focus();
  await load();
  list.querySelector("[data-on]")?.scrollIntoView({ block: "center" });
}

async function load() {
  try {
    ({ families } = await inquire("fonts", {}));
    fill();
    if (!dialog.contains(document.activeElement)) search.focus();
  } catch (error) {
    toast(messageOf(error), true);
  }
}

const shown = () => families.filter(({ family }) => family.toLowerCase().includes(search.value.trim().toLowerCase()));

function element(tag, properties = {}, ...inside) {
  const made = Object.assign(document.createElement(tag), properties);
  made.append(...inside);
  return made;
}

function fill() {
  const rows = shown();
  list.replaceChildren(...rows.map(row));
  if (!rows.length)
    list.append(
      element("p", {
        className: "sub p-3",
        textContent: families.length ? "No family matches. Use “Import font files…” to add others." : "",
      }),
    );
}

function row({ family, uses, own, cuts }) {
  const plain = cuts.find(({ weight, italic }) => weight === 400 && !italic) || cuts.find(({ key }) => key) || cuts[0];
  const look = element("span", { className: "look", textContent: family });
  if (plain?.key) look.style.fontFamily = plain.key;
  const facts = element("span", {
    className: "sub",
    textContent: [
      own ? "of this job" : "",
      `${cuts.length} cut${cuts.length === 1 ? "" : "s"}`,
      uses ? `${uses} paragraph${uses === 1 ? "" : "s"}` : "",
    ]
      .filter(Boolean)
      .join(" · "),
  });
  const top = element("button", { type: "button", className: "font-top" }, look, facts);
  top.setAttribute("aria-pressed", String(family === picked));
  top.addEventListener("click", () => choose(family));
  top.addEventListener("dblclick", apply);
  const item = element("div", { className: "font-row" }, top);
  item.setAttribute("role", "listitem");
  item.dataset.family = family;
  if (family === picked) {
    item.dataset.on = "1";
    item.append(detail(cuts));
  }
  return item;
}

/** A line of letters in each cut; the job's own can be taken out again. */
function detail(cuts) {
  const box = element("div", { className: "font-cuts" });
  for (const cut of cuts) {
    const sample = element("span", { className: "sample", textContent: "The dunlin left at 4.15, “quietly”" });
    if (cut.key) sample.style.fontFamily = cut.key;
    const line = element(
      "div",
      { className: "font-cut" },
      element("span", { className: "sub", textContent: cut.name }),
      sample,
    );
    if (cut.id) {
      const off = element("button", { type: "button", className: "link", textContent: "Remove", title: cut.file });
      off.addEventListener("click", () => takeOut(cut));
      line.append(off);
      if (cut.cautions.length)
        line.append(element("p", { className: "caution", textContent: cut.cautions.join("; ") }));
    }
    box.append(line);
  }
  return box;
}

function choose(family) {
  const within = list.contains(document.activeElement);
  picked = family;
  fill();
  if (within) list.querySelector("[data-on] .font-top")?.focus();
  list.querySelector("[data-on]")?.scrollIntoView({ block: "nearest" });
}

function apply() {
  if (!picked) return;
  if (!use) {
    toast("Click into text or select a frame first, then select its font.");
    return;
  }
  dialog.close();
  use(picked);
}

async function takeOut(cut) {
  const { uses } = families.find(({ family }) => family === picked);
  const words = uses
    ? `${uses} paragraph${uses === 1 ? " uses" : "s use"} this family. The text will be shown in the nearest remaining face or in another font. Undo reverses it.`
    : "No text uses this family. Undo reverses it.";
  if (!(await ask(`Remove “${cut.file}”?`, words, "Remove"))) return;
  try {
    await send([{ do: "remove-font", id: cut.id }]);
    await load();
  } catch {
    /* told */
  }
}

/** The rules of the job's own fonts are asked for anew whenever there are others. */
let known = "";
function refresh() {
  const now = JSON.stringify(state.fonts);
  if (now === known) return;
  known = now;
  ownFonts.href = `${ownFonts.href.split("?")[0]}?now=${Date.now()}`;
}

dialog.querySelector(".bring").addEventListener("click", () => picker.click());
picker.addEventListener("change", async () => {
  const data = new FormData();
  for (const file of picker.files) data.append("file", file);
  picker.value = "";
  try {
    const answer = await upload(`/job/${state.key}/fonts/add/`, data);
    take(answer);
    [picked] = answer.brought;
    search.value = "";
    await load();
    choose(picked);
    await show(state.view[0]);
    toast(answer.new ? `Imported: ${answer.brought.join(", ")}.` : "The job already has these files.");
  } catch (error) {
    toast(messageOf(error), true);
  }
});
dialog.querySelector(".use").addEventListener("click", apply);
search.addEventListener("input", () => {
  const [first] = shown();
  if (first && !shown().some(({ family }) => family === picked)) picked = first.family;
  fill();
});
dialog.addEventListener("keydown", (event) => {
  event.stopPropagation();
  const rows = shown();
  const at = rows.findIndex(({ family }) => family === picked);
  if (event.key === "ArrowDown" || event.key === "ArrowUp") {
    event.preventDefault();
    const next = rows[(at + (event.key === "ArrowDown" ? 1 : -1) + rows.length) % rows.length];
    if (next) choose(next.family);
  } else if (event.key === "Enter" && !event.target.closest("button:not(.font-top)")) {
    event.preventDefault();
    apply();
  }
});
dialog.addEventListener("close", () => {
  if (active()) focusText();
});
on("fonts", openFonts);
on("lists", refresh);
known = JSON.stringify(state.fonts);
