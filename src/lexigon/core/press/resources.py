"""What the pages of a file share: its fonts, the graphics states, the colour space of all plates, drawings painted as one."""

from __future__ import annotations

from typing import Any

from lexigon.core.colour.colours import Colour
from lexigon.core.press.pdf import Name, PdfWriter, Raw, Ref, number
from lexigon.core.press.pdffonts import PdfFont
from lexigon.core.press.variants import Variant
from lexigon.core.type.fonts import FontFace

BLENDS = {
    "normal": "Normal", "multiply": "Multiply", "screen": "Screen", "overlay": "Overlay", "darken": "Darken", "lighten": "Lighten",
}  # fmt: skip
"""ISO 32000-2, table 134."""
STATE = Name("ExtGState")
OVERPRINTING = {"Type": STATE, "OP": True, "op": True, "OPM": 1}
KNOCKING_OUT = {"Type": STATE, "OP": False, "op": False, "OPM": 0}


class FileResources:
    """The resources of one file. Their dictionaries are written by ``write``, when all pages are painted."""

    def __init__(self, writer: PdfWriter, variant: Variant) -> None:
        self.writer, self.variant = writer, variant
        self.fonts: dict[FontFace, PdfFont] = {}
        self._states: dict[str, dict[str, Any]] = {"GO": OVERPRINTING, "GK": KNOCKING_OUT}
        self._spaces: dict[str, Any] = {}
        self._forms: dict[str, Ref] = {}
        self._inks: dict[tuple[Colour, bool], str] = {}
        self._kinds = ("Font", "ExtGState", "ColorSpace", "XObject")
        self.names = {kind: writer.reserve() for kind in self._kinds}
        """The resource dictionary of every page (ISO 32000-2, table 34)."""

    def font(self, face: FontFace) -> PdfFont:
        font = self.fonts.get(face)
        if font is None:
            font = self.fonts[face] = PdfFont(face, len(self.fonts) + 1, self.writer.reserve())
        return font

    def ink(self, colour: Colour, edge: bool = False) -> str:
        """The operators that choose a colour for what is filled, or with ``edge`` for what is stroked."""
        known = self._inks.get((colour, edge))
        if known is None:
            if self.variant.space == "rgb":
                known = _chosen(colour.rgb, "RG" if edge else "rg")
            else:
                inks = Colour("cmyk", colour.cmyk)
                state = "GO" if inks.black_only and self.variant.overprints else "GK"
                known = f"/{state} gs " + _chosen(inks.components, "K" if edge else "k")
            self._inks[colour, edge] = known
        return known

    def registration(self) -> str:
        """The colour space that prints on every plate (ISO 32000-2, 8.6.6.4, the name All)."""
        self._spaces.setdefault(
            "Reg",
            [Name("Separation"), Name("All"), Name("DeviceCMYK"),
             Raw("<</FunctionType 2/Domain[0 1]/C0[0 0 0 0]/C1[1 1 1 1]/N 1>>")],
        )  # fmt: skip
        return "/Reg"

    def mixing(self, opacity: float, blend: str) -> str:
        name = f"M{round(opacity * 1000)}{BLENDS[blend]}"
        self._states.setdefault(name, {"Type": STATE, "ca": opacity, "CA": opacity, "BM": Name(BLENDS[blend])})
        return name

    def form(self, content: bytes, box: list[float]) -> str:
        name = f"X{len(self._forms) + 1}"
        space = Name("DeviceCMYK" if self.variant.space == "cmyk" else "DeviceRGB")
        group = {"Type": Name("Group"), "S": Name("Transparency"), "CS": space, "I": True}
        head = {"Type": Name("XObject"), "Subtype": Name("Form"), "BBox": box, "Resources": self.names, "Group": group}
        self._forms[name] = self.writer.add_stream(content, head)
        return name

    def write(self) -> None:
        """Embed the fonts, and write the dictionaries that the pages name."""
        for font in self.fonts.values():
            font.embed(self.writer)
        tables: dict[str, dict[str, Any]] = {
            "Font": {font.name: font.ref for font in self.fonts.values()},
            "ExtGState": self._states, "ColorSpace": self._spaces, "XObject": self._forms,
        }  # fmt: skip
        for kind in self._kinds:
            self.writer.add(tables[kind], self.names[kind])


def _chosen(components: tuple[float, ...], operator: str) -> str:
    return " ".join(number(v) for v in components) + f" {operator}"
