// What the board's template gives, and who has it: no other module of the board asks for an element by its id.
import { room } from "../dom.js";

/** @param {string} id @returns {any} */
const dialog = (id) => room(id);

export const board = room("board");
export const sheet = room("sheet");
/** Takes what is typed on the page. */
export const typing = /** @type {HTMLTextAreaElement} */ (room("typing"));
/** What stands beside the pointer. */
export const numbers = room("numbers");
export const masterBand = room("master-band");
/** The band that says which record edits change. */
export const recordBand = room("record-band");
export const others = room("others");
export const drawerTabs = room("drawer-tabs");
export const drawerPanel = room("drawer");
/** The ledge below: the spreads, the tools with their bar, what is on or off. */
export const turning = room("turn");
export const toolButtons = room("tools");
export const toolBar = room("tool-bar");
export const toggles = room("toggles");
export const textureBar = room("texture-bar");
export const findBar = room("find-bar");
export const stylesDialog = dialog("styles");
export const fontsDialog = dialog("fonts");
export const tableDialog = /** @type {HTMLDialogElement} */ (dialog("table"));
export const keysDialog = /** @type {HTMLDialogElement} */ (dialog("keys"));
/** The sheet of the job's own fonts. */
export const ownFonts = /** @type {HTMLLinkElement} */ (room("own-fonts"));
