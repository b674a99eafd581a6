// Holds the clicks that come before the scripts of the page answer, and clicks again when they do. It is the one classic
// script, so that it runs before anything can be clicked; buttons that send a form need no script and are left alone.
(() => {
  /** @type {HTMLElement[]} */
  const held = [];
  /** @param {MouseEvent} event */
  function hold(event) {
    const button = /** @type {Element} */ (event.target).closest("button[type=button]");
    if (!(button instanceof HTMLElement)) return;
    event.preventDefault();
    event.stopImmediatePropagation();
    held.push(button);
    button.setAttribute("aria-busy", "true");
  }
  addEventListener("click", hold, true);
  addEventListener(
    "lexigon-ready",
    () => {
      removeEventListener("click", hold, true);
      for (const button of held) {
        button.removeAttribute("aria-busy");
        if (button.isConnected) button.click();
      }
    },
    { once: true },
  );
})();
