"""The plates of a placed page: for each ink the same page as a drawing in RGB, whose darkness is the amount of that
ink.

Every operator that sets a colour (ISO 32000-2, 8.6.8) is rewritten, in the page and in the forms, patterns and glyphs
that it draws; images and shadings are replaced by grey ones. Blend modes, transparency and clips stay as they are, and
act on each plate separately. An overprinting object is invisible on plates on which it has no ink.

A page that is not understood completely is drawn in RGB and separated, as pictures are (``Unreadable``).
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace
from pathlib import Path
from typing import Any

import pikepdf
from pikepdf import Name

from lexigon.core.colour.colours import ALL, Colour
from lexigon.core.colour.profiles import COATED, Profile
from lexigon.core.pdf.placed.contents import ContentRewriter
from lexigon.core.pdf.placed.images import image_space, light_of, stencil_of
from lexigon.core.pdf.placed.shadings import converted_shading
from lexigon.core.pdf.placed.spaces import PROCESS, Space, Unreadable, device_space, space_of
from lexigon.core.picture.brokenpdf import BROKEN
from lexigon.core.picture.pdffunctions import FunctionError, read_function
from lexigon.core.picture.placedinks import is_opaque_ink

MOST_STREAMS = 3000

DEVICE = {
    "g": "/DeviceGray",
    "rg": "/DeviceRGB",
    "k": "/DeviceCMYK",
    "G": "/DeviceGray",
    "RG": "/DeviceRGB",
    "K": "/DeviceCMYK",
}
CHOOSE = {*DEVICE, "cs", "CS", "sc", "SC", "scn", "SCN"}
"""Operators that choose a colour: for what is filled, in capitals for what is stroked."""
NOT_ON_SPOTS = frozenset({"/Difference", "/Exclusion", "/Hue", "/Saturation", "/Color", "/Luminosity"})
"""Modes that do not leave white white, or mix several inks: spot inks are laid over normally (ISO 32000-2,
11.7.4.2)."""
ALL_LIGHT = (0.0, 1.0)
LIGHT_WITHIN = {"/ColorDodge": (0.0, 254 / 255), "/ColorBurn": (1 / 255, 1.0)}
"""Bounds of the light of what is blended in a mode, with which PDFium does what the standard says (see ``plates``)."""
BY_HAND = frozenset({"/OP", "/op", "/OPM", "/ca", "/CA", "/BM", "/TR", "/TR2", "/HT", "/BG", "/BG2", "/UCR", "/UCR2"})


def spots_in(path: Path, page: int) -> dict[str, Colour]:
    """The spot inks that a page names, each as what it looks like in process inks. Raises Unreadable."""
    try:
        with pikepdf.open(path) as pdf:
            return _Page(pdf, page, "Black", COATED).spots()
    except (Unreadable, *BROKEN) as error:
        raise Unreadable(str(error)) from error


def write_plate(path: Path, page: int, ink: str, profile: Profile, target: Path) -> None:
    """Write a page as a plate of an ink. Raises Unreadable."""
    try:
        with pikepdf.open(path) as pdf:
            _Page(pdf, page, ink, profile, is_opaque_ink(path, page)).rewrite()
            while len(pdf.pages) > page:
                del pdf.pages[-1]
            while len(pdf.pages) > 1:
                del pdf.pages[0]
            pdf.remove_unreferenced_resources()
            pdf.save(target, static_id=True, fix_metadata_version=False)
    except (Unreadable, *BROKEN) as error:
        raise Unreadable(str(error)) from error


@dataclass(slots=True, frozen=True)
class _Side:
    """The colour of fills, or of strokes: the colour, whether it overprints, and its opacity."""

    space: Space
    values: tuple[float, ...]
    overprint: bool = False
    mode: int = 0
    opacity: float | None = 1.0
    blend: str = "/Normal"
    inherited: bool = False
    """Whether the colour is that of whoever draws the part, where it is set. The same holds for an opacity that is
    None."""

    def spares(self, ink: str) -> bool:
        """Return whether it overprints and so leaves the plate of ``ink`` unchanged (ISO 32000-2, 11.7.4.3)."""
        if not self.overprint or self.blend != "/Normal" or self.inherited:
            return False
        if self.space.inks is not None:
            return ink not in self.space.inks
        if ink not in PROCESS:
            return True
        return self.space.process and self.mode == 1 and self.space.amount(self.values, ink) == 0

    def stated(self, state: Any, overprint: str, opacity: str) -> _Side:
        """The same as a graphics state leaves it (ISO 32000-2, table 57)."""
        on = state.get(overprint, state.get("/OP") if overprint == "/op" else None)
        blend = state.get("/BM", self.blend)
        return replace(
            self,
            overprint=self.overprint if on is None else bool(on),
            mode=int(state.get("/OPM", self.mode)),
            opacity=float(state[opacity]) if opacity in state else self.opacity,
            blend=str(blend[0]) if isinstance(blend, pikepdf.Array) else str(blend),
        )


class _Contents(ContentRewriter):
    """The contents of a part of a page, with every colour as the light of a plate."""

    def __init__(
        self, page: _Page, resources: Any, source: Any, first: bool, opacity: float | None, bounds: tuple[float, float]
    ) -> None:
        """``first``: they are those of the page itself, which begin with black."""
        super().__init__(resources)
        self.page, self.source, self.spaces = page, source, source.get("/ColorSpace", pikepdf.Dictionary())
        self.states = source.get("/ExtGState", pikepdf.Dictionary())
        self.bounds = bounds
        black = device_space("/DeviceGray", page.profile)
        self.sides = [_Side(black, black.initial, opacity=opacity, inherited=not first)] * 2
        """What is filled with, what is stroked with."""
        self._saved: list[list[_Side]] = []
        for at in (0, 1) if first else ():
            self._paint(at)

    def operator(self, operator: str, operands: Any, instruction: Any) -> None:
        if operator == "INLINE IMAGE":
            self._draw_inline(instruction)
            return
        if operator in CHOOSE:
            self._choose(operator, operands)
            return
        if operator == "ri":
            return
        if operator in ("Do", "sh") and self._draw(operator, operands, instruction):
            return
        self.made.append(instruction)
        if operator == "q":
            self._saved.append(list(self.sides))
        elif operator == "Q" and self._saved:
            self.sides = self._saved.pop()
        elif operator == "gs":
            state = self.states[str(operands[0])]
            self.sides = [self.sides[0].stated(state, "/op", "/ca"), self.sides[1].stated(state, "/OP", "/CA")]
            for at in (0, 1):
                self._paint(at)

    def _draw_inline(self, instruction: Any) -> None:
        """Draw an image within the contents as one of the resources."""
        name, image = self.name_of_inline(self.page.pdf, instruction)
        self.source["/XObject"] = pikepdf.Dictionary({**dict(self.source.get("/XObject", {})), str(name): image})
        self.add_image(name, self.page.image(image, self.spaces))
        drawing = pikepdf.ContentStreamInstruction([name], pikepdf.Operator("Do"))
        self.operator("Do", drawing.operands, drawing)

    def _draw(self, operator: str, operands: Any, instruction: Any) -> bool:
        """Draw something with colours of its own while something else overprints: a part, a shading, an image. A
        stencil has the fill colour, and is drawn like fills: False."""
        side = self.sides[0]
        xobject = self.source.get("/XObject", {}).get(str(operands[0])) if operator == "Do" else None
        if (
            not side.overprint
            or side.opacity is None
            or (xobject is not None and bool(xobject.get("/ImageMask", False)))
        ):
            return False
        spares = False
        if xobject is not None and str(xobject.get("/Subtype")) == "/Image":
            space = image_space(xobject, self.page.profile, self.spaces)
            spares = replace(side, space=space, values=space.initial, mode=0, inherited=False).spares(self.page.ink)
        self._see(0, side, spares)
        self.made.append(instruction)
        self._see(0, side, side.spares(self.page.ink))
        return True

    def _choose(self, operator: str, operands: Any) -> None:
        """Rewrite an operator that chooses a colour (8.6.8)."""
        at = int(operator.isupper())
        side, space = self.sides[at], self.sides[at].space
        if operator in DEVICE:
            space, values = device_space(DEVICE[operator], self.page.profile), [float(v) for v in operands]
        elif operator in ("cs", "CS"):
            space = space_of(operands[0], self.page.profile, self.spaces)
            values = list(space.initial)
            if space.pattern:
                self.sides[at] = replace(side, space=space, values=space.initial, inherited=False)
                self.put(operator, Name("/LexP") if space.count else Name.Pattern)
                return
        elif side.inherited:
            raise Unreadable("A part of it takes its colours from elsewhere.")
        elif space.pattern:
            *numbers, pattern = operands
            self.put(operator, *([self._light(side, [float(v) for v in numbers])] if numbers else []), pattern)
            return
        else:
            values = [float(v) for v in operands]
        if len(values) != space.count:
            raise Unreadable("A colour has too many or too few components.")
        self.sides[at] = replace(side, space=space, values=tuple(values), inherited=False)
        self._paint(at)

    def _light(self, side: _Side, values: list[float]) -> float:
        space, (low, high) = side.space, LIGHT_WITHIN.get(side.blend, self.bounds)
        light: float = round(min(max(1 - space.amount(values, self.page.ink), low), high), 5)
        return light

    def _paint(self, at: int) -> None:
        """Choose the light of what is filled (0) or stroked (1), and how it is seen. What spares the plate is not
        seen there; within a group it hides what lies below the group all the same, but nothing of the group: it is
        multiplied with it, as white."""
        side = self.sides[at]
        spares = side.spares(self.page.ink)
        if side.opacity is not None or spares:
            self._see(at, side, spares)
        if not side.space.pattern and not side.inherited:
            light = 1.0 if spares else self._light(side, list(side.values))
            self.put("G" if at else "g", light)

    def _see(self, at: int, side: _Side, spares: bool) -> None:
        if side.opacity is None:
            raise Unreadable("A part of it takes its opacity from elsewhere.")
        opacity = 0.0 if spares and self.page.through else side.opacity
        blend = "/Multiply" if spares and not self.page.through else side.blend
        if self.page.ink not in PROCESS and blend in NOT_ON_SPOTS:
            blend = "/Normal"
        state = f"/Lex{'ca' if at == 0 else 'CA'}{round(opacity * 10000)}{blend[1:]}"
        self.resources["/ExtGState"][state] = pikepdf.Dictionary({"/CA" if at else "/ca": opacity, "/BM": Name(blend)})
        self.put("gs", Name(state))


class _Page:
    """A page on its way to a plate."""

    def __init__(self, pdf: pikepdf.Pdf, number: int, ink: str, profile: Profile, through: bool = False) -> None:
        self.pdf, self.page, self.ink, self.profile = pdf, pdf.pages[number - 1], ink, profile
        self.through = through
        """What overprints leaves what lies below the page alone, too: the page is no group."""
        self._bounds: dict[tuple[int, int], tuple[float, float]] = {}
        """Of the light in forms that are dodged or burnt with (``plates.LIGHT_WITHIN``)."""
        self._met: set[tuple[int, int]] = set()
        self._images: dict[tuple[int, int], Any] = {}

    def spots(self) -> dict[str, Colour]:
        colours: dict[str, Colour] = {}
        for one in self._streams():
            spaces = dict(one.get("/ColorSpace", {})).values() if one is not None else ()
            shadings = dict(one.get("/Shading", {})).values() if one is not None else ()
            images = [x.get("/ColorSpace") for x in dict(one.get("/XObject", {})).values()] if one is not None else []
            for space in (
                *spaces,
                *(shading.ColorSpace for shading in shadings),
                *(space for space in images if space is not None),
            ):
                self._spots_of(space, colours)
        return colours

    def _spots_of(self, space: Any, colours: dict[str, Colour]) -> None:
        if not isinstance(space, pikepdf.Array):
            return
        kind = str(space[0])
        if kind in ("/Indexed", "/Pattern") and len(space) > 1:
            self._spots_of(space[1], colours)
        if kind == "/Separation":
            name = str(space[1])[1:]
            if name not in (*PROCESS, ALL, "None"):
                colours.setdefault(name, Colour("cmyk", self._look(space), spot=name))
        if kind == "/DeviceN":
            for one in space[1]:
                name = str(one)[1:]
                if name not in (*PROCESS, ALL, "None"):
                    colours.setdefault(name, Colour("cmyk", (0.0, 0.0, 0.0, 0.5), spot=name))

    def _look(self, space: Any) -> tuple[float, ...]:
        """The process equivalent of a full spot ink, from the tint function of its space; a mid grey if that cannot be
        read."""
        try:
            values = read_function(space[3])(1.0)
            alternate = space_of(space[2], self.profile)
            return tuple(round(alternate.amount(values, ink), 6) for ink in PROCESS)
        except (FunctionError, Unreadable):
            return (0.0, 0.0, 0.0, 0.5)

    def _streams(self) -> list[Any]:
        """The resources of the page and of all that it draws."""
        met, streams = set[tuple[int, int]](), list[Any]()
        waiting: list[Any] = [self.page.resources]
        while waiting:
            one = waiting.pop()
            streams.append(one)
            if len(streams) > MOST_STREAMS:
                raise Unreadable("It has too many parts.")
            for kind in ("/XObject", "/Pattern", "/Font"):
                for part in dict(one.get(kind, {})).values():
                    if "/Resources" in part and (part.objgen == (0, 0) or part.objgen not in met):
                        met.add(part.objgen)
                        waiting.append(part.Resources)
        return streams

    # Rewriting

    def rewrite(self) -> None:
        """Make the page the plate."""
        self.page.contents_coalesce()
        source = self.page.resources
        self._note_bounds(self.page, source)
        resources = self._own(source)
        if "/Contents" in self.page.obj:
            self.page.obj.Contents = self.pdf.make_stream(self._content(self.page, resources, source, first=True))
        self.page.obj.Resources = resources
        if "/Group" in self.page.obj:
            self.page.obj.Group.CS = Name.DeviceGray

    def _note_bounds(self, one: Any, source: Any) -> None:
        """Note the forms that contents draw while they dodge or burn."""
        states, xobjects = source.get("/ExtGState", {}), source.get("/XObject", {})
        if not any(str(state.get("/BM")) in LIGHT_WITHIN for state in dict(states).values()):
            return
        blend, saved = "/Normal", list[str]()
        for instruction in pikepdf.parse_content_stream(one, "q Q gs Do"):
            operands: Any = instruction.operands
            operator = str(instruction.operator)
            if operator == "q":
                saved.append(blend)
            elif operator == "Q" and saved:
                blend = saved.pop()
            elif operator == "gs":
                blend = str(states[str(operands[0])].get("/BM", blend))
            elif operator == "Do" and blend in LIGHT_WITHIN:
                self._bounds[xobjects[str(operands[0])].objgen] = LIGHT_WITHIN[blend]

    def _own(self, source: Any) -> Any:
        """Resources as a separate object, with images, shadings, forms, patterns and glyphs as they are on the
        plate."""
        resources = pikepdf.Dictionary(dict(source))
        spaces = source.get("/ColorSpace")
        works = {"/XObject": self._converted, "/Pattern": self._pattern, "/Shading": self._shading, "/Font": self._font}
        for kind, work in works.items():
            if kind in source:
                resources[kind] = pikepdf.Dictionary(
                    {name: work(value, spaces) for name, value in dict(source[kind]).items()}
                )
        resources["/ColorSpace"] = pikepdf.Dictionary({"/LexP": pikepdf.Array([Name.Pattern, Name.DeviceGray])})
        states = dict(source.get("/ExtGState", {}))
        resources["/ExtGState"] = pikepdf.Dictionary({name: self._state(state) for name, state in states.items()})
        return resources

    @staticmethod
    def _state(state: Any) -> Any:
        """A graphics state without what is done by hand (``_Contents._paint``), and what belongs to a device."""
        return pikepdf.Dictionary({key: value for key, value in dict(state).items() if key not in BY_HAND})

    def _first_time(self, one: Any) -> bool:
        if len(self._met) > MOST_STREAMS:
            raise Unreadable("It has too many parts.")
        if one.objgen != (0, 0) and one.objgen in self._met:
            return False
        self._met.add(one.objgen)
        return True

    def _rewritten(self, one: Any) -> None:
        """Rewrite a stream that draws, in place."""
        source = one.get("/Resources", pikepdf.Dictionary())
        self._note_bounds(one, source)
        resources = self._own(source)
        content = self._content(one, resources, source)
        one.Resources = resources
        one.write(content)
        if "/Group" in one and "/CS" in one.Group:
            one.Group.CS = Name.DeviceGray

    def _converted(self, one: Any, spaces: Any) -> Any:
        if str(one.get("/Subtype")) == "/Image":
            return self.image(one, spaces)
        if str(one.get("/Subtype")) != "/Form":
            raise Unreadable("It holds something that is no drawing.")
        if self._first_time(one):
            if "/Resources" not in one:
                raise Unreadable("A part of it takes its colours from elsewhere.")
            self._rewritten(one)
        return one

    def _pattern(self, one: Any, spaces: Any) -> Any:
        if "/Shading" in one:
            return pikepdf.Dictionary({**dict(one), "/Shading": self._shading(one.Shading, spaces)})
        if int(one.get("/PaintType", 1)) == 1 and self._first_time(one):
            self._rewritten(one)
        return one

    def _font(self, one: Any, spaces: Any) -> Any:
        """Glyphs that are drawings (Type 3): those with colours of their own (9.6.4, d0) are rewritten with the
        resources of the font."""
        if "/CharProcs" not in one or not self._first_time(one):
            return one
        source = one.get("/Resources", pikepdf.Dictionary())
        resources = self._own(source)
        for letter in dict(one.CharProcs).values():
            if any(str(i.operator) == "d0" for i in pikepdf.parse_content_stream(letter, "d0")):
                letter.write(self._content(letter, resources, source))
        one.Resources = resources
        return one

    def _shading(self, one: Any, spaces: Any) -> Any:
        space = space_of(one.ColorSpace, self.profile, spaces)

        def light(values: Sequence[float]) -> tuple[float]:
            return (1 - space.amount(values, self.ink),)

        return converted_shading(self.pdf, one, space, light, 1, Name.DeviceGray)

    def image(self, one: Any, spaces: Any) -> Any:
        """An image as grey. A stencil takes the colour that it is filled with, so it stays."""
        if bool(one.get("/ImageMask", False)):
            return one
        cached = self._images.get(one.objgen) if one.objgen != (0, 0) else None
        if cached is None:
            cached = self._grey_image(one, spaces)
            self._images[one.objgen] = cached
        return cached

    def _grey_image(self, one: Any, spaces: Any) -> Any:
        if "/SMaskInData" in one:
            raise Unreadable("It has a picture that is packed with its transparency.")
        width, height = int(one.Width), int(one.Height)
        space = image_space(one, self.profile, spaces)
        light = light_of(one, space, self.ink, self.profile)
        stream = self.pdf.make_stream(light)
        stream.Type, stream.Subtype, stream.Width, stream.Height = Name.XObject, Name.Image, width, height
        stream.ColorSpace, stream.BitsPerComponent = Name.DeviceGray, 8
        for key in ("/SMask", "/Mask", "/Interpolate"):
            if key in one:
                stream[key] = one[key]
        if isinstance(one.get("/Mask"), pikepdf.Array):
            stream.Mask = stencil_of(self.pdf, one, space)
        if "/SMask" in one and "/Matte" in one.SMask:
            raise Unreadable("It has a picture that is mixed with a ground already.")
        return stream

    def _content(self, one: Any, resources: Any, source: Any, first: bool = False) -> bytes:
        """The contents of a part as they are on the plate; what they need is added to its new ``resources``."""
        opacity = 1.0 if first or "/Group" in one else None  # of a form that is no group, what holds where it is drawn
        return _Contents(
            self, resources, source, first, opacity, self._bounds.get(one.objgen, ALL_LIGHT) if not first else ALL_LIGHT
        ).rewritten(one)
