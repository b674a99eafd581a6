// Who else looks at this job: their initials on the strip, what they have chosen on the board, their changes as they are made.
import { others as chips } from "./rooms.js";
import { HttpError } from "../errors.js";
import { post, request } from "../http.js";
import { element } from "../dom.js";
import { chosen, holderOf } from "./frames.js";
import { bounds, make, over, pageX, view } from "./sheet.js";
import { frames } from "./standing.js";
import { active } from "./caret.js";
import { busy, on, show, state } from "./store.js";

const ALONE = 7000; // milliseconds from one word to the next
const TOGETHER = 2500;
const HUES = ["#8a3b78", "#9a6a12", "#2e5f9e", "#a8471f", "#3d6b2f", "#5b4a9c"];
const client = crypto.randomUUID();
const address = `/job/${state.key}/here/`;
const marks = make("g", { class: "others" }, over);
let others = [];
let pressed = false;
addEventListener(
  "pointerdown",
  () => {
    pressed = true;
  },
  true,
);
for (const name of ["pointerup", "pointercancel"])
  addEventListener(
    name,
    () => {
      pressed = false;
    },
    true,
  );
let timer = 0;

/** A colour for each window: of those there the next that is free. */
const given = new Map();
function hueOf(id) {
  if (!given.has(id)) given.set(id, HUES[given.size % HUES.length]);
  return given.get(id);
}
const initialsOf = (name) =>
  name
    .split(/[\s._-]+/)
    .filter(Boolean)
    .slice(0, 2)
    .map((word) => word[0].toUpperCase())
    .join("") || "?";
const called = ({ name, self }) => (self ? `${name}, in another window` : name);

async function say() {
  clearTimeout(timer);
  if (document.hidden) return; // heard of again when it is looked at
  const page = state.pages[state.view[0]]?.id || "";
  try {
    const answer = await post(address, {
      client,
      page,
      chosen: chosen()
        .slice(0, 200)
        .map((f) => ({ page: holderOf(f), id: f.id })),
    });
    others = answer.others;
    draw();
    // What others did is shown as it is done; while words are typed here the next answer brings it, with the caret in its place.
    if (answer.revision > state.revision && !busy() && !active() && !pressed && !document.querySelector("dialog[open]"))
      await show(state.view[0], false, true);
  } catch (error) {
    if (!(error instanceof HttpError)) throw error;
  } // not reached: asked again
  again(others.length ? TOGETHER : ALONE);
}

/** Say it anew in a while; what was to be said before that is said with it. */
function again(wait) {
  clearTimeout(timer);
  timer = setTimeout(say, wait);
}

function draw() {
  chips.replaceChildren(
    ...others.map((one) => {
      const chip = element(
        "button",
        { type: "button", class: "round other", title: `${called(one)}${whereOf(one)}`, click: () => goTo(one) },
        element("span", { "aria-hidden": "true", text: initialsOf(one.name) }),
        element("span", { class: "sr-only", text: `${called(one)}${whereOf(one)}` }),
      );
      chip.style.setProperty("background", hueOf(one.client)); // the content policy lets scripts set what markup may not
      return chip;
    }),
  );
  lay();
}

const indexOf = (page) => state.view.find((index) => state.pages[index].id === page);
function whereOf({ page }) {
  const index = indexOf(page);
  return index === undefined ? "" : ` is here, on page ${state.pages[index].label}`;
}

/** Go to where somebody is, if that is a page of their own. */
async function goTo({ page }) {
  if (!page || page.startsWith("master:") || indexOf(page) !== undefined) return;
  const at = state.ids?.indexOf(page) ?? -1;
  if (at >= 0) await show(at);
}

/** What others have chosen on the pages in view, with their names. */
function lay() {
  marks.replaceChildren();
  const px = 1 / view.scale;
  const all = others.some(({ chosen: taken }) => taken.length) ? frames() : [];
  for (const one of others) {
    let named = false;
    for (const { page, id } of one.chosen) {
      const f = all.find((other) => other.id === id && holderOf(other) === page);
      if (!f) continue;
      const box = bounds(f);
      const x = pageX(f.page) + box.x;
      make(
        "rect",
        {
          class: "other-box",
          x: x - 2 * px,
          y: box.y - 2 * px,
          width: box.w + 4 * px,
          height: box.h + 4 * px,
          stroke: hueOf(one.client),
        },
        marks,
      );
      if (named) continue;
      named = true;
      const text = make("text", { class: "other-name", x: x + 4 * px, y: box.y - 6 * px, "font-size": 11 * px }, marks);
      text.style.setProperty("fill", hueOf(one.client));
      text.textContent = called(one);
    }
  }
}

on("painted", lay);
on("view", lay);
on("frame", () => {
  if (others.length) again(400);
});
document.addEventListener("visibilitychange", () => {
  if (!document.hidden) say();
});
addEventListener("pagehide", () => {
  request(address, {
    method: "POST",
    body: JSON.stringify({ client, leaving: true }),
    headers: { "Content-Type": "application/json" },
    keepalive: true,
  }).catch(() => {});
});
say();
