// Finding words in a story, from one to the next over pages.
import { register } from "../commands.js";
import { current } from "./frames.js";
import { active, caret, focusText, selected } from "./caret.js";
import { goToPlace } from "./text.js";
import { findBar as bar, sheet } from "./rooms.js";
import { inquire, on, state, toast } from "./store.js";
import { messageOf } from "../errors.js";

const field = bar.querySelector("input[type=search]");
const count = bar.querySelector("[role=status]");
const replace = /** @type {HTMLAnchorElement} */ (bar.querySelector("a"));
let found = [];
let here = -1;
let story = "";
let asked = "";
let timer = 0;

const flags = () =>
  Object.fromEntries(
    [...bar.querySelectorAll("input[type=checkbox]")].map((box) => [box.dataset.flag, box.checked ? "1" : "0"]),
  );

let stretch = {}; // of the text that was chosen as the bar was opened

export function openFind() {
  stretch = selected()
    ? {
        story: caret.story,
        first: caret.anchor.p,
        first_at: caret.anchor.o,
        last: caret.focus.p,
        last_at: caret.focus.o,
      }
    : {};
  story = active() ? caret.story : current()?.story || state.main || "";
  if (!story) {
    toast("Click into a story first, or select its frame.");
    return;
  }
  bar.hidden = false;
  field.focus();
  field.select();
  asked = "";
  if (field.value) look();
}

/** The keys go on with the words that were found, which stay selected; else with the board. */
function close() {
  bar.hidden = true;
  found = [];
  if (active()) focusText();
  else sheet.focus();
}

async function look() {
  const words = field.value;
  const key = JSON.stringify([words, flags(), story, state.revision]);
  if (key === asked) return;
  asked = key;
  here = -1;
  if (!words) {
    found = [];
    tell();
    return;
  }
  try {
    const answer = await inquire("find", { words, story, ...flags() });
    found = answer.found;
    tell(answer.more);
  } catch (error) {
    found = [];
    count.textContent = messageOf(error);
  }
}

function tell(more = false) {
  count.textContent = !field.value
    ? ""
    : !found.length
      ? "not found"
      : here < 0
        ? `${found.length}${more ? " and more" : ""} found`
        : `${here + 1} of ${found.length}`;
}

async function step(by) {
  clearTimeout(timer);
  await look();
  if (!found.length) return;
  if (here < 0 && active() && caret.story === story) {
    const from = found.findIndex((one) => one.p === caret.focus.p && one.o >= caret.focus.o);
    here = from >= 0 ? from - (by > 0 ? 1 : 0) : -1;
  }
  here = (here + by + found.length) % found.length;
  tell();
  const { p, o, e } = found[here];
  await goToPlace(story, p, o, e);
  field.focus();
}

replace.addEventListener("click", () => {
  replace.search = `?${new URLSearchParams({ words: field.value, ...stretch })}`;
});
field.addEventListener("input", () => {
  clearTimeout(timer);
  timer = setTimeout(look, 200);
});
bar.addEventListener("keydown", (event) => {
  event.stopPropagation();
  if (event.key === "Enter" && event.target === field) {
    event.preventDefault();
    step(event.shiftKey ? -1 : 1);
  }
  if (event.key === "Escape") close();
});
for (const box of bar.querySelectorAll("input[type=checkbox]"))
  box.addEventListener("change", () => {
    asked = "";
    look();
  });
bar.querySelector(".next").addEventListener("click", () => step(1));
bar.querySelector(".previous").addEventListener("click", () => step(-1));
bar.querySelector(".close").addEventListener("click", close);
on("find", openFind);
register({
  word: "Find and replace in the whole job",
  keys: [],
  run: () => {
    location.assign(replace.href);
  },
});
