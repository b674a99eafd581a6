// What the flatplan's template gives; the fields of its slip are asked for in `slip.js` alone.
import { room } from "../dom.js";

export const plan = room("plan");
export const spreadList = room("spreads");
/** The way of a text through the pages, drawn over them. */
export const thread = room("thread");
/** Where dragged pages would go. */
export const dropLine = room("drop-line");
