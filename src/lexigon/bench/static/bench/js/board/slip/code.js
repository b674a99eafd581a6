// The slip's part about a code: what it says, typed in a form that knows its kind, and how it is made.
import { ask, input, labelled, select } from "../../notice.js";
import { element } from "../../dom.js";
import { sectionsIn } from "../fields.js";
import * as frames from "../frames.js";
import { activeLayer, send, state } from "../store.js";
import { frames as standing } from "../standing.js";
import { inCell } from "../cellchoice.js";
import { caret, quiet } from "../caret.js";
import { part } from "./parts.js";

const MM = 72 / 25.4;
const MODULE = 0.33; // millimetres of the narrowest bar at full size
const kindOf = (form) => state.codes.find((one) => one.form === form);

/** The form of a code: its kind, what it says by parts or as a number. `said()` is what to send of it.
    @returns {{rows: HTMLElement[], kind: () => string, said: () => {text?: string, addon?: string, message?: object}}} */
function form(code) {
  const kind = select(
    state.codes.map((one) => [one.form, one.told]),
    code?.form || "qr",
  );
  const message = select(
    state.messages.map(({ kind: id, word }) => [id, word]),
    code?.message?.kind || "web",
  );
  const body = element("div", { class: "mixture says" });
  const known = { ...code?.message?.parts };
  let fields = [];
  let number = null;
  let addon = null;
  const lay = () => {
    for (const [name, field] of fields) known[name] = field.value; // what is typed is kept under another kind, too
    fields = [];
    [number, addon] = [null, null];
    if (kindOf(kind.value).message) {
      fields = state.messages
        .find((one) => one.kind === message.value)
        .parts.map(({ name, word, example, needed }) => [
          name,
          input(known[name] || "", example || (needed ? "" : "optional")),
          word,
        ]);
      body.replaceChildren(labelled("Content", message), ...fields.map(([, field, word]) => labelled(word, field)));
    } else {
      number = input(code && !kindOf(code.form).message ? code.text : "", kindOf(kind.value).example);
      const rows = [labelled(kindOf(kind.value).digits ? "Number" : "Text", number)];
      if (kindOf(kind.value).addon) {
        addon = input(code?.addon || "", "optional: two or five figures");
        rows.push(labelled("Add-on", addon));
      }
      body.replaceChildren(...rows);
    }
  };
  kind.addEventListener("change", lay);
  message.addEventListener("change", lay);
  lay();
  return {
    rows: [labelled("Kind", kind), body],
    kind: () => kind.value,
    said: () =>
      number
        ? { text: number.value, ...(addon ? { addon: addon.value.trim() } : {}) }
        : {
            message: {
              kind: message.value,
              parts: Object.fromEntries(
                fields.map(([name, field]) => [name, field.value]).filter(([, value]) => value.trim()),
              ),
            },
          },
  };
}

/** Ask what a code is to say; in the chosen shape, or in a new frame on the page in view. */
export async function makeCode() {
  const frame = frames.current();
  const one = form(null);
  await ask(
    "Code",
    "Codes are read by cameras and scanners, and are sharp at any size. Their quiet zone is inside the frame.",
    "Add code",
    one.rows,
    async () => {
      const [shape, said] = [one.kind(), one.said()];
      const words = !kindOf(shape).message;
      if (frame && frame.kind === "shape" && !frame.master) {
        await send([{ do: "set-code", page: frames.holderOf(frame), frame: frame.id, form: shape, words, ...said }]);
        return;
      }
      const cell = caret.focus ? standing().find((f) => f.cell && f.story === caret.story) : frame?.cell ? frame : null;
      if (cell) {
        const [wide, high] = kindOf(shape).size,
          { message = null, ...values } = said;
        await quiet();
        await send([
          inCell(
            cell,
            { width: wide * MM, height: high * MM },
            { message, code: { kind: "code", form: shape, words, text: "-", ...values } },
          ),
        ]);
        return;
      }
      const page = state.view[0];
      const { area, code: reserved } = state.pages[page].lines; // on a cover, the area of the bar code
      const [width, height] = kindOf(shape).size;
      const more = { 2: 27, 5: 54 }[said.addon?.length] || 0; // modules of an add-on, which stands behind at the same size
      const rect = { x: area.x, y: area.y, width: (width + more * MODULE) * MM, height: height * MM };
      const taken = (state.pages[page].frames || []).some(
        ({ kind, x, y }) =>
          kind === "code" &&
          x > reserved?.x - rect.width &&
          x < reserved?.x + reserved?.w &&
          y > reserved?.y - rect.height &&
          y < reserved?.y + reserved?.h,
      );
      if (reserved && !taken)
        Object.assign(rect, {
          x: reserved.x + (reserved.w - rect.width) / 2,
          y: reserved.y + (reserved.h - rect.height) / 2,
        });
      const { message = null, ...values } = said;
      const answer = await send([
        {
          do: "add-code",
          page: state.pages[page].id,
          rect,
          message,
          code: { kind: "code", form: shape, words, text: "-", ...values },
          layer: activeLayer().id,
        },
      ]);
      frames.select(standing().find((f) => answer.made.includes(f.id)) || null);
    },
  );
}

/** Ask what the chosen code is to say from now on. */
async function sayOtherwise(code) {
  const f = frames.current();
  const one = form(code);
  await ask("Code", "The content and kind of the code.", "Save", one.rows, () =>
    send([{ do: "set-code", page: frames.holderOf(f), frame: f.id, form: one.kind(), ...one.said() }]),
  );
}

function fill(slip, { one }) {
  const raw = slip.frame?.raw.code;
  if (raw)
    sectionsIn(one("[data-sections=code]"), (values) => slip.coded(values)).update(raw, {
      told: { make: raw.addon ? `add-on ${raw.addon}` : "" },
    });
}

part({
  fill,
  members: {
    get code() {
      return this.frame?.code || null;
    },
    get hasCode() {
      return Boolean(this.code);
    },
    get codeTold() {
      return this.code ? this.code.told : "";
    },
    get codeSize() {
      return this.code ? this.code.size : "";
    },
    coded(values) {
      const f = frames.current();
      return send([{ do: "set-code", page: frames.holderOf(f), frame: f.id, ...values }]);
    },
    sayOtherwise() {
      this.tried(() => sayOtherwise({ ...this.code, addon: this.frame.raw.code.addon }));
    },
    makeCode() {
      this.tried(makeCode);
    },
  },
});
