// What the full groups of the slip, and the styles, have as fields: every value of a setting, described once.
// A field: its word, the path of its value, what kind of value it is, and for choices the values with their words.

import { ADJUST, CODE } from "./sections/pictures.js";
import { EDGE, manner, stroke } from "./sections/strokes.js";
import { ALIGNS, CHARACTERS, four, PARAGRAPH } from "./sections/text.js";

const INSETS = [
  { head: "Insets" },
  ...four("insets", "unit"),
  { head: "First baseline" },
  {
    word: "Offset",
    path: "first_at",
    kind: "unit",
    hint: "distance from the top of the frame: exact where the first line is set to a fixed distance, otherwise the least",
  },
  {
    word: "Paragraph spacing limit",
    path: "stretch",
    kind: "unit",
    hint: "the most that is added between paragraphs where text is justified vertically",
  },
  { head: "Rule between columns" },
  ...stroke("column_rule"),
];
const DISTANCES = [
  ...four("wrap.offsets", "unit"),
  { word: "Ignore text wrap of other frames", path: "passes", kind: "flag" },
];
const OVERPRINT = {
  key: "overprint",
  title: "Overprint",
  fields: [
    {
      word: "Overprint the inks below",
      path: "overprint",
      kind: "flag",
      hint: "its inks are printed on top of those below instead of knocking them out; the board and the proof show it",
    },
  ],
};
const SHADOW = {
  key: "shadow",
  title: "Shadow",
  fields: [
    { word: "Colour", path: "shadow.swatch", kind: "swatch or none" },
    { word: "Opacity", path: "shadow.opacity", kind: "percent" },
    {
      word: "Offset right",
      path: "shadow.dx",
      kind: "pt",
      hint: "how far the shadow falls to the right, whatever the object’s rotation",
    },
    { word: "Offset down", path: "shadow.dy", kind: "pt" },
    {
      word: "Blur",
      path: "shadow.blur",
      kind: "pt",
      hint: "the distance over which the shadow fades; 0 gives a hard edge",
    },
  ],
};
/** Blend modes: [name, words]. */
export const BLENDS = [
  "normal",
  "multiply",
  "screen",
  "overlay",
  "darken",
  "lighten",
  "color-dodge",
  "color-burn",
  "hard-light",
  "soft-light",
  "difference",
  "exclusion",
].map((mode) => [mode, mode.replace("color", "colour").replace("-", " ")]);
const MIXING = {
  key: "mixing",
  title: "Opacity and blending",
  fields: [
    { word: "Opacity", path: "opacity", kind: "percent", hint: "how strongly the object covers what is below it" },
    {
      word: "Blend mode",
      path: "blend",
      kind: "choice",
      hint: "how it is blended with what is below it",
      choices: BLENDS,
    },
    {
      word: "Soft edge",
      path: "soft_edge",
      kind: "pt",
      hint: "the distance inward from the outline over which the object fades; 0 gives a hard edge",
    },
  ],
};
const CORNER = [
  ["round", "rounded"],
  ["hollow", "concave"],
  ["cut", "bevelled"],
  ["notch", "notched"],
];
const CORNERS = {
  key: "corners",
  title: "Corners",
  fields: [
    { word: "Radius", path: "outline.radii.all", kind: "unit", hint: "of all corners; 0 leaves them square" },
    { word: "Shape", path: "outline.corners.all", kind: "choice", choices: CORNER },
    { head: "Single corners" },
    ...["Top left", "Top right", "Bottom right", "Bottom left"].flatMap((word, at) => [
      { word, path: `outline.radii.${at}`, kind: "unit", hint: "radius of this corner; 0 leaves it square" },
      { word: `${word}, shape`, path: `outline.corners.${at}`, kind: "choice", choices: CORNER },
    ]),
  ],
};

export const SECTIONS = {
  adjust: ADJUST,
  code: CODE,
  para: PARAGRAPH,
  type: CHARACTERS,
  holds: [
    {
      key: "insets",
      title: "Insets, first line, text on a path",
      fields: [
        ...INSETS,
        { head: "Text on a path" },
        {
          word: "Position",
          path: "along",
          kind: "choice",
          choices: [
            ["", "off: inside the frame"],
            ["above", "above the outline"],
            ["middle", "across the outline"],
            ["below", "below the outline"],
          ],
          hint: "only the first line follows the outline",
        },
        {
          word: "Start %",
          path: "along_from",
          kind: "percent",
          hint: "where along the outline the text starts; a closed outline starts at its bottom",
        },
        { head: "Type size when fitted" },
        { word: "Smallest", path: "fit_sizes.0", kind: "pt" },
        { word: "Largest", path: "fit_sizes.1", kind: "pt" },
      ],
    },
  ],
  // Beside the slip's fields for the colour and weight of a stroke.
  edging: [{ ...EDGE, title: "Stroke details", fields: manner("stroke", true) }],
  cornering: [CORNERS],
  throwing: [MIXING, SHADOW, OVERPRINT],
  wrap: [{ key: "away", title: "Text wrap offsets", fields: DISTANCES }],
  // All values of a frame style, also those that have fields elsewhere in the slip.
  frame: [
    {
      key: "columns",
      title: "Columns and text",
      fields: [
        { word: "Columns", path: "columns", kind: "whole" },
        { word: "Gutter", path: "gutter", kind: "unit" },
        { word: "Balance columns", path: "balanced", kind: "flag" },
        {
          word: "Vertical alignment",
          path: "vertical",
          kind: "choice",
          choices: [
            ["top", "top"],
            ["centre", "centre"],
            ["bottom", "bottom"],
            ["justified", "justified"],
          ],
        },
        {
          word: "First line",
          path: "first",
          kind: "choice",
          choices: [
            ["ascent", "ascenders at the top"],
            ["capital", "capitals at the top"],
            ["x-height", "x-height at the top"],
            ["leading", "one leading down"],
            ["fixed", "fixed distance"],
          ],
        },
      ],
    },
    { key: "insets", title: "Insets, first line, rule", fields: INSETS },
    {
      key: "fill",
      title: "Fill",
      fields: [
        { word: "Colour", path: "fill.swatch", kind: "swatch or none" },
        { word: "Tint", path: "fill.tint", kind: "percent" },
      ],
    },
    EDGE,
    MIXING,
    SHADOW,
    OVERPRINT,
    {
      key: "away",
      title: "Text wrap",
      fields: [
        {
          word: "Text wrap",
          path: "wrap.sides",
          kind: "choice",
          choices: [
            ["none", "none"],
            ["both", "both sides"],
            ["largest", "wider side"],
            ["left", "left side"],
            ["right", "right side"],
            ["jump", "jump over"],
          ],
        },
        { word: "Follow the outline", path: "wrap.outline", kind: "flag" },
        { word: "Follow the picture’s contour", path: "wrap.contour", kind: "flag" },
        { word: "Inverted: text inside only", path: "wrap.inverted", kind: "flag" },
        { head: "Offsets" },
        ...DISTANCES,
      ],
    },
  ],
  rule: [
    {
      key: "stroke",
      title: "Stroke",
      fields: stroke("stroke").map((field) => ({ ...field, kind: field.kind === "ink" ? "swatch" : field.kind })),
    },
  ],
};
export { ALIGNS };
