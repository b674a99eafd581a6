// A page's drawing brought up to date: what is drawn as before stays, so that an edit among many objects repaints only its own.

const NS = "http://www.w3.org/2000/svg";
const kept = new WeakMap();

/** The drawing of each thing on a page: the outermost groups, each with what stands before it (its shadow's filter). */
export function pieces(svg) {
  const found = [];
  const groups = /<(\/?)g[ >]/g;
  let depth = 0;
  let from = 0;
  for (let one = groups.exec(svg); one; one = groups.exec(svg)) {
    depth += one[1] ? -1 : 1;
    if (depth) continue;
    found.push(svg.slice(from, groups.lastIndex));
    from = groups.lastIndex;
  }
  if (from < svg.length) found.push(svg.slice(from));
  return found;
}

/** Which of the old pieces may stay for each of the new ones: those at the same place, or as far from the end. */
export function stays(old, now) {
  if (old.length === now.length) return now.map((text, n) => (text === old[n] ? n : -1));
  let head = 0;
  while (head < old.length && head < now.length && old[head] === now[head]) head += 1;
  let tail = 0;
  while (
    tail < old.length - head &&
    tail < now.length - head &&
    old[old.length - 1 - tail] === now[now.length - 1 - tail]
  )
    tail += 1;
  return now.map((_, n) => (n < head ? n : n >= now.length - tail ? n + old.length - now.length : -1));
}

/** Show a drawing in a group. With `anew` all of it is built; text always is, because typing changes it before the answer comes. */
export function patch(box, svg, anew) {
  const now = pieces(svg);
  const before = anew ? [] : kept.get(box) || [];
  const from = stays(
    before.map(({ text }) => text),
    now,
  );
  const stay = (text, n) => from[n] >= 0 && !text.includes("<text");
  const fresh = built(now.filter((text, n) => !stay(text, n)));
  const made = now.map((text, n) => (stay(text, n) ? before[from[n]] : { text, nodes: fresh.shift() }));
  const reused = new Set(made);
  for (const old of before) if (!reused.has(old)) for (const node of old.nodes) node.remove();
  if (!before.length) box.replaceChildren();
  let at = box.firstChild;
  for (const { nodes } of made)
    for (const node of nodes) {
      if (node === at) at = at.nextSibling;
      else box.insertBefore(node, at);
    }
  kept.set(box, made);
}

/** The elements of some pieces, read all at once where each is one element. */
function built(texts) {
  const holder = document.createElementNS(NS, "g");
  const single = texts.every((text) => text.startsWith("<g"));
  if (!single)
    return texts.map((text) => {
      holder.innerHTML = text;
      return [...holder.childNodes];
    });
  holder.innerHTML = texts.join("");
  return [...holder.childNodes].map((node) => [node]);
}
