// What takes a while says so within a quarter of a second, and can be cancelled: requests that only read, and pages that are being opened.
import { element } from "./dom.js";
import { Cancelled } from "./http.js";

const SOON = 250; // milliseconds: what is there by then shows nothing

const words = element("p", { class: "min-w-0 flex-1 truncate" });
const stop = element("button", { type: "button", class: "button tight", text: "Cancel", click: () => cancelNow() });
const panel = element("div", { class: "waiting", id: "waiting", role: "status", hidden: true }, element("div", { class: "flex items-center gap-4" }, words, stop), element("progress", { class: "bar mt-2", "aria-label": "Progress" }));
document.body.append(panel);

let timer = 0, cancelNow = () => {};

/** Say what is being done if it is not done soon. Returns what ends that. */
function show(text, cancel) {
  clearTimeout(timer);
  cancelNow = cancel;
  timer = setTimeout(() => { words.textContent = text; panel.hidden = false; }, SOON);
  return hide;
}

function hide() {
  clearTimeout(timer);
  panel.hidden = true;
}

/** Carry out a request that only reads, `run`, which is given the signal that cancels it; null where it was cancelled.
 *  @template T @param {string} text @param {(signal: AbortSignal) => Promise<T>} run @returns {Promise<T | null>} */
export async function cancellable(text, run) {
  const controller = new AbortController();
  const done = show(text, () => { controller.abort(); done(); });
  try { return await run(controller.signal); } catch (error) {
    if (error instanceof Cancelled) return null;
    throw error;
  } finally { done(); }
}

/** Pages that are being opened: a link to a job, a form that says what it does (`data-waiting`). The browser stays where it is if that is cancelled. */
export function sayWhatOpens() {
  const cancel = () => { window.stop(); hide(); };
  document.addEventListener("click", (event) => {
    const link = /** @type {HTMLAnchorElement | null} */ (/** @type {Element} */ (event.target).closest?.("a[href]"));
    if (!link || event.defaultPrevented || event.button || event.ctrlKey || event.metaKey || event.shiftKey || event.altKey || link.target || link.hasAttribute("download")) return;
    if (link.origin !== location.origin || !/^\/(job|publication)\//.test(link.pathname) || link.pathname === location.pathname) return;
    show(`Opening ${(link.dataset.name || link.getAttribute("aria-label") || link.textContent).trim().replace(/\s+/g, " ").slice(0, 80)} …`, cancel);
  });
  document.addEventListener("submit", (event) => {
    const form = /** @type {HTMLFormElement} */ (event.target);
    if (form.dataset.waiting && !event.defaultPrevented) show(`${form.dataset.waiting} …`, cancel);
  });
  addEventListener("pageshow", ({ persisted }) => { if (persisted) hide(); }); // come back to by the browser’s button
}
