// Values as they are typed: how each kind is shown in a field, how it is read from one, and how such a field is typed in.
import { element } from "../dom.js";
import { figures, readNumber } from "../numerals.js";
import { paintOf } from "./paint.js";
import { parseLength, readChange, stepped } from "./numbers.js";
import { length, state } from "./store.js";
import { messageOf } from "../errors.js";

/** A number with what may stand behind it. Throws with what to type. */
export function number(text, words) {
  const value = readNumber(text.replace(/[%°]/g, ""));
  if (!Number.isFinite(value)) throw new Error(words);
  return value;
}

const rounded = (value, places) => figures(value ?? 0, places);

/**
 * Kinds of typed values: `show` writes one, `read` reads what was typed and throws with what to type instead, `step` says that arrow
 * keys make it more or less.
 * @type {Record<string, {show: (value: any) => string, read: (text: string) => any, step?: boolean, figures?: boolean}>}
 */
export const KINDS = {
  points: { show: (value) => `${rounded(value, 2)} pt`, read: (text) => parseLength(text, "pt"), step: true },
  length: {
    show: (value) => (value === null ? "" : length(value ?? 0)),
    read: (text) => parseLength(text, state.sheet.unit),
    step: true,
  },
  change: { show: (value) => length(value ?? 0), read: (text) => readChange(text, state.sheet.unit), step: true }, // +2 mm, *0.5
  percent: {
    show: (value) => `${rounded((value ?? 1) * 100, 2)} %`,
    read: (text) => number(text, "Type a percentage, such as 80 %.") / 100,
    step: true,
    figures: true,
  },
  slide: {
    show: (value) => `${Math.round((value ?? 0) * 100)} %`,
    read: (text) => number(text, "Type a percentage, such as 20 %.") / 100,
    step: true,
    figures: true,
  },
  degrees: {
    show: (value) => rounded(value, 2),
    read: (text) => number(text, "Type degrees, such as 15 or -7.5."),
    step: true,
    figures: true,
  },
  factor: { show: (value) => rounded(value ?? 1, 3), read: (text) => number(text, "Type a number, such as 1.2.") },
  whole: {
    show: (value) => String(value ?? 0),
    read: (text) => Math.round(number(text, "Type a whole number.")),
    step: true,
    figures: true,
  },
  count: {
    show: String,
    read: (text) => {
      const count = number(text, "Type a whole number, 1 or more.");
      if (!(count >= 1 && Number.isInteger(count))) throw new Error("Type a whole number, 1 or more.");
      return count;
    },
    step: true,
    figures: true,
  },
  "whole or none": {
    show: (value) => (value === null || value === undefined ? "" : String(value)),
    read: (text) => (text.trim() ? Math.round(number(text, "Type a whole number, or leave the field empty.")) : null),
    figures: true,
  },
  light: { show: (value) => value ?? "", read: light },
  text: {
    show: (value) => value ?? "",
    read: (text) => {
      if (!text.trim()) throw new Error("Type a value.");
      return text.trim();
    },
  },
  "text or none": { show: (value) => value ?? "", read: (text) => text.trim() },
  dash: {
    show: (value) => (value || []).join(" "),
    read: (text) =>
      text
        .trim()
        .split(/[\s,]+/)
        .filter(Boolean)
        .map((part) => number(part, "Type dashes as lengths in points, such as 3 2.")),
  },
};

/** What reads a part of a whole; says `words` where it is less than nothing, or more than all. */
export const partBy = (words) => (text) => {
  const part = readNumber(text.replace("%", "")) / 100;
  if (!(part >= 0 && part <= 1)) throw new Error(words);
  return part;
};

function light(text) {
  const typed = text.trim().replace(/^#?/, "#").toUpperCase();
  if (!/^#[0-9A-F]{6}$/.test(typed)) throw new Error("Type an RGB colour, such as #1E5B4F.");
  return typed;
}

/**
 * A field to type a value in. Enter, and leaving it, take what was typed; Esc gives back what stood there; arrows step.
 * @param {{read: (text: string) => any, step?: boolean, figures?: boolean}} kind
 * @param {(value: any) => void} take
 * @param {(message: string) => void} refuse - says why what was typed is not taken; what stood there is back then
 */
export function typedField(kind, take, refuse, attributes = {}) {
  const commit = () => {
    if (field.value === field.dataset.was || !field.isConnected) return; // what was selected may be gone
    try {
      take(kind.read(field.value));
      field.dataset.was = field.value;
    } catch (error) {
      refuse(messageOf(error));
      back();
    }
  };
  const back = () => {
    field.value = field.dataset.was ?? "";
  };
  const keydown = (event) => {
    event.stopPropagation();
    if (event.key === "Enter") {
      event.preventDefault();
      field.blur();
    }
    if (event.key === "Escape") {
      event.preventDefault();
      back();
      field.blur();
    }
    if (kind.step && ["ArrowUp", "ArrowDown"].includes(event.key)) {
      event.preventDefault();
      field.value = stepped(field.value, event.key === "ArrowUp", event.shiftKey);
    }
  };
  // Leaving it is heard of by itself: what arrows made of a value is no change to a browser.
  const field = /** @type {HTMLInputElement} */ (
    element("input", {
      class: "field",
      autocomplete: "off",
      spellcheck: "false",
      ...(kind.figures ? { inputmode: "decimal" } : {}),
      ...attributes,
      change: commit,
      blur: commit,
      keydown,
    })
  );
  return field;
}

/** Put a value into a field, unless somebody types in it. */
export function showIn(field, text) {
  if (field === document.activeElement) return;
  field.value = text;
  field.dataset.was = text;
}

/** Choices of a field: [value, word] each, of colours with the colour as CSS. */
export function offer(field, choices) {
  const known = JSON.stringify(choices);
  if (field.dataset.choices === known) return;
  const coloured = choices.some(([, , css]) => css);
  field.classList.toggle("inks", coloured);
  // The chosen one shows its colour in browsers whose lists can be styled; in others the words alone.
  field.replaceChildren(
    ...(coloured ? [element("button", { type: "button" }, document.createElement("selectedcontent"))] : []),
    ...choices.map(([value, word, css]) => choiceOf(String(value), word, css, coloured)),
  );
  field.dataset.choices = known;
}

function choiceOf(value, word, css, coloured) {
  const option = new Option(word, value);
  if (coloured) {
    const chip = element("i", { class: "swatch-chip", "aria-hidden": "true" });
    if (css) chip.style.setProperty("background", css);
    else chip.classList.add("none");
    option.prepend(chip);
  }
  return option;
}

/** The job's swatches as choices of a field. */
export const swatchChoices = () => state.swatches.map((one) => [one.id, one.name, paintOf(one)]);
