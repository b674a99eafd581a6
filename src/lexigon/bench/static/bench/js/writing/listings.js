// The listings beside a text: instead of its headings what one of them gathers, to go to.
import { element, room } from "../dom.js";
import { HttpError } from "../errors.js";
import { get } from "../http.js";
import { entryRow, stateOf } from "../listings.js";

const WAIT = 1500;
const beside = room("structure", false);
const which = /** @type {HTMLSelectElement | null} */ (beside?.querySelector("select"));
const KEPT = `lexigon-beside-${location.pathname}`;
let text = null; // what the writing view lends: go, board
let all = [];
let waiting = 0;

/** Tie it to a text; headings are shown until a listing is chosen. */
export function tieListings(view) {
  text = view;
  document.addEventListener("lexigon:go", (event) => {
    if (view.go(/** @type {CustomEvent} */ (event).detail.paragraph)) event.preventDefault();
  });
  which?.addEventListener("change", () => {
    localStorage.setItem(KEPT, which.value);
    lay();
  });
  gatherAnew(0);
}

/** The text is another now: gathered anew a moment later. */
export function gatherAnew(wait = WAIT) {
  clearTimeout(waiting);
  if (which)
    waiting = setTimeout(
      () =>
        ask().catch((error) => {
          if (!(error instanceof HttpError)) throw error;
        }),
      wait,
    );
}

async function ask() {
  const answer = await get(location.pathname.replace("manuscript/", "listings/"));
  all = answer.listings;
  const chosen = all.some(({ id }) => id === localStorage.getItem(KEPT)) ? localStorage.getItem(KEPT) : "";
  which.replaceChildren(
    element("option", { value: "", text: "Structure" }),
    ...all.map(({ id, name }) => element("option", { value: id, text: name, selected: id === chosen })),
  );
  which.hidden = !all.length;
  lay();
}

function lay() {
  const one = all.find(({ id }) => id === which.value),
    listed = beside.querySelector(".listed");
  beside.classList.toggle("shows-listing", Boolean(one));
  listed.replaceChildren();
  if (!one) return;
  listed.append(
    element("p", { class: "sub mb-1", role: "status", text: stateOf(one) }),
    element(
      "ol",
      { class: "entries" },
      ...one.rows.map((row) =>
        entryRow(row, (entry) => {
          if (!text.go(entry.paragraph)) location.assign(text.board(entry.page));
        }),
      ),
    ),
  );
}
