// Words that no dictionary knows, underlined where they stand; a right click offers what may have been meant, and to learn the word.
import { register } from "../commands.js";
import { caretAt, transformOf } from "./lines.js";
import { make, spelling as layer } from "./sheet.js";
import { linesOf } from "./standing.js";
import { inquire, on, propose, send, state, toast } from "./store.js";

const PAUSE = 700; // milliseconds after the last change
const KEPT = "lexigon-spelling";
let on_ = localStorage.getItem(KEPT) !== "off";
let found = [];
let request = 0,
  timer = 0;

function later() {
  clearTimeout(timer);
  draw();
  if (on_) timer = setTimeout(ask, PAUSE);
}

async function ask() {
  const number = (request += 1);
  const pages = state.view.filter((index) => index >= 0);
  if (!on_ || !pages.length) {
    found = [];
    draw();
    return;
  }
  try {
    const answer = await inquire(
      "manuscript/spelling/view",
      pages.map((page) => ["page", page]),
    );
    if (number !== request) return;
    found = answer.found;
    draw();
  } catch {
    found = [];
    draw();
  }
}

/** A wave under the letters from `a` to `b` of a line. */
function wave(line, a, b) {
  const from = caretAt(line, a),
    to = caretAt(line, b);
  const long = Math.hypot(to.x2 - from.x2, to.y2 - from.y2);
  const steps = Math.max(Math.round(long / 2), 1),
    nx = from.x2 - from.x1,
    ny = from.y2 - from.y1,
    tall = Math.hypot(nx, ny) || 1;
  const at = (n) => {
    const part = n / steps,
      up = (n % 2 ? 0.9 : 0) - line.d * 0.35;
    return `${(from.x2 + (to.x2 - from.x2) * part - ((nx || 0) / tall) * up).toFixed(2)} ${(from.y2 + (to.y2 - from.y2) * part - ((ny || 1) / tall) * up).toFixed(2)}`;
  };
  return `M${Array.from({ length: steps + 1 }, (_, n) => at(n)).join("L")}`;
}

function draw() {
  layer.replaceChildren();
  if (!on_ || state.clean) return;
  for (const mistake of found) {
    for (const line of linesOf(mistake.story)) {
      if (line.p !== mistake.p || line.s >= mistake.end || line.e <= mistake.start) continue;
      const a = Math.max(line.s, mistake.start),
        b = Math.min(line.e, mistake.end);
      make("path", { d: wave(line, a, b), class: "mistake", transform: transformOf(line) }, layer);
    }
  }
}

/** The mistake at a place of a text, if there is one. */
export const mistakeAt = (place) =>
  on_ && place ? found.find((one) => one.p === place.p && one.start <= place.o && place.o <= one.end) : undefined;

/** What the menu at the pointer offers for it: words to put there, and to learn this one. */
export async function remediesFor(mistake) {
  const { words } = await inquire("manuscript/spelling/suggested", { word: mistake.word, language: mistake.language });
  const put = (text) =>
    send([
      {
        do: "replace-text",
        story: mistake.story,
        start: { paragraph: mistake.p, offset: mistake.start },
        end: { paragraph: mistake.p, offset: mistake.end },
        text,
      },
    ]).catch(() => {});
  const learn = async (mine) => {
    await propose("manuscript/spelling/learn", { words: [mistake.word], mine });
    toast(mine ? `“${mistake.word}” is now known in all your jobs.` : `“${mistake.word}” is now known in this job.`);
    ask();
  };
  return [
    ...words.slice(0, 5).map((word) => [word, () => put(word)]),
    ...(words.length ? [] : [["No suggestions", () => {}]]),
    null,
    ["Learn word for this job", () => learn(false)],
    ["Learn word for all my jobs", () => learn(true)],
    null,
  ];
}

function toggle() {
  on_ = !on_;
  localStorage.setItem(KEPT, on_ ? "on" : "off");
  toast(on_ ? "Words that are in no dictionary are underlined." : "Spelling marks are hidden.");
  if (on_) ask();
  else {
    found = [];
    draw();
  }
}

register({ word: "Show or hide spelling marks", keys: [], run: toggle });
on("painted", later);
on("invisibles", draw);
