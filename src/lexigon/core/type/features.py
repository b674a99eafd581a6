"""OpenType features a designer chooses by hand, with their names.

Tags and friendly names are those of the OpenType layout tag registry (OpenType 1.9, appendix), from memory; stylistic
sets and character variants take the name the font gives them (``GSUB`` feature parameters), where it does.
"""

from __future__ import annotations

import re
from dataclasses import dataclass
from functools import lru_cache

from lexigon.core.type.fonts import FontFace

NAMES = {
    "liga": "Ligatures",
    "clig": "Contextual ligatures",
    "calt": "Contextual alternates",
    "kern": "Kerning",
    "dlig": "Discretionary ligatures",
    "hlig": "Historical ligatures",
    "hist": "Historical forms",
    "swsh": "Swashes",
    "cswh": "Contextual swashes",
    "salt": "Stylistic alternates",
    "titl": "Titling capitals",
    "frac": "Fractions",
    "afrc": "Alternative fractions",
    "ordn": "Ordinals",
    "zero": "Slashed zero",
    "case": "Capital-height signs",
    "unic": "Unicase",
    "ornm": "Ornaments",
    "cpsp": "Capital spacing",
    "sinf": "Scientific inferiors",
    "locl": "Local forms",
}
USUAL = frozenset({"liga", "clig", "calt", "kern", "locl"})
"""On unless switched off, as shapers have them."""
_NUMBERED = re.compile(r"(ss|cv)(\d\d)")


@dataclass(slots=True, frozen=True)
class Feature:
    """``usual`` ones are on unless a setting switches them off."""

    tag: str
    name: str
    usual: bool


@lru_cache(256)
def offered(face: FontFace) -> tuple[Feature, ...]:
    """The features of a face that can be selected by hand: those of NAMES in its order, then its stylistic sets and
    variants.

    Case, figures and superior characters have separate settings and are left out.
    """
    own = _own_names(face)
    features = [Feature(tag, name, tag in USUAL) for tag, name in NAMES.items() if tag in face.features]
    numbered = [
        Feature(tag, own.get(tag) or _plain(tag), False) for tag in sorted(face.features) if _NUMBERED.fullmatch(tag)
    ]
    return (*features, *numbered)


def _plain(tag: str) -> str:
    return ("Stylistic set " if tag.startswith("ss") else "Character variant ") + str(int(tag[2:]))


def _own_names(face: FontFace) -> dict[str, str]:
    """The names a font gives its stylistic sets and character variants."""
    from fontTools.ttLib import TTFont

    names: dict[str, str] = {}
    with TTFont(face.path, lazy=True) as font:
        table = font["GSUB"].table if "GSUB" in font else None
        for record in table.FeatureList.FeatureRecord if table and table.FeatureList else ():
            parameters = record.Feature.FeatureParams
            name_id = getattr(parameters, "UINameID", 0) or getattr(parameters, "FeatUILabelNameID", 0)
            name = font["name"].getDebugName(name_id) if name_id else None
            if name:
                names.setdefault(record.FeatureTag, str(name))
    return names
