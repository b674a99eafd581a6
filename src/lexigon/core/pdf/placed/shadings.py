"""Shadings of placed pages (ISO 32000-2, 8.7.4.5) in other colours."""

from __future__ import annotations

from typing import Any

import pikepdf

from lexigon.core.pdf.placed.meshes import MESHES, Convert, recoloured, with_function
from lexigon.core.pdf.placed.spaces import Space, Unreadable, colours_along, table_function

ALONG = (2, 3)
"""Along a line, and from circle to circle."""
COPIED_KEYS = ("/ShadingType", "/Coords", "/Domain", "/Extend", "/BBox", "/AntiAlias")


def converted_shading(pdf: pikepdf.Pdf, one: Any, space: Space, convert: Convert, count: int, target: Any) -> Any:
    """A shading of ``space`` with its colours converted to ``count`` components of the space ``target``. Raises
    Unreadable."""
    kind = int(one.ShadingType)
    if kind not in (*ALONG, *MESHES):
        raise Unreadable("It has a shading that is a function of two coordinates.")
    if "/Function" not in one:
        return recoloured(pdf, one, convert, count, target)
    function = table_function(pdf, one, [convert(values) for values in colours_along(one, space)])
    if kind in MESHES:
        return with_function(pdf, one, function, target)
    entries = {key: value for key, value in dict(one).items() if key in COPIED_KEYS}
    return pikepdf.Dictionary({**entries, "/ColorSpace": target, "/Function": function})
