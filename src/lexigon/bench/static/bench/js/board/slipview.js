// The slip can be hidden, so that the page has the room: by its button, or by a command. In a narrow window it is hidden to begin with.
import { register } from "../commands.js";
import { element } from "../dom.js";

const CHOICE = "lexigon-slip";
const NARROW = 720; // CSS pixels: a window of 1280 at a zoom of 200 %
const slip = /** @type {HTMLElement} */ (document.querySelector(".board-slip"));
const shown = () => (localStorage.getItem(CHOICE) ?? (innerWidth < NARROW ? "hidden" : "shown")) === "shown";

const show = element("button", {
  type: "button",
  id: "slip-show",
  class: "slip-tab",
  text: "Slip",
  title: "Show slip (\\)",
  "aria-expanded": "false",
  click: () => set(true),
});
const hide = element("button", {
  type: "button",
  id: "slip-hide",
  class: "quiet",
  text: "Hide",
  title: "Hide slip: leaves its space to the page (\\)",
  click: () => set(false),
});
slip.prepend(hide);
slip.after(show);

function lay() {
  slip.hidden = !shown();
  show.hidden = shown();
  document.body.classList.toggle("slip-closed", !shown());
  dispatchEvent(new Event("resize")); // the board has another width
}

function set(on) {
  localStorage.setItem(CHOICE, on ? "shown" : "hidden");
  lay();
  (on ? hide : show).focus({ preventScroll: true });
}

register({
  word: "Show or hide slip",
  also: "properties panel sidebar inspector",
  keys: ["\\"],
  help: "show or hide slip",
  run: () => set(!shown()),
});
lay();
