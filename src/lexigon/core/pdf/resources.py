"""Resources that the pages of a file share: fonts, graphics states, the colour space of all plates, transparency
groups."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from functools import cached_property
from itertools import pairwise
from math import ceil, hypot
from pathlib import Path
from typing import TYPE_CHECKING, Any, get_args

from lexigon.core.blending import Blend
from lexigon.core.colour.colours import REGISTRATION, Colour, Components, Gradient
from lexigon.core.colour.profiles import COATED, Profile
from lexigon.core.geometry import Affine, Point
from lexigon.core.paint.items import Fade, Item, Picture, Shadow
from lexigon.core.pdf.fonts import PdfFont
from lexigon.core.pdf.patches import Patch
from lexigon.core.pdf.picture_queue import PictureQueue
from lexigon.core.pdf.shadow_masks import Draw, fade_of, mask_of
from lexigon.core.pdf.variants import Variant
from lexigon.core.pdf.writer import Name, PdfWriter, Raw, Ref, number
from lexigon.core.picture.conversion import Raster
from lexigon.core.picture.looks import Look
from lexigon.core.type.fonts import FontFace

if TYPE_CHECKING:
    from lexigon.core.pdf.placed.pages import PlacedPages

BLENDS = {mode: "".join(map(str.capitalize, mode.split("-"))) for mode in get_args(Blend)}
"""What ISO 32000-2, table 134, calls each: ColorDodge for color-dodge."""
PROCESS = ("Cyan", "Magenta", "Yellow", "Black")
SPACES = {"L": "DeviceGray", "RGB": "DeviceRGB", "CMYK": "DeviceCMYK"}
STATE = Name("ExtGState")
OVERPRINTING = {"Type": STATE, "OP": True, "op": True, "OPM": 1}
KNOCKING_OUT = {"Type": STATE, "OP": False, "op": False, "OPM": 0}


class FileResources:
    """The resources of one file. Their dictionaries are written by ``write``, when all pages are painted."""

    def __init__(
        self,
        writer: PdfWriter,
        variant: Variant,
        find: Callable[[str], Path | None] | None = None,
        ppi: int = 300,
        profile: Profile = COATED,
        draw: Draw | None = None,
    ) -> None:
        """``find`` gives the path of a picture's file; one finer than ``ppi`` pixels per inch is reduced to that.
        ``profile`` is that of the printing condition to which RGB colours are converted. ``draw`` makes
        the pixels of shadows and soft edges (``rasters.draw_pixels``); without it there may be none."""
        self.writer, self.variant, self.find, self.ppi, self.profile = writer, variant, find, ppi, profile
        self.draw = draw
        self.fonts: dict[FontFace, PdfFont] = {}
        self._states: dict[str, dict[str, Any]] = {"GO": OVERPRINTING, "GK": KNOCKING_OUT}
        self._spaces: dict[str, Any] = {}
        self._forms: dict[str, Ref] = {}
        self._drawings: dict[tuple[bytes, tuple[float, ...]], str] = {}
        self._pictures: dict[tuple[str, int, int, Look], str] = {}
        self.queue = PictureQueue(self._image)
        self._inks: dict[tuple[Colour, bool], str] = {}
        self._spots: dict[str, str] = {}
        self._shadings: dict[str, str] = {}
        self._written: dict[str, Ref] = {}
        self.forbidden = False
        """Something that was placed has what standards for print forbid, such as a font that is not in the file."""
        self._kinds = ("Font", "ExtGState", "ColorSpace", "XObject", "Shading")
        self.names = {kind: writer.reserve() for kind in self._kinds}
        """The resource dictionary of every page (ISO 32000-2, table 34)."""

    @property
    def space(self) -> Name:
        """The colour space that what is mixed is mixed in."""
        return Name("DeviceCMYK" if self.variant.space == "cmyk" else "DeviceRGB")

    @property
    def paper(self) -> str:
        """The operators that choose bare paper for what is filled."""
        return "0 0 0 0 k" if self.variant.space == "cmyk" else "1 1 1 rg"

    def font(self, face: FontFace) -> PdfFont:
        font = self.fonts.get(face)
        if font is None:
            font = self.fonts[face] = PdfFont(face, len(self.fonts) + 1, self.writer.reserve())
        return font

    def ink(self, colour: Colour, edge: bool = False) -> str:
        """The operators that choose a colour for what is filled, or with ``edge`` for what is stroked."""
        cached = self._inks.get((colour, edge))
        if cached is None:
            if self.variant.space == "rgb":
                cached = _chosen(colour.rgb, "RG" if edge else "rg")
            elif colour.spot:
                state = "GO" if colour.overprint else "GK"
                cached = (
                    f"/{state} gs /{self._separation(colour)} {'CS' if edge else 'cs'} {number(colour.strength)} "
                    f"{'SCN' if edge else 'scn'}"
                )
            else:
                inks = Colour("cmyk", colour.inks(self.profile))
                overprints = self.variant.overprints and (inks.black_only or colour.overprint)
                state = "GO" if overprints else "GK"
                cached = f"/{state} gs " + _chosen(inks.components, "K" if edge else "k")
            self._inks[colour, edge] = cached
        return cached

    def _separation(self, colour: Colour) -> str:
        """The colour space of a spot ink: its name, and what it looks like in process inks (ISO 32000-2, 8.6.6.4)."""
        cached = self._spots.get(colour.spot)
        if cached is None:
            cached = self._spots[colour.spot] = f"S{len(self._spots) + 1}"
            full = " ".join(number(v) for v in colour.components)
            tint = Raw(f"<</FunctionType 2/Domain[0 1]/C0[0 0 0 0]/C1[{full}]/N 1>>")
            self._spaces[cached] = [Name("Separation"), Name(colour.spot), Name("DeviceCMYK"), tint]
        return cached

    def shading(self, gradient: Gradient, begin: Point, end: Point) -> str:
        """A shading of type 2 or 3 (ISO 32000-2, 8.7.4.5) in process inks, in those and spot inks, or as a screen shows
        it."""
        key = repr((gradient, begin, end))
        cached = self._shadings.get(key)
        if cached is None:
            cached = self._shadings[key] = f"H{len(self._shadings) + 1}"
            (x0, y0), (x1, y1) = begin, end
            way = [x0, y0, x1, y1] if gradient.kind == "linear" else [x0, y0, 0, x0, y0, hypot(x1 - x0, y1 - y0)]
            space, stops, powers = self._mixed_in(gradient)
            self._written[cached] = self.writer.add(
                {
                    "ShadingType": 2 if gradient.kind == "linear" else 3,
                    "ColorSpace": space,
                    "Coords": way,
                    "Function": _passing(stops, powers),
                    "Extend": [True, True],
                }
            )
        return cached

    def _mixed_in(self, gradient: Gradient) -> tuple[Any, list[tuple[float, Components]], tuple[float, ...]]:
        """The colour space of a gradient, its stops in it, and what the way between them is raised to."""
        if self.variant.space == "rgb":
            gradient_stops = gradient.steps()
            return Name("DeviceRGB"), gradient_stops, (1.0,) * (len(gradient_stops) - 1)
        colours = [colour for _, colour in gradient.stops]
        spots = {colour.spot: colour for colour in colours if colour.spot}
        if not spots:
            return (
                Name("DeviceCMYK"),
                [(at, colour.inks(self.profile)) for at, colour in gradient.stops],
                gradient.powers,
            )
        names = [*PROCESS, *spots]
        space = [
            Name("DeviceN"),
            [Name(name) for name in names],
            Name("DeviceCMYK"),
            self._all_as_process(list(spots.values())),
        ]
        stops = [
            (
                at,
                tuple((0.0,) * 4 if colour.spot else colour.inks(self.profile))
                + tuple(colour.strength * (colour.spot == name) for name in spots),
            )
            for at, colour in gradient.stops
        ]
        return space, stops, gradient.powers

    def _all_as_process(self, spots: list[Colour]) -> Ref:
        """Return what process inks and spot inks look like together: each process ink, and its part in each spot, added
        up (a calculator function, ISO 32000-2, 7.10.5)."""
        count = 4 + len(spots)
        # The stack is c m y k s1 ... sn. For each process ink its sum is put on top; then what was there first is
        # rolled away.
        steps = []
        for ink in range(4):
            steps.append(f"{count - 1} index")
            for at, spot in enumerate(spots):
                steps.append(f"{count - 4 - at + ink} index {number(spot.components[ink])} mul add")
            steps.append("dup 1 gt {pop 1} if")
        body = " ".join(["{", *steps, f"{count + 4} 4 roll", *["pop"] * count, "}"])
        domain = [0, 1] * count
        return self.writer.add_stream(body.encode(), {"FunctionType": 4, "Domain": domain, "Range": [0, 1] * 4})

    def registration(self) -> str:
        """The colour space that prints on every plate (ISO 32000-2, 8.6.6.4, the name All)."""
        return f"/{self._separation(REGISTRATION)}"

    def mixing(self, opacity: float, blend: str) -> str:
        name = f"M{round(opacity * 1000)}{BLENDS[blend]}"
        self._states.setdefault(name, {"Type": STATE, "ca": opacity, "CA": opacity, "BM": Name(BLENDS[blend])})
        return name

    def form(self, content: bytes, box: list[float]) -> str:
        key = (content, tuple(box))
        if (cached := self._drawings.get(key)) is not None:
            return cached  # the same on every piece of a merge
        name = self._drawings[key] = f"X{len(self._forms) + 1}"
        group = {"Type": Name("Group"), "S": Name("Transparency"), "CS": self.space, "I": True}
        head = {"Type": Name("XObject"), "Subtype": Name("Form"), "BBox": box, "Resources": self.names, "Group": group}
        self._forms[name] = self.writer.add_stream(content, head)
        return name

    def picture(self, picture: Picture, width: float, height: float) -> str | None:
        path = self.find(picture.file) if self.find else None
        if path is None:
            return None
        most = tuple(max(ceil(length / 72 * self.ppi), 1) for length in (width, height))
        key = (picture.file, most[0], most[1], picture.look)
        if picture.look.as_it_is and picture.vector:
            key = (picture.file, 0, 0, picture.look)  # it has no resolution: one form serves every size
        cached = self._pictures.get(key)
        if cached is None:
            cached = self._pictures[key] = f"X{len(self._forms) + 1}"
            if picture.look.as_it_is and picture.vector and self._place_page(cached, path, picture.look.page):
                return cached
            ref = self._forms[cached] = self.writer.reserve()
            self.queue.add(
                ref, path, (most[0], most[1]), picture.look, self.profile if self.variant.space == "cmyk" else None
            )
        return cached

    def _place_page(self, name: str, path: Path, page: int) -> bool:
        """Make a page of a PDF file a form, which stays vectors; False where it has to be drawn as pixels."""
        from lexigon.core.pdf.placed.pages import PlacingError  # what reads PDF files is loaded where there is one
        from lexigon.core.picture.placedfaults import faults_of

        try:
            self._forms[name] = self._pages.form(path, page)
            self.forbidden = self.forbidden or bool(faults_of(path, page))
        except PlacingError:
            return False
        return True

    @cached_property
    def _pages(self) -> PlacedPages:
        from lexigon.core.pdf.placed.pages import PlacedPages

        return PlacedPages(self.writer, self.profile if self.variant.flattened else None)

    def _draw(self) -> Draw:
        assert self.draw is not None, "shadows and soft edges need something that draws them"
        return self.draw

    def patch(self, patch: Patch) -> str:
        """A region of a page as pixels, in process inks, or in those and spot inks."""
        size = next(iter(patch.plates.values())).size
        inks = [*PROCESS, *(colour.spot for colour in patch.spots)]
        space: Any = Name("DeviceCMYK")
        if patch.spots:
            space = [Name("DeviceN"), [Name(ink) for ink in inks], space, self._all_as_process(list(patch.spots))]
        pixels = bytearray(size[0] * size[1] * len(inks))
        for at, ink in enumerate(inks):
            pixels[at :: len(inks)] = patch.plates[ink].tobytes()
        name = f"X{len(self._forms) + 1}"
        self._forms[name] = self.writer.add_stream(
            bytes(pixels),
            {
                "Type": Name("XObject"),
                "Subtype": Name("Image"),
                "BitsPerComponent": 8,
                "Width": size[0],
                "Height": size[1],
                "ColorSpace": space,
            },
        )
        return name

    def shadow(self, shadow: Shadow, items: Sequence[Item], map_: Affine) -> str:
        """One even colour, seen through a soft mask (ISO 32000-2, 11.6.5.3)."""
        scale = max(hypot(map_.a, map_.b), hypot(map_.c, map_.d))
        mask = mask_of(shadow, items, scale, self.find, self._draw())
        head: dict[str, Any] = {"Type": Name("XObject"), "Subtype": Name("Image"), "BitsPerComponent": 8}
        size = {"Width": mask.width, "Height": mask.height}
        soft = self.writer.add_stream(mask.tobytes(), {**head, **size, "ColorSpace": Name("DeviceGray")})
        space, pixel = self._pixel(shadow.colour)
        name = f"X{len(self._forms) + 1}"
        self._forms[name] = self.writer.add_stream(
            pixel, {**head, "Width": 1, "Height": 1, "ColorSpace": space, "SMask": soft}
        )
        return name

    def fading(self, fade: Fade, box: tuple[float, float, float, float], map_: Affine) -> str:
        """A soft mask by luminosity (ISO 32000-2, 11.6.5.3): only how the edge fades is made of pixels."""
        scale = max(hypot(map_.a, map_.b), hypot(map_.c, map_.d))
        mask = fade_of(fade, scale, self._draw())
        left, foot, width, height = box
        head: dict[str, Any] = {
            "Type": Name("XObject"),
            "Subtype": Name("Image"),
            "BitsPerComponent": 8,
            "ColorSpace": Name("DeviceGray"),
        }
        image = self.writer.add_stream(mask.tobytes(), {**head, "Width": mask.width, "Height": mask.height})
        form = self.writer.add_stream(
            f"q {number(width)} 0 0 {number(height)} {number(left)} {number(foot)} cm /I Do Q".encode(),
            {
                "Type": Name("XObject"),
                "Subtype": Name("Form"),
                "BBox": [left, foot, left + width, foot + height],
                # Its own, not those of the pages: they name the state that it is part of.
                "Resources": {"XObject": {"I": image}},
                "Group": {"S": Name("Transparency"), "CS": Name("DeviceGray"), "I": True},
            },
        )
        name = f"F{len(self._states) + 1}"
        self._states[name] = {"Type": STATE, "SMask": {"Type": Name("Mask"), "S": Name("Luminosity"), "G": form}}
        return name

    def _pixel(self, colour: Colour) -> tuple[Any, bytes]:
        """The colour space of a colour, and one pixel of it."""
        if self.variant.space == "rgb":
            return Name("DeviceRGB"), bytes(round(v * 255) for v in colour.rgb)
        if colour.spot:
            return self._spaces[self._separation(colour)], bytes([round(colour.strength * 255)])
        return Name("DeviceCMYK"), bytes(round(v * 255) for v in colour.inks(self.profile))

    def _image(self, raster: Raster, ref: Ref) -> Ref:
        """An image with its soft mask (ISO 32000-2, 8.9.5 and 11.6.5.3)."""
        head: dict[str, Any] = {
            "Type": Name("XObject"),
            "Subtype": Name("Image"),
            "Width": raster.width,
            "Height": raster.height,
            "BitsPerComponent": 8,
            "ColorSpace": self._ramp(raster.inks) if raster.inks else Name(SPACES[raster.mode]),
        }
        if raster.alpha is not None:
            mask = {name: value for name, value in head.items() if name != "ColorSpace"}
            head["SMask"] = self.writer.add_stream(raster.alpha, {**mask, "ColorSpace": Name("DeviceGray")})
        if raster.jpeg is None:
            return self.writer.add_stream(raster.pixels, head, ref)
        head["Filter"] = Name("DCTDecode")
        if raster.mode == "CMYK":
            head["Decode"] = [1, 0] * 4
        return self.writer.add_stream(raster.jpeg, head, ref, deflate=False)

    def _ramp(self, look: Look) -> Any:
        """The colour space of a picture in spot inks: 256 steps, each with an amount of them (Indexed, ISO 32000-2,
        8.6.6.3)."""
        if self.variant.space == "rgb":
            base, steps = Name("DeviceRGB"), look.ramp()
        elif not any(colour.spot for colour in look.colours):
            base, steps = Name("DeviceCMYK"), look.ramp(self.profile)
        else:
            ends = [(0.0, colour.at(1.0)) for colour in look.colours]
            base, _, _ = self._mixed_in(Gradient("linear", (0, 0), (1, 0), tuple(ends)))
            spots = list(dict.fromkeys(colour.spot for colour in look.colours if colour.spot))
            steps = tuple(self._strengths(look, (255 - value) / 255, spots) for value in range(256))
        table = bytes(round(255 * min(part, 1.0)) for step in steps for part in step)
        return [Name("Indexed"), base, 255, self.writer.add_stream(table, {})]

    def _strengths(self, look: Look, darkness: float, spots: list[str]) -> Components:
        """Return the amount of each process ink, and of each spot ink, for a grey value of a picture."""
        amounts = [0.0] * (4 + len(spots))
        for colour, part in zip(look.colours, look.strengths(darkness), strict=True):
            if colour.spot:
                amounts[4 + spots.index(colour.spot)] += colour.strength * part
            else:
                amounts[:4] = [was + ink * part for was, ink in zip(amounts, colour.inks(self.profile), strict=False)]
        return tuple(amounts)

    def write(self) -> None:
        """Write the pictures that wait, embed the fonts, and write the dictionaries that the pages name."""
        self.queue.finish()
        for font in self.fonts.values():
            font.embed(self.writer, lists_glyphs=self.variant.intent == "GTS_PDFA1")
        tables: dict[str, dict[str, Any]] = {
            "Font": {font.name: font.ref for font in self.fonts.values()},
            "ExtGState": self._states,
            "ColorSpace": self._spaces,
            "XObject": self._forms,
            "Shading": self._written,
        }
        for kind in self._kinds:
            self.writer.add(tables[kind], self.names[kind])


def _passing(stops: list[tuple[float, Components]], powers: tuple[float, ...]) -> Raw:
    """The function from colour to colour along the way (ISO 32000-2, 7.10.3 and 7.10.4), constant before the first and
    after the last."""
    stops = [(0.0, stops[0][1]), *stops, (1.0, stops[-1][1])]
    ways = [(*pair, power) for pair, power in zip(pairwise(stops), (1.0, *powers, 1.0), strict=True)]
    pairs = [(a, b, power) for a, b, power in ways if b[0] > a[0]]
    ends = [(*(" ".join(number(v) for v in stop[1]) for stop in (a, b)), number(power)) for a, b, power in pairs]
    each = [f"<</FunctionType 2/Domain[0 1]/C0[{first}]/C1[{last}]/N {power}>>" for first, last, power in ends]
    bounds = " ".join(number(b[0]) for _, b, _ in pairs[:-1])
    return Raw(
        "<</FunctionType 3/Domain[0 "
        f"1]/Functions[{' '.join(each)}]/Bounds[{bounds}]/Encode[{' '.join(['0 1'] * len(each))}]>>"
    )


def _chosen(components: tuple[float, ...], operator: str) -> str:
    return " ".join(number(v) for v in components) + f" {operator}"
