// What has no answer when a window closes is sent when its place is next opened in this browser: its token lets it be done only once.
import { HttpError } from "../errors.js";
import { toast } from "../notice.js";
import { OFFLINE } from "./queue.js";

/** Save the unanswered edits of a queue across a reload. `place` names the view that sends them; `revision` returns the revision they were made on. */
export function keepUnsent(queue, place, revision) {
  const prefix = `lexigon-unsent-${place}-`,
    own = `${prefix}${crypto.randomUUID()}`;
  const keep = () => {
    const left = queue.unsent();
    if (left.length) localStorage.setItem(own, JSON.stringify({ revision: revision(), left }));
    else localStorage.removeItem(own);
  };
  addEventListener("pagehide", keep);
  addEventListener("beforeunload", (event) => {
    if (queue.state === OFFLINE) event.preventDefault();
  });
  return { keep, send: () => sendUnsent(queue, prefix) };
}

/** Send the edits that earlier windows left unanswered. */
async function sendUnsent(queue, prefix) {
  let count = 0;
  for (const key of Object.keys(localStorage).filter((one) => one.startsWith(prefix))) {
    const { revision, left } = JSON.parse(localStorage.getItem(key));
    localStorage.removeItem(key);
    count += left.length;
    // Only the first was made on a revision that is known: the others are moved with its answer.
    left.forEach((one, n) =>
      queue.add({ ...one, from: n ? undefined : revision }).catch((error) => {
        if (!(error instanceof HttpError)) throw error;
      }),
    ); // reported when it is refused
  }
  if (!count) return;
  await queue.idle();
  toast(
    count === 1
      ? "A change that was not saved when you left is saved now."
      : `${count} changes that were not saved when you left are saved now.`,
  );
}
