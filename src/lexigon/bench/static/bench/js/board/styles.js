// Styles: chosen from a list set in the styles themselves, searched, made, changed, traced to their uses, deleted.
import { askFor } from "./asking.js";
import { stylesDialog as dialog } from "./rooms.js";
import { input, labelled, select } from "../notice.js";
import { chosen, holderOf } from "./frames.js";
import { sectionsIn } from "./fields.js";
import { setFeatures } from "../features.js";
import { inPlace, target } from "./specline.js";
import { active, caret, focusText } from "./caret.js";
import { goToPlace } from "./text.js";
import { ofWords } from "./standing.js";
import { inquire, on, perform, propose, send, show, state, toast } from "./store.js";
import { messageOf } from "../errors.js";

const list = dialog.querySelector(".style-list");
const side = dialog.querySelector(".style-top");
const deep = dialog.querySelector(".style-groups");
const search = dialog.querySelector("input[type=search]");
const WORDS = { paragraph: "paragraph style", character: "character style", frame: "frame style", rule: "rule style" };
let kind = "paragraph";
let all = null;
let picked = "";

export async function openStyles() {
  dialog.showModal();
  search.value = "";
  search.focus();
  await load();
}

async function load() {
  try {
    all = await inquire("styles", {});
    if (!shown().some(({ id }) => id === picked)) picked = shown()[0]?.id || "";
    await fill();
    if (!dialog.contains(document.activeElement)) search.focus();
  } catch (error) {
    toast(messageOf(error), true);
  }
}

const shown = () =>
  (all?.[kind] || []).filter(({ name }) => name.toLowerCase().includes(search.value.trim().toLowerCase()));

async function fill() {
  for (const tab of dialog.querySelectorAll("[data-kind]"))
    tab.setAttribute("aria-selected", String(tab.dataset.kind === kind));
  const rows = shown();
  list.replaceChildren();
  if (!rows.length)
    list.append(
      Object.assign(document.createElement("p"), {
        className: "sub p-3",
        textContent: all[kind].length
          ? "No style has these letters in its name."
          : `There is no ${WORDS[kind]} yet. Add the first one below.`,
      }),
    );
  for (const row of rows) {
    const item = document.createElement("div");
    item.className = "style-row";
    item.dataset.id = row.id;
    item.tabIndex = 0;
    item.setAttribute("role", "option");
    item.setAttribute("aria-selected", String(row.id === picked));
    item.innerHTML = '<div class="look"></div><span class="uses"></span>';
    item.querySelector(".look").textContent = row.name;
    item.querySelector(".uses").textContent = row.uses ? `${row.uses} use${row.uses === 1 ? "" : "s"}` : "not used";
    item.addEventListener("click", () => {
      picked = row.id;
      mark();
      detail();
    });
    item.addEventListener("dblclick", () => {
      picked = row.id;
      apply();
    });
    list.append(item);
  }
  detail();
  if (kind !== "frame" && rows.length) {
    const { previews } = await inquire("styles/previews", { kind, ids: rows.map(({ id }) => id).join() });
    for (const [id, svg] of Object.entries(previews)) {
      const place = list.querySelector(`[data-id="${CSS.escape(id)}"] .look`);
      if (!place) continue;
      place.innerHTML = svg;
      setFeatures(place);
    }
  }
}

function mark() {
  for (const item of list.children) item.setAttribute?.("aria-selected", String(item.dataset.id === picked));
  list.querySelector('[aria-selected="true"]')?.scrollIntoView({ block: "nearest" });
}

const HEADINGS = [1, 2, 3, 4, 5, 6];
/** The levels of paragraph styles to choose from, each heading's with a style that has it. */
function levels(but = "") {
  const like = (n) => all.paragraph.find(({ id, level }) => level === n && id !== but)?.name;
  return [
    ["0", "text"],
    ...HEADINGS.map((n) => [String(n), `heading, level ${n}${like(n) ? `, like ${like(n)}` : ""}`]),
  ];
}
/** The level of a new style: text, or below a heading that it is based on the level below the last one in use. */
const newLevel = () =>
  String(
    style()?.level
      ? Math.min(
          Math.max(style().level, ...all.paragraph.filter(({ uses }) => uses).map(({ level }) => level)) + 1,
          HEADINGS.length,
        )
      : 0,
  );

const style = () => all[kind].find(({ id }) => id === picked);

function field(word, element) {
  const row = labelled(word, element);
  side.append(row);
  return element;
}

function button(words, action, look = "button") {
  const element = Object.assign(document.createElement("button"), {
    type: "button",
    className: look,
    textContent: words,
  });
  element.addEventListener("click", action);
  return element;
}

const controls = () => /** @type {HTMLElement[]} */ ([...side.querySelectorAll("input, select, textarea, button")]);

/** Show the selected style; the focus stays on the control it is on. */
function detail() {
  const held = controls().indexOf(/** @type {HTMLElement} */ (document.activeElement));
  side.replaceChildren();
  layDetail();
  if (held >= 0) controls()[held]?.focus();
}

function layDetail() {
  const one = style();
  if (!one) {
    deep.replaceChildren();
    deep.dataset.of = "";
    return;
  }
  const name = field("Name", input(one.name));
  name.addEventListener("change", () => change({ name: name.value }));
  const others = all[kind].filter(({ id }) => id !== one.id).map((other) => [other.id, other.name]);
  const based = field("Based on", select([["", "nothing"], ...others], one.based));
  based.addEventListener("change", () => change({ based_on: based.value }));
  if (kind === "paragraph") {
    const next = field(
      "Next style",
      select([["", "same style"], ...all.paragraph.map((other) => [other.id, other.name])], one.next),
    );
    next.addEventListener("change", () => change({ next: next.value }));
    const level = field("Heading level", select(levels(one.id), String(one.level)));
    level.addEventListener("change", () => change({ level: Number(level.value) }));
  }
  const spec = Object.assign(document.createElement("textarea"), {
    className: "field",
    value: one.spec,
    rows: 4,
    spellcheck: false,
  });
  spec.style.height = "72px";
  field("Formatting", spec);
  const watch = inPlace(spec);
  const said = Object.assign(document.createElement("p"), { className: "sub" });
  side.append(said);
  let timer = 0,
    applied = one.spec;
  const of = kind;
  /** What is typed is applied by Enter, by Tab and on leaving, to the style that it was typed for. */
  const applyTyped = async () => {
    clearTimeout(timer);
    const line = spec.value;
    if (line === applied) return;
    applied = line;
    const answer = await read();
    if (!answer) {
      toast(`“${one.name}” was not changed. ${said.textContent}`, true);
      applied = one.spec;
      return;
    }
    if (!answer.said.length) return;
    try {
      await send([
        {
          do: "put-style",
          kind: of,
          id: one.id,
          type: answer.type,
          para: answer.para,
          frame: answer.frame,
          replace: true,
        },
      ]);
    } finally {
      await load();
    }
  };
  const read = async () => {
    try {
      const answer = await propose("styles/line", { kind: of, id: one.id, line: spec.value, edited: watch.edited });
      said.className = "sub";
      said.textContent = answer.said.length ? `Enter or Tab applies: ${answer.said.join(" · ")}` : "";
      return answer;
    } catch (error) {
      said.className = "problem";
      said.textContent = messageOf(error);
      return null;
    }
  };
  if (kind === "rule") {
    spec.disabled = true;
    spec.style.height = "30px";
  } else {
    spec.addEventListener("input", () => {
      clearTimeout(timer);
      timer = setTimeout(read, 150);
    });
    spec.addEventListener("keydown", (event) => {
      event.stopPropagation();
      if (event.key === "Escape") {
        event.preventDefault();
        spec.value = applied = one.spec;
        watch.edited = true;
        said.textContent = "";
        return;
      }
      if (event.key !== "Enter") return;
      event.preventDefault();
      applyTyped();
    });
    spec.addEventListener("change", applyTyped);
  }
  const row = document.createElement("div");
  row.className = "mt-3 flex flex-wrap gap-2";
  row.append(
    button("Apply style", apply, "button first"),
    button("Where used", uses),
    button("Delete…", remove, "button danger"),
  );
  if (kind === "rule") row.firstChild.remove();
  side.append(row);
  const found = document.createElement("div");
  found.className = "style-uses";
  side.append(found);
  groups();
}

const GROUPS = {
  paragraph: [
    ["para", "para"],
    ["type", "type"],
  ],
  character: [["type", "type"]],
  frame: [["frame", "frame"]],
  rule: [["rule", "stroke"]],
};

let asked = 0;

/** Every value of the style as a field; what is its own can be given back to what it is based on. */
async function groups() {
  const key = `${kind}/${picked}`;
  const number = ++asked;
  const of = { kind, id: picked };
  if (deep.dataset.of !== key) {
    deep.dataset.of = "";
    deep.replaceChildren(); // the fields of another style must not be typed into while the answer is on its way
  }
  let answer;
  try {
    answer = await inquire("styles/one", of);
  } catch (error) {
    toast(messageOf(error), true);
    return;
  }
  if (key !== `${kind}/${picked}` || number !== asked) return; // another style is looked at, or this one was changed since
  if (deep.dataset.of !== key) {
    deep.dataset.of = key;
    deep.replaceChildren(
      ...GROUPS[kind].map(([group, spec]) => {
        const container = Object.assign(document.createElement("div"), { className: "sections" });
        Object.assign(container.dataset, { sections: group, spec });
        return container;
      }),
    );
  }
  for (const container of deep.children) {
    const { spec } = container.dataset;
    const put = (values) => {
      asked += 1;
      return change(spec === "stroke" ? values : { [spec]: values }, of);
    }; // an answer on its way is stale
    const back = (names) =>
      change(
        {
          unset:
            spec === "stroke" ? ["weight", "swatch", "tint", "dash", "cap", "join", "align", "begin", "end"] : names,
        },
        of,
      );
    sectionsIn(container, put, back).update(spec === "stroke" ? answer.raw : answer.raw[spec], {
      told: answer.sections,
      own: answer.own,
      offered: answer.features || [],
    });
  }
}

async function change(values, of = { kind, id: picked }) {
  try {
    await send([{ do: "put-style", ...of, ...values }]);
    await load();
  } catch {
    await load();
  }
}

async function apply() {
  const one = style();
  if (!one) return;
  const to = target();
  if (kind === "frame") {
    const frames = chosen().filter((f) => !f.field && !ofWords(f));
    if (!frames.length) {
      toast("Select a frame first.");
      return;
    }
    await run(frames.map((f) => ({ do: "change-frame", page: holderOf(f), frame: f.id, style: one.id })));
    return;
  }
  if (!to.story && !to.texts?.length) {
    toast("Click into a story or select a frame first, then choose its style.");
    return;
  }
  const texts = to.story ? [to] : to.texts;
  await run(
    texts.map(({ story, start, end }) =>
      kind === "paragraph"
        ? { do: "set-paragraphs", story, first: start.paragraph, last: end.paragraph, style: one.id }
        : { do: "format-text", story, start, end, style: one.id },
    ),
  );
}

async function run(intents) {
  try {
    await send(intents);
    dialog.close();
  } catch {
    /* told */
  }
}

async function uses() {
  const box = side.querySelector(".style-uses");
  box.replaceChildren();
  const { rows, count } = await inquire("styles/uses", { kind, id: picked });
  if (!rows.length) {
    box.append(Object.assign(document.createElement("p"), { className: "sub", textContent: "It is not used." }));
    return;
  }
  box.append(
    Object.assign(document.createElement("p"), {
      className: "sub",
      textContent: `${count} use${count === 1 ? "" : "s"}${count > rows.length ? `, the first ${rows.length} here` : ""}:`,
    }),
  );
  for (const row of rows) {
    if (row.holder.startsWith("style:")) {
      box.append(
        button(
          `in the style “${row.words}”`,
          () => {
            kind = row.holder.slice(6);
            picked = row.key;
            search.value = "";
            fill();
            mark();
          },
          "use-row",
        ),
      );
      continue;
    }
    const item = button(
      `${row.label ? `p. ${row.label}: ` : ""}${row.words || "a frame"}`,
      async () => {
        dialog.close();
        if (row.words) await goToPlace(row.holder, row.key, row.offset, row.offset);
        else if (row.page !== null) show(row.page);
      },
      "use-row",
    );
    box.append(item);
  }
}

async function remove() {
  const one = style();
  const others = all[kind].filter(({ id }) => id !== one.id).map((other) => [other.id, other.name]);
  const choices = kind === "paragraph" ? others : [["", "no style"], ...others];
  if (!choices.length) {
    toast("This is the only paragraph style. A job needs at least one.", true);
    return;
  }
  const used = one.uses
    ? `It is used ${one.uses} time${one.uses === 1 ? "" : "s"}; these places take the other style. Undo reverses it.`
    : "It is not used. Undo reverses it.";
  const agreed = await askFor(`Delete “${one.name}”?`, used, "Delete", {
    instead: { word: "Replace with", kind: "choice", choices, value: one.based || choices[0][0] },
  });
  if (!agreed) return;
  try {
    await send([{ do: "remove-style", kind, id: one.id, ...agreed }]);
    picked = "";
    await load();
  } catch {
    /* told */
  }
}

dialog.querySelector(".make").addEventListener("click", async () => {
  const local = kind === "paragraph" && active();
  const base = style();
  const from = [
    ...(base ? [["plain", base.name]] : [["plain", "nothing"]]),
    ...(local ? [["text", "the paragraph at the caret, local formatting included"]] : []),
  ];
  const agreed = await askFor(
    `New ${WORDS[kind]}`,
    "The style follows the one it is based on, except for what you change.",
    "Add style",
    {
      name: {
        word: "Name",
        empty: { paragraph: "Caption", character: "Bird name", frame: "Sidebar", rule: "Hairline" }[kind],
      },
      from: { word: "Based on", kind: "choice", choices: from },
      ...(kind === "paragraph"
        ? {
            level: {
              word: "Heading level",
              kind: "choice",
              choices: levels(),
              value: newLevel(),
              when: ({ from: chosen_ }) => chosen_ === "plain",
            },
          }
        : {}),
    },
  );
  if (!agreed) return;
  const { name, level } = agreed;
  try {
    if (agreed.from === "text")
      await send([
        { do: "redefine-style", story: caret.story, at: { paragraph: caret.focus.p, offset: caret.focus.o }, name },
      ]);
    else
      await send([
        {
          do: "put-style",
          kind,
          name,
          based_on: base?.id || null,
          ...(level === undefined ? {} : { level: Number(level) }),
          ...(kind === "rule" ? { stroke: { weight: 0.5, swatch: "black" } } : {}),
        },
      ]);
    all = await inquire("styles", {});
    picked = all[kind].find((one) => one.name === name.trim())?.id || picked;
    await fill();
  } catch {
    /* told */
  }
});
dialog.querySelector(".bring").addEventListener("click", async () => {
  const others = state.others.map(({ key, name }) => [key, name]);
  if (!others.length) {
    toast("There is no other job to import styles from.");
    return;
  }
  const agreed = await askFor("Import styles", "Imports all styles of another job, of every kind.", "Import", {
    source: { word: "From", kind: "choice", choices: others },
    over: {
      word: "If names match",
      kind: "choice",
      choices: [
        ["", "leave the styles of this job unchanged"],
        ["1", "replace them with those of the other job"],
      ],
    },
  });
  if (!agreed) return;
  try {
    await perform("styles/bring", { source: agreed.source, over: Boolean(agreed.over) });
    await load();
    toast("The styles were imported.");
  } catch (error) {
    toast(messageOf(error), true);
  }
});
for (const tab of dialog.querySelectorAll("[data-kind]"))
  tab.addEventListener("click", () => {
    kind = tab.dataset.kind;
    picked = "";
    load();
  });
search.addEventListener("input", () => {
  if (all) {
    picked = shown()[0]?.id || picked;
    fill();
  }
});
dialog.addEventListener("keydown", (event) => {
  event.stopPropagation();
  if (event.key === "Escape" && !event.target.closest("textarea")) {
    event.preventDefault();
    dialog.close();
    return;
  }
  if (event.target.closest(".style-side")) return;
  const rows = all ? shown() : [];
  const here = rows.findIndex(({ id }) => id === picked);
  if (event.key === "ArrowDown" || event.key === "ArrowUp") {
    event.preventDefault();
    const next = rows[(here + (event.key === "ArrowDown" ? 1 : -1) + rows.length) % rows.length];
    if (next) {
      picked = next.id;
      mark();
      detail();
    }
  } else if (event.key === "Enter" && !event.target.closest("button")) {
    event.preventDefault();
    apply();
  }
});
dialog.addEventListener("close", () => {
  if (active()) focusText();
});
on("styles", openStyles);
