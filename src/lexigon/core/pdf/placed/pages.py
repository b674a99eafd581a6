"""A page of a PDF placed unchanged: its drawing becomes a form, with all the resources it needs and nothing else.

Forms: ISO 32000-2, 8.10. RGB without a profile is declared as sRGB (DefaultRGB, 8.6.5.6), which PDF/X-4 allows (ISO
15930-7, 6.2.3); ink values stay unchanged. Annotations, scripts, files and the structure are omitted.
"""

from __future__ import annotations

from collections import deque
from collections.abc import Callable
from decimal import Decimal
from functools import partial
from pathlib import Path
from typing import Any

import pikepdf
from PIL import ImageCms

from lexigon.core.colour.profiles import Profile
from lexigon.core.pdf.placed.inked_pages import inked_page
from lexigon.core.pdf.writer import Name, PdfWriter, Raw, Ref, number
from lexigon.core.picture.brokenpdf import BROKEN
from lexigon.core.picture.placedinks import is_opaque_ink

MOST_OBJECTS = 200_000
MOST_DEPTH = 60
LEFT_BEHIND = frozenset(
    {
        "/Parent",
        "/StructParent",
        "/StructParents",
        "/Annots",
        "/Metadata",
        "/PieceInfo",
        "/OC",
        "/OCProperties",
        "/AA",
        "/LastModified",
        # What says how a device is to screen, and what other devices are to print instead: it looks the same without,
        # and PDF/X-4 refuses it
        # (ISO 15930-7, 6.2.5 to 6.2.8, from memory).
        "/HT",
        "/HTP",
        "/TR",
        "/TR2",
        "/OPI",
        "/Alternates",
        "/Ref",
    }
)


class PlacingError(Exception):
    """The page cannot be placed as it is."""


class PlacedPages:
    """Pages of PDF files that are placed in one file; what several share is written once."""

    def __init__(self, writer: PdfWriter, inks: Profile | None = None) -> None:
        """``inks`` is the printing condition of a file that may have nothing transparent, and no light: pages are
        placed in it as ``inked_page`` makes them."""
        self.writer, self.inks, self.flattened = writer, inks, inks is not None
        self._profile: Ref | None = None
        self._made: list[Callable[[], object]] = []
        """What is to be written of a page, once all of it was read."""
        self._copied: dict[tuple[Path, int, int], Ref] = {}

    def form(self, path: Path, page: int) -> Ref:
        """A page (the first is 1) as a form that fills the unit square. Raises PlacingError; nothing of the page is
        written then."""
        if self.inks is not None:
            inked = inked_page(path, page, self.inks)
            if inked is None:
                raise PlacingError("It has something transparent, or is not understood.")
            path, page = inked
        mark, profile, copied = self.writer.mark(), self._profile, dict(self._copied)
        self._made.clear()
        try:
            with pikepdf.open(path) as pdf:
                form = self._form(path, pdf.pages[page - 1], page)
        except (PlacingError, *BROKEN) as error:
            self.writer.forget(mark)
            self._profile, self._copied = profile, copied
            raise PlacingError(str(error)) from error
        for write in self._made:
            write()
        self._made.clear()
        return form

    def _form(self, path: Path, page: pikepdf.Page, at: int) -> Ref:
        box = [float(value) for value in page.cropbox]
        box = [min(box[0], box[2]), min(box[1], box[3]), max(box[0], box[2]), max(box[1], box[3])]
        waiting: deque[tuple[pikepdf.Object, Ref]] = deque()
        resources = self._value(path, page.resources, waiting, 0, resources=True)
        page.contents_coalesce()
        content = page.obj.Contents.read_bytes() if "/Contents" in page.obj else b""
        head: dict[str, Any] = {
            "Type": Name("XObject"),
            "Subtype": Name("Form"),
            "BBox": box,
            "Matrix": [Raw(f"{value:.9f}") for value in _to_unit_square(box, int(page.obj.get("/Rotate", 0)) % 360)],
            "Resources": resources,
        }
        if not self.flattened and not is_opaque_ink(path, at):
            head["Group"] = {"S": Name("Transparency"), "I": True}
        form = self.writer.reserve()
        self._made.append(partial(self.writer.add_stream, b"q\n" + content + b"\nQ\n", head, form))
        while waiting:
            obj, ref = waiting.popleft()
            self._copy(path, obj, ref, waiting)
        return form

    def _copy(self, path: Path, obj: pikepdf.Object, ref: Ref, waiting: deque[tuple[pikepdf.Object, Ref]]) -> None:
        """An object of the placed file, written under a reference of ours."""
        if isinstance(obj, pikepdf.Stream):
            if "/PS" in (str(obj.get("/Subtype")), str(obj.get("/Subtype2"))):
                raise PlacingError("It holds PostScript.")
            entries = {
                key: value
                for key, value in dict(obj.stream_dict if hasattr(obj, "stream_dict") else obj).items()
                if key != "/Length"
            }
            head = self._dictionary(path, entries, waiting, 0)
            if str(entries.get("/Subtype")) == "/Form" and "Resources" not in head and not self.flattened:
                head["Resources"] = {"ColorSpace": {"DefaultRGB": self._default()}}
            if not _are_names(obj.get("/Filter")):
                raise PlacingError("It has a stream whose packing is not named.")
            if _plain(obj.get("/Filter")):
                obj.read_bytes()  # a stream that is damaged is not passed on
            self._made.append(partial(self.writer.add_stream, obj.read_raw_bytes(), head, ref, deflate=False))
        else:
            self._made.append(partial(self.writer.add, self._value(path, obj, waiting, 0, here=True), ref))

    def _value(
        self,
        path: Path,
        obj: Any,
        waiting: deque[tuple[pikepdf.Object, Ref]],
        depth: int,
        *,
        here: bool = False,
        resources: bool = False,
    ) -> Any:
        """A value in the writer's terms; indirect objects are copied later."""
        if depth > MOST_DEPTH:
            raise PlacingError("It is nested too deep.")
        if isinstance(obj, pikepdf.Object) and obj.is_indirect and not here and not resources:
            key = (path, *obj.objgen)
            cached = self._copied.get(key)
            if cached is None:
                if len(self._copied) > MOST_OBJECTS:
                    raise PlacingError("It has too many parts.")
                cached = self._copied[key] = self.writer.reserve()
                waiting.append((obj, cached))
            return cached
        if isinstance(obj, pikepdf.Dictionary):
            dictionary = self._dictionary(path, dict(obj), waiting, depth)
            if not resources or self.flattened:
                return dictionary
            own = obj.get("/ColorSpace")
            spaces = self._dictionary(path, dict(own), waiting, depth) if isinstance(own, pikepdf.Dictionary) else {}
            return dictionary | {"ColorSpace": {"DefaultRGB": self._default(), **spaces}}
        if isinstance(obj, pikepdf.Array):
            return [self._value(path, one, waiting, depth + 1) for one in obj]
        if isinstance(obj, pikepdf.Name):
            if "\0" in str(obj):
                raise PlacingError("It has a name that no PDF may have.")  # ISO 32000-2, 7.3.5
            return Name(str(obj)[1:])
        if isinstance(obj, pikepdf.String):
            return bytes(obj)
        if isinstance(obj, (bool, int)) or obj is None:
            return obj
        if isinstance(obj, (float, Decimal)):
            return Raw(number(float(obj)))
        return Raw(obj.unparse().decode("latin-1"))

    def _dictionary(
        self, path: Path, entries: dict[str, Any], waiting: deque[tuple[pikepdf.Object, Ref]], depth: int
    ) -> dict[str, Any]:
        return {
            key[1:]: self._group(path, value, waiting, depth + 1)
            if key == "/Group"
            else self._value(path, value, waiting, depth + 1, resources=key == "/Resources")
            for key, value in entries.items()
            if key not in LEFT_BEHIND and "\0" not in key and not (self.flattened and key == "/Group")
        }

    def _group(self, path: Path, group: Any, waiting: deque[tuple[pikepdf.Object, Ref]], depth: int) -> Any:
        """The group that a form is (ISO 32000-2, 11.6.6). Light that it is mixed in is said to be sRGB, too."""
        dictionary: dict[str, Any] = self._dictionary(path, dict(group), waiting, depth)
        if str(group.get("/CS")) == "/DeviceRGB":
            dictionary["CS"] = self._default()
        return dictionary

    def _default(self) -> list[Any]:
        """sRGB (IEC 61966-2-1) as an ICC profile."""
        if self._profile is None:
            data = ImageCms.ImageCmsProfile(ImageCms.createProfile("sRGB")).tobytes()
            self._profile = self.writer.reserve()
            self._made.append(
                partial(self.writer.add_stream, data, {"N": 3, "Alternate": Name("DeviceRGB")}, self._profile)
            )
        return [Name("ICCBased"), self._profile]


PLAIN_FILTERS = frozenset({"/FlateDecode", "/LZWDecode", "/ASCII85Decode", "/ASCIIHexDecode", "/RunLengthDecode"})


def _are_names(filters: Any) -> bool:
    """Return whether the filters of a stream are names (ISO 32000-2, table 5)."""
    named = list(filters) if isinstance(filters, pikepdf.Array) else [] if filters is None else [filters]
    return all(isinstance(one, pikepdf.Name) for one in named)


def _plain(filters: Any) -> bool:
    """Return whether a stream is packed in ways that lose nothing, and can be looked through."""
    named = (
        [str(one) for one in filters]
        if isinstance(filters, pikepdf.Array)
        else [str(filters)]
        if filters is not None
        else []
    )
    return bool(named) and set(named) <= PLAIN_FILTERS


def _to_unit_square(box: list[float], turned: int) -> list[float]:
    """From a page's box, turned clockwise as the page says, to the unit square."""
    x, y, width, height = box[0], box[1], max(box[2] - box[0], 1e-6), max(box[3] - box[1], 1e-6)
    if turned == 90:
        return [0, -1 / width, 1 / height, 0, -y / height, 1 + x / width]
    if turned == 180:
        return [-1 / width, 0, 0, -1 / height, 1 + x / width, 1 + y / height]
    if turned == 270:
        return [0, 1 / width, -1 / height, 0, 1 + y / height, -x / width]
    return [1 / width, 0, 0, 1 / height, -x / width, -y / height]
