"""Content streams (ISO 32000-2, 7.8.2) in the making, and the painter that writes display lists into them.

What is opened is closed: graphics states and marked content are context managers, text objects begin with the first
glyphs and end before anything else is drawn."""

from __future__ import annotations

from collections.abc import Callable, Iterator, Sequence
from contextlib import contextmanager
from dataclasses import replace
from math import hypot
from typing import Protocol

from lexigon.core.colour.colours import Colour, Gradient
from lexigon.core.geometry import Affine, Point
from lexigon.core.paint.items import Fade, Glyphs, Group, Item, Path, Picture, Shadow
from lexigon.core.path.steps import Steps
from lexigon.core.pdf.boxes import PageBoxes
from lexigon.core.pdf.fonts import PdfFont
from lexigon.core.pdf.writer import number
from lexigon.core.type.fonts import FontFace
from lexigon.core.type.line import LineRun
from lexigon.core.type.runs import Look

OPERATORS = {"M": "m", "L": "l", "C": "c", "Z": "h"}
CAPS = {"butt": 0, "round": 1, "square": 2}
JOINS = {"miter": 0, "round": 1, "bevel": 2}
"""ISO 32000-2, tables 53 and 54."""


class Coordinates(dict[float, str]):
    """The coordinates of a path along one axis, as they are written: those of a code are on a grid and recur."""

    def __init__(self, on_sheet: Callable[[float], float]) -> None:
        self._on_sheet = on_sheet

    def __missing__(self, key: float) -> str:
        text = self[key] = number(self._on_sheet(key))
        return text


class Content:
    """A content stream that grows operator by operator."""

    def __init__(self) -> None:
        self._parts: list[str] = []
        self._in_text = False
        self._ink = ""
        """What chooses the colour that text is set in, as last written in this text object."""

    def put(self, operators: str) -> None:
        """Operators that stand outside text objects."""
        self._end_text()
        self._parts.append(operators)

    def text(self, ink: str, operators: str) -> None:
        """Operators of a text object in one colour."""
        if not self._in_text:
            self._parts.append("BT")
            self._in_text, self._ink = True, ""
        if ink != self._ink:
            self._parts.append(ink)
            self._ink = ink
        self._parts.append(operators)

    def _end_text(self) -> None:
        if self._in_text:
            self._parts.append("ET")
            self._in_text = False

    def save(self) -> None:
        self.put("q")

    def restore(self) -> None:
        self.put("Q")

    @contextmanager
    def saved(self) -> Iterator[None]:
        """Limit graphics state that is set within the block to it."""
        self.save()
        yield
        self.restore()

    def data(self) -> bytes:
        self._end_text()
        return "\n".join(self._parts).encode("ascii")


class Resources(Protocol):
    """The resources that a content stream needs from its file. Names are resource names, without a slash."""

    def font(self, face: FontFace) -> PdfFont: ...

    def ink(self, colour: Colour, edge: bool = False) -> str:
        """The operators that choose a colour for what is filled, or with ``edge`` for what is stroked."""

    def shading(self, gradient: Gradient, begin: Point, end: Point) -> str:
        """A gradient from ``begin`` to ``end`` in the coordinates of the sheet."""

    def fading(self, fade: Fade, box: tuple[float, float, float, float], map_: Affine) -> str:
        """A graphics state in which what is painted fades out; ``box`` is where its bounds lie on the sheet (left,
        foot, width, height)."""

    def mixing(self, opacity: float, blend: str) -> str:
        """A graphics state in which things are laid over what is below."""

    def picture(self, picture: Picture, width: float, height: float) -> str | None:
        """A picture that is printed so wide and high, in points; None where its file is not there."""

    def shadow(self, shadow: Shadow, items: Sequence[Item], map_: Affine) -> str:
        """The shadow that items cast, as a picture of its ``reach``; ``map_`` is their magnification on the sheet."""

    def form(self, content: bytes, box: list[float]) -> str:
        """A drawing that is painted as one (ISO 32000-2, 11.6.6: a transparency group)."""


class ContentPainter:
    """Paints a display list on a sheet."""

    def __init__(self, content: Content, sheet: PageBoxes, resources: Resources) -> None:
        self.content, self.sheet, self.resources = content, sheet, resources
        self._outer: list[Content] = []
        self._maps = [Affine()]
        """From the innermost group to the sheet, and those outside it."""

    # Groups

    def begin(self, group: Group) -> None:
        if group.shadow:
            self._throw(group.shadow, group.items)
        if group.transform or group.clip or group.whole:
            self.content.save()
        if group.transform:
            map_ = self._on_sheet(group.transform)
            self._maps.append(map_.then(self._maps[-1]))
            self.content.put(" ".join(map(number, (map_.a, map_.b, map_.c, map_.d, map_.e, map_.f))) + " cm")
        if group.clip:
            self.content.put(f"{self._steps(group.clip)} {'W*' if group.even_odd else 'W'} n")
        if group.mixed:
            self.content.put(f"/{self.resources.mixing(group.opacity, group.blend)} gs")
            if group.fade:
                self.content.put(f"/{self._faded(group.fade)} gs")
        if group.whole:
            self._outer.append(self.content)
            self.content = Content()

    def end(self, group: Group) -> None:
        if group.whole:
            whole = self.content.data()
            self.content = self._outer.pop()
            self.content.put(f"/{self.resources.form(whole, self._media())} Do")
        if group.transform:
            self._maps.pop()
        if group.transform or group.clip or group.whole:
            self.content.restore()

    def _faded(self, fade: Fade) -> str:
        b, x, y = fade.bounds, self.sheet.x, self.sheet.y
        box = (x(b.x), y(b.foot), x(b.right) - x(b.x), y(b.y) - y(b.foot))
        return self.resources.fading(fade, box, self._maps[-1])

    def _throw(self, shadow: Shadow, items: Sequence[Item]) -> None:
        """A shadow, under what throws it: an ink seen through a soft mask."""
        name = self.resources.shadow(shadow, items, self._maps[-1])
        reach, x, y = shadow.reach, self.sheet.x, self.sheet.y
        width, height = x(reach.right) - x(reach.x), y(reach.y) - y(reach.foot)
        map_ = (width, 0.0, 0.0, height, x(reach.x), y(reach.foot))
        self.content.put(f"q /GK gs {' '.join(map(number, map_))} cm /{name} Do Q")

    def _media(self) -> list[float]:
        """The box, within the innermost group, in which all of the media lies: what is moved in from outside is not cut
        off."""
        left, foot, right, head = self.sheet.media
        back = self._maps[-1].inverse() or Affine()
        corners = [back.apply(x, y) for x in (left, right) for y in (foot, head)]
        xs, ys = [x for x, _ in corners], [y for _, y in corners]
        return [min(xs), min(ys), max(xs), max(ys)]

    def _on_sheet(self, map_: Affine) -> Affine:
        """A map of the page as a map of the sheet, where y grows upward."""
        left, head = self.sheet.x(0.0), self.sheet.y(0.0)
        flip = Affine(1.0, 0.0, 0.0, -1.0, left, head)
        back = Affine(1.0, 0.0, 0.0, -1.0, -left, head)
        return back.then(map_).then(flip)

    # Paths

    def path(self, path: Path) -> None:
        """A filled and stroked outline (ISO 32000-2, 8.5)."""
        if not path.fill and not path.pen:
            return
        if isinstance(path.fill, Gradient):
            self._shade(path, path.fill)
            if not path.pen:
                return
            path = replace(path, fill=None)
        paint = [self.resources.ink(path.fill)] if isinstance(path.fill, Colour) else []
        if path.pen:
            dash = " ".join(map(number, path.pen.dash))
            paint += [self.resources.ink(path.pen.colour, edge=True), f"{number(path.pen.weight)} w [{dash}] 0 d"]
            paint += [f"{CAPS[path.pen.cap]} J"] if path.pen.cap != "butt" else []
            paint += [f"{JOINS[path.pen.join]} j"] if path.pen.join != "miter" else []
        close = ("B" if path.pen else "f") if path.fill else "S"
        star = "*" if path.even_odd and path.fill else ""
        self.content.put(" ".join(["q", *paint, self._steps(path.steps), close + star, "Q"]))

    def _shade(self, path: Path, gradient: Gradient) -> None:
        """A shading, cut off by the outline (ISO 32000-2, 8.7.4.2)."""
        x, y = self.sheet.x, self.sheet.y
        (x0, y0), (x1, y1) = gradient.begin, gradient.end
        name = self.resources.shading(gradient, (x(x0), y(y0)), (x(x1), y(y1)))
        cut = "W*" if path.even_odd else "W"
        self.content.put(" ".join(["q", self._steps(path.steps), cut, "n", f"/{name}", "sh", "Q"]))

    def _steps(self, steps: Steps) -> str:
        x, y = Coordinates(self.sheet.x), Coordinates(self.sheet.y)
        return " ".join(
            [" ".join([f"{x[px]} {y[py]}" for px, py in points]) + " " + OPERATORS[step] for step, points in steps]
        )

    # Pictures

    def picture(self, picture: Picture) -> None:
        """An image (ISO 32000-2, 8.9.5): its unit square has its origin at the left lower corner."""
        (x0, y0), (x1, y1), (x2, y2) = (picture.map.apply(u, v) for u, v in ((0.0, 1.0), (1.0, 1.0), (0.0, 0.0)))
        outer = self._maps[-1]
        large = max(hypot(outer.a, outer.b), hypot(outer.c, outer.d))
        name = self.resources.picture(picture, hypot(x1 - x0, y1 - y0) * large, hypot(x2 - x0, y2 - y0) * large)
        if name is None:
            return
        x, y = self.sheet.x, self.sheet.y
        map_ = (x(x1) - x(x0), y(y1) - y(y0), x(x2) - x(x0), y(y2) - y(y0), x(x0), y(y0))
        self.content.put(f"q /GK gs {' '.join(map(number, map_))} cm /{name} Do Q")

    # Glyphs

    def glyphs(self, glyphs: Glyphs) -> None:
        if glyphs.run.parts:
            self.content.text(self.resources.ink(glyphs.colour), self._run(glyphs.run, glyphs.baseline))

    def _run(self, run: LineRun, baseline: float) -> str:
        look = run.look
        font = self.resources.font(look.cut.face)
        x, y = self.sheet.x(run.x), self.sheet.y(baseline - look.rise)
        wide = look.squeeze * run.glyphs
        across = "1" if wide == 1 else f"{wide:.6g}"
        head = f"/{font.name} {number(look.size)} Tf {across} 0 0 1 {number(x)} {number(y)} Tm "
        foot = ""
        if run.letters:
            head += f"{number(run.letters / wide)} Tc "
            foot = " 0 Tc"
        parts = self._parts(run, font)
        if run.hyphen:
            # The added hyphen is marked as a soft one, so that the text reads back as it was written.
            *before, last = parts
            word, hyphen = _hyphenated(look, run.parts[-1].text, last)
            operators = f"[{''.join(before)}{word}] TJ " if before or word else ""
            return f"{head}{operators}/Span<</ActualText<FEFF00AD>>>BDC [{hyphen}] TJ EMC{foot}"
        return f"{head}[{''.join(parts)}] TJ{foot}"

    @staticmethod
    def _parts(run: LineRun, font: PdfFont) -> list[str]:
        """The operands of a run's words and spaces, in order."""
        look = run.look
        words = font.written(look)
        # Within one line they are equal, except where a font kerns with them.
        wide = {advance for _, advance, is_space in run.parts if is_space}
        spaces = {advance: font.space(look, (advance - run.letters) / run.glyphs) for advance in wide}
        return [
            spaces[advance] if is_space else words.get(text) or font.word(look, text)
            for text, advance, is_space in run.parts
        ]


def _hyphenated(look: Look, text: str, operands: str) -> tuple[str, str]:
    """A word's operands cut before its last glyph, if that is the added hyphen alone."""
    word = look.cut.word(text)
    if len(word.glyphs) > 1 and word.clusters[-1] == len(text) - 1:
        code = f"{word.glyphs[-1]:04X}"
        at = operands.rfind(code + ">")
        if at > 0:
            before, after = operands[:at], operands[at:]
            before = before + ">" if not before.endswith("<") else before[:-1]
            return before, "<" + after
    return operands, ""
