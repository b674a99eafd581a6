// The drawer of layers: their order, what is seen, locked and printed, and what stands on each of the spread in view.
import { element, icon } from "./dom.js";
import { drawer } from "./drawers.js";
import { chosen, select, selectThese } from "./frames.js";
import { frames } from "./standing.js";
import { activeLayer, emit, send, state, toast } from "./store.js";

const change = (layer, values) => send([{ do: "change-layer", layer: layer.id, ...values }]).catch(() => {});

function toggle(layer, { name, on, off, said, unsaid }) {
  const is = layer[name];
  return element("button", {
    type: "button", class: `quiet${is ? "" : " off"}`, "data-key": `${name}-${layer.id}`, "aria-pressed": String(is), title: is ? said : unsaid,
    "aria-label": `${layer.name}: ${is ? said : unsaid}`, click: () => change(layer, { [name]: !is }),
  }, icon(is ? on : off));
}

function activate(layer) {
  state.layer = layer.id;
  emit("layer");
}

/** The layers, the topmost first, each with what stands on it. */
function fill(body) {
  const now = activeLayer();
  body.append(element("div", { class: "head" }, element("h2", { text: "Layers" }), element("button", {
    type: "button", class: "link", "data-key": "new", text: "New layer", click: addLayer,
  })));
  const list = element("ol", { class: "layer-list" });
  const order = state.layers.slice().reverse();
  for (const layer of order) list.append(row(layer, layer === now, list));
  body.append(list, about(now));
}

function row(layer, current, list) {
  const standing = frames().filter((f) => f.layer === layer.id);
  const name = element("button", {
    type: "button", class: "name", "data-key": `name-${layer.id}`, title: `${layer.name}: new objects go on the layer that is chosen. Drag it, or Alt ↑ ↓, to another height`,
    click: () => activate(layer), keydown: (event) => keys(event, layer), pointerdown: (event) => drag(event, layer, list),
  }, element("span", { text: layer.name }));
  if (current) name.setAttribute("aria-current", "true");
  const chip = element("i", { class: "chip" });
  chip.style.setProperty("background", layer.colour); // the content policy lets scripts set what markup may not
  const head = element("div", { class: "layer-head" }, chip, name, element("span", { class: "aside", text: layer.visible ? String(standing.length || "") : "hidden" }),
    toggle(layer, { name: "visible", on: "eye", off: "eye-off", said: "seen; hide it", unsaid: "hidden, and not printed; show it" }),
    element("button", {
      type: "button", class: `quiet${layer.locked ? "" : " off"}`, "data-key": `locked-${layer.id}`, "aria-pressed": String(layer.locked),
      title: layer.locked ? "locked; unlock it" : "not locked; lock it", "aria-label": `${layer.name}: ${layer.locked ? "locked; unlock it" : "not locked; lock it"}`,
      click: () => change(layer, { locked: !layer.locked }),
    }, icon(layer.locked ? "lock" : "lock-open")));
  const item = element("li", { class: `layer${current ? " current" : ""}${layer.visible ? "" : " unseen"}`, "data-layer": layer.id }, head);
  if (current && standing.length) item.append(objects(standing));
  return item;
}

const UNNAMED = ["Text frame", "Picture frame", "Shape"];
/** An object's name; a text frame without one goes by its first words. */
function called(f) {
  const words = UNNAMED.includes(f.name) ? f.lines.slice(0, 2).flatMap(({ texts }) => texts.map(({ node }) => node?.textContent || "")).join(" ").trim() : "";
  return words.slice(0, 60) || f.name;
}

/** What stands on a layer of the spread in view, the topmost first; what is in one group is told together. */
function objects(standing) {
  const list = element("ul", { class: "layer-objects" });
  const taken = chosen();
  const told = new Set();
  for (const f of standing.slice().reverse()) {
    if (f.inGroup && told.has(f.inGroup)) continue;
    told.add(f.inGroup);
    const mates = f.inGroup ? standing.filter((other) => other.inGroup === f.inGroup).length : 1;
    const button = element("button", {
      type: "button", "data-key": `object-${f.id}`, disabled: f.held, "aria-pressed": String(taken.some((one) => one.id === f.id && one.page === f.page)),
      title: f.held ? "Its layer is locked" : "Choose it", click: () => select(f),
    }, element("span", { class: "truncate", text: mates > 1 ? `${called(f)}, and ${mates - 1} in its group` : called(f) }), element("span", { class: "aside", text: [f.master && "master", f.locked && "locked", f.silent && "not printed"].filter(Boolean).join(", ") }));
    list.append(element("li", {}, button));
  }
  return list;
}

/** What there is to say of the active layer. */
function about(layer) {
  const field = (word, control, hint = "") => element("div", { class: "labelled mb-2" }, element("label", { for: control.id, text: word, title: hint }), control);
  const name = element("input", { class: "field", id: "layer-name", "data-key": "name", value: layer.name, maxlength: "80", autocomplete: "off", change: (event) => change(layer, { name: event.target.value }) });
  const strength = element("input", {
    class: "field", id: "layer-opacity", "data-key": "opacity", value: `${Math.round(layer.opacity * 100)} %`, inputmode: "numeric", autocomplete: "off",
    change: (event) => {
      const value = Number.parseFloat(event.target.value.replace(",", "."));
      if (!(value >= 0 && value <= 100)) { toast("Opacity lies between 0 and 100 %."); event.target.value = `${Math.round(layer.opacity * 100)} %`; return; }
      change(layer, { opacity: value / 100 });
    },
  });
  const prints = element("input", { type: "checkbox", "data-key": "prints", change: (event) => change(layer, { prints: event.target.checked }) });
  prints.checked = layer.prints;
  const own = () => chosen().filter((f) => !f.master && f.layer !== layer.id);
  const choose = frames().filter((f) => f.layer === layer.id && !f.master && !f.held && !f.field);
  return element("div", { class: "group" }, element("div", { class: "head" }, element("h2", { text: layer.name, class: "truncate" }), element("span", { class: "aside", text: "new objects go here" })),
    field("Name", name), field("Opacity", strength, "How strong what stands on it is shown and printed, as one"),
    element("label", { class: "check mb-2" }, prints, " Prints"),
    element("div", { class: "flex flex-wrap gap-2" },
      element("button", { type: "button", class: "button", "data-key": "put", text: "Put what is chosen here", disabled: !own().length, click: () => put(layer, own()) }),
      element("button", { type: "button", class: "button", "data-key": "all", text: "Choose all on it", disabled: !choose.length, title: "Of the pages in view", click: () => selectThese(choose) }),
      element("button", { type: "button", class: "button danger", "data-key": "delete", text: "Delete", disabled: state.layers.length < 2 || layer.locked, title: "What stands on it goes to the next layer that is seen and not locked, below first", click: () => send([{ do: "remove-layer", layer: layer.id }]).catch(() => {}) })));
}

async function addLayer() {
  const known = new Set(state.layers.map(({ id }) => id));
  try { await send([{ do: "add-layer", above: activeLayer().id }]); } catch { return; }
  const made = state.layers.find(({ id }) => !known.has(id));
  if (made) { activate(made); document.getElementById("layer-name")?.select(); }
}

const put = (layer, all) => send([{ do: "put-on-layer", layer: layer.id, objects: all.map((f) => ({ page: state.pages[f.page].id, id: f.id })) }]).catch(() => {});

const move = (layer, at) => { if (at >= 0 && at < state.layers.length && at !== state.layers.indexOf(layer)) send([{ do: "move-layer", layer: layer.id, at }]).catch(() => {}); };

function keys(event, layer) {
  if (!event.altKey || !["ArrowUp", "ArrowDown"].includes(event.key)) return;
  event.preventDefault();
  event.stopPropagation();
  move(layer, state.layers.indexOf(layer) + (event.key === "ArrowUp" ? 1 : -1));
}

/** Drag a layer to another height; a line shows where it goes. */
function drag(event, layer, list) {
  if (event.button !== 0) return;
  const rows = [...list.children];
  const begun = event.clientY;
  let to = -1;
  const target = event.currentTarget;
  const moved = (e) => {
    if (to < 0 && Math.abs(e.clientY - begun) < 5) return;
    target.setPointerCapture(event.pointerId);
    to = rows.filter((one) => { const box = one.getBoundingClientRect(); return e.clientY > box.top + Math.min(box.height, 34) / 2; }).length;
    rows.forEach((one, n) => { one.classList.toggle("goes-before", n === to); one.classList.toggle("goes-behind", n === rows.length - 1 && to === rows.length); });
  };
  const done = (e) => {
    for (const [name, listener] of [["pointermove", moved], ["pointerup", done], ["pointercancel", done]]) target.removeEventListener(name, listener);
    rows.forEach((one) => one.classList.remove("goes-before", "goes-behind"));
    if (e.type !== "pointerup" || to < 0) return;
    const from = rows.findIndex((one) => one.dataset.layer === layer.id);
    const place = to > from ? to - 1 : to; // from the top; the job counts from below
    move(layer, rows.length - 1 - place);
  };
  for (const [name, listener] of [["pointermove", moved], ["pointerup", done], ["pointercancel", done]]) target.addEventListener(name, listener);
}

drawer({ id: "layers", word: "Layers", key: "l", help: "Layers: what lies above what, hidden, locked, not printed", fill, after: ["lists", "painted", "frame", "layer"] });
