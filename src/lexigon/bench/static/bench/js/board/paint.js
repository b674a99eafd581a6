// How a swatch is painted on the screen: its colour, or its gradient.

/** The CSS background of a swatch.
    @param {{css: string, way?: [number, string][], gradient?: {kind: string, angle: number} | null}} swatch */
export function paintOf({ css, way = [], gradient = null }) {
  if (!way.length || !gradient) return css;
  const stops = way.map(([at, colour]) => `${colour} ${at * 100}%`).join(", ");
  return gradient.kind === "radial"
    ? `radial-gradient(${stops})`
    : `linear-gradient(${gradient.angle + 90}deg, ${stops})`;
}
