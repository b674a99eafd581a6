// Affine maps as six numbers [a, b, c, d, e, f]: x' = a x + c y + e, y' = b x + d y + f, as SVG and PDF write them.

/** @typedef {[number, number, number, number, number, number]} Map */

/** @type {(map: Map, at: {x: number, y: number}) => {x: number, y: number}} */
export const applied = ([a, b, c, d, e, f], { x, y }) => ({ x: a * x + c * y + e, y: b * x + d * y + f });

/** The map back.
    @type {(map: Map) => Map} */
export const inverse = ([a, b, c, d, e, f]) => {
  const det = a * d - b * c;
  return [d / det, -b / det, -c / det, a / det, (c * f - d * e) / det, (b * e - a * f) / det];
};

/** The same map where everything stands `dx` further to the right, as on the second page of a spread.
    @type {(map: Map, dx: number) => Map} */
export const beside = ([a, b, c, d, e, f], dx) => [a, b, c, d, e + dx - a * dx, f - b * dx];

/** @type {(map: Map) => string} */
export const written = (map) => `matrix(${map.map((value) => Number(value.toFixed(6))).join(" ")})`;

/** A box mirrored, then skewed, then turned clockwise about its centre, as `geometry.mapped_about` of the core; null for none.
    @returns {Map | null} */
export function mapOf({ x, y, w, h, rotation = 0, skew = 0, mirrored = false }) {
  if (!rotation && !skew && !mirrored) return null;
  const [cx, cy, angle] = [x + w / 2, y + h / 2, (rotation * Math.PI) / 180];
  const [cos, sin, lean] = [Math.cos(angle), Math.sin(angle), -Math.tan((skew * Math.PI) / 180)];
  const across = mirrored ? -1 : 1;
  const [a, b, c, d] = [across * cos, across * sin, lean * cos - sin, lean * sin + cos];
  return [a, b, c, d, cx - a * cx - c * cy, cy - b * cx - d * cy];
}
