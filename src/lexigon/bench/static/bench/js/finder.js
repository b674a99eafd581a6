// The command finder: every command of this place, and the way to those of the others, by any of its words. Ctrl K opens it.
import { commands } from "./commands.js";

/** What is mostly done in the other places: [the end of the place's address, words]. */
const ELSEWHERE = [
  ["/brief/", "Change page size and orientation"],
  ["/brief/", "Change margins, bleed and columns"],
  ["/brief/", "Change body text and baseline grid"],
  ["/brief/", "Change paper and binding"],
  ["/flatplan/", "Add pages"],
  ["/flatplan/", "Move pages"],
  ["/flatplan/", "Start section"],
  ["/flatplan/", "Add master page"],
  ["/flatplan/", "Apply master page"],
  ["/flatplan/", "Show printer’s sheets and creep"],
  ["/board/", "Type on the pages"],
  ["/board/", "Edit styles: paragraph, character, frame styles"],
  ["/board/", "Import and replace fonts"],
  ["/board/", "Show history and versions"],
  ["/board/", "Insert footnotes, tables, cross-references"],
  ["/board/", "Place and crop pictures"],
  ["/board/", "Insert listing: contents, index, glossary"],
  ["/board/", "Show guides, rulers and grids"],
  ["/manuscript/", "Import manuscript"],
  ["/manuscript/", "Find and replace text, fonts, styles, colours"],
  ["/manuscript/", "Check spelling"],
  ["/press/", "Export PDF, images"],
  ["/press/", "Show proof and findings"],
];
const MOST = 12;
let dialog = null;
let open = null;
let offered = [];
let at = 0;

const words = (text) =>
  text
    .toLocaleLowerCase()
    .split(/[^\p{L}\p{N}]+/u)
    .filter(Boolean);

/** Words of the trade that mean the same: who types one finds the commands of the others. */
const SAME = [
  ["clip", "mask"],
  ["crop", "framing", "trim picture"],
  ["subtract", "minus", "cut out"],
  ["rotate", "turn"],
  ["flip", "mirror", "reflect"],
  ["skew", "shear", "lean", "slant"],
  ["delete", "remove", "erase"],
  ["select", "choose"],
  ["distribute", "spread", "even gaps"],
  ["stacking order", "arrange", "front", "back"],
  ["bring forward", "raise"],
  ["send backward", "lower"],
  ["font", "typeface", "fonts"],
  ["link", "thread", "flow"],
  ["swatch", "colour", "color", "ink"],
  ["import", "bring in", "load"],
  ["insert", "add", "new"],
  ["export", "output", "save as", "print"],
  ["image", "photo", "picture"],
  ["barcode", "qr", "code"],
  ["offset outline", "outline stroke", "offset path"],
  ["vectorise", "vectorize", "trace"],
  ["divide", "part", "split"],
  ["merge", "unite", "join", "combine"],
  ["ruler origin", "measures"],
  ["preview", "clean view"],
  ["wireframe", "outline view"],
  ["100 %", "actual size", "true size"],
  ["toc", "contents"],
  ["master page", "template page"],
  ["hidden characters", "invisible characters"],
  ["step and repeat", "repeat"],
  ["eyedropper", "pick colour"],
  ["footnote", "note"],
  ["cross-reference", "reference"],
  ["bleed", "margins bleed"],
];

/** What is meant by a word that is typed: itself, and what means the same, each as words. */
const meantBy = (part) => [
  [part],
  ...SAME.filter((group) => group.some((one) => words(one)[0].startsWith(part) && part.length > 2))
    .flat()
    .map(words),
];

/** How well a command is found by what is typed: -2 if that is the name of a command of the place, -1 if its name begins with it, 0 by its own words, 1 by others that
 *  mean the same; null where it is not. */
function foundBy(typed, { word, help = "", title = "", place = "", also = "", keys = null }) {
  const begins = (own) => (part) => own.some((one) => one.startsWith(part));
  const own = begins(words(`${word} ${help} ${title} ${place}`)),
    any = begins(words(`${word} ${help} ${title} ${place} ${also}`));
  const parts = words(typed);
  const name = words(word).join(" "),
    asked = parts.join(" ");
  if (keys && asked && name.startsWith(asked)) return name === asked ? -2 : -1;
  if (parts.every(own)) return 0;
  return parts.every((part) => meantBy(part).some((some) => some.every(any))) ? 1 : null;
}

const SIGNS = { PageDown: "Page Down", PageUp: "Page Up", "-": "−" };
/** A key as it is written on a keyboard: letters in capitals, those that are capitals already with Shift. */
const signOf = (key) =>
  SIGNS[key] || (/^\p{Lu}$/u.test(key) ? `Shift ${key}` : /^\p{Ll}$/u.test(key) ? key.toUpperCase() : key);

const seen = (element) =>
  element.offsetParent !== null && !element.disabled && !element.closest("dialog, [aria-hidden='true']");
const named = (element) =>
  (element.getAttribute("aria-label") || element.textContent || "").replace(/\s+/g, " ").trim();

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
  const go = links
    .filter((link) => !link.hasAttribute("aria-current"))
    .map((link) => ({
      word: `Go to ${placeOf(link)}`,
      run: () => {
        location.href = link.href;
      },
    }));
  const elsewhere = ELSEWHERE.flatMap(([end, word]) => {
    const link = links.find((one) => one.pathname.endsWith(end) && !one.hasAttribute("aria-current"));
    return link
      ? [
          {
            word,
            place: `in ${placeOf(link)}`,
            run: () => {
              location.href = link.href;
            },
          },
        ]
      : [];
  });
  const shelf = document.querySelector("a.logo");
  const found = [
    ...commands(),
    ...pressable(),
    ...go,
    {
      word: "Go to Shelf",
      run: () => {
        location.href = shelf.href;
      },
    },
    ...elsewhere,
  ];
  const once = new Map();
  for (const one of found) {
    const key = `${one.word.replace(/…$/, "")} ${one.place || ""}`.toLocaleLowerCase();
    if (!once.has(key)) once.set(key, one);
  }
  return [...once.values()];
}

function lay(list, field) {
  list.replaceChildren(
    ...offered.map((one, n) => {
      const row = document.createElement("li");
      Object.assign(row, { role: "option", id: `finder-${n}` });
      row.setAttribute("aria-selected", String(n === at));
      const name = document.createElement("b");
      name.textContent = one.word;
      const about = document.createElement("span");
      about.textContent = one.needs || one.place || (one.title !== one.word && one.title) || "";
      const key = document.createElement("span");
      if (one.keys?.length) Object.assign(key, { className: "kbd", textContent: signOf(one.keys[0]) });
      if (one.needs) row.setAttribute("aria-disabled", "true");
      row.append(name, about, key);
      row.addEventListener("pointerdown", (event) => {
        event.preventDefault();
        take(one);
      });
      return row;
    }),
  );
  field.setAttribute("aria-activedescendant", offered.length ? `finder-${at}` : "");
  list.children[at]?.scrollIntoView({ block: "nearest" });
}

function take(one) {
  if (one.needs) return; // it says why
  dialog.close();
  const run = () => one.run({ shiftKey: false, preventDefault() {} });
  if (one?.now)
    run(); // what is typed next is the command's
  else if (one) setTimeout(run); // when the focus is back where it was
}

/** The dialog, made when it is first wanted; what is given back opens it. */
function build() {
  dialog = document.createElement("dialog");
  Object.assign(dialog, { id: "finder", className: "finder" });
  dialog.setAttribute("aria-label", "Find a command");
  const field = Object.assign(document.createElement("input"), {
    className: "field",
    type: "text",
    placeholder: "What would you like to do?",
    autocomplete: "off",
    spellcheck: false,
  });
  const list = Object.assign(document.createElement("ul"), { id: "finder-list", role: "listbox" });
  const none = Object.assign(document.createElement("p"), { className: "sub", textContent: "No command matches." });
  list.setAttribute("aria-label", "Commands");
  for (const [name, value] of [
    ["role", "combobox"],
    ["aria-label", "Search commands"],
    ["aria-controls", list.id],
    ["aria-expanded", "true"],
    ["aria-autocomplete", "list"],
  ])
    field.setAttribute(name, value);
  let known = [];
  const look = () => {
    const rank = new Map(known.map((one) => [one, foundBy(field.value, one)]));
    const order = (one) => 4 * Number(Boolean(one.needs)) + rank.get(one); // what can be done now comes first
    offered = known
      .filter((one) => rank.get(one) !== null)
      .sort((one, other) => order(one) - order(other))
      .slice(0, MOST);
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
    } else if (event.key === "Enter") {
      event.preventDefault();
      if (offered[at]) take(offered[at]);
    }
  });
  dialog.append(field, list, none);
  document.body.append(dialog);
  return () => {
    known = everything();
    field.value = "";
    look();
    dialog.showModal();
    field.focus();
  };
}

export function commandFinder() {
  document.addEventListener(
    "keydown",
    (event) => {
      if (!(event.ctrlKey || event.metaKey) || event.key.toLowerCase() !== "k") return;
      event.preventDefault();
      if (document.querySelector("dialog[open]") || !document.querySelector(".strip-places a")) return;
      open ||= build();
      open();
    },
    true,
  );
}
