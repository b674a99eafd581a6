"""The control words of Rich Text Format (version 1.9.1): characters, skipped destinations, code pages, languages,
alignments."""

from __future__ import annotations

import re

from lexigon.core.manuscript.source import Align

SIGNS = {
    "emdash": "—",
    "endash": "–",
    "lquote": "‘",
    "rquote": "’",
    "ldblquote": "“",
    "rdblquote": "”",
    "bullet": "•",
    "emspace": "\u2003",
    "enspace": "\u2002",
    "qmspace": "\u2005",
    "zwj": "\u200d",
    "zwnj": "\u200c",
    "tab": "\t",
    "line": "\n",
}
SKIPPED = frozenset(
    {
        "fonttbl",
        "colortbl",
        "info",
        "header",
        "footer",
        "headerl",
        "headerr",
        "headerf",
        "footerl",
        "footerr",
        "footerf",
        "ftnsep",
        "ftnsepc",
        "aftnsep",
        "aftnsepc",
        "listtext",
        "pntext",
        "pn",
        "xe",
        "tc",
        "fldinst",
        "generator",
        "themedata",
        "colorschememapping",
        "datastore",
        "latentstyles",
        "rsidtbl",
        "listtable",
        "listoverridetable",
        "revtbl",
        "filetbl",
        "objdata",
        "objclass",
        "bkmkend",
        "nonshppict",
        "ftncn",
        "private",
    }
)
PAGES = {"ansi": "cp1252", "mac": "mac_roman", "pc": "cp437", "pca": "cp850"}
LANGUAGES = {
    1033: "en-US",
    2057: "en-GB",
    1031: "de-DE",
    2055: "de-CH",
    3079: "de-AT",
    1036: "fr-FR",
    3084: "fr-CA",
    1040: "it-IT",
    3082: "es-ES",
    1034: "es-ES",
    1043: "nl-NL",
    2070: "pt-PT",
    1046: "pt-BR",
    1053: "sv-SE",
    1030: "da-DK",
    1044: "nb-NO",
    1035: "fi-FI",
    1045: "pl-PL",
    1029: "cs-CZ",
    1049: "ru-RU",
    1032: "el-GR",
    1055: "tr-TR",
    1038: "hu-HU",
}
"""Language identifiers of RTF (MS-LCID, the commonest; from memory)."""
ALIGNS: dict[str, Align] = {"ql": "left", "qc": "centre", "qr": "right", "qj": "justify"}
HYPERLINK = re.compile(r'HYPERLINK\s+(\\l\s+)?"([^"]+)"')
"""The instruction of a link field (its switch ``\\l``: to a bookmark)."""
