"""Fonts cut down to the glyphs a file uses, by HarfBuzz's subsetter."""

from __future__ import annotations

from collections.abc import Iterable

import uharfbuzz as hb

from lexigon.core.type.fonts import FontError, FontFace

NOT_PRINTED = (
    "GSUB",
    "GPOS",
    "GDEF",
    "DSIG",
    "STAT",
    "name",
    "post",
    "OS/2",
    "gasp",
    "meta",
    "fvar",
    "gvar",
    "avar",
    "HVAR",
    "MVAR",
    "VVAR",
    "cvar",
    "cmap",
    "kern",
    "BASE",
    "JSTF",
    "LTSH",
    "VDMX",
    "hdmx",
    "PCLT",
    "VORG",
)
"""Tables that a font embedded in a PDF does without: text is written in glyph ids (ISO 32000-2, 9.9)."""


def subset(face: FontFace, glyphs: Iterable[int]) -> bytes:
    """The font program with the outlines of ``glyphs`` alone and unchanged ids: a TrueType file, or the bare CFF table.

    Raises FontError, naming the font, for one whose outlines cannot be read.
    """
    subset_input = hb.SubsetInput()
    subset_input.flags = (
        hb.SubsetFlags.RETAIN_GIDS
        | hb.SubsetFlags.NO_HINTING
        | hb.SubsetFlags.NOTDEF_OUTLINE
        | hb.SubsetFlags.NO_LAYOUT_CLOSURE
    )
    subset_input.glyph_set.update(glyphs)
    subset_input.drop_table_tag_set.update(int.from_bytes(tag.ljust(4).encode(), "big") for tag in NOT_PRINTED)
    if face.is_variable:
        subset_input.pin_all_axes_to_default(face.hb_font.face)
    try:
        subset_face = hb.subset(face.hb_font.face, subset_input)
    except RuntimeError as error:
        raise FontError(f"The font {face.postscript_name} is broken: its outlines cannot be read.") from error
    data = subset_face.reference_table("CFF ").data if face.is_cff else subset_face.blob.data
    return bytes(data)


def program_of(face: FontFace) -> bytes:
    """The whole font program, for a font that may not be subset: the file as it is, or its bare CFF table."""
    if face.is_cff:
        return bytes(face.hb_font.face.reference_table("CFF ").data)
    return face.path.read_bytes()
