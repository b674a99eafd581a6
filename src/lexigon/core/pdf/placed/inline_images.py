"""Inline images of a page's contents (ISO 32000-2, 8.9.7) as separate images."""

from __future__ import annotations

from typing import Any

import pikepdf
from pikepdf import Name

KEYS = {
    "/BPC": "/BitsPerComponent",
    "/CS": "/ColorSpace",
    "/D": "/Decode",
    "/DP": "/DecodeParms",
    "/F": "/Filter",
    "/H": "/Height",
    "/IM": "/ImageMask",
    "/I": "/Interpolate",
    "/W": "/Width",
}
SPACES = {"/G": "/DeviceGray", "/RGB": "/DeviceRGB", "/CMYK": "/DeviceCMYK", "/I": "/Indexed"}
FILTERS = {
    "/AHx": "/ASCIIHexDecode",
    "/A85": "/ASCII85Decode",
    "/LZW": "/LZWDecode",
    "/Fl": "/FlateDecode",
    "/RL": "/RunLengthDecode",
    "/CCF": "/CCITTFaxDecode",
    "/DCT": "/DCTDecode",
}
"""Their short names (tables 91 and 92)."""


def standalone(pdf: pikepdf.Pdf, instruction: Any) -> Any:
    """An inline image as an image object of ``pdf``."""
    inline = instruction.operands[0]
    stream = pikepdf.Stream(pdf, inline._data._inline_image_raw_bytes())
    for short, value in dict(inline.obj).items():
        key = KEYS.get(str(short), str(short))
        stream[key] = _written_out(value, {"/ColorSpace": SPACES, "/Filter": FILTERS}.get(key, {}))
    stream.Type, stream.Subtype = Name.XObject, Name.Image
    return pdf.make_indirect(stream)


def _written_out(value: Any, names: dict[str, str]) -> Any:
    """A value with its short names written out."""
    if isinstance(value, pikepdf.Name):
        return Name(names.get(str(value), str(value)))
    if isinstance(value, pikepdf.Array):
        return pikepdf.Array([_written_out(one, names) for one in value])
    return value
