"""Rectangles and affine transforms. Lengths in points; x grows to the right, y downward from the page's head."""

from __future__ import annotations

from dataclasses import dataclass


@dataclass(slots=True, frozen=True)
class Rect:
    """A rectangle by its top left corner and its size, in points."""

    x: float
    y: float
    width: float
    height: float

    @property
    def right(self) -> float:
        return self.x + self.width

    @property
    def foot(self) -> float:
        return self.y + self.height

    def inset(self, head: float, right: float, foot: float, left: float) -> Rect:
        """The rectangle with its edges moved inward (negative values move them out)."""
        return Rect(self.x + left, self.y + head, self.width - left - right, self.height - head - foot)

    def moved(self, dx: float, dy: float) -> Rect:
        return Rect(self.x + dx, self.y + dy, self.width, self.height)

    def contains(self, x: float, y: float) -> bool:
        return self.x <= x <= self.right and self.y <= y <= self.foot


@dataclass(slots=True, frozen=True)
class Affine:
    """The map (x, y) -> (a x + c y + e, b x + d y + f), in the order PDF and SVG write it."""

    a: float = 1.0
    b: float = 0.0
    c: float = 0.0
    d: float = 1.0
    e: float = 0.0
    f: float = 0.0

    def then(self, other: Affine) -> Affine:
        """First this map, then ``other``."""
        return Affine(
            self.a * other.a + self.b * other.c,
            self.a * other.b + self.b * other.d,
            self.c * other.a + self.d * other.c,
            self.c * other.b + self.d * other.d,
            self.e * other.a + self.f * other.c + other.e,
            self.e * other.b + self.f * other.d + other.f,
        )

    def apply(self, x: float, y: float) -> tuple[float, float]:
        return self.a * x + self.c * y + self.e, self.b * x + self.d * y + self.f

    @classmethod
    def move(cls, dx: float, dy: float) -> Affine:
        return cls(e=dx, f=dy)
