// Requests to the server. Every error that reaches a caller is an HttpError with words for the user.
import { Cancelled, HttpError } from "./errors.js";
import { counted as figure, timeOfDay } from "./numerals.js";

/** In a request; the server refuses more (`middleware.py`) without reading it, and browsers then see no answer. */
const MOST_BYTES = 1_500_000_000;

const token = () => document.querySelector('meta[name="csrf"]').content;

let leaving = false; // what is asked for then goes out though the window closes
addEventListener(
  "pagehide",
  () => {
    leaving = true;
  },
  true,
);
addEventListener(
  "pageshow",
  () => {
    leaving = false;
  },
  true,
);

let underWay = 0;
function counted(by) {
  underWay += by;
  document.documentElement.dataset.busy = String(underWay > 0);
}

/** Fetch; the document says that it is busy as long as any request is under way. */
export async function request(url, options = {}) {
  counted(1);
  try {
    return await asked(url, options);
  } finally {
    counted(-1);
  }
}

async function asked(url, options) {
  let response, isJson, data;
  try {
    response = await fetch(url, {
      credentials: "same-origin",
      keepalive: leaving,
      ...options,
      headers: { "X-CSRFToken": token(), Accept: "application/json", ...options.headers },
    });
    isJson = (response.headers.get("content-type") || "").includes("json");
    data = isJson ? await response.json() : {}; // the answer may break off in the middle
  } catch {
    if (options.signal?.aborted) throw new Cancelled();
    throw new HttpError("Lexigon cannot be reached. Nothing is lost; it is tried again.", 0);
  }
  if (response.redirected && response.url.includes("/sign-in/"))
    throw new HttpError("You were signed out. Sign in again in another tab, then continue here.", 401);
  if (!response.ok)
    throw new HttpError(
      data.error || `Something went wrong (${response.status}). The job is as it was.`,
      response.status,
      data,
    );
  if (!isJson) throw new HttpError("The answer could not be read. The job is as it was.", response.status);
  return data;
}

/** @param {string} url @param {AbortSignal} [signal] - that cancels it */
export const get = (url, signal) => request(url, { signal });
/** @param {string} url @param {any} [data] @param {AbortSignal} [signal] - that cancels it */
export const post = (url, data, signal) =>
  request(url, {
    signal,
    method: "POST",
    body: JSON.stringify(data || {}),
    headers: { "Content-Type": "application/json" },
  });
/** @param {string} url @param {FormData} form @param {AbortSignal} [signal] - that cancels it */
export async function upload(url, form, signal) {
  const bytes = [...form.values()].reduce((sum, one) => sum + (one instanceof Blob ? one.size : 0), 0);
  if (bytes > MOST_BYTES)
    throw new HttpError(`At most ${figure(MOST_BYTES / 1e6)} MB can be sent at once. Send smaller files.`, 413);
  return request(url, { signal, method: "POST", body: form });
}

export const clock = (date = new Date()) => timeOfDay(date);

export function readState(id) {
  const element = document.getElementById(id);
  return element ? JSON.parse(element.textContent) : null;
}
