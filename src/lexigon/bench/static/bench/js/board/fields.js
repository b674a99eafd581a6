// The full groups: sections that fold to a line which says what is other than plain, and open to a field a value.
import { element, tooltip } from "../dom.js";
import { parseLength } from "./numbers.js";
import { ALIGNS, SECTIONS } from "./sections.js";
import { state, toast } from "./store.js";
import { KINDS, offer, showIn, swatchChoices, typedField } from "./values.js";
import { messageOf } from "../errors.js";

const open = new Set(JSON.parse(localStorage.getItem("lexigon-open") || "[]"));
const SHORT_LABEL = 9; // letters that fit before a field of half a row
const SHORT_WORD = 6; // letters that fit a field of half a row beside its arrow
const {
  points: { show: points },
} = KINDS;
const common = (all) => (all?.every((one) => one === all[0]) ? all[0] : null);
/** A value's part by its path; `all` of some that are alike. */
const at = (value, path) =>
  path.split(".").reduce((inner, key) => (key === "all" ? common(inner) : inner?.[key]), value);

/** A copy of a value's whole with one of its parts set: a setting is sent by its first names. */
function withPart(raw, path, value) {
  const [top, ...rest] = path.split(".");
  if (!rest.length) return { [top]: value };
  const whole = JSON.parse(JSON.stringify(raw[top])); // no structuredClone: values may come wrapped by Alpine
  const last = rest.pop();
  const within = rest.reduce((inner, key) => inner[key], whole);
  if (last === "all") within.fill(value);
  else within[last] = value;
  return { [top]: whole };
}

/** What goes along when a part is set: a line that gets a weight stands where such lines stand. */
function along(raw, path, value) {
  const set = withPart(raw, path, value);
  const [top, , last] = path.split(".");
  if (["rule_above", "rule_below"].includes(top) && last) {
    const was = raw[top].stroke;
    const now = set[top];
    if (last !== "weight" && !now.stroke.weight && !now.stroke.style) now.stroke.weight = 0.5;
    if (!was.weight && !was.style) now.offset = top === "rule_above" ? 14 : 6;
  }
  if (path.startsWith("box.stroke.") && !path.endsWith("weight") && !set.box.stroke.weight && !set.box.stroke.style)
    set.box.stroke.weight = 0.5;
  if (path === "box.stroke.weight" && !set.box.sides.length) set.box.sides = ["head", "right", "foot", "left"];
  if (path === "list.kind") {
    const numbered = set.list.form.includes("#");
    if (value === "number" && !numbered) set.list.form = "#.";
    if (value === "bullet" && numbered) set.list.form = "•";
    if (value !== "none" && raw.list.kind === "none" && !raw.indent_left)
      Object.assign(set, { indent_left: 18, indent_first: -18 });
  }
  if (path === "list.form") set.list.kind = value.includes("#") ? "number" : "bullet";
  if (path === "list.series" && value) {
    if (!set.list.form.includes("#") || (raw.list.form === "#." && !raw.list.series))
      Object.assign(set.list, { form: `${value.replace(/s$/, "")} #`, gap: "space" });
    set.list.kind = "number";
  }
  return set;
}

const swatches = swatchChoices;
const CHOICES = {
  swatch: swatches,
  "swatch or none": () => [["", "none"], ...swatches()],
  character: () => [["", "none"], ...state.characterStyles.map(({ id, name }) => [id, name])],
  ink: () => [...swatches(), ...state.ruleStyles.map(({ id, name }) => [`rule:${id}`, `rule “${name}”`])],
};

/** One setting's sections in a container. `put(values)` sends what was set, `giveBack(names)` leaves values to what is below. */
export class Fields {
  constructor(container, group, put, giveBack = null) {
    this.group = group;
    this.put = put;
    this.giveBack = giveBack;
    this.rows = [];
    this.raw = {};
    this.waiting = [];
    this.own = [];
    for (const section of SECTIONS[group]) container.append(this.section(section));
  }

  section(section) {
    const summary = element("span", { class: "told" });
    const head = element(
      "button",
      { type: "button", class: "section-head" },
      element("span", { class: "title", text: section.title }),
      summary,
    );
    const body = element("div", { class: "section-body" });
    const name = `${this.group}/${section.key}`;
    const show = () => {
      const on = open.has(name);
      body.hidden = !on;
      head.setAttribute("aria-expanded", String(on));
    };
    head.addEventListener("click", () => {
      if (open.has(name)) open.delete(name);
      else open.add(name);
      localStorage.setItem("lexigon-open", JSON.stringify([...open]));
      show();
    });
    show();
    const names = new Set([
      ...section.fields.filter(({ path }) => path).map(({ path }) => path.split(".")[0]),
      ...(section.widget ? [section.widget] : []),
    ]);
    if (names.has("leading_times")) names.add("leading");
    const back = element("button", {
      type: "button",
      class: "link back",
      text: "Clear",
      title: "Clear local formatting: these values follow the style again",
    });
    back.addEventListener("click", () => this.giveBack([...names].filter((one) => this.own.includes(one))));
    this.rows.push({
      update: (raw, { told, own }) => {
        summary.textContent = told[section.key] || "";
        summary.title = summary.textContent;
        const local = Boolean(this.giveBack) && [...names].some((one) => own.includes(one));
        head.classList.toggle("own", local);
        back.hidden = !local;
      },
    });
    if (section.widget === "tabs") this.tabs(body);
    if (section.widget === "features") this.features(body);
    for (const field of section.fields) body.append(this.row(field));
    return element("div", { class: "section" }, element("div", { class: "section-row" }, head, back), body);
  }

  row(field) {
    if (field.head) return element("p", { class: "section-part", text: field.head });
    if (field.kind === "flag") return this.flag(field);
    if (field.kind === "sides") return this.sides(field);
    if (field.kind === "slide") return this.slide(field);
    const chosen = field.kind === "choice" || field.kind === "leading" || CHOICES[field.kind];
    const control = chosen ? this.choice(field) : this.typed(field);
    // Names are as long as they are; words that do not fit half a row have a whole one.
    const long = field.word.length > SHORT_LABEL;
    const wide = long || CHOICES[field.kind] || field.choices?.some(([, word]) => word.length > SHORT_WORD);
    const label = element(
      "label",
      { class: `labelled${wide ? " wide" : ""}${long ? " long" : ""}`, title: tooltip(field.word, field.hint) },
      element("span", { text: field.word }),
      control,
    );
    if (field.when)
      this.rows.push({
        update: (raw) => {
          label.hidden = !field.when(raw);
        },
      });
    return label;
  }

  /** Set values; the next field that is changed, before the answer, builds on them. */
  async send(values) {
    this.waiting.push(values);
    const before = this.raw;
    this.raw = { ...before, ...values };
    try {
      await this.put(values);
    } catch (error) {
      this.raw = before;
      toast(messageOf(error), true);
    } // what is refused goes into no later change
    this.waiting.splice(this.waiting.indexOf(values), 1);
  }

  typed(field) {
    const kind = KINDS[{ pt: "points", unit: "length" }[field.kind] ?? field.kind];
    const control = typedField(
      kind,
      (value) => this.send(along(this.raw, field.path, value)),
      (problem) => toast(problem, true),
      { "data-path": field.path },
    );
    this.rows.push({ update: (raw) => showIn(control, kind.show(at(raw, field.path))) });
    return control;
  }

  choice(field) {
    const control = element("select", { class: "field" });
    control.dataset.path = field.path;
    control.addEventListener("change", () => {
      if (field.kind === "ink") {
        this.ink(field, control.value);
        return;
      }
      if (field.kind === "leading") {
        this.send(control.value === "times" ? { leading: 0 } : { leading: this.raw.leading });
        return;
      }
      if (control.value === "" && field.choices && this.styled(field, this.raw)) return;
      const chosen = field.choices
        ? field.choices.find(([value]) => String(value) === control.value)[0]
        : control.value;
      this.send(along(this.raw, field.path, chosen));
    });
    control.addEventListener("keydown", (event) => event.stopPropagation());
    this.rows.push({
      update: (raw) => {
        if (control === document.activeElement && control.options.length) return;
        const options = [
          ...(this.styled(field, raw) ? [["", "as the style"]] : []),
          ...(field.choices || CHOICES[field.kind]()),
        ];
        offer(control, options);
        control.value = String(this.chosen(field, raw));
      },
    });
    return control;
  }

  chosen(field, raw) {
    if (field.kind === "leading") return raw.leading_times > 0 ? "times" : "points";
    const value = at(raw, field.path);
    if (field.kind !== "ink")
      return (
        value ?? (field.choices && !field.path.endsWith(".all") && !this.styled(field, raw) ? field.choices[0][0] : "")
      );
    const style = at(raw, field.path.replace(/\.swatch$/, ".style"));
    return style ? `rule:${style}` : (value ?? "black");
  }

  /** What a line leaves to its rule style. */
  styled(field, raw) {
    const line =
      field.kind === "choice" && /stroke|column_rule/.test(field.path)
        ? at(raw, field.path.replace(/\.\w+$/, ""))
        : null;
    return Boolean(line?.style) && (at(raw, field.path) ?? null) === null;
  }

  /** A line takes a swatch, or all from a rule style. */
  ink(field, value) {
    const path = field.path.replace(/\.swatch$/, "");
    const was = at(this.raw, path);
    const plain = {
      ...was,
      weight: was.weight || 0.5,
      swatch: value,
      tint: was.tint ?? 1,
      dash: was.dash || [],
      style: null,
    };
    const stroke = value.startsWith("rule:") ? { style: value.slice(5) } : plain;
    const set = withPart(this.raw, path, stroke);
    for (const [name, offset] of [
      ["rule_above", 14],
      ["rule_below", 6],
    ])
      if (path.startsWith(name) && !was.weight && !was.style) set[name].offset = offset;
    this.send(set);
  }

  flag(field) {
    const control = element("input", { type: "checkbox" });
    control.dataset.path = field.path;
    control.addEventListener("change", () => this.send(along(this.raw, field.path, control.checked)));
    this.rows.push({
      update: (raw) => {
        control.checked = Boolean(at(raw, field.path));
      },
    });
    const label = element(
      "label",
      { class: "check wide", title: tooltip(field.word, field.hint) },
      control,
      element("span", { text: field.word }),
    );
    if (field.when)
      this.rows.push({
        update: (raw) => {
          label.hidden = !field.when(raw);
        },
      });
    return label;
  }

  /** A slider with its figure, from `from` (0) to `to` (1); a double click brings back nothing. */
  slide(field) {
    const control = this.typed(field);
    const range = element("input", {
      type: "range",
      min: String(field.from ?? 0),
      max: String(field.to ?? 1),
      step: "0.01",
      title: "Double-click resets it to 0",
    });
    range.setAttribute("aria-label", field.word);
    range.addEventListener("input", () => {
      control.value = KINDS.slide.show(Number(range.value));
    });
    range.addEventListener("change", () => this.send(withPart(this.raw, field.path, Number(range.value))));
    range.addEventListener("dblclick", () => {
      range.value = "0";
      this.send(withPart(this.raw, field.path, 0));
    });
    range.addEventListener("keydown", (event) => event.stopPropagation());
    this.rows.push({
      update: (raw) => {
        if (range !== document.activeElement || !range.matches(":active"))
          range.value = String(at(raw, field.path) ?? 0);
      },
    });
    const row = element(
      "label",
      { class: "labelled wide sliding", title: tooltip(field.word, field.hint) },
      element("span", { text: field.word }),
      range,
      control,
    );
    if (field.when)
      this.rows.push({
        update: (raw) => {
          row.hidden = !field.when(raw);
        },
      });
    return row;
  }

  sides(field) {
    const row = element("div", { class: "sides wide", role: "group" });
    row.setAttribute("aria-label", "Sides that bear the border");
    for (const side of ["head", "right", "foot", "left"]) {
      const control = element("input", { type: "checkbox" });
      control.addEventListener("change", () => {
        const sides = new Set(this.raw.box.sides);
        if (control.checked) sides.add(side);
        else sides.delete(side);
        this.send(withPart(this.raw, field.path, [...sides]));
      });
      this.rows.push({
        update: (raw) => {
          control.checked = at(raw, field.path).includes(side);
        },
      });
      row.append(element("label", { class: "check" }, control, element("span", { text: side })));
    }
    return row;
  }

  /** Tab stops as a small table: place, alignment, leader; an empty place is the right edge. */
  tabs(body) {
    const table = element("div", { class: "tab-rows" });
    const add = element("button", { type: "button", class: "link", text: "Add tab stop" });
    add.addEventListener("click", () => {
      const last = Math.max(0, ...this.raw.tabs.map((stop) => stop.at ?? 0));
      this.send({
        tabs: [...this.raw.tabs, { at: last + this.raw.tab_every, align: "left", leader: "", decimal: "." }],
      });
    });
    body.append(table, add);
    let shown = "";
    this.rows.push({
      update: (raw) => {
        const now = JSON.stringify(raw.tabs);
        if (now === shown) return;
        shown = now;
        table.replaceChildren(...raw.tabs.map((stop, n) => this.stop(stop, n)));
      },
    });
  }

  stop(stop, n) {
    const change = (values) =>
      this.send({ tabs: this.raw.tabs.map((other, m) => (m === n ? { ...other, ...values } : other)) });
    const field = (word, value, read) => {
      const control = element("input", { class: "field", value, autocomplete: "off", title: word });
      control.setAttribute("aria-label", `${word} of tab ${n + 1}`);
      control.addEventListener("keydown", (event) => {
        event.stopPropagation();
        if (event.key === "Enter") control.blur();
        if (event.key === "Escape") {
          control.value = value;
          control.blur();
        }
      });
      control.addEventListener("change", () => {
        try {
          change(read(control.value));
        } catch (error) {
          toast(messageOf(error), true);
          control.value = value;
        }
      });
      return control;
    };
    const align = element("select", { class: "field", title: "Alignment" });
    align.setAttribute("aria-label", `Alignment of tab ${n + 1}`);
    align.append(...ALIGNS.map(([id, word]) => new Option(word, id)));
    align.value = stop.align;
    align.addEventListener("change", () => change({ align: align.value }));
    const off = element("button", { type: "button", class: "quiet", text: "×", title: "Remove this tab stop" });
    off.setAttribute("aria-label", `Remove tab ${n + 1}`);
    off.addEventListener("click", () => this.send({ tabs: this.raw.tabs.filter((_, m) => m !== n) }));
    return element(
      "div",
      { class: "tab-row" },
      field("Position", stop.at === null ? "edge" : points(stop.at), (text) => ({
        at: /^(edge)?$/i.test(text.trim()) ? null : parseLength(text, "pt"),
      })),
      align,
      field("Leader", stop.leader.trim(), (text) => ({ leader: text.trim() ? `${text.trim()} ` : "" })),
      stop.align === "decimal"
        ? field("Decimal character", stop.decimal, (text) => ({ decimal: text.trim()[0] || "." }))
        : element("span"),
      off,
    );
  }

  /** What the font can do beyond its plain letters; each is on or off. */
  features(body) {
    const row = element("div", { class: "features wide" });
    body.append(row);
    this.rows.push({
      update: (raw, { offered }) => {
        row.replaceChildren(
          ...offered.map(({ tag, name, usual, value }) => {
            const button = element("button", { type: "button", class: "chip", text: name, title: tag });
            button.setAttribute("aria-pressed", String(value > 0));
            button.addEventListener("click", () => {
              const rest = raw.features.filter((one) => one.split("=")[0] !== tag);
              const want = value > 0 ? 0 : 1;
              this.send({ features: Boolean(want) === usual ? rest : [...rest, want ? tag : `${tag}=0`] });
            });
            return button;
          }),
        );
        if (!offered.length) row.append(element("span", { class: "sub", text: "This font has no optional features." }));
      },
    });
  }

  /** `told` are the sections in words, `own` the names of values set here, `offered` what the font can do. */
  update(raw, { told = {}, own = [], offered = [] } = {}) {
    this.own = own;
    this.raw = Object.assign({}, raw, ...this.waiting); // what is still on its way is not in the answer yet
    for (const row of this.rows) row.update(raw, { told, own, offered });
  }
}

const made = new WeakMap();

/** The sections of a container, made when it is first seen. */
export function sectionsIn(container, put, giveBack = null) {
  if (!made.has(container)) made.set(container, new Fields(container, container.dataset.sections, put, giveBack));
  return made.get(container);
}
