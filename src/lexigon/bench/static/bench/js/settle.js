// Reading a page writes nothing. Where something is due (a cover's inside has other pages now, the shelf shows a job as it is for the
// first time), the page asks for it here, once it is there.
import { post } from "./http.js";

const RELOADED = "lexigon-settled";

/** Load the page again, once: were something due again at once, it must not reload for ever. */
function reloadOnce() {
  if (sessionStorage.getItem(RELOADED) === location.pathname) return;
  sessionStorage.setItem(RELOADED, location.pathname);
  location.reload();
}

/** Save pending updates. If that changes the job, `shown` shows it; if nothing can be saved now, the page stays as it is. */
export async function settleDue(shown = reloadOnce) {
  if (!document.body.dataset.settle) sessionStorage.removeItem(RELOADED);
  for (const one of /** @type {NodeListOf<HTMLElement>} */ (document.querySelectorAll("[data-settle]"))) {
    const url = one.dataset.settle;
    delete one.dataset.settle;
    try {
      const { changed } = await post(url);
      if (changed && one === document.body) shown();
    } catch {
      return;
    } // nothing can be written now: it is asked for again with the next page
  }
}
