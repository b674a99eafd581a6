// Two states of a job: side by side, over each other, or what differs alone; with the list of pages that look otherwise.
import { room } from "./dom.js";
import { setFeatures } from "./features.js";
import { HttpError } from "./errors.js";
import { get, readState } from "./http.js";
import { toast } from "./notice.js";

const NS = "http://www.w3.org/2000/svg";
const state = readState("compare-data");
const base = `/job/${state.key}/compare/`;
const [sides, through, looking, list] = ["sides", "through", "looking", "list"].map((id) => room(id));
const share = /** @type {HTMLInputElement} */ (room("share"));
const ways = [.../** @type {NodeListOf<HTMLElement>} */ (room("ways").querySelectorAll("button"))];
let way = "beside";
let shown = state.sides;
let found = [];

const asked = (more) => new URLSearchParams({ from: state.from, to: state.to, ...more });

/** A spread as one drawing, its pages beside each other. */
function drawing(pages, words) {
  const width = pages.reduce((sum, page) => sum + page.w, 0);
  const height = Math.max(...pages.map((page) => page.h));
  let x = 0;
  const parts = pages.map((page) => {
    const part = `<g transform="translate(${x} 0)"><rect width="${page.w}" height="${page.h}" fill="#fff"/><svg width="${page.w}" height="${page.h}" overflow="hidden">${page.svg}</svg></g>`;
    x += page.w;
    return part;
  });
  const read = new DOMParser().parseFromString(
    `<svg xmlns="${NS}" xmlns:xlink="http://www.w3.org/1999/xlink" viewBox="0 0 ${width} ${height}">${parts.join("")}</svg>`,
    "image/svg+xml",
  );
  const made = document.importNode(read.documentElement, true);
  made.setAttribute("role", "img");
  made.setAttribute("aria-label", `${words}: page ${pages.map(({ label }) => label).join(" and ")}`);
  setFeatures(made);
  return made;
}

/** Names of what is defined in a drawing are made its own: two drawings of one page would share them otherwise. */
function apart(svg, mark) {
  return svg
    .replace(/\bid="([^"]+)"/g, `id="${mark}$1"`)
    .replace(/url\(#([^)]+)\)/g, `url(#${mark}$1)`)
    .replace(/href="#([^"]+)"/g, `href="#${mark}$1"`);
}

function side(pages, words, mark) {
  const box = document.createElement("figure");
  box.className = "compare-side";
  const caption = document.createElement("figcaption");
  caption.textContent = words;
  if (pages.length)
    box.append(
      drawing(
        pages.map((page) => ({ ...page, svg: apart(page.svg, mark) })),
        words,
      ),
    );
  else {
    const none = document.createElement("p");
    none.className = "sub";
    none.textContent = "This page did not exist.";
    box.append(none);
  }
  box.prepend(caption);
  return box;
}

const nameOf = (revision) =>
  state.versions.find((one) => one.revision === revision)?.name ||
  (revision === state.now ? "current state" : `change ${revision}`);

function lay() {
  sides.className = `compare-sides ${way}`;
  const before = side(shown.before, nameOf(state.from), "a-");
  const after = side(shown.after, nameOf(state.to), "b-");
  after.classList.add("after");
  sides.replaceChildren(before, after);
  through.hidden = way !== "over";
  fade();
  for (const button of ways) button.setAttribute("aria-pressed", String(button.dataset.way === way));
  mark();
}

function fade() {
  /** @type {HTMLElement} */ (sides.querySelector(".after")).style.opacity =
    way === "over" ? String(Number(share.value) / 100) : "";
}

function mark() {
  for (const button of /** @type {NodeListOf<HTMLElement>} */ (list.querySelectorAll("button"))) {
    const one = found[Number(button.dataset.at)];
    if (one.page === shown.page && one.old === shown.old) button.setAttribute("aria-current", "true");
    else button.removeAttribute("aria-current");
  }
}

async function goTo({ page, old }) {
  try {
    shown = await get(`${base}sides/?${asked(page === null ? { page: old + 1, gone: 1 } : { page: page + 1 })}`);
    lay();
    history.replaceState(null, "", `?${asked({ page: (page ?? old) + 1 })}`);
  } catch (error) {
    if (!(error instanceof HttpError)) throw error;
    toast(error.message, true);
  }
}

async function look() {
  try {
    found = (await get(`${base}differences/?${asked({})}`)).changed;
    looking.textContent = found.length
      ? `${found.length} page${found.length === 1 ? "" : "s"}. Press N to go to the next.`
      : "No page differs.";
    list.replaceChildren(
      ...found.map((one, at) => {
        const item = document.createElement("li");
        const button = document.createElement("button");
        Object.assign(button, {
          type: "button",
          className: "compare-row",
          textContent: `Page ${one.label}${one.how === "changed" ? "" : one.how === "new" ? ", new" : ", gone"}`,
        });
        button.dataset.at = String(at);
        button.addEventListener("click", () => goTo(one));
        item.append(button);
        return item;
      }),
    );
    mark();
  } catch (error) {
    if (!(error instanceof HttpError)) throw error;
    looking.textContent = error.message;
  }
}

for (const [id, own] of [
  ["before", "from"],
  ["after", "to"],
]) {
  const choice = /** @type {HTMLSelectElement} */ (room(id));
  const rows = [
    [state.now, "current state"],
    ...state.versions.filter(({ revision }) => revision !== state.now).map(({ revision, name }) => [revision, name]),
  ];
  if (!rows.some(([revision]) => revision === 0)) rows.push([0, "first state"]);
  if (!rows.some(([revision]) => revision === state[own])) rows.push([state[own], nameOf(state[own])]);
  for (const [revision, name] of rows) choice.add(new Option(String(name), String(revision)));
  choice.value = String(state[own]);
  choice.addEventListener("change", () =>
    location.assign(`?${asked({ [own]: choice.value, page: (shown.page ?? 0) + 1 })}`),
  );
}
for (const button of ways)
  button.addEventListener("click", () => {
    way = button.dataset.way;
    lay();
  });
share.addEventListener("input", fade);
addEventListener("keydown", (event) => {
  if (
    /** @type {Element} */ (event.target).closest("input, select") ||
    event.ctrlKey ||
    event.metaKey ||
    event.altKey ||
    !["n", "N"].includes(event.key) ||
    !found.length
  )
    return;
  const at = found.findIndex((one) => one.page === shown.page && one.old === shown.old);
  goTo(found[(at + (event.key === "n" ? 1 : -1) + found.length) % found.length]);
});
lay();
look();
