// The selected finding: its spot, why it matters, and what can be done about it.
import { element } from "../dom.js";
import { Cancelled, messageOf } from "../errors.js";
import { setFeatures } from "../features.js";
import { get } from "../http.js";
import { ask, input, labelled, toast } from "../notice.js";
import { placeOf } from "./list.js";
import { boardAddress, panel } from "./rooms.js";
import { change, onChange, selected, tried } from "./state.js";

const NS = "http://www.w3.org/2000/svg";
const HIGH = 46; // hundredths of the window's height that a page is shown in at most
let under = new AbortController();
let shown = "";

function lay() {
  const one = selected();
  const key = one ? `${one.mark} ${one.reason ?? ""}` : "";
  if (key === shown) return;
  shown = key;
  under.abort();
  if (!one) {
    panel.replaceChildren();
    return;
  }
  const picture = element("div", {});
  panel.replaceChildren(
    element("h2", {}, one.title, element("small", { text: [one.level, placeOf(one)].filter(Boolean).join(", ") })),
    element("p", { class: "mt-1", text: one.text }),
    picture,
    element("p", { class: "sub mt-2 mb-3" }, element("b", { text: "Why it matters: " }), one.why),
    ...(one.acceptance ? [element("p", { class: "note mb-3", text: `Accepted: ${one.reason}` })] : []),
    element("div", { class: "flex flex-wrap gap-2" }, ...buttons(one)),
  );
  if (one.page) showSpot(one, picture);
}

/** @param {import("./state.js").Finding} one */
function buttons(one) {
  const edits = { type: "button", class: "button", "data-edits": true };
  const row = [];
  if (one.fix)
    row.push(element("button", { ...edits, text: one.fix_label, click: () => tried("fix", { fix: one.fix }) }));
  if (one.page)
    row.push(element("a", { class: "button", href: `${boardAddress}?page=${one.page}`, text: "Show on the board" }));
  if (one.acceptance) {
    const reopen = { do: "reopen-finding", id: one.acceptance };
    row.push(
      element("button", { ...edits, text: "Edit reason…", click: () => accept(one) }),
      element("button", { ...edits, text: "Reopen", click: () => tried("change", { intents: [reopen] }) }),
    );
  } else row.push(element("button", { ...edits, text: "Accept…", click: () => accept(one) }));
  return row;
}

/** Accept a finding with a reason, which the report lists. @param {import("./state.js").Finding} one */
function accept(one) {
  const reason = input(one.reason ?? "");
  reason.maxLength = 1000;
  const { kind, mark, text } = one;
  ask(
    `Accept “${one.title}”`,
    "It does not count any more. It comes back when what it is about changes.",
    "Accept",
    [labelled("Reason", reason)],
    () => change("change", { intents: [{ do: "accept-finding", kind, mark, text, reason: reason.value }] }),
  );
}

async function showSpot(one, picture) {
  under = new AbortController();
  try {
    const query = new URLSearchParams({ page: String(one.page), subject: one.subject });
    const { w, h, svg, boxes } = await get(`${location.pathname}spot/?${query}`, under.signal);
    const read = new DOMParser().parseFromString(
      `<svg xmlns="${NS}" xmlns:xlink="http://www.w3.org/1999/xlink" class="check-spot" viewBox="0 0 ${w} ${h}">${svg}</svg>`,
      "image/svg+xml",
    );
    const drawing = document.importNode(read.documentElement, true);
    drawing.style.width = `min(100%, ${(HIGH * w) / h}vh)`;
    drawing.setAttribute("role", "img");
    drawing.setAttribute("aria-label", `Page ${one.label}`);
    setFeatures(drawing);
    for (const [x, y, width, height] of boxes) {
      const box = document.createElementNS(NS, "rect");
      for (const [name, value] of Object.entries({ x, y, width, height })) box.setAttribute(name, String(value));
      box.setAttribute("class", "spot");
      drawing.append(box);
    }
    picture.replaceChildren(drawing);
  } catch (error) {
    if (!(error instanceof Cancelled)) toast(messageOf(error), true);
  }
}

onChange(lay);
