// Signs for what is not printed: spaces, tabs, line ends, paragraph ends, forced page and column begins.
import { linesOf, lineText, points, transformOf, xAt } from "./lines.js";
import { content, make, pageX, signs } from "./sheet.js";
import { on, state } from "./store.js";

const SIGNS = { " ": "·", "\u00a0": "°", "\t": "→", "\u00ad": "¬", "\u2003": "—", "\u2009": "'" };
const STARTS = { page: "begins a page", recto: "begins a recto", column: "begins a column" };

export function draw() {
  signs.replaceChildren();
  if (!state.invisibles || state.clean) return;
  const stories = new Set();
  for (const page of state.view) for (const frame of content(page).querySelectorAll(".frame[data-story]:not([data-field])")) stories.add(frame.dataset.story);
  for (const story of stories) for (const line of linesOf(story)) {
    const group = make("g", { transform: transformOf(line) }, signs);
    const size = line.a * 0.85;
    const sign = (x, words, anchor = "middle") => { make("text", { x, y: line.y, "font-size": size, "text-anchor": anchor }, group).textContent = words; };
    const words = [...lineText(line)];
    words.forEach((character, n) => {
      if (!(character in SIGNS)) return;
      const [x0, x1] = [xAt(line, line.s + n), xAt(line, line.s + n + 1)];
      if (x1 > x0 || character === "\u00ad") sign(pageX(line.page) + (x0 + x1) / 2, SIGNS[character]);
    });
    const end = pageX(line.page) + xAt(line, line.s + points(words.join(""))) + 1;
    if (line.last) sign(end, "¶", "start");
    else if (line.g.dataset.forced) sign(end, "↵", "start");
    if (line.g.dataset.starts) make("text", { x: pageX(line.page) + line.x, y: line.y - line.a - 2, "font-size": 8, class: "start-sign" }, group).textContent = STARTS[line.g.dataset.starts];
  }
}

on("painted", draw);
on("invisibles", draw);
