// The drawer of listings: what each gathers, to go to; put into texts, and brought up to date there.
import { element } from "../dom.js";
import { statusOf } from "../errors.js";
import { get } from "../http.js";
import { differenceRows, entryRow, stateOf } from "../listings.js";
import { register } from "../commands.js";
import { askFor } from "./asking.js";
import { drawer, pull } from "./drawers.js";
import { selectThese } from "./frames.js";
import { frames as standing } from "./standing.js";
import { activeLayer, leaveMaster, perform, send, show, state, toast, undo } from "./store.js";
import { caretPlace } from "./caret.js";
import { goToPlace } from "./text.js";

const KEPT = `lexigon-listing-${state.key}`;
let all = [];
let offered = []; // ready ones that the job does not have yet, and that would have entries
let at = localStorage.getItem(KEPT) || "";
let fresh = -1;
let again = null; // lays the drawer anew once the listings are there
let waiting = 0;

async function ask() {
  const asked = state.revision;
  const answer = await get(`/job/${state.key}/listings/`);
  all = answer.listings;
  offered = answer.choices.ready.filter(({ id }) => answer.choices.filled.includes(id));
  fresh = asked;
  if (again) again();
}

const current = () => all.find(({ id }) => id === at) || all[0];

function fill(body) {
  again = () => {
    if (body.dataset.open === "listings" && !body.hidden) {
      const { scrollTop } = body;
      body.replaceChildren();
      lay(body);
      body.scrollTop = scrollTop;
    }
  };
  lay(body);
  if (fresh !== state.revision) ask().catch((error) => toast(error.message, true));
}

function lay(body) {
  const one = current(),
    place = `/job/${state.key}/manuscript/listings/`;
  body.append(
    element(
      "div",
      { class: "head" },
      element("h2", { text: "Listings" }),
      element("a", { class: "link", href: one ? `${place}?listing=${one.id}` : place, text: "Set up…" }),
    ),
  );
  if (fresh < 0) {
    body.append(element("p", { class: "sub", text: "Gathering…" }));
    return;
  }
  if (!one) {
    body.append(
      element("p", {
        class: "sub mb-3",
        text: "A listing is gathered from styled text and stays up to date: contents, an index, a glossary, figures.",
      }),
      element(
        "div",
        { class: "flex flex-wrap gap-2" },
        element("button", {
          type: "button",
          class: "button first",
          text: "Insert listing…",
          click: () => insert().catch(() => {}),
        }),
        element("a", { class: "button", href: place, text: "Set up listing…" }),
      ),
    );
    return;
  }
  body.append(
    element(
      "select",
      {
        class: "field mb-2 w-full",
        "aria-label": "Which listing",
        "data-key": "which",
        change: (event) => {
          at = event.target.value;
          localStorage.setItem(KEPT, at);
          again();
        },
      },
      ...all.map(({ id, name }) => element("option", { value: id, text: name, selected: id === one.id })),
    ),
  );
  body.append(element("p", { class: "sub mb-2", role: "status", text: stateOf(one) }));
  const act = (word, run, first = false) =>
    element("button", {
      type: "button",
      class: `button${first ? " first" : ""}`,
      text: word,
      click: () => run().catch(() => {}),
    });
  body.append(
    element(
      "div",
      { class: "mb-3 flex flex-wrap gap-2" },
      !one.stands && one.rows.length ? act("Insert listing…", () => insert(one), true) : "",
      one.differences.some((other) => !other.asks) ? act("Update", () => change(one, {}), true) : "",
      one.stands ? act("Go to listing", () => go(one.stands)) : "",
    ),
  );
  if (one.differences.length)
    body.append(
      element(
        "details",
        { class: "mb-3", open: one.differences.some((other) => other.asks) },
        element("summary", { class: "link", text: "What will change" }),
        element("ul", { class: "differences" }, ...differenceRows(one, (what) => change(one, what))),
      ),
    );
  body.append(
    one.rows.length
      ? element("ol", { class: "entries" }, ...one.rows.map((row) => entryRow(row, go)))
      : element("p", { class: "sub", text: "No text uses its styles yet." }),
  );
}

async function go({ page }) {
  if (page === null) {
    toast("This is in the overset part of the story and is on no page yet.", true);
    return;
  }
  if (state.master) await leaveMaster();
  show(page);
}

const change = (one, what) => perform("listings/change", { listing: one.id, what: "update", ...what });

const WHERE = {
  caret: "At the caret",
  front: "Before the first heading it lists",
  end: "At the end of the main text",
  page: "On a new page after this one",
  frame: "In a frame on this page",
};
const headed = ({ where }) => where !== "caret";
const inMainText = ({ where }) => where === "front" || where === "end";

/** Ask where a listing is inserted, and insert it: one of the job's that is in no text, or a ready one. */
async function insert(one = null) {
  const caret = await caretPlace(); // before the dialog takes the keys
  if (fresh !== state.revision) await ask();
  const free = [...all.filter((other) => !other.stands && other.rows.length), ...offered];
  if (!free.length) {
    toast(
      "There is nothing to insert: all listings are in a story already, or no text uses their styles. Set up another listing under Manuscript, Listings.",
      true,
    );
    return;
  }
  const first = one || free[0],
    list = (id) => free.find((other) => other.id === id) || first;
  const places = Object.entries(WHERE).filter(([where]) =>
    where === "caret" ? caret : !inMainText({ where }) || state.main,
  );
  const where = caret ? "caret" : !state.main ? "page" : first.order === "alphabetical" ? "end" : "front";
  await askFor(
    "Insert listing",
    "Its entries link to their pages and can be updated at any time.",
    "Insert",
    {
      listing: { word: "Listing", kind: "choice", choices: free.map(({ id, name }) => [id, name]), value: first.id },
      where: { word: "Position", kind: "choice", choices: places, value: where },
      heading: { word: "Heading", value: "", empty: "the name of the listing", when: headed },
    },
    (values) => insertAt(list(values.listing), values, caret),
  );
}

/** @param {any} one @param {Record<string, any>} values @param {any} caret */
async function insertAt(one, { where, heading }, caret) {
  const group = crypto.randomUUID(),
    isNew = !all.some(({ id }) => id === one.id); // gathered anew meanwhile, they are other objects
  const listing = { listing: one.id, ...(isNew ? { ready: one } : {}) };
  if (where === "caret") {
    const { caret: there } = await perform("listings/put", { ...listing, story: caret.story, at: caret.place });
    if (there) await goToPlace(there.story, there.p, there.offset, there.offset);
    return;
  }
  if (state.master) await leaveMaster();
  if (where === "front" || where === "end") {
    await perform("listings/put", { ...listing, where, heading: heading.trim() || one.name });
    return;
  }
  await insertInFrame(one, { ...listing, heading: heading.trim() || one.name }, where === "page", group);
}

const MOST_PAGES = 40; // of one listing on pages of its own

/** The listing in a text frame of its own that fills the margins, on the page in view or on a new one after it; on as many new pages as it needs. */
async function insertInFrame(one, listing, onNewPage, group) {
  let index = onNewPage ? await addPageAfter(state.view[0], group) : state.view[0];
  const [first] = await addFrame(one, index, {}, group);
  selectThese([first]);
  try {
    await perform("listings/put", { ...listing, story: first.story, at: { paragraph: "^", offset: 0 } }, { group });
  } catch (error) {
    if (statusOf(error)) await undo(); // the page and the frame that were added for it
    throw error;
  }
  const place = ({ id }) => standing().find((f) => f.id === id);
  for (let last = place(first), n = 1; onNewPage && last?.overset && n < MOST_PAGES; n += 1) {
    index = await addPageAfter(index, group);
    const [made] = await addFrame(one, index, { after: last.id }, group);
    last = place(made);
  }
}

/** A new page like the one before it, in view. @returns {Promise<number>} its index */
async function addPageAfter(index, group) {
  await send([{ do: "add-pages", at: index + 1, count: 1, like: state.pages[index].id }], { group });
  await show(index + 1);
  return index + 1;
}

/** A text frame for a listing within the margins of a page. */
async function addFrame(one, index, more, group) {
  const { area } = state.pages[index].lines;
  const answer = await send(
    [
      {
        do: "add-text-frame",
        page: state.pages[index].id,
        rect: { x: area.x, y: area.y, width: area.w, height: area.h },
        name: one.name,
        layer: activeLayer().id,
        ...more,
      },
    ],
    { group },
  );
  return standing().filter((f) => answer.made.includes(f.id));
}

register({
  word: "Insert listing: contents, index, glossary…",
  also: "table of contents toc list of figures tables",
  keys: [],
  run: () => {
    pull("listings", true);
    insert().catch(() => {});
  },
});

/** Pages or words are others now: gathered anew a moment later. */
function refresh() {
  clearTimeout(waiting);
  if (fresh !== state.revision) waiting = setTimeout(() => ask().catch(() => {}), 700);
}

drawer({
  id: "listings",
  word: "Listings",
  key: "j",
  help: "Listings: contents, glossaries and other lists, to navigate the job",
  after: ["pages", "lists"],
  fill,
  refresh,
});
