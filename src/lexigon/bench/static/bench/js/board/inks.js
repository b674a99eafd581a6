// The drawer of inks: the job's swatches, given to what is chosen, mixed, traced to their uses, put in order, deleted.
import { askFor } from "./asking.js";
import { numbers } from "./rooms.js";
import { register } from "../commands.js";
import { messageOf } from "../errors.js";
import { upload } from "../http.js";
import { ask, question, select } from "../notice.js";
import { element } from "../dom.js";
import { drawer } from "./drawers.js";
import { chosen, holderOf } from "./frames.js";
import { changeAll } from "./frameactions.js";
import { tell } from "./gestures.js";
import { mix, tinge } from "./mixing.js";
import { focusText } from "./caret.js";
import { goToPlace } from "./text.js";
import { frameAt, point, sheet } from "./sheet.js";
import { target } from "./specline.js";
import { ofWords } from "./standing.js";
import { editMaster, inquire, leaveMaster, propose, send, show, state, toast } from "./store.js";

async function tried(action) {
  try {
    await action();
  } catch (error) {
    toast(messageOf(error), true);
  }
}

/** Give a swatch to the words that are selected, the paragraph the caret stands in, or what is chosen. */
async function give(one) {
  const { story, start, end } = target();
  if (story) {
    const same = start.paragraph === end.paragraph && start.offset === end.offset;
    await send([
      same
        ? { do: "set-paragraphs", story, first: start.paragraph, last: end.paragraph, type: { swatch: one.id } }
        : { do: "format-text", story, start, end, type: { swatch: one.id } },
    ]);
    focusText(); // what is typed next goes on where it stood
    return;
  }
  if (!chosen().length) {
    toast("Select frames or words first, then click the swatch.");
    return;
  }
  await changeAll({ spec: { fill: { swatch: one.id, tint: 1 } } });
}

const traced = (one) => inquire("styles/uses", { kind: "swatch", id: one.id });
const PLAIN = "black"; // what is given no swatch prints in it
const times = (count) => `${count} use${count === 1 ? "" : "s"}`;

/** Go to where something is used: to its words, its page, or its master page. */
async function goTo({ holder, key, offset, page, words }) {
  if (holder.startsWith("master:")) {
    await editMaster(holder.split(":")[1]);
    return;
  }
  if (state.master) await leaveMaster();
  if (words) await goToPlace(holder, key, offset, offset);
  else await show(page);
}

async function uses(one) {
  const { rows, count } = await traced(one);
  const list = rows.map((row) =>
    element("button", {
      type: "button",
      class: "use-row",
      text: `${row.label ? `p. ${row.label}: ` : ""}${row.holder.startsWith("style:") ? `the style “${row.words}”` : row.words || row.name}`,
      disabled: row.page === null && !row.holder.startsWith("master:"),
      click: () => {
        question.close();
        tried(() => goTo(row));
      },
    }),
  );
  const told = !count
    ? "It is not used."
    : count > rows.length
      ? `${times(count)}, the first ${rows.length} here:`
      : `${times(count)}:`;
  await ask(
    `Where used: “${one.name}”`,
    one.id === PLAIN ? `Used here, and for everything without a colour. ${told}` : told,
    "Close",
    [element("div", { class: "use-list" }, ...list)],
  );
}

async function remove(one) {
  const { count } = await traced(one);
  if (!count) {
    await send([{ do: "remove-swatch", id: one.id }]);
    return;
  }
  const others = state.swatches.filter(({ id }) => id !== one.id).map(({ id, name }) => [id, name]);
  await askFor(
    `Delete “${one.name}”?`,
    `It has ${times(count)}; what is in it is then in another swatch. It can be undone.`,
    "Delete",
    { instead: { word: "Replace with", kind: "choice", choices: others, value: PLAIN } },
    ({ instead }) => send([{ do: "remove-swatch", id: one.id, instead }]),
  );
}

async function nameGroup(group) {
  await askFor(
    `Group “${group}”`,
    "Leave the name empty to ungroup its swatches.",
    "Save",
    { name: { word: "Name", value: group } },
    ({ name }) => send([{ do: "name-swatch-group", group, name }]),
  );
}

/** Bring a palette file's swatches in. */
async function bringIn() {
  const field = Object.assign(document.createElement("input"), { type: "file", accept: ".gpl,.json,.css" });
  const file = await new Promise((resolve) => {
    field.addEventListener("change", () => resolve(field.files[0]));
    field.addEventListener("cancel", () => resolve(null));
    field.click();
  });
  if (!file) return;
  const data = new FormData();
  data.append("file", file);
  const { swatches } = await upload(`/job/${state.key}/swatches/palette/`, data);
  const before = state.swatches.length;
  const known = new Set(state.swatches.map(({ id }) => id));
  await send([{ do: "add-swatches", swatches }]);
  const made = state.swatches.filter(({ id }) => !known.has(id)).length;
  toast(made ? `${made} swatch${made === 1 ? "" : "es"} imported.` : `All ${before} were here already.`);
}

/** Save the swatches as a palette file. */
async function save() {
  const choices = [
    ["lexigon", "all details, for another job (.swatches.json)"],
    ["gpl", "RGB values, for other programs (.gpl)"],
    ["css", "RGB values, for the web (.css)"],
  ];
  await askFor(
    "Save swatches",
    "As a palette file, in the order of the list.",
    "Save",
    { form: { word: "Format", kind: "choice", choices } },
    ({ form }) => location.assign(`/job/${state.key}/swatches/palette/${form}`),
  );
}

let carried = false;

/** Carry a swatch onto something on the board, which is filled with it. */
function carry(event, one) {
  if (event.button) return;
  const target = event.currentTarget;
  const begun = { x: event.clientX, y: event.clientY };
  let ghost = null;
  let over = null;
  target.setPointerCapture(event.pointerId);
  const moved = (e) => {
    if (!ghost) {
      if (Math.hypot(e.clientX - begun.x, e.clientY - begun.y) < 6) return;
      ghost = element("i", { class: "ink-chip ink-ghost" });
      tinge(ghost, one);
      document.body.append(ghost);
      carried = true;
    }
    ghost.style.left = `${e.clientX + 8}px`;
    ghost.style.top = `${e.clientY + 8}px`;
    const onBoard = document.elementsFromPoint(e.clientX, e.clientY).includes(sheet);
    over = onBoard ? frameAt(point(e)) : null;
    if (over?.master || (over && ofWords(over))) over = null;
    if (over) tell(e, `fills “${over.name}”`);
    else numbers.hidden = true;
  };
  const done = (e) => {
    for (const [name, listener] of listeners) target.removeEventListener(name, listener);
    ghost?.remove();
    numbers.hidden = true;
    if (ghost)
      setTimeout(() => {
        carried = false;
      }); // the click that ends it is none
    if (e.type === "pointerup" && ghost && over)
      tried(() =>
        send([
          { do: "change-frame", page: holderOf(over), frame: over.id, spec: { fill: { swatch: one.id, tint: 1 } } },
        ]),
      );
  };
  const listeners = /** @type {[string, any][]} */ ([
    ["pointermove", moved],
    ["pointerup", done],
    ["pointercancel", done],
  ]);
  for (const [name, listener] of listeners) target.addEventListener(name, listener);
}

/** A swatch's line, between those above and below it in its group. */
function row(one, above, below) {
  const chip = element("i", { class: `ink-chip${one.spot ? " spot" : ""}` });
  tinge(chip, one);
  const to = (step) => {
    const other = step < 0 ? above : below;
    if (other)
      tried(() => send([{ do: "move-swatch", id: one.id, to: state.swatches.findIndex(({ id }) => id === other.id) }]));
  };
  const name = element(
    "button",
    {
      type: "button",
      class: "ink",
      "data-key": `ink-${one.id}`,
      title:
        "Apply: fills the selected frames or colours the selected words; or drag it onto an object. Alt ↑ ↓ moves it in the list",
      click: () => {
        if (!carried) tried(() => give(one));
      },
      pointerdown: (event) => carry(event, one),
      keydown: (event) => {
        const step = { ArrowUp: -1, ArrowDown: 1 }[event.key];
        if (event.altKey && step) {
          event.preventDefault();
          event.stopPropagation();
          to(step);
        }
      },
    },
    chip,
    element(
      "span",
      { class: "ink-words" },
      element("span", { class: "truncate", text: one.name, title: one.name }),
      element("span", { class: "aside", text: one.told === one.name ? "" : one.told }),
    ),
  );
  const act = (word, action, more = {}) =>
    element("button", {
      type: "button",
      class: "link",
      "data-key": `${word}-${one.id}`,
      text: word,
      "aria-label": `${word} “${one.name}”`,
      click: () => tried(() => action(one)),
      ...more,
    });
  return element(
    "li",
    { "data-swatch": one.id },
    name,
    element(
      "span",
      { class: "acts" },
      act("Edit", mix),
      act("Where used", uses),
      one.id === PLAIN ? "" : act("Delete", remove),
    ),
  );
}

const act = (word, key, action, more = {}) =>
  element("button", {
    type: "button",
    class: "link",
    "data-key": key,
    text: word,
    click: () => tried(action),
    ...more,
  });

/** Keep the roles as they are played now under a name. */
async function keepSet() {
  await askFor(
    "Save ink set",
    "Saves which swatches have which roles. Switching to another set changes the colours of the whole job in one step.",
    "Save",
    { name: { word: "Name", empty: "Ebb, Winter, Night …" } },
    ({ name }) => send([{ do: "put-ink-set", name }]),
  );
}

/** Which swatch plays which role in a set, and what it is called. */
async function changeSet(one) {
  const roles = state.swatches.filter(({ space }) => space === "role");
  const players = state.swatches
    .filter(({ space }) => ["cmyk", "rgb", "lab", "grey"].includes(space))
    .map(({ id, name: word }) => [id, word]);
  const played = (role) => one.parts.find((part) => part.role === role.id);
  const fields = Object.fromEntries(
    roles.map((role) => [
      role.id,
      { word: role.name, kind: "choice", choices: [["", "unchanged"], ...players], value: played(role)?.swatch || "" },
    ]),
  );
  await askFor(
    `Ink set “${one.name}”`,
    "The swatch of each role.",
    "Save",
    { name: { word: "Name", value: one.name }, ...fields },
    ({ name, ...parts }) =>
      send([
        {
          do: "put-ink-set",
          id: one.id,
          name,
          parts: roles
            .filter(({ id }) => parts[id])
            .map((role) => ({ role: role.id, swatch: parts[role.id], tint: played(role)?.tint ?? 1 })),
        },
      ]),
  );
}

/** The set's light or dark counterpart: looked at with its contrasts, then kept. */
async function counterpart(one) {
  const tones = [
    ["dark", "dark: light text on a dark background"],
    ["light", "light: dark text on a light background"],
  ];
  const list = element("div", { class: "counterpart" });
  let found = null;
  const look = async (tone) => {
    found = await inquire(`ink-sets/${one.id}/${tone}`, {});
    list.replaceChildren(
      ...found.rows.map((row) => {
        const [was, now] = [element("i", { class: "ink-chip" }), element("i", { class: "ink-chip" })];
        was.style.setProperty("background", row.was);
        now.style.setProperty("background", row.css);
        const told = row.ground ? "the background" : `contrast ${row.after}, was ${row.before}`;
        return element(
          "div",
          { class: "counterpart-row" },
          was,
          now,
          element("span", { class: "truncate", text: row.name, title: row.told }),
          element("span", { class: `aside${!row.ground && row.after < 3 ? " faint" : ""}`, text: told }),
        );
      }),
    );
  };
  await look("dark");
  await askFor(
    `Counterpart of “${one.name}”`,
    "Lightness is inverted, hues are unchanged, and text that was legible stays legible. The swatches are in a separate group and can be edited.",
    "Add",
    {
      tone: { word: "Background", kind: "choice", choices: tones, changed: ({ tone }) => tried(() => look(tone)) },
      list: { shows: list },
    },
    () => send([found.edit]),
  );
}

async function giveSection(one) {
  const choices = state.sectionStarts.map(([id, label, name]) => [
    id,
    name ? `“${name}”, from page ${label}` : `from page ${label}`,
  ]);
  await askFor(
    `“${one.name}” in a section`,
    "The pages of the section use this ink set instead of the job’s.",
    "Apply",
    { page: { word: "Section", kind: "choice", choices } },
    ({ page }) => send([{ do: "choose-ink-set", id: one.id, page }]),
  );
}

function setRow(one) {
  const strip = element(
    "span",
    { class: "ink-strip", "aria-hidden": "true" },
    ...one.parts.map((part) => {
      const chip = element("i", { title: part.name });
      chip.style.setProperty("background", part.css);
      return chip;
    }),
  );
  const where = one.sections.length ? `in ${one.sections.length} section${one.sections.length > 1 ? "s" : ""}` : "";
  const words =
    [one.chosen && "used by the job", where].filter(Boolean).join(", ") || one.parts.map(({ name }) => name).join(", ");
  const use = element(
    "button",
    {
      type: "button",
      class: "ink",
      "data-key": `set-${one.id}`,
      "aria-pressed": String(one.chosen),
      title: "Use ink set: applies its swatches to the roles in the whole job",
      click: () => tried(() => send([{ do: "choose-ink-set", id: one.id }])),
    },
    strip,
    element(
      "span",
      { class: "ink-words" },
      element("span", { class: "truncate", text: one.name, title: one.name }),
      element("span", { class: "aside truncate", text: words }),
    ),
  );
  const more = [
    act("Edit", `set-change-${one.id}`, () => changeSet(one), { "aria-label": `Edit “${one.name}”` }),
    ...(state.sectionStarts.length
      ? [
          act("Section", `set-section-${one.id}`, () => giveSection(one), {
            title: "Section: use this set in one section only",
            "aria-label": `Use “${one.name}” in a section`,
          }),
        ]
      : []),
    act("Counterpart", `set-vary-${one.id}`, () => counterpart(one), {
      title: "Counterpart: the same hues for a dark or a light background",
      "aria-label": `Light or dark counterpart of “${one.name}”`,
    }),
    act("Delete", `set-delete-${one.id}`, () => send([{ do: "remove-ink-set", id: one.id }]), {
      "aria-label": `Delete the ink set “${one.name}”`,
    }),
  ];
  return element("li", { "data-set": one.id }, use, element("span", { class: "acts" }, ...more));
}

/** The ink sets, where the job has roles. */
function sets(body) {
  if (!state.swatches.some(({ space }) => space === "role")) return;
  body.append(
    element(
      "div",
      { class: "head ink-group" },
      element("h3", { text: "Ink sets" }),
      act("Save", "set-new", keepSet, { title: "Save ink set: the current swatches of all roles, under a name" }),
    ),
  );
  if (state.inkSets.length) body.append(element("ul", { class: "ink-list" }, ...state.inkSets.map(setRow)));
  else
    body.append(
      element("p", {
        class: "sub",
        text: "No ink sets yet. Save the current swatches of the roles as the first set; then assign other swatches and save another.",
      }),
    );
}

const refs = () => chosen().map((f) => ({ page: holderOf(f), id: f.id }));

/** Other swatches for those that what is chosen is drawn in, in one list. */
async function recolour() {
  const objects = refs();
  const { used } = await propose("swatches/chosen", { objects });
  const rows = used.map(([id, count]) => {
    const one = state.swatches.find((swatch) => swatch.id === id);
    const field = select(
      state.swatches.map(({ id: key, name }) => [key, key === id ? "unchanged" : name]),
      id,
    );
    const chip = element("i", { class: "ink-chip" });
    if (one) tinge(chip, one);
    return {
      id,
      field,
      row: element(
        "div",
        { class: "recolour-row" },
        chip,
        element("span", { class: "truncate", text: one?.name || id, title: one?.name || id }),
        element("span", { class: "aside", text: `× ${count}` }),
        field,
      ),
    };
  });
  if (!rows.length) {
    toast("The selection has no local colours. Colours that come from styles are changed in the styles.");
    return;
  }
  for (const { field, id } of rows)
    field.setAttribute("aria-label", `Instead of ${state.swatches.find((swatch) => swatch.id === id)?.name || id}`);
  await ask(
    "Recolour selection",
    "Select a new swatch for each colour of the selection. All change at the same time, so two can be swapped.",
    "Recolour",
    [element("div", { class: "recolour" }, ...rows.map(({ row: one }) => one))],
    async () => {
      const pairs = Object.fromEntries(
        rows.filter(({ id, field }) => field.value !== id).map(({ id, field }) => [id, field.value]),
      );
      if (Object.keys(pairs).length) await send([{ do: "exchange-swatches", objects, pairs }]);
    },
  );
}

let sought = "";

function fill(body) {
  body.append(
    element(
      "div",
      { class: "head" },
      element("h2", { text: "Inks" }),
      element("button", { type: "button", class: "link", "data-key": "new", text: "New swatch", click: () => mix() }),
    ),
  );
  sets(body);
  if (state.swatches.length > MANY)
    body.append(
      element("input", {
        class: "field",
        type: "search",
        placeholder: "Search by name or inks",
        "aria-label": "Search swatches",
        "data-key": "ink-search",
        value: sought,
        input: ({ target }) => {
          sought = target.value;
          seek(body);
        },
      }),
    );
  for (const name of new Set(["", ...state.swatches.map(({ group }) => group)])) {
    const own = state.swatches.filter(({ group }) => group === name);
    if (!own.length) continue;
    if (name)
      body.append(
        element(
          "div",
          { class: "head ink-group" },
          element("h3", { text: name, class: "truncate" }),
          element("button", {
            type: "button",
            class: "link",
            "data-key": `group-${name}`,
            text: "Rename",
            "aria-label": `Rename the group “${name}”`,
            click: () => nameGroup(name).catch(() => {}),
          }),
        ),
      );
    body.append(element("ul", { class: "ink-list" }, ...own.map((one, n) => row(one, own[n - 1], own[n + 1]))));
  }
  const others = element(
    "p",
    { class: "sub" },
    "Palette files: ",
    element("button", {
      type: "button",
      class: "link",
      "data-key": "palette-in",
      text: "import…",
      click: () => tried(bringIn),
    }),
    " · ",
    element("button", {
      type: "button",
      class: "link",
      "data-key": "palette-out",
      text: "save…",
      click: () => save().catch(() => {}),
    }),
  );
  body.append(others);
  seek(body);
}

const MANY = 8; // swatches from which on they are searched

/** Show the swatches whose name or mixture has what is sought. */
function seek(body) {
  const words = state.swatches.length > MANY ? sought.trim().toLowerCase() : "";
  for (const item of body.querySelectorAll("[data-swatch]")) {
    const { name, told } = state.swatches.find(({ id }) => id === item.dataset.swatch);
    item.hidden = !`${name} ${told}`.toLowerCase().includes(words);
  }
}

drawer({ id: "inks", word: "Inks", key: "w", help: "Inks: the job’s swatches", fill, after: ["lists"] });
register(
  {
    word: "Recolour selection…",
    keys: [],
    when: () => chosen().some((f) => !f.master && !f.cell),
    run: () => tried(recolour),
    menu: 5,
  },
  { word: "Import palette file…", keys: [], run: () => tried(bringIn) },
  { word: "Save swatches as palette file…", keys: [], run: () => save().catch(() => {}) },
  { word: "Add swatch…", keys: [], run: () => mix() },
);
