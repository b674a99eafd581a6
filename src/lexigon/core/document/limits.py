"""Bounds of values: the types of the model's fields, each with its limits and the message for values beyond them.

pydantic enforces them wherever a form is read (``values.read``), so that a file, a request, a row and a command line
pass one and the same gate, and the schema in docs/ states them. Nothing here knows the model.
"""

from __future__ import annotations

import re
from dataclasses import dataclass
from typing import Annotated, Any

from pydantic import AfterValidator, GetCoreSchemaHandler, GetJsonSchemaHandler
from pydantic_core import CoreSchema, core_schema

from lexigon.core.lengths import LIMIT

FAR = 10_000.0
"""Points: as far as anything within a page is moved, indented or spaced."""
MOST_TEXT = 1_000_000
"""Characters of one paragraph."""
MOST_PAGES = 5000
MOST_FRAMES = 2000
"""Objects on one page, or on one half of a master page, those in groups included."""
MOST_PARAGRAPHS = 200_000
MOST_ENTRIES = 5000
"""Entries of one of the job's tables: styles, swatches, masters, ..."""
DEEPEST = 60
"""Styles or master pages based one on the next."""
MOST_NESTED = 8
"""Groups within groups."""
MOST_TERMS = 50_000
"""Of an index."""
MOST_MARKINGS = 500
MOST_LAYERS = 200
MOST_COLUMNS = 500
"""Of one table."""
MOST_BINDINGS = 40
"""Of one object or page."""
MOST_FIELDS = 500
"""Of a record set."""
MOST_RECORDS = 100_000
"""Of one record set."""
MOST_RECORD_FILES = 2000
MOST_ADJUSTMENTS = 50_000
MOST_ADJUSTED = 500
"""Paragraphs of a story that are typed for one record."""


@dataclass(frozen=True)
class Within:
    """A number between two bounds, both allowed. What is no finite number is refused as well."""

    least: float
    most: float
    words: str

    def __get_pydantic_core_schema__(self, source: Any, handler: GetCoreSchemaHandler) -> CoreSchema:
        inner: Any = {**handler(source), "ge": self.least, "le": self.most}
        return _error(inner, self.words)


@dataclass(frozen=True)
class Matching:
    """Text of a certain form. ``words`` may show what was given as ``{}``."""

    pattern: str
    words: str
    most: int = 200

    def __get_pydantic_core_schema__(self, source: Any, handler: GetCoreSchemaHandler) -> CoreSchema:
        return _error(
            core_schema.str_schema(pattern=rf"^(?:{self.pattern})\Z", max_length=self.most, regex_engine="python-re"),
            self.words,
        )

    def __get_pydantic_json_schema__(self, schema: CoreSchema, handler: GetJsonSchemaHandler) -> dict[str, Any]:
        return {"type": "string", "pattern": f"^(?:{self.pattern})$", "maxLength": self.most}


@dataclass(frozen=True)
class Many:
    """A list or a table with a limited number of items."""

    most: int
    least: int = 0

    def __get_pydantic_core_schema__(self, source: Any, handler: GetCoreSchemaHandler) -> CoreSchema:
        bounded: Any = {**handler(source), "max_length": self.most}
        if self.least:
            bounded["min_length"] = self.least
        checked: CoreSchema = bounded
        return checked


def _error(inner: CoreSchema, words: str) -> CoreSchema:
    escaped = words.replace("{", "{{").replace("}", "}}")
    return core_schema.custom_error_schema(inner, "limit", custom_error_message=escaped)


# Lengths and other numbers

Length = Annotated[float, Within(-LIMIT, LIMIT, "A length can be at most about 120 m.")]
Extent = Annotated[float, Within(0, LIMIT, "A size or distance is between 0 and about 120 m.")]
Near = Annotated[float, Within(-FAR, FAR, "Indents and spaces are at most 10,000 pt.")]
Part = Annotated[float, Within(0, 1, "This is a percentage from 0 to 100.")]
Tint = Annotated[float, Within(0, 1, "A tint is a percentage from 0 to 100.")]
Midpoint = Annotated[float, Within(0.05, 0.95, "A midpoint is at 5 to 95 % of the distance to the next colour.")]
Pixels = Annotated[int, Within(1, 100_000, "A picture has 1 to 100,000 pixels across and down.")]
PlacedPage = Annotated[int, Within(1, 2000, "A PDF with 1 to 2,000 pages can be placed.")]
Resolution = Annotated[float, Within(1, 100_000, "A picture has 1 to 100,000 ppi.")]
Opacity = Annotated[float, Within(0, 1, "Opacity is a percentage from 0 to 100.")]
Blur = Annotated[float, Within(0, 500, "A shadow or soft edge can fade over at most 500 pt.")]
Fall = Annotated[float, Within(-2000, 2000, "The offset of a shadow is at most 2,000 pt.")]
Signed = Annotated[float, Within(-1, 1, "An adjustment is between -100 and 100 %.")]
Gamma = Annotated[float, Within(0.1, 10, "Gamma is between 0.1 and 10.")]
Sharpness = Annotated[float, Within(0, 3, "Sharpness is between 0 and 300 %.")]
Turn = Annotated[float, Within(-36_000, 36_000, "A rotation is at most 36,000 degrees.")]
Skew = Annotated[float, Within(-85, 85, "A skew is at most 85 degrees to either side.")]
OutlinePart = Annotated[float, Within(-10, 10, "A point of the outline is too far outside its frame.")]
Columns = Annotated[int, Within(1, 40, "A frame has 1 to 40 columns.")]
RepeatColumns = Annotated[int, Within(0, 100, "Repeated objects are in 1 to 100 columns; 0 for as many as fit.")]
PageColumns = Annotated[int, Within(1, 12, "A page has 1 to 12 columns.")]
Level = Annotated[int, Within(0, 9, "Heading levels are 1 to 9, or 0 for text.")]
Spanned = Annotated[int, Within(1, 100_000, "A cell spans at least one column and one row.")]
HeadRows = Annotated[int, Within(0, 1000, "A table has at most 1,000 head rows.")]
Pages = Annotated[int, Within(0, MOST_PAGES, f"A job has at most {MOST_PAGES:,} pages.")]
Place = Annotated[int, Within(0, MOST_TEXT, f"A paragraph has at most {MOST_TEXT:,} characters.")]

# Type

TypeSize = Annotated[float, Within(0.1, 5000, "Type is between 0.1 and 5,000 pt.")]
Weight = Annotated[int, Within(1, 1000, "A weight is a number from 1 to 1,000; 400 is regular, 700 bold.")]
Scale = Annotated[float, Within(0.05, 20, "Characters can be scaled to 5 to 2,000 % of their width or height.")]
Shift = Annotated[float, Within(-5000, 5000, "The baseline can be shifted by at most 5,000 pt.")]
Tracking = Annotated[float, Within(-500, 5000, "Tracking is between -500 and 5,000 thousandths of an em.")]
TextLine = Annotated[float, Within(0, 500, "An underline or strikethrough has a weight of 0 to 500 pt.")]
TextLineAt = Annotated[
    float, Within(-5000, 5000, "An underline or strikethrough is at most 5,000 pt away from the text.")
]
StrokeWeight = Annotated[float, Within(0, 500, "A stroke has a weight of 0 to 500 pt.")]

# Paragraphs

LeadingTimes = Annotated[float, Within(0.1, 20, "Leading is a tenth to twenty times the type size.")]
HyphenWord = Annotated[int, Within(2, 100, "The shortest word to hyphenate has 2 to 100 letters.")]
HyphenBefore = Annotated[int, Within(1, 50, "There are 1 to 50 letters before a hyphen.")]
HyphenAfter = Annotated[int, Within(1, 50, "There are 1 to 50 letters after a hyphen.")]
HyphenRun = Annotated[int, Within(0, 100, "Hyphens in a row are limited to 1 to 100; 0 sets no limit.")]
ClosingLines = Annotated[int, Within(1, 20, "The last page of a chapter has at least 1 to 20 lines.")]
FootLines = Annotated[int, Within(1, 100, "Lines kept together at the bottom of a column: 1 to 100.")]
HeadLines = Annotated[int, Within(1, 100, "Lines kept together at the top of a column: 1 to 100.")]
InitialLines = Annotated[int, Within(0, 40, "A drop cap is 2 to 40 lines high.")]
InitialLetters = Annotated[int, Within(1, 100, "A drop cap has 1 to 100 characters.")]
Fitting = Annotated[float, Within(0, 0.2, "Letter spacing and glyph scaling can vary by at most 20 %.")]
Looseness = Annotated[int, Within(-9, 9, "A paragraph can be set at most 9 lines longer or shorter.")]
TabDistance = Annotated[float, Within(1, FAR, "Tab stops are 1 to 10,000 pt apart.")]
Split = Annotated[int, Within(1, 20, "A paragraph can be split into 1 to 20 columns.")]
ListLevel = Annotated[int, Within(1, 9, "Lists have levels 1 to 9.")]
ListNumber = Annotated[int, Within(-100_000, 100_000, "List numbers go up to 100,000.")]
RecordCount = Annotated[int, Within(0, MOST_RECORDS, f"A record set has at most {MOST_RECORDS:,} records.")]
PageNumber = Annotated[int, Within(0, 100_000, "A section starts with a page number from 0 to 100,000.")]


def _leading(value: float) -> float:
    if value != 0 and not 0.5 <= value <= 6000:
        raise ValueError("Leading is between 0.5 and 6,000 pt, or 0 for automatic.")
    return value


def _dash(value: tuple[float, ...]) -> tuple[float, ...]:
    if len(value) > 20 or any(not 0 <= part <= FAR for part in value) or (value and not sum(value)):
        raise ValueError("Dashes are up to 20 lengths of dashes and gaps in turn, such as 3 2.")
    return value


Leading = Annotated[float, AfterValidator(_leading)]
Dash = Annotated[tuple[float, ...], AfterValidator(_dash)]

# Text

CONTROLS = r"\x00-\x1f\x7f-\x9f\ud800-\udfff\ufffe\uffff"
"""Characters that no name bears: controls, halves of surrogate pairs, what Unicode says is none."""

Id = Annotated[str, Matching(r"[A-Za-z0-9][A-Za-z0-9_.-]{0,23}", "This is not a valid id of a part of a job.", 24)]
"""Of pages, frames, stories and paragraphs."""
Key = Annotated[str, Matching(r"[A-Za-z0-9][A-Za-z0-9_. -]{0,39}", "This is not a valid id of a part of a job.", 40)]
"""Of styles, swatches, masters and other entries."""
KeyOrEmpty = Annotated[
    str, Matching(r"|[A-Za-z0-9][A-Za-z0-9_. -]{0,39}", "This is not a valid id of a part of a job.", 40)
]
"""With "" for none."""
Name = Annotated[str, Matching(f"[^{CONTROLS}]*", "A name has at most 200 characters, and no control characters.")]
Note = Annotated[
    str, Matching(f"[^{CONTROLS}]*", "This text can have at most 2,000 characters, and no control characters.", 2000)
]
Mark = Annotated[str, Matching(f"[^{CONTROLS}]*", "A bullet or number format has at most 40 characters.", 40)]
SeriesName = Annotated[
    str, Matching(f'[^{CONTROLS}"“”]*', "The name of a series has at most 40 characters, and no quotation marks.", 40)
]
_FIELD_NAME = rf"[^{CONTROLS}{{}}\[\]]"
FieldName = Annotated[
    str,
    Matching(_FIELD_NAME + "{1,80}", "The name of a field has 1 to 80 characters, and no braces or brackets.", 80),
]
FieldNameOrEmpty = Annotated[
    str,
    Matching(_FIELD_NAME + "{0,80}", "The name of a field has at most 80 characters, and no braces or brackets.", 80),
]
Leader = Annotated[str, Matching(f"[^{CONTROLS}]*", "A leader has at most 20 characters.", 20)]
Link = Annotated[
    str,
    Matching(
        f'|#[A-Za-z0-9][A-Za-z0-9_.-]{{0,23}}|(https?://|mailto:|tel:)[^{CONTROLS}\\s<>"]+',
        "A link leads to a web address, an e-mail address, a telephone number or a paragraph of the job.",
        2000,
    ),
]
"""Where words lead: "" nowhere, ``#`` and its id to a paragraph."""
Text = Annotated[
    str,
    Matching(
        r"[^\x00-\x08\x0a-\x1f\x7f-\x9f\ud800-\udfff\ufffe\uffff]*",
        f"A paragraph has at most {MOST_TEXT:,} characters, no line ends and no control characters.",
        MOST_TEXT,
    ),
]
"""The characters of a paragraph; a line end within it is U+2028."""
CodeText = Annotated[
    str,
    Matching(
        f"[^{CONTROLS}]*(\n[^{CONTROLS}]*)*",
        "A code can contain at most 2,900 characters, and no control characters except line ends.",
        2900,
    ),
]
Dots = Annotated[int, Within(0, 10_000, "The device resolution is at most 10,000 dpi; 0 ignores it.")]
Digits = Annotated[str, Matching("[0-9]{0,5}", "An add-on has two or five figures.", 5)]
FileName = Annotated[
    str, Matching("[0-9a-f]{64}", "A file is identified by the 64 hexadecimal digits of its SHA-256.", 64)
]
Colour = Annotated[str, Matching("#[0-9A-Fa-f]{6}", "A colour of the interface is written like #1E5B4F.", 7)]
Feature = Annotated[
    str, Matching(r"[A-Za-z0-9]{4}(=\d{1,3})?", "An OpenType feature is written like swsh or salt=2.", 8)
]
Language = Annotated[
    str, Matching(r"[A-Za-z]{2,8}(-[A-Za-z0-9]{1,8}){0,4}", "A language is named like en-GB or de (BCP 47).", 44)
]
PathData = Annotated[
    str, Matching(r"[MLCZ0-9eE+., -]*", "A path is written in steps M, L, C and Z with numbers between.", 2_000_000)
]


def is_file(name: str) -> bool:
    """Return whether ``name`` names a file by the SHA-256 of its content."""
    return re.fullmatch("[0-9a-f]{64}", name) is not None
