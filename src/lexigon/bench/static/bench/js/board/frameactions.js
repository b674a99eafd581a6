// What is done to the selected frames: changing, moving, deleting, grouping, locking, linking.
import { chosen, current, draw, holderOf, is, lead, lost, named, rectOf, select } from "./frames.js";
import { sheet } from "./sheet.js";
import { frames, inText, ofWords } from "./standing.js";
import { emit, send, setTool, state, toast } from "./store.js";

/** Frames that can be made otherwise: a note is made by its text, what is made of fields by its master. */
const makeable = () => chosen().filter((f) => !f.field && !ofWords(f));
const STAYS = {
  note: "A note is deleted by deleting its number in the story.",
  cell: "Single cells cannot be deleted. Use “Edit table…” to delete rows and columns.",
};

/** Choose what a frame has become when the answer has come; if another was chosen meanwhile, that stays chosen. */
function thenSelect(frame) {
  const was = state.selected;
  const other = was && !is(was, frame);
  return (become) => {
    if (!other && (state.selected === was || (!state.selected && lost.frame === was))) select(become);
    else draw();
  };
}

export async function change(frame, values) {
  if (ofWords(frame)) {
    toast(STAYS[frame.role]);
    draw();
    return;
  }
  const choose = thenSelect(frame);
  try {
    const answer = await send([{ do: "change-frame", page: holderOf(frame), frame: frame.id, ...values }]);
    const still = frames().find((f) => f.id === frame.id && f.page === frame.page);
    // A master's frame that was changed here has become the page's own, under a new name.
    choose(
      still && !still.master
        ? still
        : frames().find((f) => answer.made.includes(f.id) && f.page === frame.page && f.role === frame.role) ||
            still ||
            null,
    );
  } catch {
    draw();
  }
}

/** Set every selected frame so; master pages' frames are only taken over one at a time. */
export async function changeAll(values) {
  const all = makeable();
  const own = all.filter((f) => !f.master);
  if (all.length < 2 || !own.length) {
    if (all.length) await change(all[0], values);
    return;
  }
  const intents = own.map((f) => ({ do: "change-frame", page: holderOf(f), frame: f.id, ...values }));
  try {
    await send(intents);
  } finally {
    draw();
    emit("frame");
  }
}

/** Move every selected frame by as much, or those that were selected. */
export async function moveAll(dx, dy, these = chosen()) {
  const all = these.filter((f) => !f.master && !inText(f));
  try {
    await send([{ do: "move-objects", objects: named(all), dx, dy }]);
    draw();
    emit("frame");
  } catch {
    draw();
  }
}

/** Every selected frame wider or higher by the same rule: `sizes` are `{width, height}`, each `{times, plus}`. */
export async function sizeAll(sizes) {
  const all = chosen().filter((f) => !f.master && !inText(f));
  try {
    await send([{ do: "size-objects", objects: named(all), ...sizes }]);
  } finally {
    draw();
    emit("frame");
  }
}

export async function remove() {
  const frame = current();
  if (!frame) return;
  const choose = thenSelect(frame);
  if (chosen().length > 1) {
    try {
      await send(
        chosen()
          .filter((f) => !f.master && !ofWords(f))
          .map((f) => ({ do: "remove-frame", page: holderOf(f), frame: f.id })),
      );
      choose(null);
    } catch {
      draw();
    }
    return;
  }
  if (ofWords(frame)) {
    toast(STAYS[frame.role]);
    return;
  }
  if (frame.master) {
    toast(
      "This frame belongs to the master page. Edit the master page, or override the frame to change it on this page only.",
    );
    return;
  }
  try {
    await send([{ do: "remove-frame", page: holderOf(frame), frame: frame.id }]);
    choose(null);
  } catch {
    draw();
  }
}

/** Draw the next frame of a flow: the frame tool, with the text coming from `frame`. */
export function leadOn(frame) {
  setTool("frame"); // which forgets any flow begun before
  lead.from = frame.id;
  toast("Draw the frame in which the story continues.");
}

/** Make a master's frame this page's own, as it stands. */
export async function takeOver() {
  const frame = current();
  if (!frame) return;
  sheet.focus({ preventScroll: true }); // the button goes; keys go on with the frame
  try {
    const answer = await send([{ do: "take-over", page: state.pages[frame.page].id, frame: frame.id }]);
    select(
      frames()
        .filter((f) => f.page === frame.page && answer.made.includes(f.id) && !f.master)
        .pop() || null,
    );
  } catch {
    draw();
  }
}

/** One of the objects chosen, grouped or locked for good: none of them may be a master's. */
function own() {
  const all = chosen();
  if (all.some((f) => f.master)) {
    toast("Part of the selection belongs to the master page. Override it first.");
    return [];
  }
  if (all.some((f) => inText(f))) {
    toast("Part of the selection is anchored in a story and moves with its text.");
    return [];
  }
  return all;
}

/** Make a group of what is chosen, on one page. */
export async function group() {
  const all = own();
  if (all.length < 2) return;
  if (new Set(all.map(({ page }) => page)).size > 1) {
    toast("Objects of a group must be on one page. Select objects of one page.");
    return;
  }
  try {
    await send([{ do: "group-objects", page: state.pages[all[0].page].id, objects: all.map(({ id }) => id) }]);
  } finally {
    draw();
    emit("frame");
  }
}

/** Of what is chosen only what lies within the topmost is seen from now on. */
export async function cutOff() {
  const all = own();
  if (all.length < 2) return;
  if (new Set(all.map(({ page }) => page)).size > 1) {
    toast("Select objects of one page.");
    return;
  }
  try {
    await send([{ do: "cut-off", page: state.pages[all[0].page].id, objects: all.map(({ id }) => id) }]);
  } finally {
    draw();
    emit("frame");
  }
}

/** What is in the chosen group stands by itself again. */
export async function ungroup() {
  const [first] = own();
  if (!first?.inGroup) return;
  try {
    await send([{ do: "ungroup", page: state.pages[first.page].id, group: first.inGroup }]);
  } finally {
    draw();
    emit("frame");
  }
}

/** Lock what is chosen, or unlock it where all of it is locked. */
export async function lock() {
  const all = own();
  const locked = !all.every((f) => f.locked);
  const intents = all.map((f) => ({ do: "change-frame", page: state.pages[f.page].id, frame: f.id, locked }));
  if (intents.length)
    try {
      await send(intents);
    } finally {
      draw();
      emit("frame");
    }
}

export async function unlink() {
  const frame = current();
  try {
    await send([{ do: "unlink-frame", page: state.pages[frame.page].id, frame: frame.id }]);
    select(current());
  } catch {
    draw();
  }
}

let nudged = -1e9;
/** Whether a key has just moved something, and may do so again. */
export const nudging = () => performance.now() - nudged < 300;

export function nudge(dx, dy) {
  nudged = performance.now();
  const f = current();
  if (!f) return;
  if (chosen().some((one) => one.locked)) {
    toast("This object is locked. Press K to unlock it.");
    return;
  }
  if (f.role === "inlay") {
    toast("This frame is anchored in a line of text. To move it, cut it and paste it elsewhere in the text.");
    return;
  }
  if (chosen().length > 1) moveAll(dx, dy);
  else change(f, { rect: rectOf({ x: f.x + dx, y: f.y + dy, w: f.w, h: f.h }) });
}
