// A swatch being mixed: process inks, a spot ink, light, or a gradient, with its look as the press profile has it.
import { readNumber } from "../numerals.js";
import { ask, input, labelled, select } from "../notice.js";
import { colourMap } from "./colourmap.js";
import { element } from "../dom.js";
import { paintOf } from "./paint.js";
import { inquire, propose, send, state } from "./store.js";
import { messageOf } from "../errors.js";

const KINDS = [
  ["cmyk", "process inks, CMYK"],
  ["spot", "spot ink, on a separate plate"],
  ["rgb", "RGB"],
  ["lab", "Lab"],
  ["grey", "grey: black ink only"],
  ["tint", "tint of another swatch"],
  ["role", "role, for ink sets"],
  ["gradient", "gradient"],
  ["registration", "registration: all plates, for marks"],
];
const MIXED = ["cmyk", "rgb", "lab", "grey"];
/** What a new swatch of a kind begins with. */
const PLAIN = { cmyk: [0, 0, 0, 1], rgb: [0, 0, 0], lab: [0.5, 128 / 255, 128 / 255], grey: [0.5] };
const INKS = ["Cyan", "Magenta", "Yellow", "Black"];
const LIGHT = ["Red", "Green", "Blue"];
const short = (value) => String(Math.round(value * 1000) / 1000);

/** Paint an element in a swatch's colour, or its gradient. */
export function tinge(part, swatch) {
  part.style.setProperty("background", paintOf(swatch)); // the content policy lets scripts set what markup may not
}

function number(field, word, most) {
  const value = readNumber(field.value.replace("%", ""));
  if (!field.value.trim() || !Number.isFinite(value) || value < 0 || value > most)
    throw new Error(`${word} is a number from 0 to ${most}.`);
  return value;
}

/** A typed value with a slider beside it: each follows the other. */
function sliding(field, word, [least, most], changed) {
  const slider = Object.assign(element("input", { type: "range", "aria-label": `${word}, slider` }), {
    min: String(least),
    max: String(most),
    step: most > 100 ? "1" : "0.5",
    value: field.value,
  });
  slider.addEventListener("input", () => {
    field.value = short(Number(slider.value));
    changed();
  });
  field.addEventListener("input", () => {
    const value = Number(field.value.replace(",", ".").replace("%", "").replace("−", "-"));
    if (Number.isFinite(value)) slider.value = String(value);
    changed();
  });
  const row = labelled(word, field);
  row.classList.add("mixed");
  row.append(slider);
  return row;
}

function amounts(words, values, most, changed) {
  const fields = words.map((word, index) =>
    Object.assign(input(short((values[index] ?? 0) * most)), { inputMode: "decimal", size: 5 }),
  );
  const rows = words.map((word, index) => sliding(fields[index], word, [0, most], changed));
  return {
    rows,
    fields,
    values: () => fields.map((field, index) => Math.round((number(field, words[index], most) / most) * 1e6) / 1e6),
  };
}

/** CIE L*a*b*, as it is measured: kept as ICC profiles do, a and b from -128 on. */
function measured(values, changed) {
  const words = ["L", "a", "b"];
  const [l, a, b] = values;
  const fields = [l * 100, a * 255 - 128, b * 255 - 128].map((value) =>
    Object.assign(input(short(value)), { inputMode: "decimal", size: 5 }),
  );
  const value = (field, at) => {
    const found = readNumber(field.value);
    const [least, most] = at ? [-128, 127] : [0, 100];
    if (!field.value.trim() || !(found >= least && found <= most))
      throw new Error(`${words[at]} is a number from ${least} to ${most}.`);
    return Math.round((at ? (found + 128) / 255 : found / 100) * 1e6) / 1e6;
  };
  return {
    rows: words.map((word, at) => sliding(fields[at], word, at ? [-128, 127] : [0, 100], changed)),
    values: () => fields.map(value),
  };
}

function passing(gradient, changed) {
  const choices = state.swatches.filter((one) => one.in_gradients).map(({ id, name }) => [id, name]);
  const from = gradient || {
    kind: "linear",
    angle: 0,
    stops: [
      { at: 0, swatch: "black", tint: 1 },
      { at: 1, swatch: choices.find(([id]) => id === "paper")?.[0] || choices[0][0], tint: 1 },
    ],
  };
  const kind = select(
    [
      ["linear", "linear"],
      ["radial", "radial"],
    ],
    from.kind,
  );
  const angle = Object.assign(input(short(from.angle)), { inputMode: "decimal" });
  const list = element("div", { class: "stops" });
  const stops = from.stops.map((stop) => ({ ...stop }));
  const another = element("button", {
    type: "button",
    class: "link",
    text: "Add colour",
    click: () => {
      stops.push({ ...stops.at(-1), at: 1 });
      lay();
      changed();
    },
  });
  let rows = [];
  const lay = () => {
    rows = stops.map((stop, index) => {
      const swatch = select(choices, stop.swatch),
        at = input(short(stop.at * 100)),
        tint = input(short(stop.tint * 100)),
        mid = input(short((stop.mid ?? 0.5) * 100));
      const fields = { swatch, at, tint, mid };
      const name = `Colour ${index + 1}`;
      for (const [word, field] of /** @type {[string, HTMLInputElement | HTMLSelectElement][]} */ ([
        ["", swatch],
        [": position in %", at],
        [": tint in %", tint],
        [": midpoint to the next in %", mid],
      ])) {
        field.setAttribute("aria-label", name + word);
        field.title = word ? word.slice(2) : name;
        field.addEventListener("input", () => {
          keep();
          changed();
        });
      }
      const drop = element("button", {
        type: "button",
        class: "quiet",
        text: "×",
        "aria-label": `Remove colour ${index + 1}`,
        disabled: stops.length < 3,
        click: () => {
          stops.splice(index, 1);
          lay();
          changed();
        },
      });
      return {
        ...fields,
        row: element(
          "div",
          { class: "stop" },
          swatch,
          at,
          tint,
          index < stops.length - 1 ? mid : element("span"),
          drop,
        ),
      };
    });
    list.replaceChildren(
      element(
        "div",
        { class: "stop aside" },
        element("span"),
        element("span", { text: "position %" }),
        element("span", { text: "tint %" }),
        element("span", {
          text: "midpoint %",
          title: "Midpoint: where this colour and the next are mixed half and half",
        }),
      ),
      ...rows.map(({ row }) => row),
      another,
    );
  };
  /** What can be read of the rows is kept when they are laid anew. */
  const keep = () =>
    rows.forEach(({ swatch, at, tint, mid }, index) => {
      stops[index].swatch = swatch.value;
      for (const [key, field] of [
        ["at", at],
        ["tint", tint],
        ["mid", mid],
      ])
        try {
          stops[index][key] = number(field, key, 100) / 100;
        } catch {
          /* said when it is read */
        }
    });
  lay();
  const turn = labelled("Angle", angle);
  const shown = () => {
    turn.hidden = kind.value === "radial";
  };
  shown();
  kind.addEventListener("change", () => {
    shown();
    changed();
  });
  angle.addEventListener("input", changed);
  const values = () => ({
    kind: kind.value,
    angle: kind.value === "radial" ? 0 : number(angle, "The angle", 360),
    stops: rows
      .map(({ swatch, at, tint, mid }) => ({
        swatch: swatch.value,
        at: number(at, "The position", 100) / 100,
        tint: number(tint, "The tint", 100) / 100,
        mid: number(mid, "The midpoint", 100) / 100,
      }))
      .sort((a, b) => a.at - b.at),
  });
  return { rows: [labelled("Gradient type", kind), turn, list], values };
}

/** Which swatch, and how strong; of a role who plays it now. */
function part(base, own, changed, role = false) {
  const choices = state.swatches
    .filter((one) => one.id !== own && (role ? one.mixed : one.in_tints))
    .map(({ id, name }) => [id, name]);
  const swatch = select(choices, base?.swatch || "black");
  const tint = Object.assign(input(short((base?.tint ?? (role ? 1 : 0.5)) * 100)), { inputMode: "decimal", size: 5 });
  for (const field of [swatch, tint]) field.addEventListener("input", changed);
  return {
    rows: [labelled(role ? "Assigned swatch" : "Base swatch", swatch), labelled("Tint %", tint)],
    values: () => ({ swatch: swatch.value, tint: number(tint, "The tint", 100) / 100 }),
  };
}

const NOTHING = { rows: [], values: () => [] };
let lists = 0;

/** A field for the group, with those there are to choose from. */
function groupField(value) {
  const field = input(value, "none");
  const list = document.createElement("datalist");
  list.id = `swatch-groups-${(lists += 1)}`;
  for (const name of new Set(state.swatches.map(({ group }) => group).filter(Boolean)))
    list.append(new Option(name, name));
  field.setAttribute("list", list.id);
  return { field, row: [labelled("Group", field), list] };
}

/** Ask for a swatch: a new one, or `one` mixed otherwise. */
export async function mix(one = null) {
  const name = input(one?.name || "", "optional: named after its inks");
  const kind = select(KINDS, one?.spot ? "spot" : one?.space || "cmyk");
  const body = element("div", { class: "mixture" });
  const chip = element("i", { class: "look" }),
    printed = element("i", { class: "look" });
  const told = element("p", { class: "sub", role: "status" });
  let parts = null,
    looking = null,
    again = false,
    space = one?.space,
    known = one?.values || [];

  const intent = () => {
    const values = parts.values();
    const mixed =
      kind.value === "gradient"
        ? { space: "gradient", gradient: values }
        : ["tint", "role"].includes(kind.value)
          ? { space: kind.value, base: values }
          : kind.value === "registration"
            ? { space: "registration" }
            : { space: kind.value === "spot" ? "cmyk" : kind.value, values, spot: kind.value === "spot" };
    return { do: "put-swatch", ...(one ? { id: one.id } : {}), name: name.value, group: group.field.value, ...mixed };
  };
  const lookOnce = async () => {
    if (body.isConnected && !body.closest("dialog")?.open) return; // all was done meanwhile
    try {
      const named = intent();
      const answer = await propose("swatches/mix", {
        ...named,
        name: named.name.trim() || named.spot ? named.name.trim() || "Spot ink" : "",
      });
      if (again) return;
      told.className = "sub";
      tinge(chip, answer);
      printed.hidden = !answer.printed;
      if (answer.printed) printed.style.setProperty("background", answer.printed);
      told.textContent = answer.printed
        ? `This cannot be printed in process inks on ${answer.paper} paper. The nearest printable colour is the second, ${answer.inks} (ΔE ${answer.apart}).`
        : answer.inks
          ? `Prints as ${answer.inks}.`
          : answer.told;
    } catch (error) {
      if (!again) {
        told.className = "problem";
        told.textContent = messageOf(error);
      }
    }
  };
  /** The look as it is mixed now: one question at a time, the last that was wanted behind it. */
  const look = () => {
    again = true;
    looking ??= (async () => {
      while (again) {
        again = false;
        await lookOnce();
      }
      looking = null;
    })();
  };
  /** Keep what is mixed when no question is under way: of a swatch that is there already, its own name would be refused. */
  const keep = async () => {
    await read;
    again = false;
    await looking;
    await send([intent()]);
  };
  const lay = () => {
    const wanted = kind.value === "spot" ? "cmyk" : kind.value;
    if (parts && MIXED.includes(space) && MIXED.includes(wanted))
      try {
        if (wanted === space) known = parts.values();
      } catch {
        /* unreadable: as it was */
      }
    const values = wanted === space ? known : PLAIN[wanted] || [];
    const makers = {
      registration: () => NOTHING,
      tint: () => part(one?.base, one?.id, look),
      role: () => part(one?.base, one?.id, look, true),
      gradient: () => passing(one?.gradient, look),
      rgb: () => amounts(LIGHT, values, 255, look),
      lab: () => measured(values, look),
      grey: () => amounts(["Black"], values, 100, look),
      cmyk: () => amounts(INKS, values, 100, look),
    };
    parts = makers[wanted]();
    body.classList.toggle("inks", wanted === "cmyk");
    [space, known] = [wanted, values];
    name.placeholder =
      kind.value === "spot"
        ? "name of the ink"
        : kind.value === "role"
          ? "main, accent, background …"
          : "optional: named after its inks";
    body.replaceChildren(...parts.rows);
    look();
  };
  /** A colour typed in one line chooses the kind and fills its fields; a field that is typed in before the answer has come is not overwritten by it. */
  const typed = input("", "c60 m10, #1E5B4F, lab 40 -20 10");
  let reading = 0,
    read = Promise.resolve();
  const readTyped = async () => {
    const turn = ++reading;
    map.firstChild?.dispatchEvent(new Event("forget"));
    if (!typed.value.trim()) return;
    try {
      const found = await inquire("swatches/typed", { text: typed.value });
      if (turn !== reading) return;
      kind.value = found.space === "cmyk" && kind.value === "spot" ? "spot" : found.space;
      parts = null;
      [space, known] = [found.space, found.values];
      lay();
    } catch (error) {
      if (turn !== reading) return;
      told.className = "problem";
      told.textContent = messageOf(error);
      throw error;
    }
  };
  typed.addEventListener("input", () => {
    (read = readTyped()).catch(() => {});
  }); // told where it is read, and when the dialog is kept
  const overrule = () => {
    reading += 1;
    read = Promise.resolve();
  };
  for (const event of ["input", "change"]) body.addEventListener(event, overrule);
  /** A press on the map of what prints fills the fields of the kind that is mixed. */
  const map = element("div", {});
  const chooseOnMap = element("button", {
    type: "button",
    class: "link",
    "aria-expanded": "false",
    text: "Pick from printable colours",
    click: async () => {
      const open = !map.childElementCount;
      chooseOnMap.setAttribute("aria-expanded", String(open));
      if (!open) {
        map.replaceChildren();
        return;
      }
      const [l, a, b] = (await startOfMap()).map(Math.round);
      map.replaceChildren(
        colourMap({ l, a, b }, (found) => {
          const wanted = MIXED.includes(kind.value) ? kind.value : "cmyk";
          if (!MIXED.includes(kind.value) && kind.value !== "spot") kind.value = "cmyk";
          overrule();
          parts = null;
          [space, known] = [wanted, found[wanted]];
          lay();
        }),
      );
    },
  });
  /** Where the map begins: at the colour as it is mixed now. */
  const startOfMap = async () => {
    try {
      return (await propose("swatches/mix", { ...intent(), name: name.value.trim() || "Spot ink" })).lab;
    } catch {
      return [50, 0, 0];
    }
  };
  const rich = element("button", {
    type: "button",
    class: "link",
    text: "Rich black",
    title:
      "Rich black: black with other inks, for large areas (C60 M40 Y40 K100). Use plain black for text, which needs no registration",
    click: () => {
      if (kind.value !== "cmyk" && kind.value !== "spot") kind.value = "cmyk";
      overrule();
      parts = null;
      [space, known] = ["cmyk", [0.6, 0.4, 0.4, 1]];
      if (!name.value.trim() && !one) name.value = "Rich black";
      lay();
    },
  });
  const group = groupField(one?.group || "");
  kind.addEventListener("change", () => {
    overrule();
    lay();
  });
  name.addEventListener("input", look);
  lay();
  const own = one?.id === "black";
  if (own) {
    kind.disabled = true;
    for (const field of body.querySelectorAll("input")) field.disabled = true;
  }
  const words = own
    ? "Black is always black ink alone. Everything without a colour prints in it. It can be renamed."
    : "Inks in per cent, RGB from 0 to 255. Shown as on coated paper.";
  await ask(
    one ? `Swatch “${one.name}”` : "New swatch",
    words,
    one ? "Save" : "Add swatch",
    [
      labelled("Name", name),
      labelled("Swatch type", kind),
      ...(own ? [] : [labelled("Values", typed), element("p", { class: "mix-ways" }, chooseOnMap, rich), map]),
      body,
      ...group.row,
      element("div", { class: "looks" }, chip, printed, told),
    ],
    keep,
  );
}
