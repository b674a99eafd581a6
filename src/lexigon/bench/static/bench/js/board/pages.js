// The drawer of pages: every spread as a miniature, in reading order; a click goes there.
import { element } from "../dom.js";
import { drawer } from "./drawers.js";
import { leaveMaster, send, show, state } from "./store.js";

/** What a spread has room for in the drawer, in pixels. */
const ROOM = { width: 86, height: 62 };

/** The spreads of the job, each as the indexes of its pages. */
export function spreads({ count, facing }) {
  const made = [];
  for (let index = 0; index < count; index += 1) {
    if (facing && index % 2 === 0 && index > 0) made[made.length - 1].push(index);
    else made.push([index]);
  }
  return made;
}

let fresh = state.revision;
let waiting = 0;

function fill(body) {
  fresh = state.revision;
  const pages = state.view.filter((index) => index >= 0);
  body.append(
    element(
      "div",
      { class: "head" },
      element("h2", { text: "Pages" }),
      element("a", { class: "link", href: `/job/${state.key}/flatplan/`, text: "Flatplan" }),
    ),
  );
  const list = element("ol", { class: "page-list", "data-told": told() });
  for (const spread of spreads({ count: state.count, facing: state.sheet.facing }))
    list.append(
      element(
        "li",
        {},
        leaf(
          spread,
          spread.some((index) => pages.includes(index)),
        ),
      ),
    );
  body.append(
    list,
    element(
      "div",
      { class: "flex flex-wrap gap-2" },
      element("button", {
        type: "button",
        class: "button",
        "data-key": "add",
        text: state.sheet.facing ? "Add two pages after" : "Add page after",
        disabled: Boolean(state.master),
        click: add,
      }),
    ),
  );
  list.querySelector("[aria-current]")?.scrollIntoView({ block: "nearest" });
}

function leaf(spread, current) {
  const label = spread.map((index) => state.labels[index] ?? index + 1).join("–");
  const ratio = state.sheet.width / state.sheet.height;
  const height = Math.round(Math.min(ROOM.height, ROOM.width / ratio / (state.sheet.facing ? 2 : 1)));
  const width = Math.round(height * ratio);
  const pictures = spread.map((index) =>
    element("img", {
      alt: "",
      loading: "lazy",
      decoding: "async",
      height,
      width,
      src: `/job/${state.key}/flatplan/${index}-r${fresh}.webp`,
    }),
  );
  const facing = state.sheet.facing && spread.length === 1;
  const button = element(
    "button",
    {
      type: "button",
      class: `leaf${facing ? (spread[0] === 0 ? " recto" : " verso") : ""}`,
      "data-key": `spread-${spread[0]}`,
      "aria-label": `Pages ${label}`,
      click: () => go(spread[0]),
    },
    element("span", { class: "pic" }, ...pictures),
    element("span", { text: label }),
  );
  if (current && !state.master) button.setAttribute("aria-current", "true");
  return button;
}

async function go(index) {
  if (state.master) await leaveMaster();
  show(index);
}

async function add() {
  const last = state.view[state.view.length - 1];
  try {
    await send([{ do: "add-pages", at: last + 1, count: state.sheet.facing ? 2 : 1, like: state.pages[last].id }]);
  } catch {
    return;
  }
  show(last + 1);
}

const told = () =>
  JSON.stringify([state.count, state.labels, state.sheet.facing, state.sheet.width, state.sheet.height]);

/** Another spread is in view, or something was changed: miniatures are made anew a moment later, as those of the ledge are. */
function refresh(body, again) {
  if (body.querySelector(".page-list").dataset.told !== told()) {
    again();
    return;
  }
  for (const one of body.querySelectorAll("[aria-current]")) one.removeAttribute("aria-current");
  const first = state.view.find((index) => index >= 0);
  const current = first === undefined ? null : body.querySelector(`[data-key="spread-${first}"]`);
  current?.setAttribute("aria-current", "true");
  current?.scrollIntoView({ block: "nearest" });
  body.querySelector("[data-key=add]").disabled = Boolean(state.master);
  clearTimeout(waiting);
  if (fresh !== state.revision)
    waiting = setTimeout(() => {
      if (body.dataset.open === "pages" && !body.hidden) again();
    }, 1500);
}

drawer({
  id: "pages",
  word: "Pages",
  key: "p",
  help: "Pages: all spreads, to navigate the job",
  after: ["pages", "master", "lists"],
  fill,
  refresh,
});
