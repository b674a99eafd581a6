// Pictures on their way into the job: chosen or dropped, handed in, placed on a page or in a frame.
import { messageOf } from "../errors.js";
import { upload } from "../http.js";
import { ask } from "../notice.js";
import { frames as standing, ofWords } from "./standing.js";
import { inCell } from "./cellchoice.js";
import { chosen, current, holderOf, select } from "./frames.js";
import { pageAt, point, sheet } from "./sheet.js";
import { activeLayer, emit, send, state, toast } from "./store.js";

export const CARRIED = "application/x-lexigon-picture";
const GAP = 12; // points between pictures that are placed together
const KINDS = [
  "image/png",
  "image/jpeg",
  "image/tiff",
  "image/webp",
  "image/avif",
  "image/svg+xml",
  "application/pdf",
  ".svgz",
  ".zip",
];

export const addressOf = (file, most, look = "") =>
  `/job/${state.key}/picture/${file}-${most}.webp${look ? `?look=${look}` : ""}`;

/** Hand files in: the pictures that came of them, with their natural sizes, and what was refused, in words. */
export async function handIn(files) {
  const data = new FormData();
  for (const file of files) data.append("file", file);
  const { pictures, refused, found } = await upload(`/job/${state.key}/pictures/`, data);
  if (found) location.reload(); // a file that was missing is here again
  return { pictures, refused };
}

/** The same, where only the pictures are wanted: what is refused is said. */
export async function picturesOf(files) {
  const { pictures, refused } = await handIn(files);
  if (refused.length) toast(refused.join(" "), true);
  return pictures;
}

/** The picture of the job that has a file. */
export const known = (file) => state.pictures.find((one) => one.file === file);

/** What to do with files that came in: those the job has already, by content, are left alone; for those of a known name it is asked whether
    they take that picture's place. `fresh` are the others, `edits` those that update. */
export async function settle(made) {
  const others = made.filter(({ file }) => !known(file.file));
  const same = others.filter(({ file }) =>
    state.pictures.some(({ name }) => name.toLowerCase() === file.name.toLowerCase()),
  );
  const here = made.length - others.length;
  if (!same.length) return { fresh: others, edits: [], here };
  const names = same.map(({ file }) => `“${file.name}”`).join(", ");
  const update = await ask(
    "Pictures with these names exist",
    `${names}: should the new ${same.length > 1 ? "files take their places" : "file take its place"}, everywhere? If not, both stay.`,
    "Update",
    [],
  );
  if (!update) return { fresh: others, edits: [], here };
  const edits = same.map(({ file }) => {
    const one = state.pictures.find(({ name }) => name.toLowerCase() === file.name.toLowerCase());
    return { do: "change-picture", picture: one.id, file: { ...file, name: one.name } };
  });
  return { fresh: others.filter((one) => !same.includes(one)), edits, here };
}

/** Choose files in the browser's own dialog. */
export function chooseFiles(several = true) {
  const field = Object.assign(document.createElement("input"), {
    type: "file",
    accept: KINDS.join(","),
    multiple: several,
  });
  return new Promise((resolve) => {
    field.addEventListener("change", () => resolve([...field.files]));
    field.addEventListener("cancel", () => resolve([]));
    field.click();
  });
}

/** Whether a frame can take a picture: one that shows another, a shape, or a text frame of its own without words. */
export const takes = (f) =>
  Boolean(f) &&
  !f.field &&
  !f.locked &&
  !ofWords(f) &&
  f.role !== "main" &&
  f.kind !== "code" &&
  f.kind !== "rule" &&
  (f.kind !== "text" || (!f.lines.some(({ s, e }) => e > s) && !f.overset && !f.number));

/** What an intent says of a picture, which it brings into the job where it is new. */
export const intentOf = ({ file }) => ({
  picture: file.id,
  file: state.pictures.some(({ id }) => id === file.id) ? null : file,
});

/** The box of a new frame for a picture of a natural size, its left upper corner at a point of a page: no wider than the text, no larger than the page. */
export function boxAt(index, { x, y }, width, height) {
  const { w, h, area } = state.pages[index].lines;
  const part = Math.min(area.w / width, (h - Math.min(y, h - 40)) / height, w / width, 1);
  return { x, y, width: Math.max(width * part, 4), height: Math.max(height * part, 4) };
}

/** Place pictures, the first in `frame` if that takes it, the others on `page` in rows from a point on. */
export async function place(pictures, frame, page, at) {
  const intents = [];
  let { x, y } = at;
  let foot = y;
  pictures.forEach(({ file, width, height }, n) => {
    const own = intentOf({ file });
    if (n === 0 && frame?.cell) intents.push(inCell(frame, { width, height }, own));
    else if (n === 0 && takes(frame))
      intents.push({ do: "show-picture", page: holderOf(frame), frame: frame.id, ...own });
    else {
      let rect = boxAt(page, { x, y }, width, height);
      if (x > at.x && x + rect.width > state.pages[page].lines.w) {
        [x, y] = [at.x, foot + GAP];
        rect = boxAt(page, { x, y }, width, height);
      }
      intents.push({ do: "place-picture", page: state.pages[page].id, rect, layer: activeLayer().id, ...own });
      x += rect.width + GAP;
      foot = Math.max(foot, y + rect.height);
    }
  });
  const answer = await send(intents);
  const made = standing().filter((f) => answer.made.includes(f.id));
  if (made.length) select(made[0]);
  else if (frame) select(standing().find((f) => f.id === frame.id && f.page === frame.page) || null);
}

/** Place pictures where nobody points: in the chosen frame, or on the page in view within its margins. */
export async function placeSomewhere(pictures) {
  const frame = chosen().length === 1 ? current() : null;
  const page = frame ? frame.page : state.view[0];
  const { area } = state.pages[page].lines;
  await place(pictures, frame, page, { x: area.x, y: area.y });
}

/** Choose files and place them: in the chosen frame, or where somebody points. */
export async function bringIn() {
  const files = await chooseFiles();
  if (!files.length) return;
  try {
    const pictures = await picturesOf(files);
    if (pictures.length === 1 && chosen().length === 1 && takes(current())) await placeSomewhere(pictures);
    else emit("waiting", pictures);
  } catch (error) {
    toast(messageOf(error), true);
  }
}

// Dropping

// A file let go beside the board is not to replace the window.
/** @param {DragEvent} event */
const beside = (event) => {
  if (event.dataTransfer?.types.includes("Files")) event.preventDefault();
};
document.addEventListener("dragover", beside);
document.addEventListener("drop", beside);

const carries = ({ types }) => types.includes("Files") || types.includes(CARRIED);
let over = null;

function mark(frame) {
  if (over?.group !== frame?.group) {
    over?.group.classList.remove("takes");
    frame?.group.classList.add("takes");
  }
  over = frame;
}

const under = (at) =>
  standing()
    .filter(
      (f) =>
        (takes(f) || (f.cell && !f.master)) &&
        at.x >= f.x &&
        at.x <= f.x + f.w &&
        at.y >= f.y &&
        at.y <= f.y + f.h &&
        f.page === at.index,
    )
    .pop() || null;

sheet.addEventListener("dragover", (event) => {
  if (!carries(event.dataTransfer)) return;
  event.preventDefault();
  event.dataTransfer.dropEffect = "copy";
  mark(under(pageAt(point(event))));
});
sheet.addEventListener("dragleave", () => mark(null));
sheet.addEventListener("drop", async (event) => {
  if (!carries(event.dataTransfer)) return;
  event.preventDefault();
  const at = pageAt(point(event));
  const frame = under(at);
  mark(null);
  const carried = event.dataTransfer.getData(CARRIED);
  const files = [...event.dataTransfer.files];
  const svg = files.find(({ type }) => type === "image/svg+xml");
  if (svg && !frame) {
    emit("drawing", { svg: await svg.text(), page: at.index, at: [at.x, at.y] });
    return;
  }
  try {
    const known = state.pictures.find(({ id }) => id === carried);
    const pictures = known
      ? [{ file: known, width: (known.width / known.ppi) * 72, height: (known.height / known.ppi) * 72 }]
      : await picturesOf(files);
    await place(pictures, frame, at.index, at);
  } catch (error) {
    toast(messageOf(error), true);
  }
});
