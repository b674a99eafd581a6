// The drawer of listings: what each gathers, to go to; put into texts, and brought up to date there.
import { element } from "../dom.js";
import { get } from "../http.js";
import { differenceRows, entryRow, stateOf } from "../listings.js";
import { drawer } from "./drawers.js";
import { selectThese } from "./frames.js";
import { frames as standing } from "./standing.js";
import { activeLayer, leaveMaster, perform, send, show, state, toast } from "./store.js";
import { caretPlace } from "./text.js";

const KEPT = `lexigon-listing-${state.key}`;
let all = [];
let at = localStorage.getItem(KEPT) || "";
let fresh = -1;
let again = null; // lays the drawer anew once the listings are there
let waiting = 0;

async function ask() {
  const asked = state.revision;
  const answer = await get(`/job/${state.key}/listings/`);
  all = answer.listings;
  fresh = asked;
  if (again) again();
}

const current = () => all.find(({ id }) => id === at) || all[0];

function fill(body) {
  again = () => { if (body.dataset.open === "listings" && !body.hidden) { const { scrollTop } = body; body.replaceChildren(); lay(body); body.scrollTop = scrollTop; } };
  lay(body);
  if (fresh !== state.revision) ask().catch((error) => toast(error.message, true));
}

function lay(body) {
  const one = current(), place = `/job/${state.key}/manuscript/listings/`;
  body.append(element("div", { class: "head" }, element("h2", { text: "Listings" }), element("a", { class: "link", href: one ? `${place}?listing=${one.id}` : place, text: "Set up" })));
  if (fresh < 0) { body.append(element("p", { class: "sub", text: "Gathering …" })); return; }
  if (!one) { body.append(element("p", { class: "sub mb-3", text: "Nothing is gathered yet: contents, a glossary, queries, captions." }), element("a", { class: "button first", href: place, text: "Make a listing" })); return; }
  body.append(element("select", { class: "field mb-2 w-full", "aria-label": "Which listing", "data-key": "which", change: (event) => { at = event.target.value; localStorage.setItem(KEPT, at); again(); } }, ...all.map(({ id, name }) => element("option", { value: id, text: name, selected: id === one.id }))));
  body.append(element("p", { class: "sub mb-2", role: "status", text: stateOf(one) }));
  const act = (word, run, first = false) => element("button", { type: "button", class: `button${first ? " first" : ""}`, text: word, click: () => run().catch(() => {}) });
  body.append(element("div", { class: "mb-3 flex flex-wrap gap-2" },
    !one.stands && one.rows.length ? act("Put it in", () => putIn(one), true) : "",
    one.differences.some((other) => !other.asks) ? act("Bring it up to date", () => change(one, {}), true) : "",
    one.stands ? act("Show it", () => go(one.stands)) : ""));
  if (one.differences.length) body.append(element("details", { class: "mb-3", open: one.differences.some((other) => other.asks) }, element("summary", { class: "link", text: "What changes" }), element("ul", { class: "differences" }, ...differenceRows(one, (what) => change(one, what)))));
  body.append(one.rows.length ? element("ol", { class: "entries" }, ...one.rows.map((row) => entryRow(row, go))) : element("p", { class: "sub", text: "No text is in its styles yet." }));
}

async function go({ page }) {
  if (page === null) { toast("The text does not get there: it has no place on a page yet.", true); return; }
  if (state.master) await leaveMaster();
  show(page);
}

const change = (one, what) => perform("listings/change", { listing: one.id, what: "update", ...what });

/** At the caret where there is one, else in a frame of its own on the page in view. */
async function putIn(one) {
  const caret = await caretPlace();
  if (caret) { await perform("listings/put", { listing: one.id, story: caret.story, at: caret.place }); return; }
  if (state.master) await leaveMaster();
  const [index] = state.view, { area } = state.pages[index].lines, group = crypto.randomUUID();
  const answer = await send([{ do: "add-text-frame", page: state.pages[index].id, rect: { x: area.x, y: area.y, width: area.w, height: area.h }, name: one.name, layer: activeLayer().id }], { group });
  const made = standing().filter((f) => answer.made.includes(f.id));
  selectThese(made);
  await perform("listings/put", { listing: one.id, story: made[0].story, at: { paragraph: "^", offset: 0 } }, { group });
}

/** Pages or words are others now: gathered anew a moment later. */
function refresh() {
  clearTimeout(waiting);
  if (fresh !== state.revision) waiting = setTimeout(() => ask().catch(() => {}), 700);
}

drawer({ id: "listings", word: "Listings", key: "j", help: "Listings: contents, glossaries and the like, to go to", after: ["pages", "lists"], fill, refresh });
