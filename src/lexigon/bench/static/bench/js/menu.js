// A menu at the pointer: what can be done with the selection.

const menu = document.createElement("div");
menu.className = "plan-menu card";
menu.setAttribute("role", "menu");
menu.hidden = true;
document.body.append(menu);
let back = null;
let left = () => {};

export const close = () => {
  menu.hidden = true;
};

/**
 * Open the menu at a point. `items` are [word, action, key], or null for a line between them; closed by Esc, the focus goes to `from`, and
 * `cancel` is called.
 * @param {number} x @param {number} y @param {(Array<any> | null)[]} items @param {HTMLElement | SVGElement | null} from @param {() => void} cancel
 */
export function open(x, y, items, from = null, cancel = () => {}) {
  back = from;
  left = cancel;
  menu.replaceChildren(
    ...items.map((item) => {
      if (!item) return document.createElement("hr");
      const [word, action, key] = item;
      const button = document.createElement("button");
      Object.assign(button, { type: "button", textContent: word });
      button.setAttribute("role", "menuitem");
      if (key) {
        const sign = document.createElement("span");
        Object.assign(sign, { className: "aside", textContent: key });
        button.append(sign);
      }
      button.addEventListener("click", () => {
        close();
        back?.focus({ preventScroll: true });
        action();
      });
      return button;
    }),
  );
  menu.hidden = false;
  menu.style.left = `${Math.max(Math.min(x, innerWidth - menu.offsetWidth - 8), 8)}px`;
  menu.style.top = `${Math.max(Math.min(y, innerHeight - menu.offsetHeight - 8), 8)}px`;
  menu.querySelector("button")?.focus();
}

menu.addEventListener("keydown", (event) => {
  const all = [...menu.querySelectorAll("button")];
  const at = all.findIndex((one) => one === document.activeElement);
  const to = { ArrowDown: at + 1, ArrowUp: at - 1, Home: 0, End: -1 }[event.key];
  if (event.key === "Escape" || event.key === "Tab") {
    event.preventDefault();
    close();
    back?.focus({ preventScroll: true });
    left();
  }
  if (to !== undefined) {
    event.preventDefault();
    all[(to + all.length) % all.length].focus();
  }
  event.stopPropagation();
});
addEventListener(
  "pointerdown",
  (event) => {
    if (!menu.contains(/** @type {Node} */ (event.target))) close();
  },
  true,
);
