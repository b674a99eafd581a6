// What columns and cells of tables can be, in words: for the slip and for the sheet. A kind of column is a line of SIZES, with how its value
// is typed; what it does is the core's (`flow/table_columns.py`).
import { KINDS, number } from "./values.js";

const SHARES = "Shares are numbers greater than 0, such as 2.";

/** Kinds of widths of columns. */
export const SIZES = [
  ["content", "fits its contents"],
  ["fixed", "fixed"],
  ["share", "share of the remaining width"],
];
export const ALIGNS = [
  ["", "as the paragraphs"],
  ["left", "left"],
  ["centre", "centred"],
  ["right", "right"],
  ["decimal", "on the decimal mark"],
];
export const STANDS = [
  ["", "as the table’s style"],
  ["top", "top"],
  ["centre", "centre"],
  ["bottom", "bottom"],
];

/** What is typed beside a kind of width: none has nothing to type. @type {Record<string, {first: (unit: number) => number, show: (value: number) => string, read: (text: string) => number} | undefined>} */
export const WIDTHS = {
  fixed: {
    first: (unit) => 20 * unit,
    show: KINDS.length.show,
    read: (text) => above(KINDS.length.read(text), "A column needs a width greater than 0."),
  },
  share: { first: () => 1, show: (value) => String(value || 1), read: (text) => above(number(text, SHARES), SHARES) },
};

function above(value, words) {
  if (!(value > 0)) throw new Error(words);
  return value;
}
