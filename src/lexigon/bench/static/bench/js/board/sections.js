// What the full groups of the slip, and the styles, have as fields: every value of a setting, described once.
// A field: its word, the path of its value, what kind of value it is, and for choices the values with their words.

const ALIGNS = [["left", "left"], ["right", "right"], ["centre", "centre"], ["decimal", "decimal"]];
const END = [["none", "nothing"], ["arrow", "arrow"], ["barb", "open arrow"], ["dot", "dot"], ["ring", "ring"], ["bar", "bar"], ["diamond", "diamond"]];
const DASHES = { word: "Dashes", kind: "dash", hint: "Lengths of strokes and gaps in turn, such as 3 2; empty for none; 0 4 with round caps are dots" };
/** Whether what is drawn is a line, and goes round nothing. A style may be for both. */
const isOpen = ({ outline }) => !outline || (outline.kind === "path" && !outline.data.includes("Z"));
/** How a line is drawn beside its weight and colour; `closed` goes round something and has a side to lie on. */
const manner = (path, closed) => [
  { word: "Tint", path: `${path}.tint`, kind: "percent" },
  { ...DASHES, path: `${path}.dash` },
  { word: "Caps", path: `${path}.cap`, kind: "choice", choices: [["butt", "flat"], ["round", "round"], ["square", "square"]], hint: "The ends of the line and of its dashes" },
  { word: "Joins", path: `${path}.join`, kind: "choice", choices: [["miter", "sharp"], ["round", "round"], ["bevel", "cut"]], hint: "Its corners" },
  ...(closed ? [{ word: "Lies", when: (raw) => !raw.outline || !isOpen(raw), path: `${path}.align`, kind: "choice", choices: [["centre", "on the outline"], ["inside", "inside of it"], ["outside", "outside of it"]] }] : []),
  { word: "Begins", when: closed ? isOpen : null, path: `${path}.begin`, kind: "choice", choices: END, hint: "Of a line that is open" },
  { word: "Ends", when: closed ? isOpen : null, path: `${path}.end`, kind: "choice", choices: END, hint: "Of a line that is open" },
];
const stroke = (path, closed = false) => [
  { word: "Weight", path: `${path}.weight`, kind: "pt" },
  { word: "Colour", path: `${path}.swatch`, kind: "ink", hint: "A swatch, or a rule style which says weight, colour and dashes" },
  ...manner(path, closed),
];
const four = (path, kind) => ["Head", "Right", "Foot", "Left"].map((word, at) => ({ word, path: `${path}.${at}`, kind }));
const rule = (path) => [
  ...stroke(`${path}.stroke`),
  { word: "Away", path: `${path}.offset`, kind: "pt", hint: "From the first (last) baseline to the middle of the line" },
  { word: "As long", path: `${path}.across`, kind: "choice", choices: [["column", "as the column"], ["text", "as the words"]] },
  { word: "In left", path: `${path}.indent_left`, kind: "pt" },
  { word: "In right", path: `${path}.indent_right`, kind: "pt" },
];

const INSETS = [
  { head: "Insets" }, ...four("insets", "unit"),
  { head: "First baseline" }, { word: "At", path: "first_at", kind: "unit", hint: "With a set distance: this far from the head; else at least this far" },
  { word: "Spread", path: "stretch", kind: "unit", hint: "Text spread over the height: most that is added between paragraphs" },
  { head: "Rule between columns" }, ...stroke("column_rule"),
];
const DISTANCES = [...four("wrap.offsets", "unit"), { word: "Its text ignores other frames’ wraps", path: "passes", kind: "flag" }];
const OVERPRINT = { key: "overprint", title: "Overprint", fields: [{ word: "Prints over what lies below", path: "overprint", kind: "flag", hint: "Its inks are printed over those below it, which the board and the proof show" }] };
const SHADOW = { key: "shadow", title: "Shadow", fields: [
  { word: "Colour", path: "shadow.swatch", kind: "swatch or none" }, { word: "Strength", path: "shadow.opacity", kind: "percent" },
  { word: "Right", path: "shadow.dx", kind: "pt", hint: "How far it falls to the right, however the object is turned" }, { word: "Down", path: "shadow.dy", kind: "pt" },
  { word: "Soft", path: "shadow.blur", kind: "pt", hint: "Over what it fades; 0 for a hard edge" },
] };
/** Ways to mix with what lies below: [name, words]. */
export const BLENDS = ["normal", "multiply", "screen", "overlay", "darken", "lighten", "color-dodge", "color-burn", "hard-light", "soft-light", "difference", "exclusion"].map((mode) => [mode, mode.replace("color", "colour").replace("-", " ")]);
const MIXING = { key: "mixing", title: "Opacity and blending", fields: [
  { word: "Opacity", path: "opacity", kind: "percent", hint: "How much all of it covers of what lies below" },
  { word: "Blend", path: "blend", kind: "choice", hint: "How it is mixed with what lies below",
    choices: BLENDS },
  { word: "Soft edge", path: "soft_edge", kind: "pt", hint: "It fades out inward from its outline over so much; 0 for a hard edge" },
] };
const EDGE = { key: "edge", title: "Edge", fields: stroke("stroke", true) };
const CORNER = [["round", "round"], ["hollow", "hollow"], ["cut", "cut"], ["notch", "notch"]];
const CORNERS = { key: "corners", title: "Corners", fields: [
  { word: "All", path: "outline.radii.all", kind: "unit", hint: "How much of each corner is taken off; 0 for none" }, { word: "Kind", path: "outline.corners.all", kind: "choice", choices: CORNER },
  { head: "Each by itself" }, ...["Head left", "Head right", "Foot right", "Foot left"].flatMap((word, at) => [
  { word, path: `outline.radii.${at}`, kind: "unit", hint: "How much of the corner is taken off; 0 for none" },
  { word: "Kind", path: `outline.corners.${at}`, kind: "choice", choices: CORNER },
])] };

const TWO = ({ adjust }) => adjust.inks === "two";
const INKED = ({ adjust }) => ["one", "two"].includes(adjust.inks);
const CUT = ({ adjust }) => adjust.cut.kind !== "";
/** How a picture is shown otherwise than its file has it. */
const ADJUST = [
  { key: "tones", title: "Light and colour", fields: [
    { word: "Brightness", path: "adjust.brightness", kind: "slide", from: -1, hint: "More or less light everywhere" },
    { word: "Contrast", path: "adjust.contrast", kind: "slide", from: -1, hint: "Lights and darks farther apart, or nearer" },
    { word: "Saturation", path: "adjust.saturation", kind: "slide", from: -1, hint: "Stronger or fainter colours" },
    { word: "Sharpness", path: "adjust.sharpen", kind: "slide", to: 3, hint: "Edges stand out, at the size that is printed" },
    { head: "Levels" },
    { word: "Black", path: "adjust.black", kind: "percent", hint: "Shadows: this tone and darker becomes black" }, { word: "White", path: "adjust.white", kind: "percent", hint: "Highlights: this tone and lighter becomes white" },
    { word: "Middle", path: "adjust.gamma", kind: "factor", hint: "Above 1 lightens what lies between, below 1 darkens it" },
    { word: "Inverted", path: "adjust.inverted", kind: "flag" },
  ] },
  { key: "inks", title: "Inks", fields: [
    { word: "In", path: "adjust.inks", kind: "choice", choices: [["all", "its own colours"], ["grey", "grey: black alone"], ["one", "one swatch"], ["two", "two swatches"]] },
    { word: "Dark", path: "adjust.ink.swatch", kind: "swatch", when: INKED, hint: "Of one swatch all of it; of two the depths" }, { word: "Tint", path: "adjust.ink.tint", kind: "percent", when: INKED },
    { word: "Light", path: "adjust.second.swatch", kind: "swatch", when: TWO, hint: "Comes in where the picture is only a little dark" }, { word: "Tint", path: "adjust.second.tint", kind: "percent", when: TWO },
  ] },
  { key: "cut", title: "Cut out", fields: [
    { word: "Remove", path: "adjust.cut.kind", kind: "choice", choices: [["", "nothing"], ["white", "white"], ["colour", "a colour"]] },
    { word: "Colour", path: "adjust.cut.colour", kind: "light", when: ({ adjust }) => adjust.cut.kind === "colour", hint: "As light, such as #E9EEEC" },
    { word: "Tolerance", path: "adjust.cut.tolerance", kind: "slide", when: CUT, hint: "How far from it a colour may be, and goes too" },
    { word: "Only from the edges inward", path: "adjust.cut.outside", kind: "flag", when: CUT, hint: "The same colour within the rest stays" },
  ] },
];
const BARS = ({ bars }) => bars;
/** What a code is made of beside what it says, which is typed in a form of its own. */
const CODE = [{ key: "make", title: "How it is made", fields: [
  { word: "Safety", path: "level", kind: "choice", when: ({ levels }) => levels, choices: [["L", "about 7 % may be lost"], ["M", "about 15 % may be lost"], ["Q", "about 25 % may be lost"], ["H", "about 30 % may be lost"]], hint: "How much of the code may be lost or covered and it is still read" },
  { word: "Ink", path: "ink.swatch", kind: "swatch" }, { word: "Tint", path: "ink.tint", kind: "percent" },
  { word: "Add-on", path: "addon", kind: "text or none", when: ({ addons }) => addons, hint: "Two figures for an issue, five for a price: separate bars after the code" },
  { word: "Above", path: "above", kind: "text or none", when: BARS, hint: "A line over the bars, such as the book number with its hyphens, or a price" },
  { word: "Press dots", path: "dots", kind: "choice", choices: [[0, "as large as fits"], [1200, "1200 to the inch"], [2400, "2400 to the inch"], [2540, "2540 to the inch"], [4000, "4000 to the inch"]], hint: "Modules of whole dots are equal on the plate; the code gets a little smaller" },
  { word: "Figures under the bars", path: "words", kind: "flag", when: BARS },
] }];

export const SECTIONS = {
  adjust: ADJUST,
  code: CODE,
  para: [
    { key: "indents", title: "Indents and spaces", fields: [
      { word: "Left", path: "indent_left", kind: "pt" }, { word: "Right", path: "indent_right", kind: "pt" },
      { word: "First", path: "indent_first", kind: "pt", hint: "First line, from the left indent" },
      { word: "Last", path: "last_line", kind: "choice", choices: [["left", "left"], ["centre", "centred"], ["right", "right"], ["full", "full"]], hint: "Last line of a justified paragraph" },
      { word: "Lead by", path: "leading", kind: "leading", choices: [["points", "points"], ["times", "% of size"]], hint: "A leading in points stays; a part of the size follows the size" },
      { word: "Part", path: "leading_times", kind: "percent", when: ({ leading_times }) => leading_times > 0 },
      { word: "Space before stays at a column’s head", path: "keep_space", kind: "flag" },
    ] },
    { key: "breaking", title: "Hyphens and lines", fields: [
      { word: "Word", path: "hyphen_word", kind: "whole", hint: "Letters of the shortest word that is divided" }, { word: "In a row", path: "hyphen_run", kind: "whole", hint: "Most lines in a row that end in a hyphen; 0 sets no limit" },
      { word: "Before", path: "hyphen_before", kind: "whole", hint: "Fewest letters before a hyphen" }, { word: "After", path: "hyphen_after", kind: "whole", hint: "Fewest letters after it" },
      { head: "A hyphen may stand" },
      { word: "in words in capitals", path: "hyphen_capitals", kind: "flag" }, { word: "in names", path: "hyphen_names", kind: "flag" },
      { word: "in a paragraph’s last word", path: "hyphen_last", kind: "flag" }, { word: "Foot", path: "hyphen_column", kind: "choice", choices: [[true, "at any column’s end"], ["leaf", "not over the leaf"], [false, "at no column’s end"]], hint: "Whether the last line of a column may end in a divided word; over the leaf: where the page is turned after it" },
      { head: "Lines" },
      { word: "Broken", path: "breaking", kind: "choice", choices: [["optimum", "best fit"], ["first fit", "first fit"]], hint: "Lines broken as best for the whole paragraph, or as they come" },
      { word: "Looser", path: "looseness", kind: "whole", hint: "Lines more (or, below 0, fewer) than set best" },
      { word: "Last", path: "last_least", kind: "pt", hint: "A last line is at least so long, where that costs little" },
      { word: "Letters", path: "letter_fit", kind: "percent", hint: "How far letters may part or close in narrow columns, of an em" },
      { word: "Glyphs", path: "glyph_fit", kind: "percent", hint: "How far they may be widened or narrowed then" },
    ] },
    { key: "keeping", title: "Keeps, grid, columns", fields: [
      { word: "Grid", path: "grid", kind: "choice", choices: [[false, "off"], [true, "all lines"], ["first", "first line"]] },
      { word: "Begins", path: "start", kind: "choice", choices: [["anywhere", "anywhere"], ["column", "in a column"], ["page", "on a page"], ["recto", "on a recto"], ["verso", "on a verso"]] },
      { word: "At foot", path: "foot_lines", kind: "whole", hint: "Fewest lines left at the foot of a column" }, { word: "At head", path: "head_lines", kind: "whole", hint: "Fewest lines carried to the head of one" },
      { word: "Split", path: "split", kind: "whole", hint: "Columns side by side within its own" }, { word: "Last page", path: "closing_lines", kind: "whole", hint: "Fewest lines on the last page of a chapter; pages before it are set shorter for that" },
      { word: "Keep all its lines together", path: "keep_together", kind: "flag" },
      { word: "Keep with the paragraph above", path: "keep_previous", kind: "flag", hint: "A caption below its figure or table" },
      { word: "Float: move to the next column where there is no room", path: "floats", kind: "flag", hint: "For figures: the text fills the space, and the caption goes with its figure" },
      { word: "Stands at the column’s foot", path: "at_foot", kind: "flag" },
      { word: "Facing pages end on the same line", path: "even_feet", kind: "flag" },
    ] },
    { key: "tabs", title: "Tabs", widget: "tabs", fields: [{ word: "Every", path: "tab_every", kind: "pt", hint: "Tab stops after the last one set" }] },
    { key: "initial", title: "Large initial", fields: [
      { word: "Lines", path: "drop_lines", kind: "whole" }, { word: "Letters", path: "drop_chars", kind: "whole" },
      { word: "Gap", path: "drop_gap", kind: "pt" }, { word: "Style", path: "drop_style", kind: "character" },
      { word: "Lines follow its shape", path: "drop_shape", kind: "flag" },
    ] },
    { key: "list", title: "List", fields: [
      { word: "Kind", path: "list.kind", kind: "choice", choices: [["none", "none"], ["bullet", "signs"], ["number", "numbers"]] },
      { word: "Form", path: "list.form", kind: "text", hint: "The character itself; for numbers # is the number, #1 that of level 1, as in #1.#2." },
      { word: "Level", path: "list.level", kind: "whole" },
      { word: "Figures", path: "list.numbers", kind: "choice", choices: [["1", "1 2 3"], ["i", "i ii iii"], ["I", "I II III"], ["a", "a b c"], ["A", "A B C"]] },
      { word: "From", path: "list.start", kind: "whole or none", hint: "Begins with this number; leave empty to continue counting" }, { word: "Style", path: "list.style", kind: "character", hint: "Of the character or number" },
      { word: "Continues after other paragraphs", path: "list.continued", kind: "flag" },
      { word: "Series", path: "list.series", kind: "text or none", hint: "Numbers of one name count by themselves through all texts, page by page: Figures, Tables. In them #1 is the number of the heading of level 1 above: “Figure #1.#”" },
      { word: "Set off by", path: "list.gap", kind: "choice", choices: [["tab", "a tab"], ["space", "a space"]] },
    ] },
    { key: "rules", title: "Rules above and below", fields: [{ head: "Above" }, ...rule("rule_above"), { head: "Below" }, ...rule("rule_below")] },
    { key: "box", title: "Shading and border", fields: [
      { word: "Shade", path: "box.fill.swatch", kind: "swatch or none" }, { word: "Tint", path: "box.fill.tint", kind: "percent" },
      { head: "Beyond the words" }, ...four("box.padding", "pt"), { head: "Border" }, ...stroke("box.stroke"),
      { word: "On", path: "box.sides", kind: "sides" },
    ] },
  ],
  type: [
    { key: "features", title: "OpenType features", widget: "features", fields: [] },
    { key: "place", title: "Width, height, shift", fields: [
      { word: "Width", path: "scale_x", kind: "percent" }, { word: "Height", path: "scale_y", kind: "percent" },
      { word: "Shift", path: "shift", kind: "pt", hint: "Baseline, upward" },
      { word: "Place", path: "position", kind: "choice", choices: [["normal", "on the line"], ["superior", "superior"], ["inferior", "inferior"]] },
    ] },
    { key: "lines", title: "Lines under and through", fields: [
      { word: "Underlined", path: "underline", kind: "flag" }, { word: "Weight", path: "underline_weight", kind: "pt", hint: "0 takes the font’s own" }, { word: "Down", path: "underline_offset", kind: "pt", hint: "From the baseline; 0 takes the font’s own" },
      { word: "Struck through", path: "strike", kind: "flag" }, { word: "Weight", path: "strike_weight", kind: "pt", hint: "0 takes the font’s own" }, { word: "Up", path: "strike_offset", kind: "pt", hint: "From the baseline; 0 takes the font’s own" },
    ] },
    { key: "language", title: "Language, tint, breaks", fields: [
      { word: "Language", path: "language", kind: "text", hint: "For hyphens, such as en-GB or de-DE" }, { word: "Tint", path: "tint", kind: "percent" },
      { word: "Held on one line", path: "no_break", kind: "flag" },
    ] },
  ],
  holds: [
    { key: "insets", title: "Insets, first line, along", fields: [
      ...INSETS, { head: "Along the outline" },
      { word: "Runs", path: "along", kind: "choice", choices: [["", "within the frame"], ["above", "on its outline"], ["middle", "across its outline"], ["below", "under its outline"]], hint: "Its first line alone" },
      { word: "From", path: "along_from", kind: "percent", hint: "So far along; a closed outline begins at its foot" },
      { head: "Size fitted from, to" }, { word: "From", path: "fit_sizes.0", kind: "pt" }, { word: "To", path: "fit_sizes.1", kind: "pt" },
    ] },
  ],
  // Beside the slip's own fields for an edge's colour and weight.
  edging: [{ ...EDGE, title: "Line of the edge", fields: manner("stroke", true) }],
  cornering: [CORNERS],
  throwing: [MIXING, SHADOW, OVERPRINT],
  wrap: [{ key: "away", title: "Distances", fields: DISTANCES }],
  // All that a frame style gives: what the slip has fields of its own for, too.
  frame: [
    { key: "columns", title: "Columns and text", fields: [
      { word: "Columns", path: "columns", kind: "whole" }, { word: "Gutter", path: "gutter", kind: "unit" },
      { word: "Last columns equally high", path: "balanced", kind: "flag" },
      { word: "Text", path: "vertical", kind: "choice", choices: [["top", "at the head"], ["centre", "in the middle"], ["bottom", "at the foot"], ["justified", "spread over the height"]] },
      { word: "First line", path: "first", kind: "choice", choices: [["ascent", "tall letters at the head"], ["capital", "capitals at the head"], ["x-height", "small letters at the head"], ["leading", "one leading down"], ["fixed", "at a set distance"]] },
    ] },
    { key: "insets", title: "Insets, first line, rule", fields: INSETS },
    { key: "fill", title: "Fill", fields: [
      { word: "Colour", path: "fill.swatch", kind: "swatch or none" }, { word: "Tint", path: "fill.tint", kind: "percent" },
    ] },
    EDGE, MIXING, SHADOW, OVERPRINT,
    { key: "away", title: "Wrap", fields: [
      { word: "Text", path: "wrap.sides", kind: "choice", choices: [["none", "runs over it"], ["both", "on both sides"], ["largest", "on the wider side"], ["left", "on its left"], ["right", "on its right"], ["jump", "jumps over it"]] },
      { word: "Along its outline", path: "wrap.outline", kind: "flag" }, { word: "Along its picture’s contour", path: "wrap.contour", kind: "flag" }, { word: "Text only inside it", path: "wrap.inverted", kind: "flag" },
      { head: "Distances" }, ...DISTANCES,
    ] },
  ],
  rule: [{ key: "stroke", title: "Line", fields: stroke("stroke").map((field) => ({ ...field, kind: field.kind === "ink" ? "swatch" : field.kind })) }],
};
export { ALIGNS };
