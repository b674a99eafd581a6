"""Rich Text Format (version 1.9.1, the published specification): a small reader of our own, since existing ones lose
notes or italics.

A file consists of groups in braces, control words and letters. Unknown destinations that are marked as optional are
skipped whole; binary parts are skipped by their length. Nothing in a file is run or opened.
"""

from __future__ import annotations

import binascii
import re
from collections.abc import Callable
from dataclasses import dataclass, field, replace
from typing import Any

from lexigon.core.document.model import TypeSpec
from lexigon.core.manuscript.readers.decode import ManuscriptError
from lexigon.core.manuscript.readers.rtf_words import ALIGNS, HYPERLINK, LANGUAGES, PAGES, SIGNS, SKIPPED
from lexigon.core.manuscript.source import (
    PLAIN,
    Align,
    Builder,
    Listed,
    Source,
    SourceCell,
    SourceNote,
    SourceParagraph,
    SourcePicture,
    SourceTable,
)

TOKEN = re.compile(
    rb"\\(?:([a-zA-Z]{1,32})(-?\d{1,10})? ?|'([0-9a-fA-F]{2})|([^a-zA-Z]))|([{}])|([^\\{}\r\n]+)|[\r\n]+"
)
DEEPEST = 400


@dataclass(slots=True)
class _State:
    """The state that is valid within a group."""

    look: TypeSpec = PLAIN
    skip: bool = False
    hidden: bool = False
    deleted: bool = False
    uc: int = 1
    para: _Para = field(default_factory=lambda: _Para())
    to: str = ""
    """The destination of words: "" the text, ``style``, ``pict``, ``note``, ``inst`` the instruction of a field,
    ``mark`` the name of a bookmark."""
    link: str = ""


@dataclass(slots=True)
class _Para:
    style: int = 0
    align: Align = ""
    level: int = 0
    listed: int = -1
    starts_page: bool = False
    in_table: bool = False


@dataclass(slots=True)
class _Sheet:
    """A style of the sheet while it is read."""

    number: int = 0
    kind: str = "s"
    name: str = ""
    level: int = 0
    align: Align = ""
    size: float = 0.0
    look: TypeSpec = PLAIN


@dataclass(slots=True)
class _Flow:
    """A text that is being read: the main text, or a note."""

    builder: Builder
    rows: list[tuple[SourceCell, ...]] = field(default_factory=list)
    cells: list[SourceCell] = field(default_factory=list)
    before: list[SourceParagraph] = field(default_factory=list)
    heads: int = 0
    head: bool = False
    open: bool = False
    """A table is being read."""


def read_rtf(data: bytes) -> Source:
    """Raises ManuscriptError."""
    return _Reader(data).read()


class _Reader:
    def __init__(self, data: bytes) -> None:
        self.data = data
        self.source = Source("RTF")
        self.states = [_State()]
        self.page = "cp1252"
        self.styles: dict[tuple[str, int], _Sheet] = {}
        self.sheet: _Sheet | None = None
        self.flows = [_Flow(Builder(self.source))]
        self.flow_depths: list[tuple[int, str]] = []
        self.pict: bytearray | None = None
        self.pict_kind = ""
        self.pict_width = 0.0
        self.bytes = bytearray()
        self.language = ""
        self.starred = False
        self.high = 0
        """The first half of a character that is given in two."""
        self.page_waits = False
        """The next paragraph begins a page."""
        self.waiting = 0
        self.inst = ""
        """Replacement letters after a Unicode character, for readers that do not know it."""

    @property
    def state(self) -> _State:
        return self.states[-1]

    @property
    def flow(self) -> _Flow:
        return self.flows[-1]

    def read(self) -> Source:
        at, data = 0, self.data
        while at < len(data):
            match = TOKEN.match(data, at)
            if match is None:
                at += 1
                continue
            at = match.end()
            word, number, code, sign, brace, letters = match.groups()
            if word == b"bin":
                at += max(int(number or 0), 0)
            elif brace == b"{":
                self.flush()
                if len(self.states) > DEEPEST:
                    raise ManuscriptError("This file is nested too deeply to be read.")
                self.states.append(replace(self.state, para=replace(self.state.para)))
                self.starred = False
            elif brace == b"}":
                self.flush()
                self.closed()
            elif code is not None:
                self.letter(bytes([int(code, 16)]))
            elif letters is not None:
                self.letter(letters)
            elif sign is not None:
                self.flush()
                self.symbol(sign)
            elif word is not None:
                self.flush()
                self.control(word.decode("ascii"), int(number) if number else None)
        self.flush()
        while len(self.flows) > 1:  # a note that was never closed
            self.end_flow()
        self.end_table()
        if self.flow.builder.begun:
            self.end_paragraph()
        self.source.paragraphs = list(self.flow.builder.take_paragraphs())
        return self.source

    # Letters

    def letter(self, letters: bytes) -> None:
        if self.waiting:
            gone = min(self.waiting, len(letters))
            self.waiting -= gone
            letters = letters[gone:]
        if self.state.to == "pict":
            if self.pict is not None:
                self.pict += letters
            return
        self.bytes += letters

    def flush(self) -> None:
        if self.bytes:
            words = self.bytes.decode(self.page, "replace")
            self.bytes.clear()
            self.say(words)

    def say(self, words: str) -> None:
        if self.state.to == "style":
            if self.sheet is not None:
                self.sheet.name += words
        elif self.state.to == "inst":
            self.inst += words
        elif self.state.to == "mark":
            self.flow.builder.names.append(words.strip())
        elif not self.state.skip and not self.state.hidden and not self.state.deleted:
            self.flow.builder.link = self.state.link
            self.flow.builder.words(words, self.looks())
            self.flow.builder.link = ""

    def looks(self) -> TypeSpec:
        """Return what is said beyond the paragraph's style."""
        base = self.styles.get(("s", self.state.para.style))
        values = {}
        for name, usual in (
            ("italic", False),
            ("weight", 400),
            ("caps", "none"),
            ("underline", False),
            ("strike", False),
            ("position", "normal"),
            ("language", None),
        ):
            value = getattr(self.state.look, name)
            before = getattr(base.look, name) if base else None
            if value is not None and value != (before if before is not None else usual):
                values[name] = value
        if values.get("language") in (self.language, None):
            values.pop("language", None)
        return TypeSpec(**values)

    def symbol(self, sign: bytes) -> None:
        if sign == b"*":
            self.starred = True
            return
        words = {
            b"~": "\u00a0",
            b"-": "\u00ad",
            b"_": "\u2011",
            b"\\": "\\",
            b"{": "{",
            b"}": "}",
            b"\n": "",
            b"\r": "",
        }.get(sign)
        if sign in (b"\n", b"\r"):
            self.control("par", None)
        elif words and self.waiting:
            self.waiting -= 1
        elif words:
            self.say(words)

    # Groups

    def closed(self) -> None:
        depth = len(self.states)
        if self.sheet is not None and self.state.to == "style":
            self.sheet.name = self.sheet.name.split(";")[0].strip()
            self.sheet.look = self.state.look
            self.styles.setdefault((self.sheet.kind, self.sheet.number), self.sheet)
            self.sheet = None
        if self.state.to == "pict" and (len(self.states) < 2 or self.states[-2].to != "pict"):
            self.end_picture()
        if self.flow_depths and self.flow_depths[-1][0] == depth:
            self.end_flow()
        if len(self.states) > 1:
            self.states.pop()

    def begin_flow(self, kind: str) -> None:
        self.flow_depths.append((len(self.states), kind))
        self.flows.append(_Flow(Builder(self.source)))
        self.state.look, self.state.skip, self.state.para = PLAIN, False, _Para()

    def end_flow(self) -> None:
        _, kind = self.flow_depths.pop()
        self.end_table()
        if self.flow.builder.begun:
            self.end_paragraph()
        paragraphs = self.flows.pop().builder.take_paragraphs()
        ref = f"n{len(self.source.notes) + 1}"
        self.source.notes[ref] = SourceNote("endnote" if kind == "endnote" else "footnote", paragraphs)
        self.flow.builder.object("note", ref)

    def end_picture(self) -> None:
        data, kind = self.pict or bytearray(), self.pict_kind
        self.pict = None
        if not kind or self.state.skip:
            self.source.reported["missing"] += not self.state.skip
            return
        try:
            raw = binascii.unhexlify(re.sub(rb"[^0-9A-Fa-f]", b"", bytes(data)))
        except binascii.Error:
            self.source.reported["missing"] += 1
            return
        name = f"picture {len(self.source.pictures) + 1}.{kind}"
        self.source.pictures[name] = SourcePicture(name, raw, "", self.pict_width)
        self.flow.builder.object("frame", name)

    # Control words

    def control(self, word: str, number: int | None) -> None:
        state, on = self.state, number != 0
        starred, self.starred = self.starred, False
        if word == "u":
            code = (number or 0) % 65536
            self.unit(code)
            self.waiting = state.uc
            return
        self.waiting = 0
        if word == "uc":
            state.uc = max(number or 0, 0)
        elif word == "ansicpg":
            self.page = _codec(number or 1252)
        elif word in PAGES:
            self.page = PAGES[word]
        elif word == "stylesheet":
            state.to, state.skip = "sheet", True
        elif state.to in ("sheet", "style"):
            self.of_sheet(word, number)
        elif word in ("pict",):
            state.to, self.pict, self.pict_kind, self.pict_width = "pict", bytearray(), "", 0.0
        elif state.to == "pict":
            self.pict_kind = {"pngblip": "png", "jpegblip": "jpg"}.get(word, self.pict_kind)
            if word == "picwgoal" and number:
                self.pict_width = number / 20
        elif word == "footnote":
            self.begin_flow("footnote")
        elif word == "ftnalt" and self.flow_depths:
            self.flow_depths[-1] = (self.flow_depths[-1][0], "endnote")
        elif word == "annotation":
            self.source.reported["comments"] += 1
            state.skip = True
        elif word == "fldinst":
            state.to, self.inst = "inst", ""
        elif word == "bkmkstart":
            self.source.reported["bookmarks"] += 1
            state.to = "mark"
        elif word == "fldrslt":
            led = HYPERLINK.search(self.inst)
            self.source.reported["links"] += led is not None
            state.link = (f"#{led[2]}" if led[1] else led[2]) if led else ""
        elif word in ("shppict", "field", "shptxt", "result", "atrfstart", "atrfend"):
            self.source.reported["fields"] += word == "field"
            state.skip = state.skip or word in ("atrfstart", "atrfend")
        elif word in SKIPPED or starred or word in ("atnid", "atnauthor", "atnref", "atndate"):
            state.skip = True
        elif word in SIGNS:
            self.say(SIGNS[word])
        else:
            self.setting(word, number, on)

    def unit(self, code: int) -> None:
        if 0xD800 <= code < 0xDC00:
            self.high = code
        elif 0xDC00 <= code < 0xE000:
            if self.high:
                self.say(chr(0x10000 + ((self.high - 0xD800) << 10) + code - 0xDC00))
            self.high = 0
        elif 0xF000 <= code <= 0xF0FF:
            self.source.reported["symbols"] += 1
            self.say("\ufffd")
        elif code > 31:
            self.say(chr(code))

    def setting(self, word: str, number: int | None, on: bool) -> None:
        state, para = self.state, self.state.para
        if word in LOOKS:
            state.look = replace(state.look, **LOOKS[word](on))
        elif word == "plain":
            state.look, state.hidden = PLAIN, False
        elif word == "lang" and number in LANGUAGES:
            state.look = replace(state.look, language=LANGUAGES[number or 0])
        elif word == "deflang" and number in LANGUAGES:
            self.language = LANGUAGES[number or 0]
        elif word == "cs" and number is not None and ("cs", number) in self.styles:
            named = self.styles["cs", number].look
            state.look = replace(
                state.look,
                **{
                    name: getattr(named, name)
                    for name in ("italic", "weight", "caps", "underline", "strike", "position")
                    if getattr(named, name) is not None
                },
            )
        elif word == "v":
            state.hidden = on
            self.source.reported["hidden"] += on
        elif word == "deleted":
            state.deleted = on
            self.source.reported["deletions"] += on
        elif word == "revised":
            self.source.reported["insertions"] += on
        elif word == "pard":
            state.para = _Para()
        elif word == "s" and number is not None:
            para.style = number
        elif word in ALIGNS:
            para.align = ALIGNS[word]
        elif word == "outlinelevel" and number is not None:
            para.level = number + 1 if 0 <= number < 9 else 0
        elif word == "ilvl" and number is not None:
            para.listed = max(number, 0)
        elif word == "ls" and para.listed < 0:
            para.listed = 0
        elif word == "pagebb":
            para.starts_page = on
        elif word in ("page", "sect"):
            if self.flow.builder.begun:
                self.end_paragraph()
            self.page_waits = True
        elif word == "par":
            self.end_paragraph()
        elif word in ("cell", "nestcell"):
            self.cell()
        elif word in ("row", "nestrow"):
            self.row()
        elif word == "trowd":
            self.flow.head = False
        elif word == "trhdr":
            self.flow.head = True
        elif word == "intbl":
            para.in_table = True

    def of_sheet(self, word: str, number: int | None) -> None:
        state = self.state
        if state.to == "sheet":
            state.to, self.sheet = "style", _Sheet()
        sheet = self.sheet
        if sheet is None:
            return
        if word in ("s", "cs", "ds", "ts") and number is not None:
            sheet.kind, sheet.number = word, number
            if word == "s":
                state.look = PLAIN
        elif word in LOOKS:
            state.look = replace(state.look, **LOOKS[word](number != 0))
        elif word == "outlinelevel" and number is not None:
            sheet.level = number + 1 if 0 <= number < 9 else 0
        elif word in ALIGNS:
            sheet.align = ALIGNS[word]
        elif word == "fs" and number:
            sheet.size = number / 2

    # Paragraphs and tables

    def end_paragraph(self) -> None:
        if self.state.skip or self.state.deleted:
            return
        flow, para = self.flow, self.state.para
        if para.in_table and not flow.open:
            self.begin_table()
        elif not para.in_table and flow.open:
            self.end_table()
        style = self.styles.get(("s", para.style), _Sheet())
        listed = (
            Listed(False, min(para.listed + 1, 9)) if para.listed >= 0 and not (para.level or style.level) else None
        )
        flow.builder.end(
            style.name,
            para.level or style.level,
            para.align or style.align,
            listed,
            para.starts_page or self.page_waits,
            style.size,
        )
        self.page_waits = False

    def begin_table(self) -> None:
        flow = self.flow
        flow.before, flow.builder.made, flow.open = list(flow.builder.made), [], True

    def cell(self) -> None:
        flow = self.flow
        if not flow.open:
            self.begin_table()
        if flow.builder.begun:
            self.state.para.in_table = True
            self.end_paragraph()
        flow.cells.append(SourceCell(flow.builder.take_paragraphs()))

    def row(self) -> None:
        flow = self.flow
        if flow.cells:
            flow.heads += flow.head and flow.heads == len(flow.rows)
            flow.rows.append(tuple(flow.cells))
            flow.cells = []

    def end_table(self) -> None:
        flow = self.flow
        if not flow.open:
            return
        self.row()
        begun = flow.builder.put_aside()
        flow.builder.made = list(flow.before)
        ref = f"t{len(self.source.tables) + 1}"
        self.source.tables[ref] = SourceTable(tuple(flow.rows), flow.heads)
        flow.builder.object("table", ref)
        flow.builder.end("")
        flow.rows, flow.before, flow.heads, flow.open = [], [], 0, False
        flow.builder.go_on(begun)


LOOKS: dict[str, Callable[[bool], dict[str, Any]]] = {
    "i": lambda on: {"italic": on},
    "b": lambda on: {"weight": 700 if on else 400},
    "ul": lambda on: {"underline": on},
    "ulnone": lambda on: {"underline": False},
    "uld": lambda on: {"underline": on},
    "uldb": lambda on: {"underline": on},
    "ulw": lambda on: {"underline": on},
    "strike": lambda on: {"strike": on},
    "striked": lambda on: {"strike": on},
    "super": lambda on: {"position": "superior" if on else "normal"},
    "sub": lambda on: {"position": "inferior" if on else "normal"},
    "nosupersub": lambda on: {"position": "normal"},
    "up": lambda on: {"position": "superior" if on else "normal"},
    "dn": lambda on: {"position": "inferior" if on else "normal"},
    "scaps": lambda on: {"caps": "small" if on else "none"},
    "caps": lambda on: {"caps": "upper" if on else "none"},
}


def _codec(number: int) -> str:
    codecs = {10000: "mac_roman", 65001: "utf-8", 932: "cp932", 936: "gbk", 949: "cp949", 950: "big5"}
    return codecs.get(
        number,
        f"cp{number}"
        if number
        in (437, 737, 775, 850, 852, 855, 857, 858, 860, 861, 862, 863, 864, 865, 866, 869, 874, *range(1250, 1259))
        else "cp1252",
    )


__all__ = ["read_rtf"]
