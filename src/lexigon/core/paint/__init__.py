"""From the composed page to a display list, and from that to SVG. The press paints the same list.

``display`` says what stands on a page (``page``), ``items`` what the list is made of and who paints it; ``svg`` paints it for
browsers, ``standing`` tells the board who stands where. What a printed page needs beyond this belongs to ``press``.
"""
