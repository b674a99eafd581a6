// Texture view: loose and tight lines tinted, lakes and rivers, ladders, short last lines; with remedies.
import { counted } from "../numerals.js";
import { current } from "./frames.js";
import { toggle } from "./ledge.js";
import { board, textureBar as bar } from "./rooms.js";
import { make, pageX, texture as layer } from "./sheet.js";
import { storyOf } from "./standing.js";
import { emit, inquire, on, send, show, state, toast } from "./store.js";
import { messageOf } from "../errors.js";

const KINDS = {
  loose: "loose lines",
  tight: "tight lines",
  lake: "lakes",
  river: "rivers",
  ladder: "hyphens in a row",
  short: "short last lines",
  "single word": "single words",
};
const hidden = new Set();
let on_ = false;
let found = {};
let at = null; // the mark that is looked at: {page, n}
let request = 0;

const visible = (page) =>
  (found[page] || []).map((mark, n) => ({ ...mark, page, n })).filter((mark) => !hidden.has(mark.kind));

async function ask() {
  if (!on_) return;
  const number = ++request;
  const pages = state.view.filter((index) => index >= 0);
  if (!pages.length) {
    found = {};
    draw();
    return;
  }
  try {
    const answer = await inquire("texture", { pages: pages.join(), story: current()?.story || "" });
    if (number !== request) return;
    found = answer.pages;
    if (at && !visible(at.page).some(({ n }) => n === at.n)) at = null;
    fill(answer.numbers);
    draw();
  } catch (error) {
    toast(messageOf(error), true);
  }
}

function draw() {
  layer.replaceChildren();
  if (!on_) return;
  for (const page of state.view) {
    for (const mark of visible(page)) {
      const held = at && at.page === page && at.n === mark.n;
      const group = make(
        "g",
        { class: `tx tx-${mark.kind.replace(" ", "-")}${held ? " held" : ""}`, "data-page": page, "data-n": mark.n },
        layer,
      );
      const strength =
        mark.kind === "loose"
          ? Math.min((mark.value - 0.6) / 2.4, 1)
          : mark.kind === "tight"
            ? Math.min((-mark.value - 0.4) / 0.6, 1)
            : 1;
      if (mark.kind === "river" && mark.boxes.length > 1) {
        const d = mark.boxes
          .map(([x, y, w, h], i) => `${i ? "L" : "M"}${pageX(page) + x + w / 2} ${y + h / 2}`)
          .join("");
        make("path", { class: "stream", d, "stroke-width": Math.max(...mark.boxes.map(([, , w]) => w)) }, group);
      } else
        for (const [x, y, w, h] of mark.boxes)
          make("rect", { x: pageX(page) + x, y, width: w, height: h, opacity: 0.25 + 0.55 * strength }, group);
    }
  }
}

function fill(numbers) {
  bar.querySelector(".figures").textContent = numbers.lines
    ? `Whole text: ${counted(numbers.lines)} lines, mean |r| ${numbers.mean.toFixed(2)}, ${numbers.loose} loose, ${numbers.very_loose} very loose, ${numbers.tight} tight, ${numbers.hyphens} hyphens`
    : "No text here yet";
  const list = bar.querySelector(".kinds");
  list.replaceChildren();
  for (const [kind, words] of Object.entries(KINDS)) {
    const count = state.view.reduce(
      (sum, page) => sum + (found[page] || []).filter((mark) => mark.kind === kind).length,
      0,
    );
    const item = document.createElement("button");
    Object.assign(item, { type: "button", className: `tx-key tx-${kind.replace(" ", "-")}` });
    item.setAttribute("aria-pressed", String(!hidden.has(kind)));
    item.innerHTML = "<i></i><span></span><b></b>";
    item.querySelector("span").textContent = words;
    item.querySelector("b").textContent = count;
    item.addEventListener("click", () => {
      if (hidden.has(kind)) hidden.delete(kind);
      else hidden.add(kind);
      fill(numbers);
      draw();
    });
    list.append(item);
  }
  tell();
}

const NAMES = {
  loose: "Loose line",
  tight: "Tight line",
  lake: "Wide gap",
  river: "River",
  ladder: "Hyphens in a row",
  short: "Short last line",
  "single word": "Single word on the last line",
};

/** What the mark looked at is, and what would help. */
async function tell() {
  const box = bar.querySelector(".remedies");
  box.replaceChildren();
  const mark = at && visible(at.page).find(({ n }) => n === at.n);
  if (!mark) {
    box.textContent = "Click a mark, or step through them: each comes with suggestions.";
    return;
  }
  const story = storyOf(mark.p) || state.main;
  const words = document.createElement("span");
  const value = {
    loose: `r = ${mark.value}`,
    tight: `r = ${mark.value}`,
    lake: `${mark.value} wide gap${mark.value > 1 ? "s" : ""}`,
    river: `over ${mark.value} lines`,
    ladder: `${mark.value} in a row`,
  }[mark.kind];
  words.textContent = `${NAMES[mark.kind]}${value ? `, ${value}` : ""}. `;
  box.append(words);
  try {
    const { now, offers } = await inquire("remedies", { story, p: mark.p, kind: mark.kind });
    if (!at || at.n !== mark.n) return;
    for (const offer of offers) {
      const item = document.createElement("button");
      Object.assign(item, {
        type: "button",
        className: "link",
        textContent: offer.words,
        title: `loosest ${now.loosest.toFixed(2)} to ${offer.merit.loosest.toFixed(2)}, mean |r| ${now.mean.toFixed(2)} to ${offer.merit.mean.toFixed(2)}`,
      });
      item.addEventListener("click", async () => {
        try {
          await send(offer.intents);
          toast(`Set ${offer.words}: loosest line ${now.loosest.toFixed(2)} to ${offer.merit.loosest.toFixed(2)}.`);
          at = null;
        } catch {
          /* told */
        }
      });
      box.append(item, " · ");
    }
    if (!offers.length) box.append("Neither one line more or less nor tracking would help: ");
    const write = document.createElement("button");
    Object.assign(write, { type: "button", className: "link", textContent: "rephrase" });
    write.addEventListener("click", () => emit("typeAt", { story, p: mark.p, o: mark.o, page: mark.page }));
    box.append(write);
  } catch (error) {
    box.append(messageOf(error));
  }
}

async function go(step) {
  const all = state.view
    .flatMap((page) => visible(page))
    .sort((a, b) => a.page - b.page || a.boxes[0][1] - b.boxes[0][1]);
  const here = all.findIndex((mark) => at && mark.page === at.page && mark.n === at.n);
  const next = all[here < 0 ? (step > 0 ? 0 : all.length - 1) : here + step];
  if (next) {
    at = { page: next.page, n: next.n };
    draw();
    tell();
    return;
  }
  const kinds = Object.keys(KINDS).filter((kind) => !hidden.has(kind));
  const edge = step > 0 ? state.view[state.view.length - 1] : state.view[0];
  const { page } = await inquire("texture", { page: edge, step, kinds: kinds.join() });
  if (page === null) {
    toast(step > 0 ? "There are no more marks." : "There are no earlier marks.");
    return;
  }
  await show(page);
  await ask();
  const marks = visible(page);
  at = marks.length ? { page, n: marks[step > 0 ? 0 : marks.length - 1].n } : null;
  draw();
  tell();
}

function turnOver() {
  on_ = !on_;
  bar.hidden = !on_;
  board.classList.toggle("textured", on_);
  at = null;
  dispatchEvent(new Event("resize"));
  draw();
  ask();
}
const { press } = toggle({
  id: "texture",
  word: "Texture",
  title: "Texture: marks loose and tight lines, wide gaps and rivers (X)",
  command: "Show texture view",
  keys: ["x"],
  shown: ["X"],
  on: () => on_,
  run: turnOver,
});
bar.querySelector(".next").addEventListener("click", () => go(1));
bar.querySelector(".previous").addEventListener("click", () => go(-1));
bar.querySelector(".close").addEventListener("click", press);
layer.addEventListener("pointerdown", (event) => {
  const group = event.target.closest(".tx");
  if (!group || state.tool !== "select") return;
  event.stopPropagation();
  at = { page: Number(group.dataset.page), n: Number(group.dataset.n) };
  draw();
  tell();
});
on("painted", () => {
  draw();
  ask();
});
