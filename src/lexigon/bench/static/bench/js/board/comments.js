// The drawer of comments: what people say about the pages of the job. Who may only view it can comment, too.
import { dayAndTime } from "../numerals.js";
import { element } from "../dom.js";
import { HttpError } from "../errors.js";
import { get, post } from "../http.js";
import { drawer } from "./drawers.js";
import { show, state, toast } from "./store.js";

const address = `/job/${state.key}/comments/`;

/** @type {{id: number, index: number | null, text: string, at: string, by: string, resolved: boolean, mine: boolean, resolvable: boolean, deletable: boolean}[]} */
let comments = [];
let withResolved = false;
let draft = ""; // what is typed and not added yet: it stays when the drawer is filled anew

/** The page that a comment is about: the first in view. */
const pageInView = () => state.pages[state.view[0]];

async function load(body, request) {
  try {
    comments = (await request).comments;
    return true;
  } catch (error) {
    if (!(error instanceof HttpError)) throw error;
    toast(error.message, true);
    return false;
  } finally {
    if (body.dataset.open === "comments") lay(body);
  }
}

function fill(body) {
  lay(body);
  load(body, get(address));
}

function lay(body) {
  const focused = document.activeElement?.id === "comment-text";
  const shown = comments.filter(({ resolved }) => withResolved || !resolved),
    resolved = comments.filter((one) => one.resolved).length;
  body.replaceChildren(
    element(
      "div",
      { class: "head" },
      element("h2", { text: "Comments" }),
      resolved
        ? element("button", {
            type: "button",
            class: "link",
            text: withResolved ? "Hide resolved" : `Show ${resolved} resolved`,
            click: () => {
              withResolved = !withResolved;
              lay(body);
            },
          })
        : "",
    ),
    shown.length
      ? element("ul", { class: "comment-list" }, ...shown.map((one) => item(body, one)))
      : element("p", { class: "sub mb-3", text: resolved ? "All comments are resolved." : "No comments yet." }),
    composer(body),
  );
  if (focused) body.querySelector("#comment-text").focus();
}

function item(body, one) {
  const { index } = one,
    label = index === null ? "a page that was deleted" : `page ${state.labels[index] ?? index + 1}`;
  const when = dayAndTime(new Date(one.at));
  const change = (said) => load(body, post(`${address}${one.id}/`, said));
  return element(
    "li",
    { class: one.resolved ? "resolved" : "" },
    element(
      "div",
      { class: "flex items-baseline gap-2" },
      element("b", { class: "min-w-0 truncate", text: one.mine ? "You" : one.by }),
      element("span", { class: "aside ml-auto", text: when }),
    ),
    element("p", { text: one.text }),
    element(
      "div",
      { class: "flex gap-3" },
      index === null
        ? element("span", { class: "aside", text: label })
        : element("button", {
            type: "button",
            class: "link",
            text: label,
            title: `Go to ${label}`,
            click: () => show(index),
          }),
      one.resolvable
        ? element("button", {
            type: "button",
            class: "link ml-auto",
            text: one.resolved ? "Reopen" : "Resolve",
            click: () => change({ resolved: !one.resolved }),
          })
        : "",
      one.deletable
        ? element("button", { type: "button", class: "link", text: "Delete", click: () => change({ deleted: true }) })
        : "",
    ),
  );
}

function composer(body) {
  const page = pageInView();
  if (state.master || !page)
    return element("p", { class: "sub", text: "Comments belong to pages. Close the master page to add one." });
  const field = element("textarea", {
    class: "field",
    id: "comment-text",
    rows: "3",
    maxlength: "2000",
    input: () => {
      draft = field.value;
    },
    keydown: (event) => {
      if (event.key === "Enter" && (event.ctrlKey || event.metaKey)) add();
    },
  });
  field.value = draft;
  async function add() {
    if (!field.value.trim()) {
      field.focus();
      return;
    }
    const words = draft;
    draft = "";
    if (!(await load(body, post(address + "add/", { page: page.id, text: words })))) {
      draft = words;
      lay(body);
    }
  }
  return element(
    "div",
    {},
    element("label", { class: "sub block mb-1", for: "comment-text", text: `Comment on page ${page.label}` }),
    field,
    element("button", {
      type: "button",
      class: "button w-full mt-2",
      title: "Add the comment (Ctrl Enter)",
      text: "Add comment",
      click: add,
    }),
  );
}

drawer({
  id: "comments",
  word: "Comments",
  key: "q",
  help: "Comments: from everyone who shares the job",
  after: ["pages", "master", "lists"],
  fill,
  refresh: lay,
});
