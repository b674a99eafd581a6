// Starts Alpine (its build without eval, for the strict Content-Security-Policy) with the components of all places.
import Alpine from "../vendor/alpine-csp.min.js";
import { brief, fromTemplate } from "./brief.js";
import { room } from "./dom.js";
import { commandFinder } from "./finder.js";
import { helpOnFocus } from "./help.js";
import { listings } from "./listings.js";
import { listingsBeside } from "./navigator.js";
import { manuscript } from "./manuscript.js";
import { press } from "./press.js";
import { publication, publicationWarning } from "./publication.js";
import { findReplace, keptSearches } from "./replace.js";
import { markupRules, ruleLibrary } from "./rules.js";
import { dictionaries, learnedWords, spelling } from "./spelling.js";
import { settleDue } from "./settle.js";
import { undoOutsideTheBoard } from "./steps.js";
import { sayWhatOpens } from "./waiting.js";

window.Alpine = Alpine;
Alpine.data("brief", brief);
Alpine.data("fromTemplate", fromTemplate);
Alpine.data("listings", listings);
Alpine.data("manuscript", manuscript);
Alpine.data("press", press);
Alpine.data("publication", publication);
Alpine.data("publicationWarning", publicationWarning);
Alpine.data("markupRules", markupRules);
Alpine.data("ruleLibrary", ruleLibrary);
Alpine.data("spelling", spelling);
Alpine.data("learnedWords", learnedWords);
Alpine.data("dictionaries", dictionaries);
Alpine.data("findReplace", findReplace);
Alpine.data("keptSearches", keptSearches);
Alpine.data("sendOnChoice", () => ({
  send(event) {
    if (event.target.files.length) event.target.form.requestSubmit();
  },
  choose(event) {
    event.target.querySelector("input").click();
  },
}));
Alpine.data("submitOnChange", () => ({
  submit(event) {
    event.target.form.submit();
  },
}));
// Who may only view a job cannot use what would change it; the strip says why.
if (document.body.dataset.role === "view")
  for (const one of /** @type {NodeListOf<HTMLElement>} */ (document.querySelectorAll("[data-edits]")))
    one.inert = true;
Alpine.start();
undoOutsideTheBoard();
helpOnFocus();
commandFinder();
sayWhatOpens();
listingsBeside();
if (!room("board", false)) settleDue(); // the board shows what comes of it itself
document.documentElement.dataset.ready = "true"; // every control of the page answers now
dispatchEvent(new Event("lexigon-ready")); // and so do clicks that came before: see early.js
