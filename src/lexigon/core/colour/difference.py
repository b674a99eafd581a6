"""Perceived difference of two colours: CIEDE2000 (ISO/CIE 11664-6; after Sharma, Wu and Dalal, "The CIEDE2000
Color-Difference Formula", 2005). 1 is about the smallest difference that can be seen side by side."""

from __future__ import annotations

from math import atan2, cos, degrees, exp, hypot, radians, sin, sqrt

Lab = tuple[float, ...]


def delta_e(one: Lab, other: Lab) -> float:
    """The difference of two colours in CIE L*a*b*."""
    (l1, a1, b1), (l2, a2, b2) = one, other
    mean = ((hypot(a1, b1) + hypot(a2, b2)) / 2) ** 7
    g = 0.5 * (1 - sqrt(mean / (mean + 25**7)))
    a1, a2 = a1 * (1 + g), a2 * (1 + g)
    c1, c2 = hypot(a1, b1), hypot(a2, b2)
    h1, h2 = degrees(atan2(b1, a1)) % 360, degrees(atan2(b2, a2)) % 360
    turn = h2 - h1 if c1 * c2 else 0.0
    turn += 360 if turn < -180 else -360 if turn > 180 else 0
    dl, dc, dh = l2 - l1, c2 - c1, 2 * sqrt(c1 * c2) * sin(radians(turn / 2))
    light, strong = (l1 + l2) / 2, (c1 + c2) / 2
    hue = h1 + h2
    if c1 * c2:
        hue = hue / 2 if abs(h1 - h2) <= 180 else (hue + (360 if hue < 360 else -360)) / 2
    t = (
        1
        - 0.17 * cos(radians(hue - 30))
        + 0.24 * cos(radians(2 * hue))
        + 0.32 * cos(radians(3 * hue + 6))
        - 0.2 * cos(radians(4 * hue - 63))
    )
    sl = 1 + 0.015 * (light - 50) ** 2 / sqrt(20 + (light - 50) ** 2)
    sc, sh = 1 + 0.045 * strong, 1 + 0.015 * strong * t
    seventh = strong**7
    rotation = -sin(radians(60 * exp(-(((hue - 275) / 25) ** 2)))) * 2 * sqrt(seventh / (seventh + 25**7))
    dl, dc, dh = dl / sl, dc / sc, dh / sh
    return sqrt(max(dl * dl + dc * dc + dh * dh + rotation * dc * dh, 0.0))
