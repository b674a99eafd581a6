// The one line that explains a field: what its label's title says is shown beside it when the keyboard comes to it.

const PAUSE = 350;
const line = document.createElement("p");
line.id = "help";
line.className = "help";
line.setAttribute("role", "tooltip");
line.hidden = true;
let timer = 0;

const explained = (field) =>
  field.closest("label[title], button[title]") ||
  (field.id && document.querySelector(`label[for="${CSS.escape(field.id)}"][title]`)) ||
  null;

function hide(field) {
  clearTimeout(timer);
  line.hidden = true;
  if (field?.getAttribute?.("aria-describedby") === "help") field.removeAttribute("aria-describedby");
}

function show(field, words) {
  line.textContent = words;
  (field.closest("dialog") || document.body).append(line);
  line.hidden = false;
  const box = field.getBoundingClientRect();
  const { offsetWidth: width, offsetHeight: height } = line;
  const below = box.bottom + 6 + height < innerHeight;
  line.style.left = `${Math.max(8, Math.min(box.left, innerWidth - width - 8))}px`;
  line.style.top = `${below ? box.bottom + 6 : box.top - height - 6}px`;
  if (!field.hasAttribute("aria-describedby")) field.setAttribute("aria-describedby", "help");
}

export function helpOnFocus() {
  document.body.append(line);
  document.addEventListener("focusin", ({ target }) => {
    hide();
    if (!target.matches("input, select, textarea, button") || !target.matches(":focus-visible")) return;
    const label = explained(target);
    if (label?.title)
      timer = setTimeout(() => {
        if (document.activeElement === target) show(target, label.title);
      }, PAUSE);
  });
  document.addEventListener("focusout", ({ target }) => hide(target));
  for (const name of ["pointerdown", "input", "scroll"])
    document.addEventListener(name, () => hide(document.activeElement), true);
  document.addEventListener(
    "keydown",
    ({ key }) => {
      if (key === "Escape" || key === "Enter") hide(document.activeElement);
    },
    true,
  );
}
