// A map of the colours that the press reaches, at one lightness: pressed, or moved over by the arrow keys.
import { element } from "../dom.js";
import { inquire, state } from "./store.js";

const WIDEST = 85; // a* and b* at its edges, as the core draws it (`colour/printable.py`)
const within = (value) => Math.min(Math.max(Math.round(value), -WIDEST), WIDEST);

/**
 * @param {{l: number, a: number, b: number}} at where it begins
 * @param {(found: Record<string, number[]>) => void} took told of a colour in each way that swatches are told
 */
export function colourMap(at, took) {
  const picture = element("img", { alt: "", draggable: "false" });
  const mark = element("i", { class: "map-mark" });
  const field = element(
    "button",
    { type: "button", class: "colour-map", "aria-label": "Colours that print: press one, or move with the arrow keys" },
    picture,
    mark,
  );
  const light = element("input", { type: "range", min: "4", max: "96", step: "1", "aria-label": "Lightness" });
  const told = element("span", { class: "aside", role: "status" });
  let asked = 0,
    seen = null,
    waiting = null;
  const show = () => {
    const address = `/job/${state.key}/swatches/printable-${at.l}.png?proof=${state.proof || ""}`;
    if (picture.getAttribute("src") !== address) picture.src = address;
    mark.style.left = `${((at.a + WIDEST) / (2 * WIDEST)) * 100}%`;
    mark.style.top = `${((WIDEST - at.b) / (2 * WIDEST)) * 100}%`;
    light.value = String(at.l);
    told.textContent = `L ${at.l} a ${at.a} b ${at.b}`;
  };
  const take = async () => {
    show();
    const turn = ++asked;
    const found = await inquire("swatches/picked", { lab: `${at.l} ${at.a} ${at.b}` });
    if (turn !== asked) return;
    seen = found.seen;
    took(found);
  };
  /** What was pressed beyond what prints goes to the nearest that does. */
  const settle = () => {
    if (seen && Math.hypot(seen[0] - at.l, seen[1] - at.a, seen[2] - at.b) > 4) {
      [at.l, at.a, at.b] = [Math.min(Math.max(seen[0], 4), 96), within(seen[1]), within(seen[2])];
      show();
    }
  };
  const to = (event) => {
    const box = field.getBoundingClientRect();
    at.a = within(((event.clientX - box.left) / box.width) * 2 * WIDEST - WIDEST);
    at.b = within(WIDEST - ((event.clientY - box.top) / box.height) * 2 * WIDEST);
    waiting = take();
  };
  field.addEventListener("pointerdown", (event) => {
    event.preventDefault();
    field.focus();
    field.setPointerCapture(event.pointerId);
    to(event);
  });
  field.addEventListener("pointerup", async () => {
    await waiting;
    settle();
  });
  field.addEventListener("pointermove", (event) => {
    if (event.buttons) to(event);
  });
  field.addEventListener("keydown", (event) => {
    const step = { ArrowLeft: [-1, 0], ArrowRight: [1, 0], ArrowUp: [0, 1], ArrowDown: [0, -1] }[event.key];
    if (!step) return;
    event.preventDefault();
    const by = event.shiftKey ? 10 : 1;
    [at.a, at.b] = [within(at.a + step[0] * by), within(at.b + step[1] * by)];
    take();
  });
  light.addEventListener("input", () => {
    at.l = Number(light.value);
    take();
  });
  show();
  const part = element(
    "div",
    { class: "colour-map-part" },
    field,
    element(
      "div",
      { class: "colour-map-light" },
      element("span", { text: "Dark" }),
      light,
      element("span", { text: "Light" }),
      told,
    ),
  );
  // What was asked for is not wanted any more: something else was typed, or it is over.
  part.addEventListener("forget", () => {
    asked += 1;
  });
  return part;
}
