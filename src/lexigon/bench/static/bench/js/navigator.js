// The listings of a job beside every place but the board, which has a drawer of its own: a click goes to the page.
import { register } from "./commands.js";
import { element, room } from "./dom.js";
import { HttpError } from "./errors.js";
import { get } from "./http.js";
import { entryRow, stateOf } from "./listings.js";

const OPEN = "lexigon-beside";

export function listingsBeside() {
  const panel = room("beside", false);
  const tab = room("beside-pull", false);
  if (!panel || !tab) return;
  const { listings: address, board, setUp } = panel.dataset;
  const kept = `lexigon-listing-${address.split("/")[2]}`;
  let all = null,
    at = localStorage.getItem(kept) || "",
    problem = "";

  tab.addEventListener("click", () => pull(panel.hidden, true));
  /** The place that is shown goes there, if it has pages or paragraphs of its own; else the board does. */
  const go = ({ page, paragraph }) => {
    const left = document.dispatchEvent(
      new CustomEvent("lexigon:go", { detail: { page, paragraph }, cancelable: true }),
    );
    if (left && page !== null) location.assign(`${board}?page=${page + 1}`);
  };
  const lay = () => {
    const one = all?.find(({ id }) => id === at) || all?.[0];
    panel.replaceChildren(
      element(
        "div",
        { class: "head" },
        element("h2", { text: "Listings" }),
        element("a", { class: "link", href: one ? `${setUp}?listing=${one.id}` : setUp, text: "Set up…" }),
      ),
    );
    if (problem || !all) {
      panel.append(element("p", { class: "sub", text: problem || "Gathering…" }));
      return;
    }
    if (!one) {
      panel.append(
        element("p", {
          class: "sub",
          text: "No listings yet, such as contents, a glossary, queries or captions. Use “Set up…” to add the first.",
        }),
      );
      return;
    }
    panel.append(
      element(
        "select",
        {
          class: "field mb-2 w-full",
          "aria-label": "Which listing",
          change: (event) => {
            at = event.target.value;
            localStorage.setItem(kept, at);
            lay();
            panel.querySelector("select").focus();
          },
        },
        ...all.map(({ id, name }) => element("option", { value: id, text: name, selected: id === one.id })),
      ),
      element("p", { class: "sub mb-2", role: "status", text: stateOf(one) }),
      one.rows.length
        ? element("ol", { class: "entries" }, ...one.rows.map((row) => entryRow(row, go)))
        : element("p", { class: "sub", text: "No text uses its styles yet." }),
    );
  };
  const gather = async () => {
    try {
      ({ listings: all } = await get(address));
      problem = "";
    } catch (error) {
      if (!(error instanceof HttpError)) throw error;
      problem = error.message;
    }
    lay();
  };
  function pull(out, hand = false) {
    panel.hidden = !out;
    tab.setAttribute("aria-expanded", String(out));
    document.body.classList.toggle("drawer-open", out);
    if (hand) localStorage.setItem(OPEN, out ? "listings" : "");
    if (out) {
      lay();
      gather();
    }
    dispatchEvent(new Event("resize")); // what is laid out by the window has another width
  }
  register({
    word: "Show or hide Listings drawer",
    keys: ["j"],
    shown: ["J"],
    help: "listings: contents, glossaries and other lists, to navigate the job",
    run: () => pull(panel.hidden, true),
  });
  document.addEventListener("keydown", (event) => {
    if (
      event.key.toLowerCase() !== "j" ||
      event.ctrlKey ||
      event.metaKey ||
      event.altKey ||
      event.target.closest("input, select, textarea, dialog, [contenteditable]")
    )
      return;
    event.preventDefault();
    pull(panel.hidden, true);
  });
  if (localStorage.getItem(OPEN)) pull(true);
}
