// Objects on the clipboard: copied, cut, pasted; and what other programs put there, as frames.
import { register } from "../commands.js";
import { own } from "./arranging.js";
import { copyCells, pasteCells } from "./cellchoice.js";
import { goesOut, onItsWay } from "./clipboard.js";
import { current, named, selectThese } from "./frames.js";
import { remove } from "./frameactions.js";
import { place, picturesOf } from "./placing.js";
import { around, lastPoint, pageAt } from "./sheet.js";
import { frames as standing } from "./standing.js";
import { activeLayer, emit, on, perform, propose, send, state, toast } from "./store.js";
import { messageOf } from "../errors.js";

const MARK = "data-lexigon-objects";
const KEPT = "lexigon-objects";

/** What was copied last, kept for every window of Lexigon: the browser may not let it onto the clipboard, and hands out plain words only
    where Shift is held to paste. */
function keep(html, text, out) {
  try {
    localStorage.setItem(KEPT, JSON.stringify({ html, text, out }));
  } catch {
    localStorage.removeItem(KEPT);
  }
}

/** The objects meant by what the clipboard holds: its own, or those kept, if its words are theirs. */
function carried(html, text) {
  const kept = JSON.parse(localStorage.getItem(KEPT) || "null");
  const own = html.includes(MARK)
    ? html
    : kept && (!kept.out || (!html && kept.text.trim() === text.replace(/\r\n?/g, "\n").trim()))
      ? kept.html
      : "";
  const marked = own ? new DOMParser().parseFromString(own, "text/html").querySelector(`[${MARK}]`) : null;
  return marked ? JSON.parse(marked.getAttribute(MARK)) : null;
}

const SHARP = 300 / 72; // pixels of a point in the picture that other programs get
const MOST_PIXELS = 4000;

/** A drawing as a PNG, for programs that take no other; an empty one where it cannot be made, so that the rest is still copied. */
async function pictured(svg) {
  const canvas = document.createElement("canvas");
  try {
    const image = new Image();
    image.src = `data:image/svg+xml;charset=utf-8,${encodeURIComponent(svg)}`;
    await image.decode();
    const [width, height] = [image.naturalWidth, image.naturalHeight];
    const scale = Math.min((SHARP * 72) / 96, MOST_PIXELS / Math.max(width, height, 1));
    Object.assign(canvas, {
      width: Math.max(Math.round(width * scale), 1),
      height: Math.max(Math.round(height * scale), 1),
    });
    canvas.getContext("2d").drawImage(image, 0, 0, canvas.width, canvas.height);
  } catch {
    Object.assign(canvas, { width: 1, height: 1 });
  }
  return new Promise((resolve) => {
    canvas.toBlob(resolve, "image/png");
  });
}

const elsewhere = (event) => Boolean(event.target.closest?.("input, select, textarea, dialog, [contenteditable]"));

const copy = (cut) => {
  const all = own();
  if (all.length) goesOut(taken(all, cut));
};

/** Objects put on the clipboard; resolves with what went there, null where it could not be had. */
async function taken(all, cut) {
  const words = all.length === 1 ? current().name.toLowerCase() : `${all.length} objects`;
  const asked = propose("objects/copy", { objects: named(all) });
  const part = (name, type) => asked.then((answer) => new Blob([answer[name]], { type }));
  // The clipboard is asked for at once, while the press still counts as the person's own; what it takes may come later.
  const parts = {
    "text/html": part("html", "text/html"),
    "text/plain": part("text", "text/plain"),
    "image/png": asked.then(({ svg }) => pictured(svg)),
  };
  if (ClipboardItem.supports?.("image/svg+xml")) parts["image/svg+xml"] = part("svg", "image/svg+xml");
  const written = navigator.clipboard.write([new ClipboardItem(parts)]).then(
    () => true,
    () => false,
  );
  try {
    const { html, text } = await asked;
    const out = await written;
    keep(html, text, out);
    if (cut) await remove();
    toast(
      out
        ? `Copied: ${words}.`
        : `Copied within Lexigon: ${words}. Other programs cannot paste it, because the browser does not allow it.`,
    );
    return { text, html };
  } catch (error) {
    toast(messageOf(error) || "The selection could not be copied. Try again.", true);
  }
  return null;
}

/** The page and the point meant: where the pointer last was, if that was over a page; else the middle of the page in view. */
function where() {
  const at = lastPoint();
  const page = at ? pageAt(at) : null;
  if (page && state.pages[page.index]) {
    const { w, h } = state.pages[page.index].lines;
    if (page.x >= 0 && page.x <= w && page.y >= 0 && page.y <= h) return { index: page.index, at: [page.x, page.y] };
  }
  return { index: state.view[0], at: null };
}

async function pasteObjects(clip, inPlace) {
  const { index, at } = where();
  const page = state.pages[index].id;
  const answer = await send([
    {
      do: "paste-objects",
      page,
      clip,
      at: inPlace || clip.page === page ? null : at,
      in_place: inPlace,
      layer: activeLayer().id,
    },
  ]);
  const made = standing().filter((f) => answer.made.includes(f.id));
  selectThese(made);
  if (clip.page === page || (at && !inPlace) || !made.length) return;
  const was = boxOf(clip.objects),
    { w, h } = state.pages[index].lines;
  const [x, y] = was ? [was.x + was.w / 2, was.y + was.h / 2] : [0, 0];
  if (x < 0 || x > w || y < 0 || y > h)
    toast("Pasted in the centre of the page, because its original position is outside this page.");
}

/** The box round objects as they are on the clipboard, before they are turned. */
function boxOf(objects) {
  const boxes = objects
    .flatMap((one) => (one.group ? [boxOf(one.group.objects)] : one.place ? [one.place.rect] : []))
    .filter(Boolean);
  return boxes.length ? around(boxes.map(({ x, y, width: w, height: h }) => ({ x, y, w, h }))) : null;
}

/** Words from elsewhere become a text frame of their own, with their looks, notes and tables; Shift held, plain. */
async function pasteWords(html, text) {
  const { index } = where();
  const { area } = state.pages[index].lines;
  const { told, ...words } = html ? await propose("paste", { html }) : { told: [], paragraphs: [] };
  const rich = words.paragraphs.length > 0;
  const group = crypto.randomUUID();
  const answer = await send(
    [
      {
        do: "add-text-frame",
        page: state.pages[index].id,
        rect: { x: area.x, y: area.y, width: area.w / 2, height: Math.min(area.h / 3, 160) },
        text: rich ? "" : text.replace(/\r\n?/g, "\n"),
        layer: activeLayer().id,
      },
    ],
    { group },
  );
  const made = standing().filter((f) => answer.made.includes(f.id));
  selectThese(made);
  if (rich && made[0]?.story)
    await send(
      [
        {
          do: "insert-rich",
          story: made[0].story,
          start: { paragraph: "^", offset: 0 },
          end: { paragraph: "$", offset: 0 },
          ...words,
        },
      ],
      { group },
    );
  if (told.length) toast(`${told.join("; ")}.`);
}

const isSvg = (text) => /^\s*(<\?xml[^>]*\?>\s*)?(<!--[\s\S]*?-->\s*)*(<!DOCTYPE[^>]*>\s*)?<svg[\s>]/i.test(text);

/** A drawing becomes shapes in the job's inks, in a group. */
export async function pasteDrawing(svg, page, at) {
  const answer = await perform("objects/drawing", { svg, page: state.pages[page].id, at, layer: activeLayer().id });
  selectThese(standing().filter((f) => answer.made.includes(f.id) || f.groups.some((id) => answer.made.includes(id))));
  toast(answer.left || "The drawing was converted to shapes in the job’s inks.");
}

on("drawing", ({ svg, page, at }) => {
  pasteDrawing(svg, page, at).catch((error) => toast(error.message, true));
});

/** Choose an SVG file and put it in the middle of the page in view. */
async function bringDrawing() {
  const field = Object.assign(document.createElement("input"), { type: "file", accept: ".svg,image/svg+xml" });
  field.addEventListener("change", async () => {
    if (field.files[0]) emit("drawing", { svg: await field.files[0].text(), page: state.view[0], at: null });
  });
  field.click();
}

let inPlace = false;
addEventListener(
  "keydown",
  (event) => {
    if ((event.ctrlKey || event.metaKey) && event.key.toLowerCase() === "v") inPlace = event.shiftKey;
  },
  true,
);

document.addEventListener("copy", (event) => {
  if (!elsewhere(event) && current()) {
    event.preventDefault();
    if (!copyCells(false)) copy(false);
  }
});
document.addEventListener("cut", (event) => {
  if (!elsewhere(event) && current()) {
    event.preventDefault();
    if (!copyCells(true)) copy(true);
  }
});
document.addEventListener("paste", async (event) => {
  if (elsewhere(event)) return;
  event.preventDefault();
  const data = event.clipboardData;
  const there = { html: data.getData("text/html"), text: data.getData("text/plain") };
  const lying = {
    files: [...data.files].filter(({ type }) => type.startsWith("image/")),
    drawing: data.getData("image/svg+xml"),
  };
  const stays = inPlace;
  const fresh = await onItsWay();
  const { html, text } = fresh ?? there;
  const { files, drawing: drawn } = fresh ? { files: [], drawing: "" } : lying;
  const svgFile = files.find(({ type }) => type === "image/svg+xml");
  const drawing = drawn || (svgFile ? await svgFile.text() : "");
  try {
    if (state.cells && text.trim() && !html.includes(MARK)) {
      await pasteCells(text);
      return;
    }
    if (state.cells && files.length) {
      await place(await picturesOf(files), current(), current().page, current());
      return;
    }
    const clip = html.includes(MARK) || !files.length ? carried(html, text) : null;
    if (clip) await pasteObjects(clip, stays);
    else if (isSvg(drawing || text)) {
      const { index, at } = where();
      await pasteDrawing(drawing || text, index, at);
    } else if (files.length) {
      const { index, at } = where();
      const { area } = state.pages[index].lines;
      await place(await picturesOf(files), null, index, at ? { x: at[0], y: at[1] } : { x: area.x, y: area.y });
    } else if (text.trim() || html) await pasteWords(stays ? "" : html, text);
  } catch (error) {
    toast(messageOf(error) || "The clipboard has nothing that can be pasted here.", true);
  }
});

register(
  {
    word: "Import SVG as shapes…",
    keys: [],
    help: "an SVG pasted or dropped becomes shapes in the job’s inks",
    run: bringDrawing,
  },
  {
    shown: ["Ctrl C", "Ctrl X", "Ctrl V"],
    help: "copy, cut, paste; with Shift paste in place, on this page or another",
  },
  {
    word: "Copy",
    keys: [],
    shown: ["Ctrl C"],
    when: () => Boolean(current()),
    run: () => {
      if (!copyCells(false)) copy(false);
    },
    menu: 1,
  },
  {
    word: "Cut",
    keys: [],
    shown: ["Ctrl X"],
    when: () => Boolean(current()),
    run: () => {
      if (!copyCells(true)) copy(true);
    },
    menu: 1,
  },
);
