// Lines of nodes as the browser draws them while they are worked on; what becomes of them is the server's to say.

/** @typedef {{at: number[], before: number[] | null, after: number[] | null, smooth?: boolean}} Node */
/** @typedef {{nodes: Node[], closed: boolean}} Line */

const written = (points) => points.map(([x, y]) => `${Number(x.toFixed(3))} ${Number(y.toFixed(3))}`).join(" ");

/** The stretch behind a node: two points of a line, four of a curve.
    @param {Line} line @param {number} number */
export function stretch({ nodes }, number) {
  const [one, other] = [nodes[number], nodes[(number + 1) % nodes.length]];
  return one.after || other.before
    ? [one.at, one.after || one.at, other.before || other.at, other.at]
    : [one.at, other.at];
}

/** How many stretches a line has.
    @param {Line} line */
export const stretches = ({ nodes, closed }) => (closed ? nodes.length : nodes.length - 1);

/** The data of a line, as SVG and the server read it.
    @param {Line} line */
export function dataOf(line) {
  let data = `M${written([line.nodes[0].at])}`;
  for (let n = 0; n < stretches(line); n += 1) {
    const points = stretch(line, n);
    if (points.length === 2 && n === line.nodes.length - 1) continue; // Z draws it
    data += (points.length === 2 ? "L" : "C") + written(points.slice(1));
  }
  return data + (line.closed ? "Z" : "");
}

/** A point of a stretch, at `t` of it. */
export function onStretch(points, t) {
  let row = points;
  while (row.length > 1)
    row = row.slice(1).map(([x, y], n) => [row[n][0] + (x - row[n][0]) * t, row[n][1] + (y - row[n][1]) * t]);
  return row[0];
}

const STEPS = 24;

/** The place on some lines that lies nearest to a point: {line, node, t, far}. */
export function nearest(lines, [x, y]) {
  let best = null;
  lines.forEach((line, at) => {
    for (let node = 0; node < stretches(line); node += 1) {
      const points = stretch(line, node);
      const far = (t) => {
        const [px, py] = onStretch(points, t);
        return Math.hypot(px - x, py - y);
      };
      let t = 0;
      for (let i = 1; i <= STEPS; i += 1) if (far(i / STEPS) < far(t)) t = i / STEPS;
      for (let step = 0.5 / STEPS; step > 1e-4; step /= 2)
        for (const next of [t - step, t + step]) if (next >= 0 && next <= 1 && far(next) < far(t)) t = next;
      if (!best || far(t) < best.far) best = { line: at, node, t, far: far(t) };
    }
  });
  return best;
}

/** A line with some of its nodes moved. `isMoved(number)` says which.
    @param {Line} line */
export const movedNodes = (line, isMoved, dx, dy) => {
  const by = (point) => point && [point[0] + dx, point[1] + dy];
  return {
    ...line,
    nodes: line.nodes.map((node, n) =>
      isMoved(n) ? { ...node, at: by(node.at), before: by(node.before), after: by(node.after) } : node,
    ),
  };
};

/** A node with one of its handles elsewhere; where it is smooth the other turns with it, unless it is moved `alone`.
    @param {Node} node @param {"before" | "after"} side @param {number[]} to */
export function withHandle(node, side, to, alone) {
  const other = side === "before" ? "after" : "before";
  const made = { ...node, [side]: to };
  const was = node[other];
  const far = Math.hypot(to[0] - node.at[0], to[1] - node.at[1]);
  if (node.smooth && was && !alone && far) {
    const long = Math.hypot(was[0] - node.at[0], was[1] - node.at[1]);
    made[other] = [node.at[0] - ((to[0] - node.at[0]) / far) * long, node.at[1] - ((to[1] - node.at[1]) / far) * long];
  }
  return made;
}
