// Signs for what is not printed: spaces, tabs, line ends, paragraph ends, forced page and column begins.
import { points } from "../typing/characters.js";
import { lineText, transformOf, xAt } from "./lines.js";
import { make, pageX, signs } from "./sheet.js";
import { frames, linesOf } from "./standing.js";
import { on, state } from "./store.js";

const SIGNS = { " ": "·", "\u00a0": "°", "\t": "→", "\u00ad": "¬", "\u2003": "—", "\u2009": "'" };
const UNSEEN = "‡";
const STARTS = { page: "begins a page", recto: "begins a recto", column: "begins a column" };

export function draw() {
  signs.replaceChildren();
  if (!state.invisibles || state.clean) return;
  const stories = new Set();
  for (const { story, field } of frames()) if (story && !field) stories.add(story);
  for (const story of stories)
    for (const line of linesOf(story)) {
      if (line.stops) continue; // there is no straight line for signs to stand on
      const group = make("g", { transform: transformOf(line) }, signs);
      const size = line.a * 0.85;
      const sign = (x, words, anchor = "middle") => {
        make("text", { x, y: line.y, "font-size": size, "text-anchor": anchor }, group).textContent = words;
      };
      const words = [...lineText(line)];
      words.forEach((character, n) => {
        if (!(character in SIGNS)) return;
        const [x0, x1] = [xAt(line, line.s + n), xAt(line, line.s + n + 1)];
        if (character === "\t" && x1 <= x0)
          sign(pageX(line.page) + x0, UNSEEN); // it takes no room: a mark of the index, words that a rule hides
        else if (x1 > x0 || character === "\u00ad") sign(pageX(line.page) + (x0 + x1) / 2, SIGNS[character]);
      });
      const end = pageX(line.page) + xAt(line, line.s + points(words.join(""))) + 1;
      if (line.last) sign(end, "¶", "start");
      else if (line.forced) sign(end, "↵", "start");
      if (line.starts)
        make(
          "text",
          { x: pageX(line.page) + line.x, y: line.y - line.a - 2, "font-size": 8, class: "start-sign" },
          group,
        ).textContent = STARTS[line.starts];
    }
}

on("painted", draw);
on("invisibles", draw);
