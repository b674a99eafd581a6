// The pan tool: the view is dragged. The middle button does so with every tool, as the space bar held down does.
import { board, pan, sheet } from "../sheet.js";
import { tool } from "../tools.js";

export function dragView(event) {
  event.preventDefault();
  sheet.setPointerCapture(event.pointerId);
  board.classList.add("panning");
  let { clientX, clientY } = event;
  const moved = (e) => {
    pan(e.clientX - clientX, e.clientY - clientY);
    ({ clientX, clientY } = e);
  };
  const done = () => {
    for (const [name, listener] of listeners) sheet.removeEventListener(name, listener);
    board.classList.remove("panning");
  };
  const listeners = [
    ["pointermove", moved],
    ["pointerup", done],
    ["pointercancel", done],
  ];
  for (const [name, listener] of listeners) sheet.addEventListener(name, listener);
}

tool({ id: "pan", word: "Pan", icon: "hand", press: dragView });
