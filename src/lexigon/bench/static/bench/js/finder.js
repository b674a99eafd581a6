// The command finder: every command of this place, and the way to those of the others, by any of its words. Ctrl K opens it.
import { commands } from "./commands.js";

/** What is mostly done in the other places: [the end of the place's address, words]. */
const ELSEWHERE = [
  ["/brief/", "Change the page size"], ["/brief/", "Change margins and columns"], ["/brief/", "Change the body type"], ["/brief/", "Paper and binding"],
  ["/flatplan/", "Add pages"], ["/flatplan/", "Move pages"], ["/flatplan/", "Begin a section"], ["/flatplan/", "Make a master page"], ["/flatplan/", "Apply a master page"],
  ["/flatplan/", "Printer’s sheets and creep"], ["/board/", "Type in the pages"], ["/board/", "Styles"], ["/board/", "Fonts"], ["/board/", "History and versions"],
  ["/manuscript/", "Bring in a text"], ["/press/", "Make the file"], ["/press/", "Look at the proof"],
];
const MOST = 12;
let dialog = null;
let open = null;
let offered = [];
let at = 0;

const words = (text) => text.toLocaleLowerCase().split(/[^\p{L}\p{N}]+/u).filter(Boolean);

/** Whether each of the words typed begins some word of a command. */
const fits = (typed, { word, help = "", title = "", place = "" }) => {
  const own = words(`${word} ${help} ${title} ${place}`);
  return words(typed).every((part) => own.some((one) => one.startsWith(part)));
};

const SIGNS = { PageDown: "Page Down", PageUp: "Page Up", "-": "−" };
/** A key as it is written on a keyboard: letters in capitals, those that are capitals already with Shift. */
const signOf = (key) => SIGNS[key] || (/^\p{Lu}$/u.test(key) ? `Shift ${key}` : /^\p{Ll}$/u.test(key) ? key.toUpperCase() : key);

const seen = (element) => element.offsetParent !== null && !element.disabled && !element.closest("dialog, [aria-hidden='true']");
const named = (element) => (element.getAttribute("aria-label") || element.textContent || "").replace(/\s+/g, " ").trim();

/** What can be pressed in the window as it stands. */
function pressable() {
  return [...document.querySelectorAll("main button, main a.button, main summary, footer button, .strip button")]
    .filter((element) => seen(element) && !element.closest("[role=listbox], [role=radiogroup]"))
    .map((element) => ({ word: named(element), title: element.title, run: () => element.click() }))
    .filter(({ word }) => word.length > 1 && word.length <= 60);
}

function everything() {
  const links = [...document.querySelectorAll(".strip-places a")];
  const placeOf = (link) => link.firstChild.textContent.trim(); // without the count behind it
  const go = links.filter((link) => !link.hasAttribute("aria-current")).map((link) => ({ word: `Go to ${placeOf(link)}`, run: () => { location.href = link.href; } }));
  const elsewhere = ELSEWHERE.flatMap(([end, word]) => {
    const link = links.find((one) => one.pathname.endsWith(end) && !one.hasAttribute("aria-current"));
    return link ? [{ word, place: `in the ${placeOf(link)}`, run: () => { location.href = link.href; } }] : [];
  });
  const shelf = document.querySelector("a.logo");
  const found = [...commands(), ...pressable(), ...go, { word: "Go to the Shelf", run: () => { location.href = shelf.href; } }, ...elsewhere];
  const once = new Map();
  for (const one of found) { const key = `${one.word} ${one.place || ""}`.toLocaleLowerCase(); if (!once.has(key)) once.set(key, one); }
  return [...once.values()];
}

function lay(list, field) {
  list.replaceChildren(...offered.map((one, n) => {
    const row = document.createElement("li");
    Object.assign(row, { role: "option", id: `finder-${n}` });
    row.setAttribute("aria-selected", String(n === at));
    const name = document.createElement("b");
    name.textContent = one.word;
    const about = document.createElement("span");
    about.textContent = one.place || (one.title !== one.word && one.title) || "";
    const key = document.createElement("span");
    if (one.keys?.length) Object.assign(key, { className: "kbd", textContent: signOf(one.keys[0]) });
    row.append(name, about, key);
    row.addEventListener("pointerdown", (event) => { event.preventDefault(); take(one); });
    return row;
  }));
  field.setAttribute("aria-activedescendant", offered.length ? `finder-${at}` : "");
  list.children[at]?.scrollIntoView({ block: "nearest" });
}

function take(one) {
  dialog.close();
  const run = () => one.run({ shiftKey: false, preventDefault() {} });
  if (one?.now) run(); // what is typed next is the command's
  else if (one) setTimeout(run); // when the focus is back where it was
}

/** The dialog, made when it is first wanted; what is given back opens it. */
function build() {
  dialog = document.createElement("dialog");
  Object.assign(dialog, { id: "finder", className: "finder" });
  dialog.setAttribute("aria-label", "Find a command");
  const field = Object.assign(document.createElement("input"), { className: "field", type: "text", placeholder: "what would you like to do?", autocomplete: "off", spellcheck: false });
  const list = Object.assign(document.createElement("ul"), { id: "finder-list", role: "listbox" });
  const none = Object.assign(document.createElement("p"), { className: "sub", textContent: "No command has these words." });
  list.setAttribute("aria-label", "Commands");
  for (const [name, value] of [["role", "combobox"], ["aria-label", "Words of a command"], ["aria-controls", list.id], ["aria-expanded", "true"], ["aria-autocomplete", "list"]]) field.setAttribute(name, value);
  let known = [];
  const look = () => {
    offered = known.filter((one) => fits(field.value, one)).slice(0, MOST);
    at = 0;
    none.hidden = offered.length > 0;
    lay(list, field);
  };
  field.addEventListener("input", look);
  field.addEventListener("keydown", (event) => {
    event.stopPropagation();
    if (event.key === "ArrowDown" || event.key === "ArrowUp") {
      event.preventDefault();
      at = (at + (event.key === "ArrowDown" ? 1 : -1) + offered.length) % Math.max(offered.length, 1);
      lay(list, field);
    } else if (event.key === "Enter") { event.preventDefault(); if (offered[at]) take(offered[at]); }
  });
  dialog.append(field, list, none);
  document.body.append(dialog);
  return () => { known = everything(); field.value = ""; look(); dialog.showModal(); field.focus(); };
}

export function commandFinder() {
  document.addEventListener("keydown", (event) => {
    if (!(event.ctrlKey || event.metaKey) || event.key.toLowerCase() !== "k") return;
    event.preventDefault();
    if (document.querySelector("dialog[open]") || !document.querySelector(".strip-places a")) return;
    open ||= build();
    open();
  }, true);
}
