// Fields of strokes and rules: weight, colour, dashes, caps and ends.

const END = [
  ["none", "none"],
  ["arrow", "arrow"],
  ["barb", "open arrow"],
  ["dot", "dot"],
  ["ring", "ring"],
  ["bar", "bar"],
  ["diamond", "diamond"],
];
const DASHES = {
  word: "Dashes",
  kind: "dash",
  hint: "lengths of dashes and gaps in turn, such as 3 2; leave empty for a solid line; 0 4 with round caps makes dots",
};
/** Whether what is drawn is a line, and goes round nothing. A style may be for both. */
const isOpen = ({ outline }) => !outline || (outline.kind === "path" && !outline.data.includes("Z"));
/** How a line is drawn beside its weight and colour; `closed` goes round something and has a side to lie on. */
export const manner = (path, closed) => [
  { word: "Tint", path: `${path}.tint`, kind: "percent" },
  { ...DASHES, path: `${path}.dash` },
  {
    word: "Caps",
    path: `${path}.cap`,
    kind: "choice",
    choices: [
      ["butt", "butt"],
      ["round", "round"],
      ["square", "square"],
    ],
    hint: "the shape of the ends of lines and dashes",
  },
  {
    word: "Joins",
    path: `${path}.join`,
    kind: "choice",
    choices: [
      ["miter", "mitre"],
      ["round", "round"],
      ["bevel", "bevel"],
    ],
    hint: "the shape of its corners",
  },
  ...(closed
    ? [
        {
          word: "Align",
          when: (raw) => !raw.outline || !isOpen(raw),
          path: `${path}.align`,
          kind: "choice",
          choices: [
            ["centre", "centre"],
            ["inside", "inside"],
            ["outside", "outside"],
          ],
          hint: "the side of the outline that the stroke is on",
        },
      ]
    : []),
  {
    word: "Start",
    when: closed ? isOpen : null,
    path: `${path}.begin`,
    kind: "choice",
    choices: END,
    hint: "the arrowhead or other shape at the start of an open line",
  },
  {
    word: "End",
    when: closed ? isOpen : null,
    path: `${path}.end`,
    kind: "choice",
    choices: END,
    hint: "the arrowhead or other shape at the end of an open line",
  },
];
export const stroke = (path, closed = false) => [
  { word: "Weight", path: `${path}.weight`, kind: "pt" },
  {
    word: "Colour",
    path: `${path}.swatch`,
    kind: "ink",
    hint: "a swatch, or a rule style, which sets weight, colour and dashes",
  },
  ...manner(path, closed),
];
export const rule = (path) => [
  ...stroke(`${path}.stroke`),
  {
    word: "Offset",
    path: `${path}.offset`,
    kind: "pt",
    hint: "from the first or last baseline to the middle of the rule",
  },
  {
    word: "Width",
    path: `${path}.across`,
    kind: "choice",
    choices: [
      ["column", "of the column"],
      ["text", "of the text"],
    ],
  },
  { word: "Left indent", path: `${path}.indent_left`, kind: "pt" },
  { word: "Right indent", path: `${path}.indent_right`, kind: "pt" },
];
export const EDGE = { key: "edge", title: "Stroke", fields: stroke("stroke", true) };
