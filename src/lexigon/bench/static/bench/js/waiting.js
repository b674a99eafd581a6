// A panel for slow requests and page loads: it appears after a quarter of a second and offers to cancel.
import { element } from "./dom.js";
import { Cancelled } from "./errors.js";

const SOON = 250; // milliseconds before the panel appears

const words = element("p", { class: "min-w-0 flex-1 truncate" });
const stop = element("button", { type: "button", class: "button tight", text: "Cancel", click: () => cancelNow() });
const panel = element(
  "div",
  { class: "waiting", id: "waiting", role: "status", hidden: true },
  element("div", { class: "flex items-center gap-4" }, words, stop),
  element("progress", { class: "bar mt-2", "aria-label": "Progress" }),
);
document.body.append(panel);

let timer = 0,
  cancelNow = () => {};

/** Show the panel unless it is hidden again soon. Returns the function that hides it. */
function show(text, cancel) {
  clearTimeout(timer);
  cancelNow = cancel;
  timer = setTimeout(() => {
    words.textContent = text;
    panel.hidden = false;
  }, SOON);
  return hide;
}

function hide() {
  clearTimeout(timer);
  panel.hidden = true;
}

/** Run a read-only request with a signal that cancels it. Resolves with null if it was cancelled.
 *  @template T @param {string} text @param {(signal: AbortSignal) => Promise<T>} run @returns {Promise<T | null>} */
export async function cancellable(text, run) {
  const controller = new AbortController();
  const done = show(text, () => {
    controller.abort();
    done();
  });
  try {
    return await run(controller.signal);
  } catch (error) {
    if (error instanceof Cancelled) return null;
    throw error;
  } finally {
    done();
  }
}

/** Show the panel while a job is opened by a link, or a form with `data-waiting` is submitted. Cancelling stays on the page. */
export function sayWhatOpens() {
  const cancel = () => {
    window.stop();
    hide();
  };
  document.addEventListener("click", (event) => {
    const link = /** @type {HTMLAnchorElement | null} */ (/** @type {Element} */ (event.target).closest?.("a[href]"));
    if (
      !link ||
      event.defaultPrevented ||
      event.button ||
      event.ctrlKey ||
      event.metaKey ||
      event.shiftKey ||
      event.altKey ||
      link.target ||
      link.hasAttribute("download")
    )
      return;
    if (
      link.origin !== location.origin ||
      !/^\/(job|publication)\//.test(link.pathname) ||
      link.pathname === location.pathname
    )
      return;
    show(
      `Opening ${(link.dataset.name || link.getAttribute("aria-label") || link.textContent).trim().replace(/\s+/g, " ").slice(0, 80)} …`,
      cancel,
    );
  });
  document.addEventListener("submit", (event) => {
    const form = /** @type {HTMLFormElement} */ (event.target);
    if (form.dataset.waiting && !event.defaultPrevented) show(`${form.dataset.waiting} …`, cancel);
  });
  addEventListener("pageshow", ({ persisted }) => {
    if (persisted) hide();
  }); // come back to by the browser’s button
}
