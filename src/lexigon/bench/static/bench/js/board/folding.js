// Groups of the slip fold to one line, and stay as they were left.
const slip = document.querySelector(".slip");
const folded = new Set(
  JSON.parse(localStorage.getItem("lexigon-folded") || '["Arrange","Stroke and fill","Text wrap"]'),
);

/** Headings that fold are told by their look; done anew whenever the slip has changed. */
function arrange() {
  for (const heading of slip.querySelectorAll(".group > .head > h2")) {
    const group = heading.closest(".group");
    const own = folded.has(heading.textContent);
    group.classList.toggle("folded", own);
    if (heading.classList.contains("folds")) continue;
    heading.classList.add("folds");
    const button = document.createElement("button");
    button.type = "button";
    button.setAttribute("aria-expanded", String(!own));
    button.append(...heading.childNodes);
    heading.append(button);
    const toggle = () => {
      if (folded.has(heading.textContent)) folded.delete(heading.textContent);
      else folded.add(heading.textContent);
      localStorage.setItem("lexigon-folded", JSON.stringify([...folded]));
      group.classList.toggle("folded");
      button.setAttribute("aria-expanded", String(!group.classList.contains("folded")));
    };
    button.addEventListener("click", toggle);
  }
}
new MutationObserver(arrange).observe(slip, { childList: true, subtree: true });
arrange();
