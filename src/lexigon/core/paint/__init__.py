"""From the composed page to a display list, and from that to SVG. The press paints the same list.

``display`` describes a page (``page``), ``items`` the elements of the list and their painters; ``svg`` paints it for
browsers, ``standing`` describes frames and lines for the board. Everything else that a printed page needs belongs to
``press``.
"""
