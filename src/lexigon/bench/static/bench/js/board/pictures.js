// The drawer of pictures: the job's contact sheet, searched, sorted and sifted; each picture's facts, what matters in it, its colours.
import { drawerPanel as panel } from "./rooms.js";
import { register } from "../commands.js";
import { ask, input, labelled, question, select } from "../notice.js";
import { element } from "../dom.js";
import { drawer } from "./drawers.js";
import { chosen, current } from "./frames.js";
import {
  CARRIED,
  addressOf,
  bringIn,
  chooseFiles,
  handIn,
  known as ofName,
  placeSomewhere,
  settle,
  takes,
} from "./placing.js";
import { load } from "./tools/place.js";
import { inquire, on, send, show, state, toast } from "./store.js";
import { messageOf } from "../errors.js";

const COARSE = 200; // pixels an inch below which print looks soft
const MANY = 4; // pictures from which on they are searched and sorted
const spaceWord = { grey: "grey", rgb: "RGB", cmyk: "CMYK" };
const plural = (count, word) => `${count} ${word}${count === 1 ? "" : "s"}`;
const told = ({ short, uses, missing, coarsest, vector }) =>
  [
    short,
    missing
      ? "file missing"
      : uses
        ? `${plural(uses, "use")}${!vector && coarsest < COARSE ? `, ${coarsest} ppi` : ""}`
        : "not used",
  ].join(", ");

async function tried(action) {
  try {
    await action();
  } catch (error) {
    toast(messageOf(error), true);
  }
}

/** Sorts and sieves of the contact sheet: word, and the reckoning.
    @type {Record<string, [string, (a: any, b: any) => number]>} */
const SORTS = {
  brought: ["as added", () => 0],
  name: ["by name", (a, b) => a.name.localeCompare(b.name, undefined, { numeric: true })],
  size: ["largest", (a, b) => b.width * b.height - a.width * a.height],
  use: ["most used", (a, b) => b.uses - a.uses],
  taken: ["date taken", (a, b) => (a.taken || "9").localeCompare(b.taken || "9")],
};
/** @type {Record<string, [string, (one: any) => boolean]>} */
const SIEVES = {
  all: ["all", () => true],
  unused: ["not used", ({ uses }) => !uses],
  coarse: ["low resolution", ({ uses, coarsest, vector }) => !vector && uses > 0 && coarsest < COARSE],
  drawn: ["drawings", ({ vector }) => vector],
  rgb: ["RGB", ({ space }) => space === "rgb"],
  missing: ["missing", ({ missing }) => missing],
  silent: ["no description", ({ alt }) => !alt],
};
const KEPT = "lexigon-contact-sheet";
const how = { sort: "brought", sieve: "all", words: "", ...JSON.parse(sessionStorage.getItem(KEPT) || "{}") };
function set(values) {
  Object.assign(how, values);
  sessionStorage.setItem(KEPT, JSON.stringify(how));
}

function fact(word, value) {
  return value ? [element("dt", { text: word }), element("dd", { text: value })] : [];
}

/** A picture's facts, its name and words, and what matters in it. */
async function details(one) {
  const name = input(one.name);
  const alt = input(one.alt || "", "describes the picture for readers who cannot see it");
  const credit = input(one.credit || "", "photographer, artist or source");
  let focus = one.focus || null;
  const ring = element("i", { class: "focus-mark" });
  const put = () => {
    const [u, v] = focus || [0.5, 0.5];
    ring.style.setProperty("left", `${u * 100}%`);
    ring.style.setProperty("top", `${v * 100}%`);
  };
  const seen = element(
    "div",
    { class: "focus-picture", title: "Focus: click the subject, which stays in view where a frame crops the picture" },
    element("img", { src: addressOf(one.file, 320, one.look), alt: one.alt || "", draggable: "false" }),
    ring,
  );
  seen.addEventListener("click", (event) => {
    const box = seen.querySelector("img").getBoundingClientRect();
    focus = [(event.clientX - box.left) / box.width, (event.clientY - box.top) / box.height].map(
      (part) => Math.round(Math.min(Math.max(part, 0), 1) * 1000) / 1000,
    );
    put();
  });
  put();
  const facts = element(
    "dl",
    { class: "facts" },
    ...fact("Size", one.told),
    ...fact(
      "Colour",
      [spaceWord[one.space], one.alpha && "partly transparent", one.profile].filter(Boolean).join(", "),
    ),
    ...fact("File", [one.format, !one.vector && `states ${Math.round(one.ppi)} ppi`].filter(Boolean).join(", ")),
    ...fact("Taken", one.taken),
    ...fact(
      "Shown",
      !one.uses
        ? "nowhere"
        : one.vector
          ? plural(one.uses, "time")
          : `${plural(one.uses, "time")}, at ${one.coarsest} ppi or more`,
    ),
  );
  const pages = element(
    "p",
    { class: "sub" },
    ...(one.on.length
      ? [
          "On page ",
          ...one.on.flatMap((page, n) => [
            n ? ", " : "",
            element("button", {
              type: "button",
              class: "link",
              text: state.labels[page],
              click: () => {
                question.close();
                tried(() => show(page));
              },
            }),
          ]),
        ]
      : []),
  );
  const pageField = select(
    Array.from({ length: one.pages || 1 }, (_, n) => [String(n + 1), `${n + 1} of ${one.pages}`]),
    String(one.page || 1),
  );
  const turned = async () => {
    // another page is another picture, of the same file
    if (Number(pageField.value) === (one.page || 1)) return {};
    const { file } = await inquire(`picture/${one.file}/page`, {
      page: pageField.value,
      key: one.id,
      name: name.value || one.name,
    });
    focus = null;
    return { file };
  };
  const gone = one.missing
    ? element("p", { class: "sub", text: "The file is missing: a crossed box is printed." })
    : seen;
  await ask(
    "Picture",
    one.missing
      ? ""
      : "The ring marks the subject, which stays in view where a frame crops the picture: click elsewhere to move it.",
    "Save",
    [
      gone,
      facts,
      pages,
      ...((one.pages || 1) > 1 ? [labelled("Page", pageField)] : []),
      labelled("Name", name),
      labelled("Description", alt),
      labelled("Credit", credit),
    ],
    async () =>
      send([
        {
          do: "change-picture",
          picture: one.id,
          ...(await turned()),
          name: name.value,
          alt: alt.value,
          credit: credit.value,
          ...(focus ? { focus } : {}),
        },
      ]),
  );
}

async function replace(one) {
  const files = await chooseFiles(false);
  if (!files.length) return;
  await tried(async () => {
    const {
      pictures: [made],
    } = await handIn(files);
    await send([{ do: "change-picture", picture: one.id, file: { ...made.file, name: one.name } }]);
  });
}

/** A palette that stands for a picture, to be taken as swatches or as an ink set. */
async function colours(one) {
  const count = select(
    [3, 4, 5, 6, 7, 8].map((n) => [String(n), `${n} colours`]),
    "5",
  );
  const as = select(
    [
      ["cmyk", "process inks"],
      ["rgb", "RGB, as in the picture"],
    ],
    "cmyk",
  );
  const group = input(one.name.slice(0, 60));
  const roles = element("input", { type: "checkbox" });
  const list = element("ul", { class: "gathered" });
  let found = [];
  const chosen = new Set();
  const lay = () => {
    list.replaceChildren(
      ...found.map((colour, n) => {
        const box = element("input", {
          type: "checkbox",
          checked: chosen.has(n),
          change: () => {
            if (chosen.has(n)) chosen.delete(n);
            else chosen.add(n);
          },
        });
        const chip = element("i", { class: "ink-chip" });
        chip.style.setProperty("background", as.value === "rgb" ? colour.css : colour.printed);
        const best = colour.others
          .map((value, m) => [value, m])
          .filter(([, m]) => m !== n)
          .sort(([a], [b]) => b - a)[0];
        const words = [
          `${(colour.share * 100).toFixed(0)} %`,
          colour.inks,
          `${colour.paper} : 1 on paper${colour.paper >= 4.5 ? "" : colour.paper >= 3 ? ", large type" : ", no type"}`,
          best && best[0] >= 4.5 && `legible on no. ${best[1] + 1}`,
          colour.apart > 3 && `prints duller (ΔE ${colour.apart})`,
        ];
        return element(
          "li",
          {},
          element(
            "label",
            { class: "check" },
            box,
            chip,
            element(
              "span",
              {},
              element("b", { text: `No. ${n + 1}` }),
              element("span", { class: "sub", text: ` ${words.filter(Boolean).join(" · ")}` }),
            ),
          ),
        );
      }),
    );
  };
  const load = async () => {
    list.textContent = "Computing…";
    try {
      ({ colours: found } = await inquire(`picture/${one.file}/palette`, { count: count.value, look: one.look || "" }));
      chosen.clear();
      found.forEach((_, n) => chosen.add(n));
      lay();
    } catch (error) {
      list.textContent = messageOf(error);
    }
  };
  count.addEventListener("change", load);
  as.addEventListener("change", lay);
  load();
  await ask(
    `Colours of “${one.name}”`,
    "The main colours of the picture, with the area that each covers and its contrast.",
    "Add swatches",
    [
      labelled("Number of colours", count),
      labelled("Colour type", as),
      list,
      labelled("Group", group),
      element("label", { class: "check" }, roles, " Assign roles and save as ink set"),
    ],
    async () => {
      if (!chosen.size) throw new Error("Select at least one colour.");
      await keepColours(
        [...chosen].sort().map((n) => found[n]),
        as.value,
        group.value.trim() || one.name,
        roles.checked,
      );
    },
  );
}

async function keepColours(all, space, group, withRoles) {
  const ids = all.map((_, n) => `c${n}`);
  const swatches = all.map((colour, n) => ({
    id: ids[n],
    name: `${group} ${n + 1}`.slice(0, 80),
    space,
    values: space === "rgb" ? colour.values : colour.cmyk,
    group,
  }));
  const before = new Set(state.swatches.map(({ id }) => id));
  await send([{ do: "add-swatches", swatches, group }]);
  if (!withRoles) return;
  const made = state.swatches.filter(({ id }) => !before.has(id));
  await send(
    made.map(({ id, name }, n) => ({
      do: "put-swatch",
      name: `Role ${n + 1}: ${name}`.slice(0, 80),
      space: "role",
      base: { swatch: id, tint: 1 },
      group: "Roles",
    })),
  );
  await send([{ do: "put-ink-set", name: group }]);
}

const asPlaced = (one) => [{ file: one, width: (one.width / one.ppi) * 72, height: (one.height / one.ppi) * 72 }];

/** Load a picture to the pointer; by the keyboard it goes into the selected frame, else onto the page in view, at once. */
async function put(one, event) {
  if (event.detail) load(asPlaced(one));
  else await placeSomewhere(asPlaced(one));
}

// While one frame is selected that can show a picture, each picture can be placed in it.
on("frame", () => panel.classList.toggle("frame-takes", chosen().length === 1 && takes(current())));

function card(one) {
  const picture = element(
    "button",
    {
      type: "button",
      class: `contact${one.missing ? " missing" : ""}`,
      "data-key": `place-${one.id}`,
      draggable: "true",
      title: "Load picture to the pointer: then click a frame or the page, or draw a box. Or drag it onto the board",
      "aria-label": `Place “${one.name}”`,
      click: (event) => tried(() => put(one, event)),
      dragstart: (event) => {
        event.dataTransfer.setData(CARRIED, one.id);
        event.dataTransfer.effectAllowed = "copy";
      },
    },
    one.missing
      ? element("span", { text: "file missing" })
      : element("img", {
          src: addressOf(one.file, 320, one.look),
          alt: one.alt || "",
          loading: "lazy",
          decoding: "async",
          draggable: "false",
        }),
  );
  const link = (word, key, click, title = "") =>
    element("button", {
      type: "button",
      class: "link",
      "data-key": `${key}-${one.id}`,
      text: word,
      title,
      "aria-label": `${word} “${one.name}”`,
      click,
    });
  return element(
    "li",
    { "data-picture": one.id },
    picture,
    element("span", { class: "truncate", text: one.name, title: one.name }),
    element("span", { class: "aside", text: told(one) }),
    element(
      "span",
      { class: "acts" },
      link(
        "Place in frame",
        "frame",
        () => tried(() => placeSomewhere(asPlaced(one))),
        "Place in frame: shows this picture in the selected frame",
      ),
      link("Details", "name", () => details(one).catch(() => {}), "Details: file, name, description, credit and focus"),
      one.missing
        ? ""
        : link("Colours", "colours", () => colours(one).catch(() => {}), "Colours: a palette from the picture"),
      link("Replace", "replace", () => replace(one), "Replace: uses another file wherever the picture is used"),
      one.uses
        ? ""
        : link("Remove", "remove", () => tried(() => send([{ do: "remove-pictures", pictures: [one.id] }]))),
    ),
  );
}

/** Bring pictures into the contact sheet without placing them; a file of a known name may take that picture's place. */
export async function gather(files) {
  if (!files.length) return;
  await tried(async () => {
    const { pictures, refused } = await handIn(files);
    const { fresh, edits, here } = await settle(pictures);
    const intents = [...edits, ...fresh.map(({ file }) => ({ do: "add-picture", picture: file }))];
    if (intents.length) await send(intents);
    const told = [
      fresh.length && `${plural(fresh.length, "picture")} imported.`,
      edits.length && `${plural(edits.length, "picture")} updated.`,
      here && `${plural(here, "picture")} already in the job.`,
      ...refused,
    ];
    toast(told.filter(Boolean).join(" "), refused.length > 0);
  });
}

async function gatherFolder() {
  const field = Object.assign(document.createElement("input"), { type: "file", multiple: true, webkitdirectory: true });
  const files = await new Promise((resolve) => {
    field.addEventListener("change", () => resolve([...field.files]));
    field.addEventListener("cancel", () => resolve([]));
    field.click();
  });
  await gather(files.filter(({ name }) => /\.(png|jpe?g|tiff?|webp|avif|pdf)$/i.test(name)));
}

/** Files for pictures whose own are missing: by what they are, else by their names. */
async function find() {
  const files = await chooseFiles();
  if (!files.length) return;
  await tried(async () => {
    const { pictures: made } = await handIn(files);
    const edits = state.pictures
      .filter(({ missing }) => missing)
      .flatMap((one) => {
        const same = made.find(({ file }) => file.file === one.file)
          ? null
          : made.find(({ file }) => file.name.toLowerCase() === one.name.toLowerCase());
        return same ? [{ do: "change-picture", picture: one.id, file: { ...same.file, name: one.name } }] : [];
      });
    if (edits.length) await send(edits);
    else if (!made.some(({ file }) => ofName(file.file)))
      throw new Error("None of these files matches a missing picture, by content or by name.");
    location.reload(); // what was painted without its file is painted anew
  });
}

function sift(body) {
  const words = how.words.trim().toLowerCase();
  const list = body.querySelector(".contact-sheet");
  const rows = state.pictures
    .filter(
      (one) =>
        SIEVES[how.sieve][1](one) && `${one.name} ${one.alt || ""} ${one.credit || ""}`.toLowerCase().includes(words),
    )
    .sort(SORTS[how.sort][1]);
  list.replaceChildren(...rows.map(card));
  body.querySelector(".sifted").textContent = rows.length ? "" : "No picture matches.";
}

function fill(body) {
  body.append(
    element(
      "div",
      { class: "head" },
      element("h2", { text: "Pictures" }),
      element("button", {
        type: "button",
        class: "link",
        "data-key": "bring",
        text: "Import…",
        title:
          "Import: adds PNG, JPEG, TIFF, WebP, AVIF, SVG, PDF pages or a zip of them to the contact sheet, not yet to a page",
        click: async () => gather(await chooseFiles()),
      }),
      element("button", {
        type: "button",
        class: "link",
        "data-key": "folder",
        text: "Import folder…",
        click: gatherFolder,
      }),
    ),
  );
  if (!state.pictures.length) {
    body.append(
      element("p", {
        class: "sub",
        text: "No pictures yet. Import PNG, JPEG, TIFF, WebP, AVIF or SVG files, pages of PDF files, a folder or a zip of them, or drop them here, onto a page or into a frame.",
      }),
    );
    return;
  }
  const missing = state.pictures.filter((one) => one.missing).length;
  if (missing)
    body.append(
      element(
        "p",
        { class: "note bad mb-2" },
        `${plural(missing, "file")} missing. `,
        element("button", { type: "button", class: "link", "data-key": "find", text: "Find files…", click: find }),
      ),
    );
  if (state.pictures.length >= MANY) {
    const choice = (word, rows, value, change) => {
      const field = select(
        Object.entries(rows).map(([id, [name]]) => [id, name]),
        value,
      );
      field.addEventListener("change", () => {
        change(field.value);
        sift(body);
      });
      field.setAttribute("aria-label", word);
      field.dataset.key = word;
      return field;
    };
    const search = element("input", {
      class: "field",
      type: "search",
      placeholder: "Search name, description, credit",
      "aria-label": "Search pictures",
      "data-key": "search",
      value: how.words,
      input: ({ target }) => {
        set({ words: target.value });
        sift(body);
      },
    });
    body.append(
      search,
      element(
        "div",
        { class: "pair my-2" },
        choice("Sort by", SORTS, how.sort, (sort) => set({ sort })),
        choice("Shown", SIEVES, how.sieve, (sieve) => set({ sieve })),
      ),
    );
  } else set({ words: "", sieve: "all" });
  body.append(element("ul", { class: "contact-sheet" }), element("p", { class: "sub sifted" }));
  sift(body);
  const unused = state.pictures.filter(({ uses }) => !uses);
  if (unused.length > 1)
    body.append(
      element("button", {
        type: "button",
        class: "button",
        "data-key": "unused",
        text: `Remove the ${unused.length} not used`,
        click: () => tried(() => send([{ do: "remove-pictures", pictures: unused.map(({ id }) => id) }])),
      }),
    );
}

drawer({
  id: "pictures",
  word: "Pictures",
  key: "c",
  help: "Pictures: the contact sheet of the job",
  fill,
  after: ["lists"],
});
panel.addEventListener("dragover", (event) => {
  if (panel.dataset.open === "pictures" && event.dataTransfer.types.includes("Files")) {
    event.preventDefault();
    event.dataTransfer.dropEffect = "copy";
  }
});
panel.addEventListener("drop", (event) => {
  if (panel.dataset.open === "pictures" && event.dataTransfer.files.length) {
    event.preventDefault();
    gather([...event.dataTransfer.files]);
  }
});
register(
  { word: "Place picture…", keys: [], run: bringIn },
  { word: "Import pictures…", keys: [], run: async () => gather(await chooseFiles()) },
);
