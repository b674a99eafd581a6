"""The spec line of several things at once: the phrases that all of them share, and in words what differs."""

from __future__ import annotations

from collections.abc import Iterable, Sequence
from dataclasses import dataclass

from lexigon.core.document.cascade import Cascade, FrameSetting, Setting, TypeSetting
from lexigon.core.document.model import Job, Object
from lexigon.core.editing.intents import Place, locate
from lexigon.core.spec.rules import Names
from lexigon.core.spec.writing import characters, cut, frame_phrases, leading, paragraph
from lexigon.core.tables.cell_settings import Set, setter

MOST_TOLD = 4
"""How many of the values that differ are named."""

Looks = tuple[TypeSetting, Setting]


@dataclass(slots=True, frozen=True)
class CommonSetting:
    """``line`` can be edited and done like any other; ``various`` says what it leaves out: ``size 9, 12``."""

    line: str
    various: tuple[str, ...] = ()

    def __add__(self, other: CommonSetting) -> CommonSetting:
        return CommonSetting("; ".join(filter(None, (self.line, other.line))), (*self.various, *other.various))


def looks_in(
    job: Job, cascade: Cascade, story: str, start: Place, end: Place, whole: bool = False, show: Set | None = None
) -> list[Looks]:
    """The settings that occur between two places, each once in reading order; with ``whole`` those of the paragraphs
    alone, without local formatting of ranges."""
    found_story, places = locate(job, story, start, end)
    (first, begin), (last, finish) = sorted(places)
    looks: dict[object, Looks] = {}
    show = show or setter(job, story)
    for number, p in enumerate(map(show, found_story.paragraphs[first : last + 1]), first):
        low = begin if number == first else 0
        high = finish if number == last else len(p.text)
        at = low
        for span in () if whole else p.spans:
            if span.end <= low or span.start >= high:
                continue
            if span.start > at:
                looks.setdefault((p.style, p.type, p.para), (cascade.type_of(p), cascade.setting(p)))
            key = (p.style, p.type, p.para, span.style, span.type)
            looks.setdefault(key, (cascade.type_of(p, span), cascade.setting(p)))
            at = span.end
        if at < high or whole or not p.text:
            looks.setdefault((p.style, p.type, p.para), (cascade.type_of(p), cascade.setting(p)))
    return list(looks.values())


def shared_looks(looks: Sequence[Looks], names: Names) -> CommonSetting:
    """Return what several settings of text have in common."""
    if not looks:
        return CommonSetting("")
    sizes, leads, families, cuts = (
        list(dict.fromkeys(values))
        for values in zip(
            *((f"{face.size:.6g}", leading(setting), face.family, cut(face)) for face, setting in looks), strict=True
        )
    )
    size = sizes[0] if len(sizes) == 1 else ""
    head = " ".join(
        part
        for part in (
            f"{size}/{leads[0]}" if len(leads) == 1 else size,
            families[0] if len(families) == 1 else "",
            cuts[0] if len(cuts) == 1 else "",
        )
        if part
    )
    texts = [
        _in_part(word, values)
        for word, values in (("size", sizes), ("leading", leads), ("font", families))
        if len(values) > 1
    ]
    if len(cuts) > 1:
        texts.append(_in_part("cut", [one or "regular" for one in cuts]))
    common, rest = _common([[*characters(face, names), *paragraph(setting, names)] for face, setting in looks])
    return CommonSetting(", ".join(filter(None, (head, *common))), (*texts, *rest))


def shared_frames(frames: Sequence[tuple[Object, FrameSetting]], names: Names) -> CommonSetting:
    """Return what several frames have in common."""
    written = [[part for part in frame_phrases(f, setting, names) if part != "1 column"] for f, setting in frames]
    common, rest = _common(written)
    return CommonSetting(", ".join(common), tuple(rest))


def _common(rows: Sequence[Sequence[str]]) -> tuple[list[str], list[str]]:
    """The phrases common to all rows, and a description of those that only some have."""
    if not rows:
        return [], []
    sets = [set(row) for row in rows]
    common = [part for part in rows[0] if all(part in other for other in sets)]
    some = list(dict.fromkeys(part for row in rows for part in row if part not in common))
    return common, [_in_part("in part", some)] if some else []


def _in_part(word: str, values: Iterable[str]) -> str:
    all_ = list(values)
    return f"{word} {', '.join(all_[:MOST_TOLD])}" + (" …" if len(all_) > MOST_TOLD else "")
