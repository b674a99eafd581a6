// A picture traced to shapes in the job's inks: how many colours, how fine, and what it will look like, before it is done.
import { counted } from "../numerals.js";
import { askFor } from "./asking.js";
import { needing, register } from "../commands.js";
import { element } from "../dom.js";
import { chosen, current, holderOf, selectThese } from "./frames.js";
import { make } from "./sheet.js";
import { frames } from "./standing.js";
import { perform, propose, toast } from "./store.js";
import { messageOf } from "../errors.js";

const SVG = "http://www.w3.org/2000/svg";
const DETAIL = [
  ["coarse", "low: few nodes"],
  ["medium", "medium"],
  ["fine", "high: many nodes"],
];

export async function trace(f) {
  const seen = document.createElementNS(SVG, "svg");
  seen.setAttribute("viewBox", "0 0 1 1");
  seen.setAttribute("preserveAspectRatio", "none");
  seen.setAttribute("class", "traced");
  seen.style.setProperty("aspect-ratio", `${f.w} / ${f.h}`);
  const told = element("p", { class: "sub", role: "status" });
  let asked = 0;
  /** @param {Record<string, any>} values */
  const what = ({ colours, detail }) => ({ page: holderOf(f), object: f.id, colours: Number(colours), detail });
  const look = async (values) => {
    const turn = ++asked;
    told.className = "sub";
    told.textContent = "Tracing…";
    try {
      const { shapes, nodes } = await propose("tracing", what(values));
      if (turn !== asked) return;
      seen.replaceChildren();
      for (const { d, css } of shapes) make("path", { d, fill: css }, seen);
      told.textContent = `${counted(shapes.length)} shape${shapes.length === 1 ? "" : "s"}, ${counted(nodes)} nodes.`;
    } catch (error) {
      if (turn === asked) {
        seen.replaceChildren();
        told.className = "problem";
        told.textContent = messageOf(error);
      }
    }
  };
  look({ colours: 6, detail: "medium" });
  await askFor(
    "Trace picture",
    "Areas of one colour become shapes in the job’s inks, which can be edited like any others.",
    "Trace",
    {
      seen: { shows: seen },
      told: { shows: told },
      colours: {
        word: "Colours",
        kind: "choice",
        choices: [2, 3, 4, 6, 8, 12, 16, 24].map((n) => [n, `${n} colours`]),
        value: 6,
        changed: look,
      },
      detail: { word: "Detail", kind: "choice", choices: DETAIL, value: "medium", changed: look },
      keep: { word: "Leave the picture below the shapes", kind: "check" },
    },
    async ({ keep, ...values }) => {
      const answer = await perform("trace", { ...what(values), keep });
      selectThese(frames().filter((one) => answer.made.includes(one.id)));
    },
  );
}

/** A drawn picture opened to the shapes it is made of, in its place. */
async function openUp(f) {
  const answer = await perform("open-up", { page: holderOf(f), object: f.id });
  selectThese(frames().filter((one) => answer.made.includes(one.id)));
  if (answer.left) toast(answer.left);
}

const meant = () => (chosen().length === 1 && current()?.kind === "picture" && !current().master ? current() : null);
register({
  word: "Convert picture to shapes",
  keys: [],
  help: "convert an SVG or a PDF page to the shapes it consists of",
  when: needing("Select a picture first.", () => Boolean(meant())),
  run: () => openUp(meant()).catch((error) => toast(error.message, true)),
  menu: 5,
});
register({
  word: "Trace picture…",
  keys: [],
  when: needing("Select a picture first.", () => Boolean(meant())),
  run: () => trace(meant()).catch((error) => toast(error.message, true)),
  menu: 5,
});
