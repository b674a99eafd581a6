// The words of stories that are known here: those on the pages in view as the server sent them, those the caret went on in beyond them, and with
// both all that was typed since.
import { Stretch } from "../typing/words.js";
import { state } from "./state.js";
import { unanswered } from "./store.js";

const MANY = 400; // paragraphs beyond the pages in view that are remembered

export class Known {
  constructor() {
    /** What the last answer made of them. @type {Map<string, Stretch[]>} */
    this.confirmed = new Map();
    /** With what was typed since. @type {Map<string, Stretch[]>} */
    this.current = new Map();
  }

  at(story, paragraph) {
    return (this.current.get(story) || []).find((one) => one.indexOf(paragraph) >= 0);
  }
  row(story, paragraph) {
    return this.at(story, paragraph)?.row(paragraph);
  }
  rowsOf(story, paragraph) {
    const found = this.at(story, paragraph);
    return found && [...found.rows];
  }
  count(story) {
    return this.current.get(story)?.[0]?.count;
  }
  /** Where in its story a paragraph is. */
  rank(story, paragraph) {
    const found = this.at(story, paragraph);
    return found && found.first + found.indexOf(paragraph);
  }

  /** A place with a paragraph of its own for a place "^" or "$"; undefined where that is not known. */
  resolve(story, place) {
    for (const one of this.current.get(story) || []) {
      const found = one.resolve(place);
      if (found) return { ...place, ...found };
    }
    return undefined;
  }

  /** The place before or after a paragraph: null at an edge of the story, undefined where it is not known. */
  beside(story, paragraph, direction) {
    return this.at(story, paragraph)?.beside(paragraph, direction);
  }

  /** Whether a table is among the paragraphs from one to another. */
  atTable(story, from, to) {
    const found = this.at(story, from);
    if (!found) return false;
    const [a, b] = [found.indexOf(from), found.indexOf(to)].sort((one, other) => one - other);
    return found.rows.slice(Math.max(a, 0), b + 1).some(({ table }) => table);
  }

  replace(typed) {
    return this.at(typed.story, typed.start.paragraph)?.replace(typed) || null;
  }
  forget(story) {
    this.confirmed.delete(story);
    this.current.delete(story);
  }

  /** Words that were asked for, of a story where nothing typed waits. */
  add(answer) {
    const fresh = Stretch.of(answer);
    for (const all of [this.confirmed, this.current]) {
      const others = (all.get(fresh.story) || []).filter(
        ({ first, rows, count }) =>
          count === fresh.count && (first > fresh.first + fresh.rows.length || fresh.first > first + rows.length),
      );
      all.set(fresh.story, [...others, fresh.copy()]);
    }
  }

  /** Take over what an answer confirms: what was typed, as it was typed. What anything else made of words is only known where it is drawn. */
  answered(answer, entry) {
    if (!entry.typed || answer.shifts?.length) {
      this.confirmed.clear();
      return;
    }
    const all = this.confirmed.get(entry.story) || [];
    const done = all.every((one) =>
      entry.asked.intents.every((intent) => one.indexOf(intent.start.paragraph) < 0 || one.replace(intent)),
    );
    const counts = new Set(all.map(({ count }) => count));
    if (!done || counts.size > 1) this.confirmed.delete(entry.story);
  }

  /** After a drawing: what the pages in view say, and beyond them what was known of some stories. @returns {any[]} what was typed since */
  drawn(beyond) {
    const fresh = new Map();
    for (const index of state.view)
      for (const stretch of state.pages[index]?.words || [])
        fresh.set(stretch.story, [...(fresh.get(stretch.story) || []), Stretch.of(stretch)]);
    const confirmed = new Map();
    for (const [story, all] of fresh) confirmed.set(story, united(all));
    for (const story of beyond) {
      const before = (this.confirmed.get(story) || []).filter(({ rows }) => rows.length <= MANY),
        there = confirmed.get(story) || [];
      if (!there.length) {
        if (before.length) confirmed.set(story, before);
        continue;
      }
      for (const one of before) {
        const wider = one.with(there);
        if (wider && wider.rows.length <= MANY)
          confirmed.set(story, [
            wider,
            ...confirmed
              .get(story)
              .filter(
                ({ first, rows }) => first > wider.first + wider.rows.length || first + rows.length < wider.first,
              ),
          ]);
      }
    }
    this.confirmed = confirmed;
    this.current = new Map([...confirmed].map(([story, all]) => [story, all.map((one) => one.copy())]));
    return [...new Set([...confirmed.keys()])].flatMap((story) => unanswered(story));
  }
}

/** Stretches that follow each other as one. @param {Stretch[]} all */
function united(all) {
  const made = [];
  for (const one of [...all].sort((a, b) => a.first - b.first)) {
    const last = made[made.length - 1],
      wider = last && last.with([one]);
    if (wider && wider.rows.length > last.rows.length) made[made.length - 1] = wider;
    else if (!wider || !last.rows.some(({ id }) => id === one.rows[0].id)) made.push(one);
  }
  return made;
}
