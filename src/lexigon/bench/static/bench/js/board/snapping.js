// What edges like to lie on while something is drawn or moved, and why. Plain reckoning: nothing here is drawn.

/** The kinds of what is snapped to, each of which can be switched off. */
export const SNAPS = [
  ["guides", "guides"],
  ["margins", "margins and columns"],
  ["page", "trim, bleed and centre of the page"],
  ["panels", "panels and safe zones"],
  ["grid", "baseline grid"],
  ["squares", "page grid"],
  ["objects", "edges and centres of objects"],
  ["gaps", "equal gaps"],
];

/** @typedef {{x: number, y: number, w: number, h: number}} Box */
/** @typedef {{at: number, why: string}} Target */

/** Where edges like to go on a page, by axis. `lines` are the page's own measures, `bleed` the job's, `others` the boxes of what stands
    there; `on(kind)` says what is switched on.
    @returns {{xs: Target[], ys: Target[]}} */
export function targets({ lines, side, bleed, grid, squares = null }, others, on) {
  const xs = [];
  const ys = [];
  const { w, h, area } = lines;
  const put = (list, why, ...all) => {
    for (const at of all) list.push({ at, why });
  };
  if (on("page")) {
    const [left, right] = side === "recto" ? [bleed.inner, bleed.outer] : [bleed.outer, bleed.inner];
    put(xs, "trim", 0, w);
    put(ys, "trim", 0, h);
    put(xs, "centre of the page", w / 2);
    put(ys, "centre of the page", h / 2);
    put(xs, "bleed", -left, w + right);
    put(ys, "bleed", -bleed.head, h + bleed.foot);
  }
  if (on("margins")) {
    put(xs, "margin", area.x, area.x + area.w);
    put(ys, "margin", area.y, area.y + area.h);
    if (!lines.panels) {
      const step = (area.w + lines.gutter) / lines.columns;
      for (let i = 0; i < lines.columns; i += 1)
        put(xs, "column", area.x + i * step, area.x + (i + 1) * step - lines.gutter);
      const down = (area.h + lines.rowGutter) / lines.rows;
      for (let i = 0; i < lines.rows; i += 1)
        put(ys, "row", area.y + i * down, area.y + (i + 1) * down - lines.rowGutter);
    }
  }
  if (on("panels"))
    for (const panel of lines.panels || []) {
      put(xs, "panel", panel.x, panel.x + panel.w);
      put(ys, "panel", panel.y, panel.y + panel.h);
      put(xs, "centre of the panel", panel.x + panel.w / 2);
      put(ys, "centre of the panel", panel.y + panel.h / 2);
      put(xs, "safe zone", panel.safe.x, panel.safe.x + panel.safe.w);
      put(ys, "safe zone", panel.safe.y, panel.safe.y + panel.safe.h);
    }
  if (on("guides"))
    for (const { axis, at, seen = true } of lines.guides) if (seen) put(axis === "x" ? xs : ys, "guide", at);
  if (on("grid") && grid?.step) for (let y = grid.start; y <= area.y + area.h; y += grid.step) put(ys, "baseline", y);
  if (on("squares") && squares) {
    put(xs, "page grid", ...gridLines(squares.x, squares.across, squares.parts, w).map(({ at }) => at));
    put(ys, "page grid", ...gridLines(squares.y, squares.down, squares.parts, h).map(({ at }) => at));
  }
  if (on("objects"))
    for (const other of others) {
      const name = other.name || "object";
      put(xs, `edge of ${name}`, other.x, other.x + other.w);
      put(ys, `edge of ${name}`, other.y, other.y + other.h);
      put(xs, `centre of ${name}`, other.x + other.w / 2);
      put(ys, `centre of ${name}`, other.y + other.h / 2);
    }
  return { xs, ys };
}

/** The lines of a page grid from 0 to `to`: so far apart, each space in so many parts, one of them at `from`; `whole` are those that divide no space. */
export function gridLines(from, step, parts, to) {
  const found = [];
  for (let i = Math.ceil((-from / step) * parts - 1e-9); from + (i * step) / parts <= to + 1e-6; i += 1)
    found.push({ at: from + (i * step) / parts, whole: i % parts === 0 });
  return found;
}

/** How far to shift so that one of `edges` lies on a target no further than `reach` away, on which, and why. The nearest counts; of several
    as near the first.
    @param {number[]} edges @param {Target[]} all */
export function pulled(edges, all, reach) {
  let best = null;
  for (const edge of edges)
    for (const { at, why } of all) {
      const shift = at - edge;
      if (Math.abs(shift) <= reach && (!best || Math.abs(shift) < Math.abs(best.shift) - 1e-9))
        best = { shift, target: at, why };
    }
  return best;
}

const TURNED = ({ x, y, w, h }) => ({ x: y, y: x, w: h, h: w });

/** How far to shift a box along an axis so that the gaps to its neighbours in the same row (or column) are equal: between two of them, or
    as far from one as that is from the next. With the gap, and the bars that show it: {from, to, at}, along and across.
    @param {Box} box @param {Box[]} others @param {"x" | "y"} axis */
export function evenGaps(box, others, axis, reach) {
  const own = axis === "x" ? box : TURNED(box);
  const row = (axis === "x" ? others : others.map(TURNED))
    .filter((o) => o.y < own.y + own.h && o.y + o.h > own.y)
    .sort((a, b) => a.x - b.x);
  const before = row.filter((o) => o.x + o.w <= own.x + own.w / 2).sort((a, b) => b.x + b.w - a.x - a.w);
  const behind = row.filter((o) => o.x >= own.x + own.w / 2);
  const found = [];
  const offer = (x, gap, bars) => {
    if (gap > 0) found.push({ shift: x - own.x, gap, bars });
  };
  const across = (o) => Math.max(own.y, o.y) + (Math.min(own.y + own.h, o.y + o.h) - Math.max(own.y, o.y)) / 2;
  const [left] = before;
  const [right] = behind;
  if (left && right) {
    const gap = (right.x - left.x - left.w - own.w) / 2;
    const x = left.x + left.w + gap;
    offer(x, gap, [
      { from: left.x + left.w, to: x, at: across(left) },
      { from: x + own.w, to: right.x, at: across(right) },
    ]);
  }
  if (before.length > 1) {
    const next = before.slice(1).find((o) => o.x + o.w <= left.x);
    if (next) {
      const gap = left.x - next.x - next.w;
      offer(left.x + left.w + gap, gap, [
        { from: next.x + next.w, to: left.x, at: across(next) },
        { from: left.x + left.w, to: left.x + left.w + gap, at: across(left) },
      ]);
    }
  }
  if (behind.length > 1) {
    const next = behind.slice(1).find((o) => o.x >= right.x + right.w);
    if (next) {
      const gap = next.x - right.x - right.w;
      offer(right.x - gap - own.w, gap, [
        { from: right.x - gap, to: right.x, at: across(right) },
        { from: right.x + right.w, to: next.x, at: across(next) },
      ]);
    }
  }
  const near = found
    .filter(({ shift }) => Math.abs(shift) <= reach)
    .sort((a, b) => Math.abs(a.shift) - Math.abs(b.shift));
  return near[0] || null;
}
