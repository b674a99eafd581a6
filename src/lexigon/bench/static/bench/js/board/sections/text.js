// Fields of paragraphs and characters.

import { rule, stroke } from "./strokes.js";

export const ALIGNS = [
  ["left", "left"],
  ["right", "right"],
  ["centre", "centre"],
  ["decimal", "decimal"],
];
export const four = (path, kind) =>
  ["Top", "Right", "Bottom", "Left"].map((word, at) => ({ word, path: `${path}.${at}`, kind }));
/** Paragraph settings. */
export const PARAGRAPH = [
  {
    key: "indents",
    title: "Indents and spacing",
    fields: [
      { word: "Left indent", path: "indent_left", kind: "pt" },
      { word: "Right indent", path: "indent_right", kind: "pt" },
      {
        word: "First line",
        path: "indent_first",
        kind: "pt",
        hint: "indent of the first line, measured from the left indent",
      },
      {
        word: "Last line",
        path: "last_line",
        kind: "choice",
        choices: [
          ["left", "left"],
          ["centre", "centre"],
          ["right", "right"],
          ["full", "justified"],
        ],
        hint: "alignment of the last line of a justified paragraph",
      },
      {
        word: "Leading in",
        path: "leading",
        kind: "leading",
        choices: [
          ["points", "points"],
          ["times", "% of size"],
        ],
        hint: "leading in points is fixed; leading in per cent follows the type size",
      },
      { word: "Leading %", path: "leading_times", kind: "percent", when: ({ leading_times }) => leading_times > 0 },
      { word: "Keep space before at the top of a column", path: "keep_space", kind: "flag" },
    ],
  },
  {
    key: "breaking",
    title: "Hyphenation and line breaks",
    fields: [
      {
        word: "Shortest word",
        path: "hyphen_word",
        kind: "whole",
        hint: "fewest letters of a word that is hyphenated",
      },
      {
        word: "Hyphens in a row",
        path: "hyphen_run",
        kind: "whole",
        hint: "the most consecutive lines that end in a hyphen; 0 sets no limit",
      },
      { word: "Letters before", path: "hyphen_before", kind: "whole", hint: "fewest letters before a hyphen" },
      { word: "Letters after", path: "hyphen_after", kind: "whole", hint: "fewest letters after a hyphen" },
      { head: "Hyphenate" },
      { word: "Words in capitals", path: "hyphen_capitals", kind: "flag" },
      { word: "Names", path: "hyphen_names", kind: "flag" },
      { word: "The last word of a paragraph", path: "hyphen_last", kind: "flag" },
      {
        word: "Last line of a column",
        path: "hyphen_column",
        kind: "choice",
        choices: [
          [true, "always"],
          ["leaf", "not where the page is turned"],
          [false, "never"],
        ],
        hint: "whether the last line of a column may end in a hyphen",
      },
      { head: "Line breaks" },
      {
        word: "Method",
        path: "breaking",
        kind: "choice",
        choices: [
          ["optimum", "whole paragraph"],
          ["first fit", "line by line"],
        ],
        hint: "finds the best breaks for the whole paragraph, or fills one line after another",
      },
      {
        word: "Extra lines",
        path: "looseness",
        kind: "whole",
        hint: "sets the paragraph this many lines longer, or shorter below 0, than its best fit",
      },
      {
        word: "Shortest last line",
        path: "last_least",
        kind: "pt",
        hint: "the last line is at least this long where that costs little",
      },
      {
        word: "Letter-spacing limit",
        path: "letter_fit",
        kind: "percent",
        hint: "how far letter spacing may vary in narrow columns, in per cent of an em",
      },
      {
        word: "Glyph-scaling limit",
        path: "glyph_fit",
        kind: "percent",
        hint: "how far glyphs may be widened or narrowed in narrow columns",
      },
    ],
  },
  {
    key: "keeping",
    title: "Keep, baseline grid, columns",
    fields: [
      {
        word: "Baseline grid",
        path: "grid",
        kind: "choice",
        choices: [
          [false, "off"],
          [true, "align all lines"],
          ["first", "align first line"],
        ],
      },
      {
        word: "Start",
        path: "start",
        kind: "choice",
        choices: [
          ["anywhere", "anywhere"],
          ["column", "in the next column"],
          ["page", "on the next page"],
          ["recto", "on the next recto"],
          ["verso", "on the next verso"],
        ],
      },
      {
        word: "Lines at bottom",
        path: "foot_lines",
        kind: "whole",
        hint: "fewest lines of the paragraph at the bottom of a column (orphans)",
      },
      {
        word: "Lines at top",
        path: "head_lines",
        kind: "whole",
        hint: "fewest lines of the paragraph at the top of a column (widows)",
      },
      {
        word: "Split columns",
        path: "split",
        kind: "whole",
        hint: "divides the column into this many for the paragraph",
      },
      {
        word: "Lines on last page",
        path: "closing_lines",
        kind: "whole",
        hint: "fewest lines on the last page of a chapter; the pages before it are set shorter if needed",
      },
      { word: "Keep all lines together", path: "keep_together", kind: "flag" },
      {
        word: "Keep with previous",
        path: "keep_previous",
        kind: "flag",
        hint: "stays in the column of the paragraph above, as a caption below its figure does",
      },
      {
        word: "Float",
        path: "floats",
        kind: "flag",
        hint: "a figure without room moves to the next column with its caption, and the text fills the space",
      },
      { word: "Align to the bottom of the column", path: "at_foot", kind: "flag" },
      { word: "Even feet", hint: "facing pages end on the same line", path: "even_feet", kind: "flag" },
    ],
  },
  {
    key: "tabs",
    title: "Tabs",
    widget: "tabs",
    fields: [
      {
        word: "Default tab interval",
        path: "tab_every",
        kind: "pt",
        hint: "distance between tab stops after the last one set",
      },
    ],
  },
  {
    key: "initial",
    title: "Drop cap",
    fields: [
      { word: "Lines", path: "drop_lines", kind: "whole" },
      { word: "Letters", path: "drop_chars", kind: "whole" },
      { word: "Gap", path: "drop_gap", kind: "pt" },
      { word: "Style", path: "drop_style", kind: "character" },
      { word: "Lines follow the shape of the letter", path: "drop_shape", kind: "flag" },
    ],
  },
  {
    key: "list",
    title: "List",
    fields: [
      {
        word: "Kind",
        path: "list.kind",
        kind: "choice",
        choices: [
          ["none", "none"],
          ["bullet", "bullets"],
          ["number", "numbers"],
        ],
      },
      {
        word: "Format",
        path: "list.form",
        kind: "text",
        hint: "the bullet character; for numbers # is the number and #1 that of level 1, as in #1.#2.",
      },
      { word: "Level", path: "list.level", kind: "whole" },
      {
        word: "Numbers",
        path: "list.numbers",
        kind: "choice",
        choices: [
          ["1", "1 2 3"],
          ["i", "i ii iii"],
          ["I", "I II III"],
          ["a", "a b c"],
          ["A", "A B C"],
        ],
      },
      {
        word: "Start at",
        path: "list.start",
        kind: "whole or none",
        hint: "the first number; leave empty to continue counting",
      },
      { word: "Character style", path: "list.style", kind: "character", hint: "of the bullet or number" },
      { word: "Continue numbering after other paragraphs", path: "list.continued", kind: "flag" },
      {
        word: "Series",
        path: "list.series",
        kind: "text or none",
        hint: "numbers of one name, such as Figures, are counted separately through all stories, page by page; #1 is the number of the heading of level 1 above: “Figure #1.#”",
      },
      {
        word: "Followed by",
        path: "list.gap",
        kind: "choice",
        choices: [
          ["tab", "a tab"],
          ["space", "a space"],
        ],
      },
    ],
  },
  {
    key: "rules",
    title: "Rules above and below",
    fields: [{ head: "Above" }, ...rule("rule_above"), { head: "Below" }, ...rule("rule_below")],
  },
  {
    key: "box",
    title: "Shading and border",
    fields: [
      { word: "Shading", path: "box.fill.swatch", kind: "swatch or none" },
      { word: "Tint", path: "box.fill.tint", kind: "percent" },
      { head: "Padding" },
      ...four("box.padding", "pt"),
      { head: "Border" },
      ...stroke("box.stroke"),
      { word: "Sides", path: "box.sides", kind: "sides" },
    ],
  },
];
/** Character settings. */
export const CHARACTERS = [
  { key: "features", title: "OpenType features", widget: "features", fields: [] },
  {
    key: "place",
    title: "Scale, baseline shift, position",
    fields: [
      { word: "Width %", path: "scale_x", kind: "percent" },
      { word: "Height %", path: "scale_y", kind: "percent" },
      { word: "Baseline shift", path: "shift", kind: "pt", hint: "upward; below 0 downward" },
      {
        word: "Position",
        path: "position",
        kind: "choice",
        choices: [
          ["normal", "normal"],
          ["superior", "superscript"],
          ["inferior", "subscript"],
        ],
      },
    ],
  },
  {
    key: "lines",
    title: "Underline and strikethrough",
    fields: [
      { word: "Underline", path: "underline", kind: "flag" },
      { word: "Weight", path: "underline_weight", kind: "pt", hint: "of the underline; 0 uses the font’s value" },
      {
        word: "Offset",
        path: "underline_offset",
        kind: "pt",
        hint: "of the underline, downward from the baseline; 0 uses the font’s value",
      },
      { word: "Strikethrough", path: "strike", kind: "flag" },
      { word: "Weight", path: "strike_weight", kind: "pt", hint: "of the strikethrough; 0 uses the font’s value" },
      {
        word: "Offset",
        path: "strike_offset",
        kind: "pt",
        hint: "of the strikethrough, upward from the baseline; 0 uses the font’s value",
      },
    ],
  },
  {
    key: "language",
    title: "Language, tint, no break",
    fields: [
      {
        word: "Language",
        path: "language",
        kind: "text",
        hint: "for hyphenation, spelling and quotation marks, such as en-GB or de-DE",
      },
      { word: "Tint", path: "tint", kind: "percent" },
      { word: "No break: keep on one line", path: "no_break", kind: "flag" },
    ],
  },
];
