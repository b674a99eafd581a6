"""Shadows of objects in the display list, with the bounds of what they paint."""

from __future__ import annotations

from lexigon.core.colour.colours import Colour
from lexigon.core.colour.palette import Palette
from lexigon.core.document.model import Shadow as ShadowSpec
from lexigon.core.paint.coverage import reach_of
from lexigon.core.paint.items import Group, Shadow


def shadowed(group: Group, shadow_spec: ShadowSpec, palette: Palette) -> Group:
    """A group with its shadow under it, where it has one and paints something. The shadow falls in one direction,
    however the object is turned."""
    if not shadow_spec.swatch or shadow_spec.opacity <= 0:
        return group
    bounds = reach_of((group,))
    if bounds is None:
        return group
    colour = palette.colour(shadow_spec.swatch, 1.0)
    assert isinstance(colour, Colour)
    return Group(
        (group,), shadow=Shadow(shadow_spec.dx, shadow_spec.dy, shadow_spec.blur, colour, shadow_spec.opacity, bounds)
    )
