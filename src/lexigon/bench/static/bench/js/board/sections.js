// What the full groups of the slip, and the styles, have as fields: every value of a setting, described once.
// A field: its word, the path of its value, what kind of value it is, and for choices the values with their words.

const ALIGNS = [["left", "left"], ["right", "right"], ["centre", "centre"], ["decimal", "decimal"]];
const END = [["none", "none"], ["arrow", "arrow"], ["barb", "open arrow"], ["dot", "dot"], ["ring", "ring"], ["bar", "bar"], ["diamond", "diamond"]];
const DASHES = { word: "Dashes", kind: "dash", hint: "lengths of dashes and gaps in turn, such as 3 2; leave empty for a solid line; 0 4 with round caps makes dots" };
/** Whether what is drawn is a line, and goes round nothing. A style may be for both. */
const isOpen = ({ outline }) => !outline || (outline.kind === "path" && !outline.data.includes("Z"));
/** How a line is drawn beside its weight and colour; `closed` goes round something and has a side to lie on. */
const manner = (path, closed) => [
  { word: "Tint", path: `${path}.tint`, kind: "percent" },
  { ...DASHES, path: `${path}.dash` },
  { word: "Caps", path: `${path}.cap`, kind: "choice", choices: [["butt", "butt"], ["round", "round"], ["square", "square"]], hint: "the shape of the ends of lines and dashes" },
  { word: "Joins", path: `${path}.join`, kind: "choice", choices: [["miter", "mitre"], ["round", "round"], ["bevel", "bevel"]], hint: "the shape of its corners" },
  ...(closed ? [{ word: "Align", when: (raw) => !raw.outline || !isOpen(raw), path: `${path}.align`, kind: "choice", choices: [["centre", "centre"], ["inside", "inside"], ["outside", "outside"]], hint: "the side of the outline that the stroke is on" }] : []),
  { word: "Start", when: closed ? isOpen : null, path: `${path}.begin`, kind: "choice", choices: END, hint: "the arrowhead or other shape at the start of an open line" },
  { word: "End", when: closed ? isOpen : null, path: `${path}.end`, kind: "choice", choices: END, hint: "the arrowhead or other shape at the end of an open line" },
];
const stroke = (path, closed = false) => [
  { word: "Weight", path: `${path}.weight`, kind: "pt" },
  { word: "Colour", path: `${path}.swatch`, kind: "ink", hint: "a swatch, or a rule style, which sets weight, colour and dashes" },
  ...manner(path, closed),
];
const four = (path, kind) => ["Top", "Right", "Bottom", "Left"].map((word, at) => ({ word, path: `${path}.${at}`, kind }));
const rule = (path) => [
  ...stroke(`${path}.stroke`),
  { word: "Offset", path: `${path}.offset`, kind: "pt", hint: "from the first or last baseline to the middle of the rule" },
  { word: "Width", path: `${path}.across`, kind: "choice", choices: [["column", "of the column"], ["text", "of the text"]] },
  { word: "Left indent", path: `${path}.indent_left`, kind: "pt" },
  { word: "Right indent", path: `${path}.indent_right`, kind: "pt" },
];

const INSETS = [
  { head: "Insets" }, ...four("insets", "unit"),
  { head: "First baseline" }, { word: "Offset", path: "first_at", kind: "unit", hint: "distance from the top of the frame: exact where the first line is set to a fixed distance, otherwise the least" },
  { word: "Paragraph spacing limit", path: "stretch", kind: "unit", hint: "the most that is added between paragraphs where text is justified vertically" },
  { head: "Rule between columns" }, ...stroke("column_rule"),
];
const DISTANCES = [...four("wrap.offsets", "unit"), { word: "Ignore text wrap of other frames", path: "passes", kind: "flag" }];
const OVERPRINT = { key: "overprint", title: "Overprint", fields: [{ word: "Overprint the inks below", path: "overprint", kind: "flag", hint: "its inks are printed on top of those below instead of knocking them out; the board and the proof show it" }] };
const SHADOW = { key: "shadow", title: "Shadow", fields: [
  { word: "Colour", path: "shadow.swatch", kind: "swatch or none" }, { word: "Opacity", path: "shadow.opacity", kind: "percent" },
  { word: "Offset right", path: "shadow.dx", kind: "pt", hint: "how far the shadow falls to the right, whatever the object’s rotation" }, { word: "Offset down", path: "shadow.dy", kind: "pt" },
  { word: "Blur", path: "shadow.blur", kind: "pt", hint: "the distance over which the shadow fades; 0 gives a hard edge" },
] };
/** Blend modes: [name, words]. */
export const BLENDS = ["normal", "multiply", "screen", "overlay", "darken", "lighten", "color-dodge", "color-burn", "hard-light", "soft-light", "difference", "exclusion"].map((mode) => [mode, mode.replace("color", "colour").replace("-", " ")]);
const MIXING = { key: "mixing", title: "Opacity and blending", fields: [
  { word: "Opacity", path: "opacity", kind: "percent", hint: "how strongly the object covers what is below it" },
  { word: "Blend mode", path: "blend", kind: "choice", hint: "how it is blended with what is below it",
    choices: BLENDS },
  { word: "Soft edge", path: "soft_edge", kind: "pt", hint: "the distance inward from the outline over which the object fades; 0 gives a hard edge" },
] };
const EDGE = { key: "edge", title: "Stroke", fields: stroke("stroke", true) };
const CORNER = [["round", "rounded"], ["hollow", "concave"], ["cut", "bevelled"], ["notch", "notched"]];
const CORNERS = { key: "corners", title: "Corners", fields: [
  { word: "Radius", path: "outline.radii.all", kind: "unit", hint: "of all corners; 0 leaves them square" }, { word: "Shape", path: "outline.corners.all", kind: "choice", choices: CORNER },
  { head: "Single corners" }, ...["Top left", "Top right", "Bottom right", "Bottom left"].flatMap((word, at) => [
  { word, path: `outline.radii.${at}`, kind: "unit", hint: "radius of this corner; 0 leaves it square" },
  { word: `${word}, shape`, path: `outline.corners.${at}`, kind: "choice", choices: CORNER },
])] };

const TWO = ({ adjust }) => adjust.inks === "two";
const INKED = ({ adjust }) => ["one", "two"].includes(adjust.inks);
const CUT = ({ adjust }) => adjust.cut.kind !== "";
/** Adjustments of a picture; its file stays as it is. */
const ADJUST = [
  { key: "tones", title: "Tone and colour", fields: [
    { word: "Brightness", path: "adjust.brightness", kind: "slide", from: -1, hint: "lightens or darkens the whole picture" },
    { word: "Contrast", path: "adjust.contrast", kind: "slide", from: -1, hint: "increases or reduces the difference between light and dark" },
    { word: "Saturation", path: "adjust.saturation", kind: "slide", from: -1, hint: "makes colours stronger or weaker" },
    { word: "Sharpness", path: "adjust.sharpen", kind: "slide", to: 3, hint: "makes edges crisper at the printed size" },
    { head: "Levels" },
    { word: "Black point", path: "adjust.black", kind: "percent", hint: "this tone and all darker ones become black" }, { word: "White point", path: "adjust.white", kind: "percent", hint: "this tone and all lighter ones become white" },
    { word: "Gamma", path: "adjust.gamma", kind: "factor", hint: "above 1 lightens the midtones, below 1 darkens them" },
    { word: "Invert", path: "adjust.inverted", kind: "flag" },
  ] },
  { key: "inks", title: "Inks", fields: [
    { word: "Colour mode", path: "adjust.inks", kind: "choice", choices: [["all", "original colours"], ["grey", "greyscale"], ["one", "one swatch"], ["two", "duotone: two swatches"]] },
    { word: "Shadows", path: "adjust.ink.swatch", kind: "swatch", when: INKED, hint: "the swatch that prints the whole picture, or the dark tones of a duotone" }, { word: "Tint", path: "adjust.ink.tint", kind: "percent", when: INKED },
    { word: "Highlights", path: "adjust.second.swatch", kind: "swatch", when: TWO, hint: "the swatch that prints the light tones of a duotone" }, { word: "Tint", path: "adjust.second.tint", kind: "percent", when: TWO },
  ] },
  { key: "cut", title: "Background removal", fields: [
    { word: "Remove", path: "adjust.cut.kind", kind: "choice", choices: [["", "nothing"], ["white", "white"], ["colour", "a colour"]] },
    { word: "Colour", path: "adjust.cut.colour", kind: "light", when: ({ adjust }) => adjust.cut.kind === "colour", hint: "an RGB colour, such as #E9EEEC" },
    { word: "Tolerance", path: "adjust.cut.tolerance", kind: "slide", when: CUT, hint: "how different a colour may be and still be removed" },
    { word: "Contiguous: from the edges inward only", path: "adjust.cut.outside", kind: "flag", when: CUT, hint: "the same colour inside the subject stays" },
  ] },
];
const BARS = ({ bars }) => bars;
/** Properties of a code; its content is typed in a dialog. */
const CODE = [{ key: "make", title: "Appearance", fields: [
  { word: "Error correction", path: "level", kind: "choice", when: ({ levels }) => levels, choices: [["L", "L: about 7 %"], ["M", "M: about 15 %"], ["Q", "Q: about 25 %"], ["H", "H: about 30 %"]], hint: "how much of the code may be damaged or covered and still be read" },
  { word: "Ink", path: "ink.swatch", kind: "swatch" }, { word: "Tint", path: "ink.tint", kind: "percent" },
  { word: "Add-on", path: "addon", kind: "text or none", when: ({ addons }) => addons, hint: "two figures for an issue, five for a price, as separate bars after the code" },
  { word: "Text above", path: "above", kind: "text or none", when: BARS, hint: "a line above the bars, such as the ISBN with its hyphens, or a price" },
  { word: "Device resolution", path: "dots", kind: "choice", choices: [[0, "any: as large as fits"], [1200, "1200 dpi"], [2400, "2400 dpi"], [2540, "2540 dpi"], [4000, "4000 dpi"]], hint: "modules of whole device dots are equally wide on the plate; the code becomes slightly smaller" },
  { word: "Show figures below the bars", path: "words", kind: "flag", when: BARS },
] }];

export const SECTIONS = {
  adjust: ADJUST,
  code: CODE,
  para: [
    { key: "indents", title: "Indents and spacing", fields: [
      { word: "Left indent", path: "indent_left", kind: "pt" }, { word: "Right indent", path: "indent_right", kind: "pt" },
      { word: "First line", path: "indent_first", kind: "pt", hint: "indent of the first line, measured from the left indent" },
      { word: "Last line", path: "last_line", kind: "choice", choices: [["left", "left"], ["centre", "centre"], ["right", "right"], ["full", "justified"]], hint: "alignment of the last line of a justified paragraph" },
      { word: "Leading in", path: "leading", kind: "leading", choices: [["points", "points"], ["times", "% of size"]], hint: "leading in points is fixed; leading in per cent follows the type size" },
      { word: "Leading %", path: "leading_times", kind: "percent", when: ({ leading_times }) => leading_times > 0 },
      { word: "Keep space before at the top of a column", path: "keep_space", kind: "flag" },
    ] },
    { key: "breaking", title: "Hyphenation and line breaks", fields: [
      { word: "Shortest word", path: "hyphen_word", kind: "whole", hint: "fewest letters of a word that is hyphenated" }, { word: "Hyphens in a row", path: "hyphen_run", kind: "whole", hint: "the most consecutive lines that end in a hyphen; 0 sets no limit" },
      { word: "Letters before", path: "hyphen_before", kind: "whole", hint: "fewest letters before a hyphen" }, { word: "Letters after", path: "hyphen_after", kind: "whole", hint: "fewest letters after a hyphen" },
      { head: "Hyphenate" },
      { word: "Words in capitals", path: "hyphen_capitals", kind: "flag" }, { word: "Names", path: "hyphen_names", kind: "flag" },
      { word: "The last word of a paragraph", path: "hyphen_last", kind: "flag" }, { word: "Last line of a column", path: "hyphen_column", kind: "choice", choices: [[true, "always"], ["leaf", "not where the page is turned"], [false, "never"]], hint: "whether the last line of a column may end in a hyphen" },
      { head: "Line breaks" },
      { word: "Method", path: "breaking", kind: "choice", choices: [["optimum", "whole paragraph"], ["first fit", "line by line"]], hint: "finds the best breaks for the whole paragraph, or fills one line after another" },
      { word: "Extra lines", path: "looseness", kind: "whole", hint: "sets the paragraph this many lines longer, or shorter below 0, than its best fit" },
      { word: "Shortest last line", path: "last_least", kind: "pt", hint: "the last line is at least this long where that costs little" },
      { word: "Letter-spacing limit", path: "letter_fit", kind: "percent", hint: "how far letter spacing may vary in narrow columns, in per cent of an em" },
      { word: "Glyph-scaling limit", path: "glyph_fit", kind: "percent", hint: "how far glyphs may be widened or narrowed in narrow columns" },
    ] },
    { key: "keeping", title: "Keep, baseline grid, columns", fields: [
      { word: "Baseline grid", path: "grid", kind: "choice", choices: [[false, "off"], [true, "align all lines"], ["first", "align first line"]] },
      { word: "Start", path: "start", kind: "choice", choices: [["anywhere", "anywhere"], ["column", "in the next column"], ["page", "on the next page"], ["recto", "on the next recto"], ["verso", "on the next verso"]] },
      { word: "Lines at bottom", path: "foot_lines", kind: "whole", hint: "fewest lines of the paragraph at the bottom of a column (orphans)" }, { word: "Lines at top", path: "head_lines", kind: "whole", hint: "fewest lines of the paragraph at the top of a column (widows)" },
      { word: "Split columns", path: "split", kind: "whole", hint: "divides the column into this many for the paragraph" }, { word: "Lines on last page", path: "closing_lines", kind: "whole", hint: "fewest lines on the last page of a chapter; the pages before it are set shorter if needed" },
      { word: "Keep all lines together", path: "keep_together", kind: "flag" },
      { word: "Keep with previous", path: "keep_previous", kind: "flag", hint: "stays in the column of the paragraph above, as a caption below its figure does" },
      { word: "Float", path: "floats", kind: "flag", hint: "a figure without room moves to the next column with its caption, and the text fills the space" },
      { word: "Align to the bottom of the column", path: "at_foot", kind: "flag" },
      { word: "Even feet", hint: "facing pages end on the same line", path: "even_feet", kind: "flag" },
    ] },
    { key: "tabs", title: "Tabs", widget: "tabs", fields: [{ word: "Default tab interval", path: "tab_every", kind: "pt", hint: "distance between tab stops after the last one set" }] },
    { key: "initial", title: "Drop cap", fields: [
      { word: "Lines", path: "drop_lines", kind: "whole" }, { word: "Letters", path: "drop_chars", kind: "whole" },
      { word: "Gap", path: "drop_gap", kind: "pt" }, { word: "Style", path: "drop_style", kind: "character" },
      { word: "Lines follow the shape of the letter", path: "drop_shape", kind: "flag" },
    ] },
    { key: "list", title: "List", fields: [
      { word: "Kind", path: "list.kind", kind: "choice", choices: [["none", "none"], ["bullet", "bullets"], ["number", "numbers"]] },
      { word: "Format", path: "list.form", kind: "text", hint: "the bullet character; for numbers # is the number and #1 that of level 1, as in #1.#2." },
      { word: "Level", path: "list.level", kind: "whole" },
      { word: "Numbers", path: "list.numbers", kind: "choice", choices: [["1", "1 2 3"], ["i", "i ii iii"], ["I", "I II III"], ["a", "a b c"], ["A", "A B C"]] },
      { word: "Start at", path: "list.start", kind: "whole or none", hint: "the first number; leave empty to continue counting" }, { word: "Character style", path: "list.style", kind: "character", hint: "of the bullet or number" },
      { word: "Continue numbering after other paragraphs", path: "list.continued", kind: "flag" },
      { word: "Series", path: "list.series", kind: "text or none", hint: "numbers of one name, such as Figures, are counted separately through all stories, page by page; #1 is the number of the heading of level 1 above: “Figure #1.#”" },
      { word: "Followed by", path: "list.gap", kind: "choice", choices: [["tab", "a tab"], ["space", "a space"]] },
    ] },
    { key: "rules", title: "Rules above and below", fields: [{ head: "Above" }, ...rule("rule_above"), { head: "Below" }, ...rule("rule_below")] },
    { key: "box", title: "Shading and border", fields: [
      { word: "Shading", path: "box.fill.swatch", kind: "swatch or none" }, { word: "Tint", path: "box.fill.tint", kind: "percent" },
      { head: "Padding" }, ...four("box.padding", "pt"), { head: "Border" }, ...stroke("box.stroke"),
      { word: "Sides", path: "box.sides", kind: "sides" },
    ] },
  ],
  type: [
    { key: "features", title: "OpenType features", widget: "features", fields: [] },
    { key: "place", title: "Scale, baseline shift, position", fields: [
      { word: "Width %", path: "scale_x", kind: "percent" }, { word: "Height %", path: "scale_y", kind: "percent" },
      { word: "Baseline shift", path: "shift", kind: "pt", hint: "upward; below 0 downward" },
      { word: "Position", path: "position", kind: "choice", choices: [["normal", "normal"], ["superior", "superscript"], ["inferior", "subscript"]] },
    ] },
    { key: "lines", title: "Underline and strikethrough", fields: [
      { word: "Underline", path: "underline", kind: "flag" }, { word: "Weight", path: "underline_weight", kind: "pt", hint: "of the underline; 0 uses the font’s value" }, { word: "Offset", path: "underline_offset", kind: "pt", hint: "of the underline, downward from the baseline; 0 uses the font’s value" },
      { word: "Strikethrough", path: "strike", kind: "flag" }, { word: "Weight", path: "strike_weight", kind: "pt", hint: "of the strikethrough; 0 uses the font’s value" }, { word: "Offset", path: "strike_offset", kind: "pt", hint: "of the strikethrough, upward from the baseline; 0 uses the font’s value" },
    ] },
    { key: "language", title: "Language, tint, no break", fields: [
      { word: "Language", path: "language", kind: "text", hint: "for hyphenation, spelling and quotation marks, such as en-GB or de-DE" }, { word: "Tint", path: "tint", kind: "percent" },
      { word: "No break: keep on one line", path: "no_break", kind: "flag" },
    ] },
  ],
  holds: [
    { key: "insets", title: "Insets, first line, text on a path", fields: [
      ...INSETS, { head: "Text on a path" },
      { word: "Position", path: "along", kind: "choice", choices: [["", "off: inside the frame"], ["above", "above the outline"], ["middle", "across the outline"], ["below", "below the outline"]], hint: "only the first line follows the outline" },
      { word: "Start %", path: "along_from", kind: "percent", hint: "where along the outline the text starts; a closed outline starts at its bottom" },
      { head: "Type size when fitted" }, { word: "Smallest", path: "fit_sizes.0", kind: "pt" }, { word: "Largest", path: "fit_sizes.1", kind: "pt" },
    ] },
  ],
  // Beside the slip's fields for the colour and weight of a stroke.
  edging: [{ ...EDGE, title: "Stroke details", fields: manner("stroke", true) }],
  cornering: [CORNERS],
  throwing: [MIXING, SHADOW, OVERPRINT],
  wrap: [{ key: "away", title: "Text wrap offsets", fields: DISTANCES }],
  // All values of a frame style, also those that have fields elsewhere in the slip.
  frame: [
    { key: "columns", title: "Columns and text", fields: [
      { word: "Columns", path: "columns", kind: "whole" }, { word: "Gutter", path: "gutter", kind: "unit" },
      { word: "Balance columns", path: "balanced", kind: "flag" },
      { word: "Vertical alignment", path: "vertical", kind: "choice", choices: [["top", "top"], ["centre", "centre"], ["bottom", "bottom"], ["justified", "justified"]] },
      { word: "First line", path: "first", kind: "choice", choices: [["ascent", "ascenders at the top"], ["capital", "capitals at the top"], ["x-height", "x-height at the top"], ["leading", "one leading down"], ["fixed", "fixed distance"]] },
    ] },
    { key: "insets", title: "Insets, first line, rule", fields: INSETS },
    { key: "fill", title: "Fill", fields: [
      { word: "Colour", path: "fill.swatch", kind: "swatch or none" }, { word: "Tint", path: "fill.tint", kind: "percent" },
    ] },
    EDGE, MIXING, SHADOW, OVERPRINT,
    { key: "away", title: "Text wrap", fields: [
      { word: "Text wrap", path: "wrap.sides", kind: "choice", choices: [["none", "none"], ["both", "both sides"], ["largest", "wider side"], ["left", "left side"], ["right", "right side"], ["jump", "jump over"]] },
      { word: "Follow the outline", path: "wrap.outline", kind: "flag" }, { word: "Follow the picture’s contour", path: "wrap.contour", kind: "flag" }, { word: "Inverted: text inside only", path: "wrap.inverted", kind: "flag" },
      { head: "Offsets" }, ...DISTANCES,
    ] },
  ],
  rule: [{ key: "stroke", title: "Stroke", fields: stroke("stroke").map((field) => ({ ...field, kind: field.kind === "ink" ? "swatch" : field.kind })) }],
};
export { ALIGNS };
