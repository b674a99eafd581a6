// Fields of pictures, their adjustments, and of codes.

const TWO = ({ adjust }) => adjust.inks === "two";
const INKED = ({ adjust }) => ["one", "two"].includes(adjust.inks);
const CUT = ({ adjust }) => adjust.cut.kind !== "";
/** Adjustments of a picture; its file stays as it is. */
export const ADJUST = [
  {
    key: "tones",
    title: "Tone and colour",
    fields: [
      {
        word: "Brightness",
        path: "adjust.brightness",
        kind: "slide",
        from: -1,
        hint: "lightens or darkens the whole picture",
      },
      {
        word: "Contrast",
        path: "adjust.contrast",
        kind: "slide",
        from: -1,
        hint: "increases or reduces the difference between light and dark",
      },
      {
        word: "Saturation",
        path: "adjust.saturation",
        kind: "slide",
        from: -1,
        hint: "makes colours stronger or weaker",
      },
      {
        word: "Sharpness",
        path: "adjust.sharpen",
        kind: "slide",
        to: 3,
        hint: "makes edges crisper at the printed size",
      },
      { head: "Levels" },
      {
        word: "Black point",
        path: "adjust.black",
        kind: "percent",
        hint: "this tone and all darker ones become black",
      },
      {
        word: "White point",
        path: "adjust.white",
        kind: "percent",
        hint: "this tone and all lighter ones become white",
      },
      {
        word: "Gamma",
        path: "adjust.gamma",
        kind: "factor",
        hint: "above 1 lightens the midtones, below 1 darkens them",
      },
      { word: "Invert", path: "adjust.inverted", kind: "flag" },
    ],
  },
  {
    key: "inks",
    title: "Inks",
    fields: [
      {
        word: "Colour mode",
        path: "adjust.inks",
        kind: "choice",
        choices: [
          ["all", "original colours"],
          ["grey", "greyscale"],
          ["one", "one swatch"],
          ["two", "duotone: two swatches"],
        ],
      },
      {
        word: "Shadows",
        path: "adjust.ink.swatch",
        kind: "swatch",
        when: INKED,
        hint: "the swatch that prints the whole picture, or the dark tones of a duotone",
      },
      { word: "Tint", path: "adjust.ink.tint", kind: "percent", when: INKED },
      {
        word: "Highlights",
        path: "adjust.second.swatch",
        kind: "swatch",
        when: TWO,
        hint: "the swatch that prints the light tones of a duotone",
      },
      { word: "Tint", path: "adjust.second.tint", kind: "percent", when: TWO },
    ],
  },
  {
    key: "cut",
    title: "Background removal",
    fields: [
      {
        word: "Remove",
        path: "adjust.cut.kind",
        kind: "choice",
        choices: [
          ["", "nothing"],
          ["white", "white"],
          ["colour", "a colour"],
        ],
      },
      {
        word: "Colour",
        path: "adjust.cut.colour",
        kind: "light",
        when: ({ adjust }) => adjust.cut.kind === "colour",
        hint: "an RGB colour, such as #E9EEEC",
      },
      {
        word: "Tolerance",
        path: "adjust.cut.tolerance",
        kind: "slide",
        when: CUT,
        hint: "how different a colour may be and still be removed",
      },
      {
        word: "Contiguous: from the edges inward only",
        path: "adjust.cut.outside",
        kind: "flag",
        when: CUT,
        hint: "the same colour inside the subject stays",
      },
    ],
  },
];
const BARS = ({ bars }) => bars;
/** Properties of a code; its content is typed in a dialog. */
export const CODE = [
  {
    key: "make",
    title: "Appearance",
    fields: [
      {
        word: "Error correction",
        path: "level",
        kind: "choice",
        when: ({ levels }) => levels,
        choices: [
          ["L", "L: about 7 %"],
          ["M", "M: about 15 %"],
          ["Q", "Q: about 25 %"],
          ["H", "H: about 30 %"],
        ],
        hint: "how much of the code may be damaged or covered and still be read",
      },
      { word: "Ink", path: "ink.swatch", kind: "swatch" },
      { word: "Tint", path: "ink.tint", kind: "percent" },
      {
        word: "Add-on",
        path: "addon",
        kind: "text or none",
        when: ({ addons }) => addons,
        hint: "two figures for an issue, five for a price, as separate bars after the code",
      },
      {
        word: "Text above",
        path: "above",
        kind: "text or none",
        when: BARS,
        hint: "a line above the bars, such as the ISBN with its hyphens, or a price",
      },
      {
        word: "Device resolution",
        path: "dots",
        kind: "choice",
        choices: [
          [0, "any: as large as fits"],
          [1200, "1200 dpi"],
          [2400, "2400 dpi"],
          [2540, "2540 dpi"],
          [4000, "4000 dpi"],
        ],
        hint: "modules of whole device dots are equally wide on the plate; the code becomes slightly smaller",
      },
      { word: "Show figures below the bars", path: "words", kind: "flag", when: BARS },
    ],
  },
];
