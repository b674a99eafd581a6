// The drawer of pictures: the job's contact sheet.
import { register } from "../commands.js";
import { ask, input, labelled } from "../notice.js";
import { element } from "./dom.js";
import { drawer } from "./drawers.js";
import { CARRIED, addressOf, bringIn, chooseFiles, handIn, placeSomewhere } from "./placing.js";
import { send, state, toast } from "./store.js";

const told = ({ width, height, space, uses, missing }) => [`${width.toLocaleString()} × ${height.toLocaleString()}`, { grey: "grey", rgb: "RGB", cmyk: "CMYK" }[space], missing ? "file missing" : uses ? `${uses} use${uses === 1 ? "" : "s"}` : "not used"].join(", ");

async function tried(action) { try { await action(); } catch (error) { toast(error.message, true); } }

async function rename(one) {
  const name = input(one.name);
  const alt = input(one.alt || "", "what it shows, for those who cannot see it");
  await ask("Picture", told(one), "Keep it", [labelled("Name", name), labelled("Shows", alt)], () => send([{ do: "change-picture", picture: one.id, name: name.value, alt: alt.value }]));
}

async function replace(one) {
  const files = await chooseFiles(false);
  if (!files.length) return;
  await tried(async () => { const [made] = await handIn(files); await send([{ do: "change-picture", picture: one.id, file: { ...made.file, name: one.name } }]); });
}

function card(one) {
  const picture = element("button", {
    type: "button", class: `contact${one.missing ? " missing" : ""}`, "data-key": `place-${one.id}`, draggable: "true", title: "Place it: in the chosen frame, or on the page in view. Or drag it onto the board",
    "aria-label": `Place “${one.name}”`, click: () => tried(() => placeSomewhere([{ file: one, width: (one.width / one.ppi) * 72, height: (one.height / one.ppi) * 72 }])),
    dragstart: (event) => { event.dataTransfer.setData(CARRIED, one.id); event.dataTransfer.effectAllowed = "copy"; },
  }, one.missing ? element("span", { text: "file missing" }) : element("img", { src: addressOf(one.file, 320), alt: one.alt || "", loading: "lazy", draggable: "false" }));
  return element("li", { "data-picture": one.id }, picture, element("span", { class: "truncate", text: one.name, title: one.name }), element("span", { class: "aside", text: told(one) }),
    element("span", { class: "acts" },
      element("button", { type: "button", class: "link", "data-key": `name-${one.id}`, text: "Name", "aria-label": `Name “${one.name}”`, click: () => rename(one) }),
      element("button", { type: "button", class: "link", "data-key": `replace-${one.id}`, text: "Replace", title: "Another file for it, everywhere it is used", "aria-label": `Replace “${one.name}”`, click: () => replace(one) }),
      one.uses ? "" : element("button", { type: "button", class: "link", "data-key": `remove-${one.id}`, text: "Remove", "aria-label": `Remove “${one.name}”`, click: () => tried(() => send([{ do: "remove-pictures", pictures: [one.id] }])) })));
}

function fill(body) {
  body.append(element("div", { class: "head" }, element("h2", { text: "Pictures" }), element("button", { type: "button", class: "link", "data-key": "bring", text: "Bring in …", click: bringIn })));
  if (!state.pictures.length) { body.append(element("p", { class: "sub", text: "None yet. Bring in PNG, JPEG, TIFF or WebP files, or drop them onto a page or into a frame." })); return; }
  const list = element("ul", { class: "contact-sheet" });
  for (const one of state.pictures) list.append(card(one));
  const unused = state.pictures.filter(({ uses }) => !uses);
  body.append(list, unused.length > 1 ? element("button", { type: "button", class: "button", "data-key": "unused", text: `Remove the ${unused.length} not used`, click: () => tried(() => send([{ do: "remove-pictures", pictures: unused.map(({ id }) => id) }])) }) : "");
}

drawer({ id: "pictures", word: "Pictures", key: "c", help: "Pictures: the job’s contact sheet", fill, after: ["lists"] });
register({ word: "Place a picture: choose a file", keys: [], run: bringIn });
