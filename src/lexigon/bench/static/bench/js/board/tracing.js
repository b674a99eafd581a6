// A picture traced to shapes in the job's inks: how many colours, how fine, and what it will look like, before it is done.
import { register } from "../commands.js";
import { ask, labelled, select } from "../notice.js";
import { element } from "../dom.js";
import { chosen, current, holderOf, selectThese } from "./frames.js";
import { make } from "./sheet.js";
import { frames } from "./standing.js";
import { perform, propose, toast } from "./store.js";

const SVG = "http://www.w3.org/2000/svg";
const DETAIL = [["coarse", "coarse, few nodes"], ["medium", "medium"], ["fine", "fine, many nodes"]];

export async function trace(f) {
  const colours = select([2, 3, 4, 6, 8, 12, 16, 24].map((n) => [String(n), `${n} colours`]), "6");
  const detail = select(DETAIL, "medium");
  const keep = element("input", { type: "checkbox" });
  const seen = document.createElementNS(SVG, "svg");
  seen.setAttribute("viewBox", "0 0 1 1");
  seen.setAttribute("preserveAspectRatio", "none");
  seen.setAttribute("class", "traced");
  seen.style.setProperty("aspect-ratio", `${f.w} / ${f.h}`);
  const told = element("p", { class: "sub", role: "status" });
  let asked = 0;
  const what = () => ({ page: holderOf(f), object: f.id, colours: Number(colours.value), detail: detail.value });
  const look = async () => {
    const turn = ++asked;
    told.className = "sub";
    told.textContent = "Tracing …";
    try {
      const { shapes, nodes } = await propose("tracing", what());
      if (turn !== asked) return;
      seen.replaceChildren();
      for (const { d, css } of shapes) make("path", { d, fill: css }, seen);
      told.textContent = `${shapes.length.toLocaleString()} shape${shapes.length === 1 ? "" : "s"}, ${nodes.toLocaleString()} nodes.`;
    } catch (error) { if (turn === asked) { seen.replaceChildren(); told.className = "problem"; told.textContent = error.message; } }
  };
  for (const field of [colours, detail]) field.addEventListener("change", look);
  look();
  await ask("Trace the picture", "Areas of one colour become shapes in the job’s inks, to be worked on like any others.", "Trace it", [seen, told, labelled("In", colours), labelled("Detail", detail), element("label", { class: "check mt-2" }, keep, " The picture stays, under them")], async () => {
    const answer = await perform("trace", { ...what(), keep: keep.checked });
    selectThese(frames().filter((one) => answer.made.includes(one.id)));
  });
}

/** A drawn picture opened to the shapes it is made of, in its place. */
async function openUp(f) {
  const answer = await perform("open-up", { page: holderOf(f), object: f.id });
  selectThese(frames().filter((one) => answer.made.includes(one.id)));
  if (answer.left) toast(answer.left);
}

const meant = () => (chosen().length === 1 && current()?.kind === "picture" && !current().master ? current() : null);
register({ word: "Open the picture as shapes", keys: [], help: "an SVG or a page of a PDF becomes the shapes it is drawn of, in place of the picture", when: () => Boolean(meant()), run: () => openUp(meant()).catch((error) => toast(error.message, true)), menu: 5 });
register({ word: "Trace the picture: shapes in place of it …", keys: [], when: () => Boolean(meant()), run: () => trace(meant()).catch((error) => toast(error.message, true)), menu: 5 });
