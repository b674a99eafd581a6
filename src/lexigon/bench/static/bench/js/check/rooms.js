// The elements that the template of Check gives, each asked for once.
import { room } from "../dom.js";

export const shows = room("shows");
export const list = room("findings");
export const empty = room("empty");
export const panel = room("finding");
export const given = JSON.parse(room("check-state").textContent);
export const boardAddress = /** @type {HTMLElement} */ (list.closest("[data-board]")).dataset.board;
