// Numbers, dates and times as the reader's country writes them (see core/numerals.py, which has the same rules). Needs no browser.

const page = /** @type {Record<string, string | undefined>} */ (globalThis.document?.documentElement?.dataset ?? {});
/** The country whose way of writing is used, such as de-DE. */
export const region = page.region || "en-GB";
/** @typedef {{decimal: string, group: string}} Marks */
/** @type {Marks} */
export const marks = { decimal: page.decimal || ".", group: page.group || "," };

const SPACES = " \u00a0\u202f";
/** A typed number without a sign, as a regular expression. */
export const NUMBER = `\\d{1,3}(?:[.,’'${SPACES}]\\d{3})+(?:[.,]\\d+)?(?!\\d)|\\d+(?:[.,]\\d+)?|[.,]\\d+`;
const WHOLE = new RegExp(`^([-−+]?)\\s*(${NUMBER})$`);

/** A number with at most so many decimals, with the reader's marks. @param {number} value @param {Marks} [own] */
export function figures(value, places = 4, own = marks) {
  const [whole, fraction = ""] = String(Number(value.toFixed(places))).split(".");
  return `${whole.replace(/\B(?=(\d{3})+$)/g, own.group)}${fraction && own.decimal}${fraction}`;
}

/** The value of a typed number (`NUMBER`): either way of writing is read; a single mark before three digits separates groups where the
 *  reader's own notation does that. @param {string} text @param {Marks} [own] */
export function valueOf(text, own = marks) {
  const plain = text.replace(new RegExp(`[${SPACES}’']`, "g"), "");
  const used = plain.match(/[.,]/g) ?? [];
  if (used.length > 1) {
    const [first] = used,
      last = used[used.length - 1];
    const joined = plain.split(first).join("");
    return Number(last === first ? joined : joined.replace(last, "."));
  }
  if (used[0] === own.group && /^[1-9]\d{0,2}[.,]\d{3}$/.test(plain)) return Number(plain.replace(/[.,]/, ""));
  return Number(plain.replace(",", "."));
}

/** The number that a text is, with its sign; NaN where it is none. @param {string} text */
export function readNumber(text) {
  const [, sign, digits] = WHOLE.exec(text.trim()) ?? [];
  return digits === undefined ? NaN : (sign === "-" || sign === "−" ? -1 : 1) * valueOf(digits);
}

/** A count with the reader's marks. @param {number} count */
export const counted = (count) => figures(count, 0);

/** A day with a time. @param {Date} date */
export const dayAndTime = (date) =>
  date.toLocaleString(region, { day: "numeric", month: "short", hour: "2-digit", minute: "2-digit" });
/** A time. @param {Date} date */
export const timeOfDay = (date) => date.toLocaleTimeString(region, { hour: "2-digit", minute: "2-digit" });
