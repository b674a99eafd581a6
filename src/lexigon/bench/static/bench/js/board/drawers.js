// The drawers at the left edge: index tabs as on a job folder, of which one at a time is pulled out.
import { register } from "../commands.js";
import { drawerPanel as panel, drawerTabs as tabs } from "./rooms.js";
import { on } from "./store.js";

const all = new Map();
let open = "";

/**
 * Register a drawer: {id, word, key, help, fill, after, refresh}. `fill(body)` lays what is in it when it is pulled out. While it is out,
 * `refresh(body, again)` is told of the events of the store named in `after`; without it the drawer is laid anew.
 */
export function drawer(one) {
  all.set(one.id, one);
  const tab = document.createElement("button");
  Object.assign(tab, {
    type: "button",
    textContent: one.word,
    title: one.key ? `${one.help} (${one.key.toUpperCase()})` : one.help,
  });
  tab.dataset.drawer = one.id;
  tab.setAttribute("aria-expanded", "false");
  tab.setAttribute("aria-controls", "drawer");
  tab.addEventListener("click", () => pull(open === one.id ? "" : one.id, true));
  tabs.append(tab);
  for (const name of one.after)
    on(name, () => {
      if (open === one.id) {
        if (one.refresh) one.refresh(panel, fill);
        else fill();
      }
    });
  register({
    word: `Show or hide ${one.word} drawer`,
    keys: one.key ? [one.key] : [],
    shown: one.key ? [one.key.toUpperCase()] : [],
    help: one.help.toLowerCase(),
    run: () => pull(open === one.id ? "" : one.id, true),
  });
}

/** Pull a drawer out, or with "" push the open one in. With `hand` somebody did it, and it stays so. */
export function pull(id, hand = false) {
  open = all.has(id) ? id : "";
  if (hand) localStorage.setItem("lexigon-drawer", open);
  panel.hidden = !open;
  document.body.classList.toggle("drawer-open", Boolean(open));
  for (const tab of tabs.children) tab.setAttribute("aria-expanded", String(tab.dataset.drawer === open));
  if (open) {
    panel.setAttribute("aria-label", all.get(open).word);
    panel.dataset.open = open;
    fill();
  }
  dispatchEvent(new Event("resize")); // the board has another width
}

/** Lay the open drawer anew; the focus stays on what it was on, by its `data-key`. */
function fill() {
  const at = panel.contains(document.activeElement) ? document.activeElement : null;
  if (at?.matches("input") && at.value !== at.defaultValue && at.type !== "checkbox" && panel.dataset.open === open)
    return; // half typed
  const held = at?.dataset.key;
  const { scrollTop } = panel;
  panel.replaceChildren();
  all.get(open).fill(panel);
  panel.scrollTop = scrollTop;
  if (held) panel.querySelector(`[data-key="${CSS.escape(held)}"]`)?.focus({ preventScroll: true });
}

// What was typed is on its way: what the server makes of it may be shown.
panel.addEventListener(
  "change",
  ({ target }) => {
    if (target.matches("input")) target.defaultValue = target.value;
  },
  true,
);

/** The drawer that a link asks for, or that was out when the board was left. */
export const pullAsLeft = () =>
  pull(new URLSearchParams(location.search).get("drawer") || localStorage.getItem("lexigon-drawer") || "");
