// What can be done in a place, said once: keys, the page of keys (?) and the command finder (Ctrl K) are made from it.

const all = [];

/**
 * Register commands: {word, keys, shown, help, run, when, over, now}. One that is `over` the others has its keys first, as long as it may be run. `keys` are names as in KeyboardEvent.key; `shown` is how they are written where that
 * differs; `help` is the line on the page of keys; `also` are other words by which it is found; what is typed behind one that is to be done `now` is meant for where it leads. Without `run` it is only such a line: about the pointer, or keys within a text.
 */
export function register(...commands) {
  all.push(...commands);
}

const may = ({ run, when }) => Boolean(run) && (!when || when());
/** All commands; those that cannot be run now say what they need (`needs`). */
export const commands = () =>
  all
    .filter((one) => one.word && one.run)
    .map((one) => (may(one) ? one : { ...one, needs: one.when.needs || "Not for what is selected now." }));
/** A condition of commands that says what it needs. @template {() => any} T @param {string} words @param {T} when @returns {T & { needs: string }} */
export const needing = (words, when) => Object.assign(when, { needs: words });
export const byKey = (key) => overKey(key) || all.find((one) => !one.over && one.keys?.includes(key) && may(one));
export const overKey = (key) => all.find((one) => one.over && one.keys?.includes(key) && may(one));
export const withHelp = () => all.filter(({ help, keys, shown }) => help && (shown || keys)?.length);

/** The page of keys: a line each, its keys before it. */
export function fillKeys(list) {
  list.replaceChildren(
    ...withHelp().flatMap(({ keys, shown, help }) => {
      const [term, line] = [document.createElement("dt"), document.createElement("dd")];
      for (const key of shown || keys) {
        const sign = document.createElement("span");
        Object.assign(sign, { className: "kbd", textContent: key });
        term.append(sign, " ");
      }
      line.textContent = help;
      return [term, line];
    }),
  );
}
