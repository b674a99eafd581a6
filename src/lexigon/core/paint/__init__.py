"""From the composed page to a display list, and from that to SVG. The press paints the same list."""
