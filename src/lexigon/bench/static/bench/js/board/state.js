// The board's one state: what the server said last of the job, and how it is looked at and worked on. Whoever shows any of it listens.
import { readState } from "../http.js";

/**
 * What a page is told as: its drawing, its lines and areas, who stands where (`standing.js`). Lengths in points.
 * @typedef {{svg?: string, hash: string, id: string, label: string, lines: any, standing: any, w: number, h: number} & Record<string, any>} Page
 * @typedef {{id: string, name: string}} Named
 * @typedef {{width: number, height: number, unit: string, size: string, facing: boolean, folded: boolean, points: number, decimals: number, bleed: Record<string, number>, grid: {start: number, step: number}, squares: any}} Sheet
 * @typedef {{id: string, name: string, visible: boolean, locked: boolean, prints: boolean, opacity: number, colour: string}} Layer
 *
 * @typedef {object} State
 * @property {string} key - of the job
 * @property {number} revision - of the job, as far as it is known here
 * @property {number} count - how many pages it has
 * @property {string} undo - what undo would take back; empty for nothing
 * @property {string} redo
 * @property {number[]} view - the pages in view; -2 and -1 are a master's left and right half
 * @property {Record<number, Page>} pages - those in view
 * @property {Sheet} sheet - what all pages share
 * @property {string} master - the master page that is worked on, or empty
 * @property {string} main - the main text
 * @property {string[]} labels - how each page is numbered
 * @property {string[]} ids - of the pages
 * @property {Layer[]} layers - the lowest first
 * @property {any[]} masters
 * @property {any[]} copies - standing copy
 * @property {any[]} pictures - of the contact sheet
 * @property {any[]} swatches
 * @property {any[]} inkSets
 * @property {any[]} families - of the fonts that can be chosen
 * @property {string[]} fonts - the job's own
 * @property {any[]} styles - of paragraphs
 * @property {Named[]} characterStyles
 * @property {Named[]} frameStyles
 * @property {Named[]} ruleStyles
 * @property {any[]} tableStyles
 * @property {string[]} tables
 * @property {any[]} noteKinds
 * @property {any[]} messages - of codes
 * @property {{form: string, told: string, example: string, size: [number, number], message: boolean, digits: number, addon: boolean}[]} codes - their kinds, with the size of a new one in millimetres
 * @property {[string, string, string][]} sectionStarts - page, how it is numbered, the section's name
 * @property {any[]} versions
 * @property {{key: string, name: string}[]} others - jobs
 * @property {[string, string][]} dates - forms of dates, each with today's
 * @property {Named[]} proofs - papers and presses to show the colours of
 * @property {string} tool
 * @property {any} selected - the frame that is chosen (`frames.js`)
 * @property {any[]} also - those that are chosen with it
 * @property {any} cells - cells of a table that are chosen together (`cellchoice.js`)
 * @property {string} entered - the group whose parts are worked on
 * @property {string} only - the layer that is worked on alone
 * @property {string} [layer] - the one that new objects go on
 * @property {string} [proof] - what colours are shown as
 * @property {string} [record] - the record that is adjusted, as `set:number`: its pages are shown in place of the design
 * @property {string} [spec] - what the spec line says of what is chosen
 * @property {"view" | "edit" | "own"} role - what the person may do with the job
 * @property {number} spreads - how many are shown side by side
 * @property {boolean} guides
 * @property {boolean} clean - shown as it is printed
 * @property {boolean} invisibles
 * @property {boolean} marks
 */

/** @type {State} */
export const state = {
  ...readState("board-data"),
  selected: null,
  tool: "select",
  guides: true,
  clean: false,
  invisibles: false,
  also: [],
  cells: null,
  entered: "",
  only: "",
  spreads: document.cookie.includes("lexigon-spreads=2") ? 2 : 1,
  marks: localStorage.getItem("lexigon-marks") !== "off",
};

/**
 * The events of the board, with what listeners get. What is painted or selected is announced without details: listeners
 * look it up.
 * @typedef {object} Events
 * @property {{ turned: boolean, changed: number[], anew?: number[] }} pages - pages are shown: others, changed ones, new ones
 * @property {{ turned: boolean, changed: number[] }} painted - pages are painted
 * @property {void} frame - the selection, or what is selected
 * @property {void} text - the caret, or the words around it
 * @property {void} sketch - what a tool is drawing
 * @property {void} layer - the layer that is worked on
 * @property {void} master - the master page that is edited
 * @property {void} lists - names of styles, swatches, layers or others
 * @property {void} view - how far the board is scrolled or magnified
 * @property {void} invisibles - whether invisible characters are shown
 * @property {void} proof - whether the proof is shown
 * @property {void} record - which record is shown, and the way
 * @property {{story: string}} record-words - words of the record that is adjusted are to be changed
 * @property {void} styles - the drawer of styles is to be opened
 * @property {void} find - the drawer for finding and replacing is to be opened
 * @property {void} framing - the crop of the selected picture is to be adjusted
 * @property {void} outline - the nodes of the selected outline are to be edited
 * @property {any} gradient - the frames whose gradient is to be placed
 * @property {string} tool - the tool that is in the hand
 * @property {string} tool-kind - the shape that the tool draws
 * @property {string} saved - what is saved, in words
 * @property {any} sent - an edit is on its way to the server
 * @property {any} taken - an answer of the server is taken over
 * @property {any} answered - an edit was answered
 * @property {{ error: any, entry: any, lost?: any }} refused - an edit was refused
 * @property {any} shift - words of others moved places
 * @property {any} stepped - the place of the caret after undo or redo
 * @property {any} spec - the spec line is to be written
 * @property {any} table - the id of the table that the caret is in, if any
 * @property {{ from: any, to: any, anew?: boolean }} cells - cells are selected
 * @property {{ current: string, apply: (family: string) => void }} fonts - a font is to be selected
 * @property {{ svg: string, page: number, at: number[] | null }} drawing - a drawing is to be placed
 * @property {any} cut - a look is to be cut out
 * @property {any} unplaced - words for which there is no frame
 * @property {any} waiting - pictures that are to be placed
 * @property {{ story: string, p: string, o: number, page: number }} typeAt - the caret is to be set
 * @property {any} zoom - the magnification in per cent
 */

/** @type {Map<string, ((detail?: any) => void)[]>} */
const listeners = new Map();

/**
 * Call a listener at an event.
 * @template {keyof Events} N
 * @param {N} name
 * @param {(detail: Events[N]) => void} listener
 */
export function on(name, listener) {
  if (!listeners.has(name)) listeners.set(name, []);
  listeners.get(name).push(listener);
}

/**
 * Announce an event to its listeners.
 * @template {keyof Events} N
 * @param {N} name
 * @param {Events[N]} [detail]
 */
export function emit(name, detail) {
  for (const listener of listeners.get(name) || []) listener(detail);
}
