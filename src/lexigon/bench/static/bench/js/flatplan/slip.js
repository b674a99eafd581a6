// The flatplan's slip: the chosen pages, their section, the masters, the stories, the sheets.
import { counted } from "../numerals.js";
import { room } from "../dom.js";
import { ask, input, labelled, select, toast } from "../notice.js";
import { inSentence } from "../wording.js";
import { dragMaster } from "./drag.js";
import { boardOf, bring, changed, chosen, send, state } from "./store.js";

/** @returns {any} */
const by = (id) => room(id, false); // some are there only where there are other jobs

export function fill() {
  const { plan } = state;
  const pages = chosen();
  by("count").textContent =
    `${plan.pages.length} pages${plan.words ? ` · ${counted(plan.words)} words in the main text` : ""}`;
  const binding = by("binding");
  binding.textContent = plan.binding.why ? `${plan.binding.why} ${plan.binding.ok ? "✓" : ""}` : "";
  binding.className = plan.binding.ok ? "text-[12.5px] text-act" : "text-[12.5px] font-semibold text-red";
  by("title").textContent = pages.length
    ? pages.length === 1
      ? `Page ${pages[0].label}`
      : `${pages.length} pages, ${pages[0].label} to ${pages[pages.length - 1].label}`
    : "No page selected";
  by("subtitle").textContent = pages.length ? subtitle(pages) : "Click a page; hold Shift for a range.";
  by("chosen").hidden = !pages.length;
  if (pages.length) {
    by("shown").checked = pages.every((page) => page.shown);
    fillSection(pages[0]);
  }
  const options = [["", "none"], ...plan.masters.map((master) => [master.id, master.name])];
  for (const id of ["add-master", "apply-master"]) {
    const field = by(id);
    const kept = field.value;
    field.replaceChildren(...options.map(([value, word]) => new Option(word, value)));
    field.value = options.some(([value]) => value === kept) && kept ? kept : options[1]?.[0] || "";
  }
  fillMasters(plan.masters);
  fillStories(plan.stories);
  by("sheets-aside").textContent = {
    "": "",
    pairs: "saddle-stitched booklet",
    creep: plan.sheets.known ? "saddle-stitched booklet" : "select a paper in Brief",
    8: "signatures of 8",
    16: "signatures of 16",
  }[state.sheets];
  for (const button of by("sheets").children)
    button.setAttribute("aria-pressed", String(button.dataset.sheets === state.sheets));
  for (const [id, label] of [
    ["undo", plan.undo],
    ["redo", plan.redo],
  ]) {
    by(id).disabled = !label;
    by(id).title = label ? `${id === "undo" ? "Undo" : "Redo"}: ${inSentence(label)}` : `Nothing to ${id}`;
  }
}

function subtitle(pages) {
  const words = [];
  const start = [...state.plan.pages.slice(0, pages[0].index + 1)].reverse().find((page) => page.section);
  if (start) words.push(`section “${start.section.name || start.label}”`);
  const masters = new Set(
    pages.map((page) => state.plan.masters.find((master) => master.id === page.master)?.name || "no master page"),
  );
  words.push([...masters].join(", "));
  return words.join(", ");
}

function fillSection(page) {
  const section = page.section || { name: "", start: null, style: "1", prefix: "", opens: "anywhere" };
  by("section-name").value = section.name;
  by("section-style").value = section.style;
  by("section-start").value = section.start ?? "";
  by("section-prefix").value = section.prefix;
  by("section-opens").value = section.opens;
  by("section-put").textContent = page.section ? "Apply changes" : "Start section here";
  by("section-join").hidden = !page.section;
  by("section-aside").textContent = page.section ? `begins on page ${page.label}` : "";
}

function fillMasters(masters) {
  by("masters").replaceChildren(
    ...masters.map((master, at) => {
      const row = document.createElement("li");
      row.className = "master-row";
      const tab = document.createElement("i");
      tab.style.background = master.colour;
      const name = document.createElement("span");
      name.className = "min-w-0 flex-1 truncate";
      name.textContent = `${at + 1}  ${master.name}`;
      const base = masters.find(({ id }) => id === master.based);
      if (base) name.title = `based on ${base.name}`;
      const count = document.createElement("span");
      count.className = "aside";
      count.textContent = `${master.count} page${master.count === 1 ? "" : "s"}`;
      const more = document.createElement("button");
      Object.assign(more, { type: "button", className: "link text-[12px]", textContent: "Edit" });
      more.setAttribute("aria-label", `Edit the master page ${master.name}`);
      more.addEventListener("click", () => {
        location.href = boardOf(0).replace("page=1", `master=${master.id}`);
      });
      const other = document.createElement("button");
      Object.assign(other, {
        type: "button",
        className: "link text-[12px]",
        textContent: "More…",
        title: "More: rename, base on another, duplicate or delete",
      });
      other.setAttribute("aria-label", `More to do with the master page ${master.name}`);
      other.addEventListener("click", () => changeMaster(master));
      row.append(tab, name, count, more, other);
      row.addEventListener("pointerdown", (event) => {
        if (event.button === 0 && !event.target.closest("button")) {
          event.preventDefault();
          dragMaster(event, row, master);
        }
      });
      return row;
    }),
  );
}

async function changeMaster(master) {
  const { masters } = state.plan;
  const others = masters.filter(({ id }) => id !== master.id);
  const what = select(
    [
      ["rename", "Rename"],
      ["base", "Base on another master page"],
      ["copy", "Duplicate"],
      ["delete", "Delete"],
    ],
    "rename",
  );
  const name = input(master.name);
  const base = select([["", "none"], ...others.map(({ id, name: word }) => [id, word])], master.based);
  /** @type {HTMLElement[]} */
  const rows = [
    labelled("Action", what),
    labelled("Name", name),
    labelled("Based on", base),
    labelled(
      "Pages switch to",
      select([["", "no master page"], ...others.map(({ id, name: word }) => [id, word])], others[0]?.id || ""),
    ),
  ];
  const replacement = rows[3].querySelector("select");
  const gone = document.createElement("p");
  gone.className = "sub";
  gone.textContent = master.shows.length
    ? `No longer shown on ${master.on || "any page"}: ${master.shows.join(", ")}.`
    : "The master page is empty.";
  rows.push(gone);
  const show = () => {
    gone.hidden = what.value !== "delete";
    rows[1].hidden = what.value !== "rename";
    rows[2].hidden = what.value !== "base";
    rows[3].hidden = what.value !== "delete";
  };
  what.addEventListener("change", show);
  show();
  const words = `Used by ${master.count} page${master.count === 1 ? "" : "s"}.`;
  if (!(await ask(`Master page “${master.name}”`, words, "Apply", rows))) return;
  if (what.value === "rename") send({ do: "change-master", master: master.id, name: name.value });
  if (what.value === "base")
    send({ do: "change-master", master: master.id, rebase: true, based_on: base.value || null });
  if (what.value === "copy") send({ do: "duplicate-master", master: master.id });
  if (what.value === "delete")
    send({ do: "remove-master", master: master.id, replacement: replacement.value || null, sure: true });
}

async function newMaster() {
  const name = input("", "Page");
  const use = select([
    ["", "does not change; the master page is a copy"],
    ["1", "uses the master page, which takes its frames"],
  ]);
  const from = select([
    ["", "empty page with a main text frame"],
    ...state.plan.masters.map(({ id, name: word }) => [`base:${id}`, `based on ${word}`]),
    ...(chosen().length === 1
      ? [
          ["page", `page ${chosen()[0].label}, without its master page’s frames`],
          ["page+", `page ${chosen()[0].label}, with its master page’s`],
        ]
      : []),
  ]);
  const using = labelled("Original page", use);
  using.hidden = true;
  from.addEventListener("change", () => {
    using.hidden = !from.value.startsWith("page");
  });
  if (
    !(await ask("New master page", "Its objects are shown on every page that uses it.", "Add master page", [
      labelled("Name", name),
      labelled("From", from),
      using,
    ]))
  )
    return;
  const wanted = name.value.trim() || "Master page";
  if (from.value.startsWith("page"))
    send({
      do: "master-from-page",
      page: chosen()[0].id,
      name: wanted,
      inherited: from.value === "page+",
      use: Boolean(use.value),
    });
  else send({ do: "add-master", name: wanted, based_on: from.value.slice(5) || null });
}

function fillStories(stories) {
  const over = stories.filter((story) => story.overset).length;
  by("stories-aside").textContent = over ? `${over} do${over === 1 ? "es" : ""} not fit` : "";
  by("stories").replaceChildren(
    ...stories.map((story) => {
      const row = document.createElement("li");
      const button = document.createElement("button");
      button.type = "button";
      button.className = "master-row w-full text-left";
      button.setAttribute("aria-pressed", String(state.story === story.id));
      const tab = document.createElement("i");
      tab.className = story.overset ? "bg-red" : "bg-act";
      const name = document.createElement("span");
      name.className = "min-w-0 flex-1 truncate";
      name.textContent = story.name;
      const where = document.createElement("span");
      where.className = story.overset ? "aside font-semibold text-red" : "aside";
      const { pages } = state.plan;
      const [first, last] = [pages[story.pages[0]].label, pages[story.pages[story.pages.length - 1]].label];
      where.textContent = story.overset ? `+ ${story.overset}` : first === last ? first : `${first}–${last}`;
      button.append(tab, name, where);
      button.addEventListener("click", () => {
        state.story = state.story === story.id ? "" : story.id;
        changed();
      });
      row.append(button);
      return row;
    }),
  );
}

by("shown").addEventListener("change", (event) =>
  send({ do: "number-pages", pages: [...state.chosen], shown: event.target.checked }),
);
by("open").addEventListener("click", () => {
  location.href = boardOf(chosen()[0].index);
});
by("duplicate").addEventListener("click", () => duplicate());
by("delete").addEventListener("click", () => remove());
export const duplicate = () => {
  if (state.chosen.size) send({ do: "duplicate-pages", pages: [...state.chosen] });
};
export const remove = async () => {
  const pages = chosen();
  if (pages.length && (await send({ do: "delete-pages", pages: pages.map((page) => page.id) })))
    toast(
      `${pages.length} page${pages.length === 1 ? "" : "s"} deleted. Undo brings ${pages.length === 1 ? "it" : "them"} back.`,
    );
};
by("section-put").addEventListener("click", () => {
  const start = by("section-start").value.trim();
  if (start && !/^\d+$/.test(start)) {
    toast("The first page number is a whole number. Leave the field empty to continue counting.", true);
    return;
  }
  send({
    do: "put-section",
    page: chosen()[0].id,
    section: {
      name: by("section-name").value,
      start: start ? Number(start) : null,
      style: by("section-style").value,
      prefix: by("section-prefix").value,
      opens: by("section-opens").value,
    },
  });
});
by("section-join").addEventListener("click", () => send({ do: "put-section", page: chosen()[0].id, section: null }));
by("master-add").addEventListener("click", newMaster);
by("apply-which").addEventListener("change", (event) => {
  by("apply-range").hidden = event.target.value !== "range";
});
by("apply").addEventListener("submit", (event) => {
  event.preventDefault();
  const which = by("apply-which").value;
  if (which === "these" && !state.chosen.size) {
    toast("Select pages first.", true);
    return;
  }
  if (which === "range" && !by("apply-range").value.trim()) {
    toast("Type the range, such as 3-8, 12.", true);
    return;
  }
  send({
    do: "apply-master",
    master: by("apply-master").value || null,
    pages: [...state.chosen],
    which,
    range: by("apply-range").value,
  });
});
by("add").addEventListener("submit", async (event) => {
  event.preventDefault();
  const count = Number(by("add-count").value);
  if (!Number.isInteger(count) || count < 1) {
    toast("Type the number of pages, 1 to 2,000.", true);
    return;
  }
  const pages = chosen();
  const where = by("add-where").value;
  if (where !== "end" && !pages.length) {
    toast("Select the page that the new pages go beside, or add them at the end.", true);
    return;
  }
  const at =
    where === "end" || !pages.length
      ? state.plan.pages.length
      : where === "after"
        ? pages[pages.length - 1].index + 1
        : pages[0].index;
  if (await send({ do: "add-pages", at, count, master: by("add-master").value || null })) by("adding").open = false;
});
by("bring")?.addEventListener("click", async () => {
  if (await bring(by("bring-job").value)) toast("The master pages were imported.");
});
by("sheets").addEventListener("click", (event) => {
  const { sheets } = event.target.dataset;
  if (sheets !== undefined) {
    state.sheets = sheets;
    changed();
  }
});
