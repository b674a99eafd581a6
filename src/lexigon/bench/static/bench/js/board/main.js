// The Board: wires the sheet, the tools, the keys and the ledge together.
import { settleDue } from "../settle.js";
import { askFor } from "./asking.js";
import { applyView, board, fit, firstLay, pan, sheet, view, zoom } from "./sheet.js";
import * as actions from "./frameactions.js";
import * as frames from "./frames.js";
import "./head.js";
import { slip } from "./slip.js";
import { specline } from "./specline.js";
import "./folding.js";
import "./invisibles.js";
import "./asprinted.js";
import "./fonts.js";
import { press } from "./tools.js";
import "./tools/select.js";
import "./tools/type.js";
import "./tools/draw.js";
import { goOn } from "./tools/pen.js";
import "./tools/place.js";
import "./tools/framing.js";
import "./tools/gradient.js";
import "./tools/nodes.js";
import "./tools/flow.js";
import { dragView } from "./tools/pan.js";
import "./texture.js";
import { beforeTurning, layLedge, toggle, turn } from "./ledge.js";
import { keysDialog, masterBand, typing as field } from "./rooms.js";
import "./pages.js";
import "./layers.js";
import "./pictures.js";
import "./inks.js";
import "./listings.js";
import "./records.js";
import "./notes.js";
import "./tables.js";
import "./textclip.js";
import { selectAll } from "./arranging.js";
import "./slipview.js";
import "./shapes.js";
import "./along.js";
import "./tracing.js";
import "./sampling.js";
import "./carrying.js";
import "./pointer-menu.js";
import "./rulers.js";
import "./pinch.js";
import "./presence.js";
import "./comments.js";
import { asLeft, keptPage } from "./viewing.js";
import { pullAsLeft } from "./drawers.js";
import { openStyles } from "./styles.js";
import { takesKey } from "./cellchoice.js";
import { isLetter, takesLetters } from "./letters.js";
import { openFind } from "./find.js";
import { makeCode } from "./slip/code.js";
import * as text from "./text.js";
import { byKey, fillKeys, needing, overKey, register } from "../commands.js";
import { offerWords } from "../notice.js";
import { emit, on, redo, sendLeft, setTool, show, state, take, toast, undo } from "./store.js";

on("unplaced", async (words) => {
  await offerWords(words);
  if (text.active()) text.focusText();
});

document.addEventListener("alpine:init", () => {
  window.Alpine.data("slip", slip);
  window.Alpine.data("specline", specline);
});
// What is added later brings no directives of its own: watching every path that is painted would take longer than painting it.
document.addEventListener("alpine:initialized", () => window.Alpine.stopObservingMutations());

// Pointer

let space = false;
sheet.addEventListener("pointerdown", (event) => {
  if (event.button === 1 || state.tool === "pan" || space) {
    dragView(event);
    return;
  }
  if (event.button !== 0) return;
  event.preventDefault();
  if (state.tool !== "text") sheet.focus({ preventScroll: true });
  press(event, countClicks(event));
});

const CLICK_PAUSE = 600;
let lastClick = { time: -1e9, x: 0, y: 0, count: 0 };

// Esc between two presses ends the first: the second is no double click.
addEventListener(
  "keydown",
  ({ key }) => {
    if (key === "Escape") lastClick.time = -1e9;
  },
  true,
);

/** How many presses in a row this is at one place: pointer events do not count them. */
function countClicks({ timeStamp, clientX, clientY, shiftKey }) {
  if (shiftKey && state.tool !== "text") {
    lastClick.count = 0;
    lastClick.time = -1e9;
    return 1;
  } // it adds to what is chosen, and begins nothing
  const again =
    timeStamp - lastClick.time < CLICK_PAUSE && Math.hypot(clientX - lastClick.x, clientY - lastClick.y) < 6;
  lastClick = { time: timeStamp, x: clientX, y: clientY, count: again ? lastClick.count + 1 : 1 };
  return lastClick.count;
}

board.addEventListener(
  "wheel",
  (event) => {
    event.preventDefault();
    const box = board.getBoundingClientRect();
    if (event.ctrlKey || event.metaKey)
      zoom(Math.exp(-event.deltaY * 0.0022), event.clientX - box.left, event.clientY - box.top);
    else pan(event.shiftKey ? -event.deltaY : -event.deltaX, event.shiftKey ? 0 : -event.deltaY);
  },
  { passive: false },
);

// Keys

const STEPS = "lexigon-steps";
/** How far the arrow keys move what is chosen, and with Shift, in points. */
const steps = () => JSON.parse(localStorage.getItem(STEPS) || "[1, 10]");
async function askSteps() {
  const [small, large] = steps();
  await askFor(
    "Arrow keys",
    "The distance by which the arrow keys move the selection.",
    "Save",
    {
      small: { word: "Step", kind: "length", value: small },
      large: { word: "With Shift", kind: "length", value: large },
    },
    (values) => {
      const both = [values.small, values.large];
      if (both.some((step) => !(step > 0 && step <= 1000)))
        throw new Error("A step must be greater than 0 and at most 1,000 pt.");
      localStorage.setItem(STEPS, JSON.stringify(both));
    },
  );
}
/** The arrow keys move what is selected; where nothing is, they choose a frame. Tab goes on past the board. */
function arrow(event, x, y) {
  const by = steps()[event.shiftKey ? 1 : 0];
  if (frames.current()) actions.nudge(x * by, y * by);
  else frames.next(x + y < 0);
}
register(
  { shown: ["1", "…", "8"], help: "select a tool; press again for the next variant" },
  { shown: ["Ctrl K"], help: "find any command" },
  { word: "Next spread", keys: ["PageDown"], shown: ["Page Down"], run: () => turn(1) },
  {
    word: "Previous spread",
    keys: ["PageUp"],
    shown: ["Page Up", "Page Down"],
    help: "previous, next spread",
    run: () => turn(-1),
  },
  { word: "Zoom in", keys: ["+", "="], run: () => zoom(1.25) },
  { word: "Zoom out", keys: ["-"], shown: ["−"], run: () => zoom(0.8) },
  {
    word: "Fit spread in window",
    keys: ["0"],
    shown: ["+", "−", "0"],
    help: "zoom in, zoom out, fit spread in window",
    run: fit,
  },
  { word: "Select next frame", keys: ["n"], shown: ["N"], run: () => frames.next(false) },
  {
    word: "Select previous frame",
    keys: ["N"],
    shown: ["N", "Shift N"],
    help: "select the next or previous frame; Tab moves past the board",
    run: () => frames.next(true),
  },
  {
    word: "Type in the selected frame",
    keys: ["Enter"],
    help: "type in the selected frame; Esc stops typing",
    when: () => Boolean(frames.current()?.story) && !frames.current().field,
    run: () => text.enter(frames.current()),
  },
  {
    shown: ["Arrows"],
    help: "move the selection by 1 pt, with Shift by 10 pt (the steps can be changed); with nothing selected, select a frame",
  },
  { word: "Set steps of the arrow keys…", keys: [], run: () => askSteps().catch(() => {}) },
  {
    word: "Delete",
    keys: ["Delete", "Backspace"],
    shown: ["Delete"],
    help: "delete the selection",
    when: needing("Select an object first.", () => Boolean(frames.current())),
    run: actions.remove,
  },
  {
    word: "Group",
    keys: ["g"],
    shown: ["G"],
    when: needing("Select two or more objects first.", () => frames.chosen().length > 1 && !state.cells),
    run: actions.group,
  },
  {
    word: "Clip to the topmost shape",
    keys: [],
    when: needing("Select two or more objects first.", () => frames.chosen().length > 1 && !state.cells),
    run: () => actions.cutOff().catch(() => {}),
    menu: 5,
  },
  {
    word: "Ungroup",
    keys: ["G"],
    shown: ["G", "Shift G"],
    help: "group what is selected; ungroup it",
    when: () => Boolean(frames.current()?.inGroup),
    run: actions.ungroup,
  },
  {
    word: "Lock or unlock selection",
    keys: ["k"],
    shown: ["K"],
    help: "lock or unlock selection",
    when: needing("Select an object first.", () => Boolean(frames.current())),
    run: actions.lock,
  },
  { shown: ["Ctrl Z", "Ctrl Shift Z"], help: "undo, redo" },
  { shown: ["Ctrl I", "Ctrl B"], help: "italic, bold" },
  {
    word: "Edit styles",
    also: "paragraph style character style frame style rule style",
    keys: ["s"],
    shown: ["S"],
    run: openStyles,
  },
  { word: "Add code: QR code or bar code…", keys: [], run: makeCode },
  { word: "Find in this story", keys: [], shown: ["Ctrl F"], help: "find in this story", run: openFind },
  {
    shown: ["Ctrl ↑", "Ctrl ↓"],
    help: "move the caret by paragraphs; Alt ↑ ↓ by columns; Ctrl Home and Ctrl End to the start and end of the story",
  },
  { shown: ["Ctrl Shift V"], help: "paste without formatting" },
  { shown: ["Shift"], help: "Shift-click: select several objects" },
  {
    word: "Show or hide printer’s template",
    keys: ["t"],
    shown: ["T"],
    help: "show or hide printer’s template",
    run: hideTemplate,
  },
  { shown: ["Shift Enter"], help: "line break within the paragraph" },
  { word: "Undo", when: () => Boolean(state.undo), run: () => text.takeBack(undo) },
  { word: "Redo", when: () => Boolean(state.redo), run: () => text.takeBack(redo) },
  { word: "Show shortcuts of the board", keys: ["?"], run: showKeys },
);
function hideTemplate() {
  board.classList.toggle("no-overlays");
  toast(
    board.classList.contains("no-overlays")
      ? "The printer’s template is hidden."
      : "The printer’s template is shown. It never prints.",
  );
}
function showKeys() {
  fillKeys(keysDialog.querySelector("dl"));
  keysDialog.showModal();
  keysDialog.scrollTo(0, 0); // its button, which has the focus, stands at the foot
}
/** Keys that no command of the finder has: arrows, and leaving. */
const moves = {
  ArrowLeft: (e) => arrow(e, -1, 0),
  ArrowRight: (e) => arrow(e, 1, 0),
  ArrowUp: (e) => arrow(e, 0, -1),
  ArrowDown: (e) => arrow(e, 0, 1),
  Escape: () => {
    if (state.tool === "select" && frames.leaveGroup()) return;
    if (!frames.current() && state.tool === "select") sheet.blur();
    setTool("select");
    frames.select(null);
  },
};
document.addEventListener("keydown", (event) => {
  const control = event.ctrlKey || event.metaKey;
  if (control && event.key.toLowerCase() === "z") {
    if (event.target.closest("input, select")) return;
    event.preventDefault();
    text.takeBack(event.shiftKey ? redo : undo);
    return;
  }
  if (control && event.key.toLowerCase() === "a" && !event.target.closest("input, select, textarea, dialog")) {
    event.preventDefault();
    sheet.focus({ preventScroll: true });
    (overKey("a")?.run || selectAll)(event);
    return;
  }
  if (control && event.key.toLowerCase() === "f") {
    event.preventDefault();
    openFind();
    return;
  }
  // A button has its own keys, and letters are none of them.
  const pressable =
    event.target.closest("button, summary, a") &&
    !(event.key === "Escape" || (event.key.length === 1 && event.key !== " "));
  const typing = event.target.closest("input, select, textarea, dialog") || (pressable && event.target);
  if (event.key === "PageDown" || event.key === "PageUp") {
    if (!typing || typing === field) {
      event.preventDefault();
      byKey(event.key).run(event);
    }
    return;
  }
  if (typing || control || event.altKey) return;
  if (event.key === " ") {
    space = true;
    event.preventDefault();
    return;
  }
  if (takesKey(event.key)) {
    event.preventDefault();
    return;
  }
  const over = overKey(event.key);
  if (isLetter(event.key) && !over && !takesLetters(event)) return;
  const run = over?.run || moves[event.key] || byKey(event.key)?.run;
  if (run) {
    event.preventDefault();
    run(event);
  }
});
document.addEventListener("keyup", (event) => {
  if (event.key === " ") space = false;
});

// The ledge

beforeTurning(() => {
  text.leave();
  frames.select(null);
});

/** What the whole board shows or does not. */
const shows = (name, more) =>
  toggle({
    id: name,
    ...more,
    on: () => state[name],
    run() {
      state[name] = !state[name];
      board.classList.toggle("clean", state.clean);
      board.classList.toggle("no-guides", !state.guides);
      emit("invisibles");
    },
  });
toggle({
  id: "marks",
  word: "“ ”",
  title: "Typographic quotation marks: converts straight quotation marks while you type",
  command: "Switch typographic quotation marks on or off",
  on: () => state.marks,
  run() {
    state.marks = !state.marks;
    localStorage.setItem("lexigon-marks", state.marks ? "on" : "off");
    toast(
      state.marks
        ? "Straight quotation marks become typographic ones while you type."
        : "Quotation marks stay straight while you type.",
    );
  },
});
shows("invisibles", {
  word: "¶",
  title: "Invisible characters: shows spaces, tabs, line and paragraph ends (I)",
  command: "Show or hide invisible characters",
  keys: ["i"],
  shown: ["S", "X", "I"],
  help: "styles, texture view, invisible characters",
});
shows("guides", { word: "Guides", command: "Show or hide guides" });
shows("clean", { word: "Clean", command: "Show or hide clean view: pages only" });

on("master", () => {
  board.classList.toggle("on-master", Boolean(state.master));
  const master = state.masters.find(({ id }) => id === state.master);
  masterBand.hidden = !master;
  if (master)
    masterBand.textContent = `Master page “${master.name}”: shows on ${master.count} page${master.count === 1 ? "" : "s"}`;
});

addEventListener("resize", () => {
  if (view.fitted) fit();
  else applyView();
});
take({ ...state, pages: null });
emit("master");
pullAsLeft();
firstLay();
layLedge();
setTool("select");
const left = keptPage();
if (
  !/[?&](page|master)=/.test(location.search) &&
  left !== null &&
  left > 0 &&
  left < state.count &&
  !state.view.includes(left)
)
  show(left).then(asLeft);
else asLeft();
goOn();
sendLeft();
settleDue(() => show(state.view[0], false, true));
document.fonts.ready.then(() => text.draw());
