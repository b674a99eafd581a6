"""A placed page in inks alone, still a drawing: what a file for older printers (PDF/X-1a, PDF/A-1b) can have of a page
with colours in light.

Every operator that chooses light (ISO 32000-2, 8.6.8) is rewritten as one that chooses process inks, in the page and in
the forms, patterns and letters it draws; so are images, shadings, and what spot inks look like. Grey stays grey,
process and spot inks stay as they are. A page with something transparent is none (``placedinks.is_opaque_ink`` has the
last word), nor is one that is not understood."""

from __future__ import annotations

import atexit
import shutil
import zlib
from collections.abc import Sequence
from dataclasses import dataclass
from functools import lru_cache
from hashlib import sha256
from io import BytesIO
from pathlib import Path
from tempfile import mkdtemp
from typing import Any

import pikepdf
from pikepdf import Array, Dictionary, Name
from PIL import Image

from lexigon.core.colour.profiles import Profile
from lexigon.core.pdf.placed.contents import ContentRewriter
from lexigon.core.pdf.placed.images import image_space, inks_of
from lexigon.core.pdf.placed.shadings import converted_shading
from lexigon.core.pdf.placed.spaces import PROCESS, Space, Unreadable, device_space, space_of
from lexigon.core.picture.brokenpdf import BROKEN
from lexigon.core.picture.conversion import QUALITY
from lexigon.core.picture.pdffunctions import FunctionError, read_function
from lexigon.core.picture.placedinks import is_opaque_ink

MOST_STREAMS = 3000
LIGHT = {"rg": "/DeviceRGB", "RG": "/DeviceRGB"}
DEVICE = {"g": "/DeviceGray", "G": "/DeviceGray", "k": "/DeviceCMYK", "K": "/DeviceCMYK"}
CHOOSE = ("sc", "SC", "scn", "SCN")
AS_THEY_ARE = ("/Separation", "/DeviceN", "/Indexed", "/I", "/Pattern")
"""Spaces that stay, with another space below them where that is light."""
NAMES = ("/DeviceGray", "/DeviceCMYK", "/G", "/CMYK", "/Pattern")


def inked_page(path: Path, page: int, profile: Profile) -> tuple[Path, int] | None:
    """The file and the number of a page that paints the same in inks alone, nothing of it transparent; None where there
    is none."""
    if is_opaque_ink(path, page):
        return path, page
    return _rewritten(path, page, profile)


@lru_cache(256)
def _rewritten(path: Path, page: int, profile: Profile) -> tuple[Path, int] | None:
    target = _folder() / sha256(f"{path}-{page}-{profile.id}".encode()).hexdigest()
    try:
        with pikepdf.open(path) as pdf:
            _Inks(pdf, profile).page(pdf.pages[page - 1])
            while len(pdf.pages) > page:
                del pdf.pages[-1]
            while len(pdf.pages) > 1:
                del pdf.pages[0]
            pdf.remove_unreferenced_resources()
            pdf.save(target, static_id=True, fix_metadata_version=False)
    except (Unreadable, *BROKEN):
        return None
    return (target, 1) if is_opaque_ink(target, 1) else None


@lru_cache(1)
def _folder() -> Path:
    """Return where rewritten pages are, as long as the process runs."""
    folder = mkdtemp(prefix="lexigon-")
    atexit.register(shutil.rmtree, folder, ignore_errors=True)
    return Path(folder)


@dataclass(slots=True, frozen=True)
class _Chosen:
    """The colour space that is filled or stroked with; None is that of whoever draws the part."""

    space: Space | None
    rewritten: bool = False
    """It is not one of those that stay; of a pattern, the one that it is tinted in."""


class _Inks:
    """Rewrites a page; what several parts share is rewritten once."""

    def __init__(self, pdf: pikepdf.Pdf, profile: Profile) -> None:
        self.pdf, self.profile = pdf, profile
        self._met: set[tuple[int, int]] = set()
        self._made: dict[tuple[int, int], Any] = {}

    def page(self, page: pikepdf.Page) -> None:
        page.contents_coalesce()
        source = page.resources
        resources = self._resources(source)
        if "/Contents" in page.obj:
            page.obj.Contents = self.pdf.make_stream(self._content(page, resources, source, first=True))
        page.obj.Resources = resources
        _without_group(page.obj)

    def _once(self, one: Any) -> bool:
        if len(self._met) > MOST_STREAMS:
            raise Unreadable("It has too many parts.")
        if one.objgen != (0, 0) and one.objgen in self._met:
            return False
        self._met.add(one.objgen)
        return True

    def inks(self, space: Space, values: Sequence[float]) -> tuple[float, ...]:
        """A colour in process inks."""
        return tuple(round(min(max(space.amount(values, ink), 0.0), 1.0), 5) for ink in PROCESS)

    # Resources

    def _resources(self, source: Any) -> Any:
        resources = Dictionary(dict(source))
        spaces = source.get("/ColorSpace", Dictionary())
        for state in dict(source.get("/ExtGState", {})).values():
            if any(bool(state.get(key, False)) for key in ("/OP", "/op")):
                raise Unreadable("What overprints there depends on whether it is light or inks.")
        works = {"/XObject": self._converted, "/Pattern": self._pattern, "/Shading": self.shading, "/Font": self._font}
        for kind, work in works.items():
            if kind in source:
                resources[kind] = Dictionary({name: work(value, spaces) for name, value in dict(source[kind]).items()})
        remaining = {name: self._space(value, spaces) for name, value in dict(spaces).items() if stays(value)}
        resources["/ColorSpace"] = Dictionary(remaining)
        return resources

    def _converted(self, one: Any, spaces: Any) -> Any:
        if str(one.get("/Subtype")) == "/Image":
            return self.image(one, spaces)
        if str(one.get("/Subtype")) != "/Form" or "/Resources" not in one:
            raise Unreadable("It holds something that is no drawing of its own.")
        if self._once(one):
            self._rewrite(one)
        return one

    def _rewrite(self, one: Any) -> None:
        source = one.get("/Resources", Dictionary())
        resources = self._resources(source)
        content = self._content(one, resources, source)
        one.Resources = resources
        one.write(content)
        _without_group(one)

    def _pattern(self, one: Any, spaces: Any) -> Any:
        if "/Shading" in one:
            return Dictionary({**dict(one), "/Shading": self.shading(one.Shading, spaces)})
        if self._once(one):
            self._rewrite(one)
        return one

    def _font(self, one: Any, spaces: Any) -> Any:
        if "/CharProcs" in one and self._once(one):
            source = one.get("/Resources", Dictionary())
            resources = self._resources(source)
            for letter in dict(one.CharProcs).values():
                letter.write(self._content(letter, resources, source))
            one.Resources = resources
        return one

    def shading(self, one: Any, spaces: Any) -> Any:
        """A shading in inks."""
        if stays(one.ColorSpace, spaces):
            if "/ColorSpace" in one and isinstance(one.ColorSpace, Array):
                one.ColorSpace = self._space(one.ColorSpace, spaces)
            return one
        space = space_of(one.ColorSpace, self.profile, spaces)
        return converted_shading(self.pdf, one, space, lambda values: self.inks(space, values), 4, Name.DeviceCMYK)

    def image(self, one: Any, spaces: Any) -> Any:
        """An image in inks; a stencil takes the colour that it is filled with."""
        if bool(one.get("/ImageMask", False)):
            return one
        cached = self._made.get(one.objgen) if one.objgen != (0, 0) else None
        if cached is None:
            cached = self._made[one.objgen] = self._image_in_inks(one, spaces)
        return cached

    def _image_in_inks(self, one: Any, spaces: Any) -> Any:
        if any(key in one for key in ("/SMask", "/SMaskInData")) or isinstance(one.get("/Mask"), Array):
            raise Unreadable("It has a picture that is transparent, or is cut out by a colour.")
        if "/ColorSpace" in one and stays(one.ColorSpace, spaces) and not _is_newer(one):
            if isinstance(one.ColorSpace, Array):
                one.ColorSpace = self._space(one.ColorSpace, spaces)
            return one
        picture = inks_of(one, image_space(one, self.profile, spaces), self.profile)
        packed, entries = _packed(picture, one)
        stream = pikepdf.Stream(self.pdf, packed, entries)
        for key in ("/Type", "/Subtype", "/Interpolate", "/Mask", "/Intent"):
            if key in one:
                stream[key] = one[key]
        stream.Width, stream.Height, stream.BitsPerComponent, stream.ColorSpace = *picture.size, 8, Name.DeviceCMYK
        return self.pdf.make_indirect(stream)

    def _space(self, space: Any, spaces: Any) -> Any:
        """A space that stays, with inks in place of light below it."""
        if not isinstance(space, Array):
            return space
        kind = str(space[0])
        if kind in ("/Indexed", "/I") and not stays(space[1], spaces):
            return self._table(space, spaces)
        if kind == "/Pattern" and len(space) > 1 and not stays(space[1], spaces):
            return Array([Name.Pattern, Name.DeviceCMYK])
        if kind in ("/Separation", "/DeviceN") and not stays(space[2], spaces):
            return self._spot(space, spaces)
        return space

    def _table(self, space: Any, spaces: Any) -> Any:
        most = int(space[2])
        indexed = space_of(space, self.profile, spaces)
        table = bytes(round(255 * v) for at in range(most + 1) for v in self.inks(indexed, [at]))
        return Array([Name.Indexed, Name.DeviceCMYK, most, pikepdf.String(table)])

    def _spot(self, space: Any, spaces: Any) -> Any:
        """A spot ink whose alternate space is light, with process inks as the alternate."""
        if str(space[0]) != "/Separation":
            raise Unreadable("It has several inks in one space whose alternate is light.")
        below = space_of(space[2], self.profile, spaces)
        try:
            function = read_function(space[3])
        except FunctionError as error:
            raise Unreadable(str(error)) from error
        table = [self.inks(below, function(at / 255)) for at in range(256)]
        table_stream = self.pdf.make_stream(bytes(round(255 * v) for row in table for v in row))
        table_stream.FunctionType, table_stream.Size, table_stream.BitsPerSample = 0, Array([256]), 8
        table_stream.Domain, table_stream.Range = Array([0, 1]), Array([0, 1] * 4)
        return Array([Name.Separation, space[1], Name.DeviceCMYK, table_stream])

    # Contents

    def _content(self, one: Any, resources: Any, source: Any, first: bool = False) -> bytes:
        return _Contents(self, resources, source, first).rewritten(one)


class _Contents(ContentRewriter):
    """The contents of a part of a page, with inks in place of light."""

    def __init__(self, inks: _Inks, resources: Any, source: Any, first: bool) -> None:
        super().__init__(resources)
        self.inks = inks
        self.spaces = source.get("/ColorSpace", Dictionary())
        self.sides = [_Chosen(device_space("/DeviceGray", inks.profile) if first else None)] * 2
        self._saved: list[list[_Chosen]] = []

    def operator(self, operator: str, operands: Any, instruction: Any) -> None:
        at = int(operator.isupper())
        if operator == "ri":
            return
        if operator == "INLINE IMAGE":
            self._draw_inline(instruction)
        elif operator in LIGHT:
            space = device_space(LIGHT[operator], self.inks.profile)
            self.sides[at] = _Chosen(space, rewritten=True)
            self._choose(at, space, operands)
        elif operator in ("cs", "CS"):
            self._choose_space(at, operator, operands)
        elif operator in CHOOSE and (chosen := self.sides[at]).rewritten and chosen.space is not None:
            self._choose_tint(at, chosen.space, operands)
        elif operator in CHOOSE and self.sides[at].space is None:
            raise Unreadable("A part of it takes its colours from elsewhere.")
        else:
            self._pass_on(operator, operands, instruction, at)

    def _pass_on(self, operator: str, operands: Any, instruction: Any, at: int) -> None:
        self.made.append(instruction)
        if operator == "q":
            self._saved.append(list(self.sides))
        elif operator == "Q" and self._saved:
            self.sides = self._saved.pop()
        elif operator in DEVICE:
            self.sides[at] = _Chosen(device_space(DEVICE[operator], self.inks.profile))

    def _choose_tint(self, at: int, space: Space, operands: Any) -> None:
        """Choose a colour, or a pattern that takes one (8.7.3.3)."""
        if not space.pattern:
            self._choose(at, space, operands)
            return
        *numbers, pattern = operands
        tint = self.inks.inks(space, [float(v) for v in numbers]) if numbers else ()
        self.put("SCN" if at else "scn", *tint, pattern)

    def _choose_space(self, at: int, operator: str, operands: Any) -> None:
        space = space_of(operands[0], self.inks.profile, self.spaces)
        chosen_space = self.spaces.get(str(operands[0]), operands[0])
        tinted = (
            space.pattern
            and isinstance(chosen_space, Array)
            and len(chosen_space) > 1
            and not stays(chosen_space[1], self.spaces)
        )
        light = not stays(chosen_space, self.spaces)
        self.sides[at] = _Chosen(space, rewritten=light or tinted)
        if light:
            self._choose(at, space, space.initial)
        else:
            self.put(operator, operands[0])

    def _choose(self, at: int, space: Space, values: Any) -> None:
        numbers = [float(v) for v in values]
        if len(numbers) != space.count:
            raise Unreadable("A colour has too many or too few components.")
        if space.count == 1:
            self.put("G" if at else "g", round(1 - space.amount(numbers, "Black"), 5))
        else:
            self.put("K" if at else "k", *self.inks.inks(space, numbers))

    def _draw_inline(self, instruction: Any) -> None:
        """Draw an image within the contents as one of the resources."""
        name, image = self.name_of_inline(self.inks.pdf, instruction)
        self.add_image(name, self.inks.image(image, self.spaces))
        self.put("Do", name)


def _without_group(one: Any) -> None:
    """Remove the group of a page without transparency, where it only names the space for blending (11.6.6)."""
    if "/Group" in one:
        del one["/Group"]


def _is_newer(image: Any) -> bool:
    """Return whether an image is of a form that PDF 1.4 does not have."""
    return "/JPXDecode" in str(image.get("/Filter", "")) or int(image.get("/BitsPerComponent", 8)) > 8


def _packed(picture: Image.Image, source: Any) -> tuple[bytes, dict[str, Any]]:
    """The pixels in process inks, and what says how they are packed: what came as a JPEG is one again."""
    if "/DCTDecode" not in str(source.get("/Filter", "")):
        return zlib.compress(picture.tobytes()), {"/Filter": Name.FlateDecode}
    target = BytesIO()
    picture.save(target, "JPEG", quality=QUALITY)
    return target.getvalue(), {"/Filter": Name.DCTDecode, "/Decode": Array([1, 0] * 4)}


def stays(space: Any, named: Any = None) -> bool:
    """Return whether a colour space is one of inks or grey, whatever is below it."""
    if isinstance(space, Array):
        return str(space[0]) in AS_THEY_ARE
    named_space = named.get(str(space)) if named is not None else None
    return stays(named_space) if named_space is not None else str(space) in NAMES
