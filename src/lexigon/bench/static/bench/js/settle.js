// Reading a page writes nothing. Where something is due (a cover's inside has other pages now, the shelf shows a job as it is for the
// first time), the page asks for it here, once it is there.
import { post } from "./http.js";

/** Have what is due written. Where that changes the job, `shown` shows it; where it cannot be written, the page stays as it is. */
export async function settleDue(shown = () => location.reload()) {
  for (const one of /** @type {NodeListOf<HTMLElement>} */ (document.querySelectorAll("[data-settle]"))) {
    const url = one.dataset.settle;
    delete one.dataset.settle;
    try {
      const { changed } = await post(url);
      if (changed && one === document.body) shown();
    } catch { return; } // nothing can be written now: it is asked for again with the next page
  }
}
