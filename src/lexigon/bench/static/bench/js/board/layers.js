// The drawer of layers: their order, what is seen, locked and printed, and what stands on each of the spread in view.
import { readNumber } from "../numerals.js";
import { board, drawerPanel as panel, turning } from "./rooms.js";
import { element, icon } from "../dom.js";
import { drawer, pull } from "./drawers.js";
import { chosen, select, selectThese } from "./frames.js";
import { frames, inReading, inText } from "./standing.js";
import { activateLayer, activeLayer, emit, on, send, state, toast } from "./store.js";

const change = (layer, values) => send([{ do: "change-layer", layer: layer.id, ...values }]).catch(() => {});

function toggle(layer, { name, on, off, said, unsaid }) {
  const is = layer[name];
  return element(
    "button",
    {
      type: "button",
      class: `quiet${is ? "" : " off"}`,
      "data-key": `${name}-${layer.id}`,
      "aria-pressed": String(is),
      title: is ? said : unsaid,
      "aria-label": `${layer.name}: ${is ? said : unsaid}`,
      click: () => change(layer, { [name]: !is }),
    },
    icon(is ? on : off),
  );
}

/** Layers whose objects are listed, beside the one that is active. */
const shownLayers = new Set();

/** The layer that the drawer describes. */
const described = () => state.layers.find(({ id }) => id === state.layer) || activeLayer();

function activate(layer) {
  activateLayer(layer.id);
  const open = activeLayer();
  if (open.id !== layer.id)
    toast(`“${layer.name}” is ${layer.locked ? "locked" : "hidden"}: new objects are added to “${open.name}”.`);
}

/** The current layer at the foot of the board, where there are several. */
const indicator = element("button", {
  type: "button",
  class: "current-layer",
  id: "current-layer",
  hidden: true,
  click: () => pull("layers", true),
});
turning.after(indicator);
function showCurrent() {
  const layer = activeLayer();
  indicator.hidden = state.layers.length < 2 || Boolean(state.master);
  const chip = element("i", { class: "chip" });
  chip.style.setProperty("background", layer.colour);
  indicator.replaceChildren(chip, element("span", { class: "truncate", text: layer.name }));
  indicator.setAttribute("aria-label", `Current layer: ${layer.name}`);
  indicator.title = `Current layer: ${layer.name}. New objects are added to it. Click to open the Layers drawer.`;
}
for (const name of /** @type {const} */ (["layer", "lists", "master"])) on(name, showCurrent);
showCurrent();

let reading = false;

/** What stands on the pages in view in the order in which it is read, to be changed by dragging, or Alt ↑ ↓. */
function readingList(body) {
  body.append(
    element("p", {
      class: "sub mb-2",
      text: "The order in which objects are read aloud, and in which N selects them. Drag an object, or press Alt ↑ ↓, to move it.",
    }),
  );
  for (const page of state.view) {
    const own = inReading(frames().filter((f) => f.page === page && !f.master && !f.field && !inText(f)));
    const list = element("ol", { class: "reading-list", "aria-label": `Page ${state.pages[page].label}` });
    own.forEach((f, at) => {
      const put = (to) => {
        const ids = own.map(({ id }) => id);
        ids.splice(Math.min(Math.max(to, 0), ids.length - 1), 0, ...ids.splice(at, 1));
        if (to !== at && to >= 0 && to < own.length)
          send([{ do: "put-reading", page: state.pages[page].id, order: ids }]).catch(() => {});
      };
      list.append(
        element(
          "li",
          {},
          element(
            "button",
            {
              type: "button",
              class: "object",
              "data-key": `reading-${f.id}`,
              "aria-pressed": String(chosen().some((one) => one.id === f.id && one.page === f.page)),
              click: () => select(f),
              keydown: (event) => {
                if (!event.altKey || !["ArrowUp", "ArrowDown"].includes(event.key)) return;
                event.preventDefault();
                event.stopPropagation();
                put(at + (event.key === "ArrowUp" ? -1 : 1));
              },
              pointerdown: (event) => dragRow(event, [...list.children], (to) => put(to > at ? to - 1 : to)),
            },
            element("b", { text: String(at + 1) }),
            element("span", { class: "truncate", text: called(f) }),
          ),
        ),
      );
    });
    body.append(
      ...(state.view.length > 1 ? [element("h3", { class: "aside", text: `Page ${state.pages[page].label}` })] : []),
      own.length
        ? list
        : element("p", { class: "sub", text: "This page has no objects that are not from its master page." }),
    );
  }
}

/** Drag one of some rows to another place among them: a line shows where it goes; `put(to)` hears how many rows it is let go behind. */
function dragRow(event, rows, put) {
  if (event.button !== 0) return;
  const target = event.currentTarget;
  const begun = event.clientY;
  let to = -1;
  const moved = (e) => {
    if (to < 0 && Math.abs(e.clientY - begun) < 5) return;
    target.setPointerCapture(event.pointerId);
    to = rows.filter((one) => {
      const box = one.getBoundingClientRect();
      return e.clientY > box.top + Math.min(box.height, 34) / 2;
    }).length;
    rows.forEach((one, n) => {
      one.classList.toggle("goes-before", n === to);
      one.classList.toggle("goes-behind", n === rows.length - 1 && to === rows.length);
    });
  };
  const done = (e) => {
    for (const [name, listener] of [
      ["pointermove", moved],
      ["pointerup", done],
      ["pointercancel", done],
    ])
      target.removeEventListener(name, listener);
    rows.forEach((one) => one.classList.remove("goes-before", "goes-behind"));
    if (e.type === "pointerup" && to >= 0) put(to);
  };
  for (const [name, listener] of [
    ["pointermove", moved],
    ["pointerup", done],
    ["pointercancel", done],
  ])
    target.addEventListener(name, listener);
}

/** The layers, the topmost first, each with what stands on it; or what stands there as it is read. */
function fill(body) {
  const now = described();
  const as = (word, key, on) =>
    element("button", {
      type: "button",
      "data-key": key,
      "aria-pressed": String(on),
      text: word,
      click: () => {
        reading = key === "as-read";
        emit("layer");
        emit("sketch");
      },
    });
  const ways = element(
    "div",
    { class: "seg mb-2", role: "group", "aria-label": "Objects on the pages" },
    as("Stacking order", "as-lies", !reading),
    as("Reading order", "as-read", reading),
  );
  if (reading) {
    body.append(element("div", { class: "head" }, element("h2", { text: "Order of objects" })), ways);
    readingList(body);
    return;
  }
  body.append(
    element(
      "div",
      { class: "head" },
      element("h2", { text: "Layers" }),
      element("button", {
        type: "button",
        class: "link",
        "data-key": "new",
        text: "New layer",
        click: addLayer,
      }),
    ),
  );
  body.append(ways);
  const list = element("ol", { class: "layer-list" });
  const order = state.layers.slice().reverse();
  for (const layer of order) list.append(row(layer, layer === now, list));
  body.append(list, about(now));
}

function row(layer, current, list) {
  const standing = frames().filter((f) => f.layer === layer.id);
  const name = element(
    "button",
    {
      type: "button",
      class: "name",
      "data-key": `name-${layer.id}`,
      title: `${layer.name}: new objects are added to the current layer. Drag it, or Alt ↑ ↓, to change the stacking order`,
      click: () => activate(layer),
      keydown: (event) => keys(event, layer),
      pointerdown: (event) => drag(event, layer, list),
    },
    element("span", { text: layer.name }),
  );
  if (current) name.setAttribute("aria-current", "true");
  const listed = current || shownLayers.has(layer.id);
  const fold = element(
    "button",
    {
      type: "button",
      class: "fold",
      "data-key": `list-${layer.id}`,
      disabled: current || !standing.length,
      "aria-expanded": String(listed),
      "aria-label": `${layer.name}: the objects on it`,
      click: () => {
        if (listed) shownLayers.delete(layer.id);
        else shownLayers.add(layer.id);
        emit("layer");
      },
    },
    listed ? "▾" : "▸",
  );
  const chip = element("i", { class: "chip" });
  chip.style.setProperty("background", layer.colour); // the content policy lets scripts set what markup may not
  const head = element(
    "div",
    { class: "layer-head" },
    fold,
    chip,
    name,
    element("span", { class: "aside", text: layer.visible ? String(standing.length || "") : "hidden" }),
    toggle(layer, {
      name: "visible",
      on: "eye",
      off: "eye-off",
      said: "visible; hide layer",
      unsaid: "hidden and not printed; show layer",
    }),
    element(
      "button",
      {
        type: "button",
        class: `quiet${layer.locked ? "" : " off"}`,
        "data-key": `locked-${layer.id}`,
        "aria-pressed": String(layer.locked),
        title: layer.locked ? "locked; unlock" : "not locked; lock",
        "aria-label": `${layer.name}: ${layer.locked ? "locked; unlock" : "not locked; lock"}`,
        click: () => change(layer, { locked: !layer.locked }),
      },
      icon(layer.locked ? "lock" : "lock-open"),
    ),
  );
  const item = element(
    "li",
    { class: `layer${current ? " current" : ""}${layer.visible ? "" : " unseen"}`, "data-layer": layer.id },
    head,
  );
  if ((current || shownLayers.has(layer.id)) && standing.length) item.append(objects(standing));
  return item;
}

const UNNAMED = ["Text frame", "Picture frame", "Shape"];
/** An object's name; a text frame without one goes by its first words. */
function called(f) {
  const words = UNNAMED.includes(f.name)
    ? f.lines
        .slice(0, 2)
        .flatMap(({ texts }) => texts.map(({ node }) => node?.textContent || ""))
        .join(" ")
        .trim()
    : "";
  return words.slice(0, 60) || f.name;
}

/** What stands on a layer of the spread in view, the topmost first, groups with what they hold beneath them. */
function objects(standing) {
  const list = element("ul", { class: "layer-objects" });
  for (const page of state.view) lines(standing.filter((f) => f.page === page).reverse(), 0, list);
  return list;
}

/** A line for each object, and for each group at a depth one that may be unfolded. */
function lines(all, depth, list) {
  const told = new Set();
  for (const f of all) {
    const group = f.groups[depth];
    if (!group) {
      list.append(line(f, { id: f.id, word: called(f), depth, taken: [f], open: null }));
      continue;
    }
    if (told.has(group)) continue;
    told.add(group);
    const mates = all.filter((other) => other.groups[depth] === group);
    const open = unfolded.has(group);
    list.append(line(f, { id: group, word: f.groupNames[depth], depth, taken: mates, open }));
    if (open) lines(mates, depth + 1, list);
  }
}

const unfolded = new Set();
let renaming = "";

function line(f, { id, word, depth, taken, open }) {
  const now = chosen();
  const group = open !== null;
  const own = { page: state.pages[f.page].id, id };
  const pick = () => {
    state.entered = f.groups[depth - 1] || "";
    selectThese(taken);
  };
  const item = element("li", { class: `depth-${Math.min(depth, 4)}` });
  if (renaming === id && !f.master) {
    const field = element("input", {
      class: "field",
      value: word,
      maxlength: "80",
      "aria-label": `Name of ${word}`,
      "data-key": "rename",
      blur: () => renamed(own, field.value, word),
      keydown: (event) => {
        event.stopPropagation();
        if (event.key === "Enter") field.blur();
        if (event.key === "Escape") {
          field.value = word;
          field.blur();
        }
      },
    });
    item.append(field);
    queueMicrotask(() => {
      if (document.activeElement !== field) field.select();
    });
    return item;
  }
  const button = element(
    "button",
    {
      type: "button",
      class: "object",
      "data-key": `object-${id}`,
      "data-object": id,
      disabled: f.held,
      "aria-pressed": String(taken.every((one) => now.some((other) => other.id === one.id && other.page === one.page))),
      title: f.held
        ? "Its layer is locked"
        : "Click selects; double-click or F2 renames; drag or Alt ↑ ↓ moves it in the order",
      click: pick,
      dblclick: () => rename(f, id),
      pointerdown: (event) => dragLine(event, f, own),
      keydown: (event) => lineKeys(event, f, own),
    },
    element("span", { class: "truncate", text: group ? `${word}, ${taken.length}` : word }),
    element("span", {
      class: "aside",
      text: [f.master && "master", f.locked && "locked", f.silent && "not printed"].filter(Boolean).join(", "),
    }),
  );
  if (group)
    item.append(
      element(
        "button",
        {
          type: "button",
          class: "fold",
          "data-key": `fold-${id}`,
          "aria-expanded": String(open),
          "aria-label": `${word}: objects in the group`,
          click: () => {
            if (open) unfolded.delete(id);
            else unfolded.add(id);
            emit("layer");
          },
        },
        open ? "▾" : "▸",
      ),
    );
  item.append(button);
  return item;
}

function rename(f, id) {
  if (f.master) {
    toast("This object belongs to the master page. Override it first.");
    return;
  }
  renaming = id;
  emit("layer");
}

async function renamed({ page, id }, name, was) {
  renaming = "";
  if (name.trim() && name !== was)
    try {
      await send([{ do: "change-frame", page, frame: id, name: name.trim() }]);
    } catch {
      /* it said why */
    }
  emit("layer");
}

function lineKeys(event, f, own) {
  if (event.key === "F2") {
    event.preventDefault();
    event.stopPropagation();
    rename(f, own.id);
  }
  if (!event.altKey || !["ArrowUp", "ArrowDown"].includes(event.key)) return;
  event.preventDefault();
  event.stopPropagation();
  const all = [...panel.querySelectorAll(".object")];
  const at = all.findIndex((one) => one.dataset.object === own.id);
  const other = all[at + (event.key === "ArrowUp" ? -1 : 1)];
  if (other) stack(f, own, { other: other.dataset.object, where: event.key === "ArrowUp" ? "above" : "below" });
}

function stack(f, own, how) {
  if (f.master) {
    toast("This object belongs to the master page. Override it first.");
    return;
  }
  send([{ do: "stack-objects", objects: [{ ...own, inner: true }], ...how }]).catch(() => {});
}

/** Drag an object's line above or below another one, into a group (on the middle of its line), or onto a layer. */
function dragLine(event, f, own) {
  if (event.button !== 0) return;
  const target = event.currentTarget;
  const begun = event.clientY;
  let over = null;
  let where = "";
  const mark = (one, how) => {
    over?.classList.remove("goes-above", "goes-below", "goes-in");
    over = one;
    where = how;
    one?.classList.add(`goes-${how}`);
  };
  const moved = (e) => {
    if (!over && Math.abs(e.clientY - begun) < 5) return;
    target.setPointerCapture(event.pointerId);
    const found = document
      .elementsFromPoint(e.clientX, e.clientY)
      .find((one) => one.matches?.("#drawer .object, #drawer .layer-head"));
    if (!found || found === target) {
      mark(null, "");
      return;
    }
    const box = found.getBoundingClientRect();
    const part = (e.clientY - box.top) / box.height;
    const group = found.parentElement.querySelector(":scope > .fold");
    mark(
      found,
      found.matches(".layer-head") || (group && part > 0.3 && part < 0.7) ? "in" : part < 0.5 ? "above" : "below",
    );
  };
  const done = (e) => {
    for (const [name, listener] of [
      ["pointermove", moved],
      ["pointerup", done],
      ["pointercancel", done],
    ])
      target.removeEventListener(name, listener);
    const [found, how] = [over, where];
    mark(null, "");
    if (e.type !== "pointerup" || !found) return;
    if (found.matches(".layer-head")) stack(f, own, { layer: found.closest(".layer").dataset.layer });
    else stack(f, own, { other: found.dataset.object, where: how });
  };
  for (const [name, listener] of [
    ["pointermove", moved],
    ["pointerup", done],
    ["pointercancel", done],
  ])
    target.addEventListener(name, listener);
}

/** Work on one layer alone: what stands on the others is pale, and cannot be chosen. */
function workOnly(layer) {
  state.only = state.only === layer.id ? "" : layer.id;
  if (state.only) activate(layer);
  pale();
  select(null);
  emit("layer");
}

function pale() {
  board.classList.toggle("one-layer", Boolean(state.only));
  for (const group of document.querySelectorAll(".content .frame"))
    group.classList.toggle("pale", Boolean(state.only) && group.dataset.layer !== state.only);
}
on("painted", () => {
  if (state.only && !state.layers.some(({ id }) => id === state.only)) state.only = "";
  pale();
});

/** What there is to say of the active layer. */
function about(layer) {
  const field = (word, control, hint = "") =>
    element("div", { class: "labelled mb-2" }, element("label", { for: control.id, text: word, title: hint }), control);
  const name = element("input", {
    class: "field",
    id: "layer-name",
    "data-key": "name",
    value: layer.name,
    maxlength: "80",
    autocomplete: "off",
    change: (event) => change(layer, { name: event.target.value }),
  });
  const strength = element("input", {
    class: "field",
    id: "layer-opacity",
    "data-key": "opacity",
    value: `${Math.round(layer.opacity * 100)} %`,
    inputmode: "numeric",
    autocomplete: "off",
    change: (event) => {
      const value = readNumber(event.target.value.replace("%", ""));
      if (!(value >= 0 && value <= 100)) {
        toast("Opacity is a percentage from 0 to 100.");
        event.target.value = `${Math.round(layer.opacity * 100)} %`;
        return;
      }
      change(layer, { opacity: value / 100 });
    },
  });
  const prints = element("input", {
    type: "checkbox",
    "data-key": "prints",
    change: (event) => change(layer, { prints: event.target.checked }),
  });
  prints.checked = layer.prints;
  const own = () => chosen().filter((f) => !f.master && f.layer !== layer.id);
  const choose = frames().filter((f) => f.layer === layer.id && !f.master && !f.held && !f.field);
  return element(
    "div",
    { class: "group" },
    element(
      "div",
      { class: "head" },
      element("h2", { text: layer.name, class: "truncate" }),
      element("span", { class: "aside", text: "new objects are added here" }),
    ),
    field("Name", name),
    field("Opacity", strength, "Opacity: of all objects on this layer as a whole"),
    element("label", { class: "check mb-2" }, prints, " Prints"),
    element(
      "div",
      { class: "flex flex-wrap gap-2" },
      element("button", {
        type: "button",
        class: "button",
        "data-key": "put",
        text: "Move selection to this layer",
        disabled: !own().length,
        click: () => put(layer, own()),
      }),
      element("button", {
        type: "button",
        class: "button",
        "data-key": "all",
        text: "Select all on this layer",
        disabled: !choose.length,
        title: "On the pages in view",
        click: () => selectThese(choose),
      }),
      element("button", {
        type: "button",
        class: "button",
        "data-key": "only",
        "aria-pressed": String(state.only === layer.id),
        text: state.only === layer.id ? "Work on all layers" : "Work only on this layer",
        title: "Work only on this layer: objects on other layers are dimmed and cannot be selected",
        click: () => workOnly(layer),
      }),
      element("button", {
        type: "button",
        class: "button danger",
        "data-key": "delete",
        text: "Delete",
        disabled: state.layers.length < 2 || layer.locked,
        title: "Delete: its objects move to the nearest visible, unlocked layer, below first",
        click: () => send([{ do: "remove-layer", layer: layer.id }]).catch(() => {}),
      }),
    ),
  );
}

async function addLayer() {
  const known = new Set(state.layers.map(({ id }) => id));
  try {
    await send([{ do: "add-layer", above: activeLayer().id }]);
  } catch {
    return;
  }
  const made = state.layers.find(({ id }) => !known.has(id));
  if (made) {
    activate(made);
    /** @type {HTMLInputElement} */ (panel.querySelector("[data-key=name]"))?.select();
  }
}

const put = (layer, all) =>
  send([
    { do: "put-on-layer", layer: layer.id, objects: all.map((f) => ({ page: state.pages[f.page].id, id: f.id })) },
  ]).catch(() => {});

const move = (layer, at) => {
  if (at >= 0 && at < state.layers.length && at !== state.layers.indexOf(layer))
    send([{ do: "move-layer", layer: layer.id, at }]).catch(() => {});
};

function keys(event, layer) {
  if (!event.altKey || !["ArrowUp", "ArrowDown"].includes(event.key)) return;
  event.preventDefault();
  event.stopPropagation();
  move(layer, state.layers.indexOf(layer) + (event.key === "ArrowUp" ? 1 : -1));
}

/** Drag a layer to another height. */
function drag(event, layer, list) {
  const rows = [...list.children];
  dragRow(event, rows, (to) => {
    const from = rows.findIndex((one) => one.dataset.layer === layer.id);
    const place = to > from ? to - 1 : to; // from the top; the job counts from below
    move(layer, rows.length - 1 - place);
  });
}

drawer({
  id: "layers",
  word: "Layers",
  key: "l",
  help: "Layers: stacking order, hidden, locked and non-printing objects",
  fill,
  after: ["lists", "painted", "frame", "layer"],
});
