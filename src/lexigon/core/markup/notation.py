"""Mark-up rules as lines in plain words, read and written: ``in Body, from "[" through "]": Query``.

    line     = where {"," where} ":" becomes {"," becomes}
    where    = "in" style {"or" style} | ("after" | "before") style
             | N "paragraphs" | ("first" | "last" | "number" N) "of each run"
             | "from" mark "through" mark | "between" mark "and" mark | "up to" mark | "through" mark
             | "from" mark | "after" mark | "like" pattern
             | ("first" | "last") N ("words" | "sentences" | "characters" | "lines") | "once" | N "times"
    becomes  = style | "in colour" swatch | "plain" | "hidden"

Marks and patterns are in straight or curly double quotes, with special characters by name (``"<tab>"``). Styles and
swatches are given by their names; names with commas, colons or "or" in them are in quotes. A quoted word after "after"
is a mark, unless a paragraph style has that name; ``behind`` is the former word for it.
"""

from __future__ import annotations

import re
from collections.abc import Mapping
from typing import Any

from lexigon.core.document.model import Job, Marking
from lexigon.core.markup.marker import MarkingError, MissingStyle, finder

_QUOTED = re.compile(r"[\"“”]((?:[^\"“”\\]|\\.)*)[\"“”]")
_PART = re.compile(r"(?:[\"“”](?:[^\"“”\\]|\\.)*[\"“”]|[^,:\"“”])+|[,:]")
UNITS = {"word": "words", "sentence": "sentences", "character": "characters", "letter": "characters", "line": "lines"}
ANYWHERE = "anywhere"


def read_rule(line: str, job: Job, id_: str, name: str = "") -> Marking:
    """The rule that a line says. Raises MarkingError for what is not understood, in words."""
    parts = [part.strip() for part in _PART.findall(line) if part.strip()]
    if parts.count(":") != 1 or "".join(_PART.findall(line)) != line:
        raise MarkingError('A rule consists of a place, a colon and what to apply: in Body, like "\\d+": Figures.')
    at = parts.index(":")
    values: dict[str, Any] = {}
    for part in parts[:at]:
        if part not in (",", ANYWHERE):
            _where(part, job, values)
    whole = values.get("stretch", "paragraph") == "paragraph"
    for part in parts[at + 1 :]:
        if part != ",":
            _becomes(part, job, values, whole)
    if not {"paragraph_style", "character_style", "swatch", "plain", "hidden"} & set(values):
        raise MarkingError("Type what to apply after the colon: a style, in colour Marker red, plain, or hidden.")
    rule = Marking(id_, name[:200] or line[:80], **values)
    finder(rule)
    return rule


def _where(part: str, job: Job, values: dict[str, Any]) -> None:
    marks = [re.sub(r"\\(.)", r"\1", one) if not part.startswith("like") else one for one in _QUOTED.findall(part)]
    words = " ".join(_QUOTED.sub("@", part).split())
    number = re.search(r"\b(\d+|one|two|three|four|five)\b", words)
    count = _number(number[1]) if number else 1
    if words in ("from @", "behind @") or (words == "after @" and not _names_a_style(marks[0], job)):
        values |= {"stretch": "from", "begin": marks[0], "with_marks": words.startswith("from")}
    elif match := re.match(r"(after|before) (.+)", words):
        values |= {"place": match[1], "beside": _style(part[len(match[1]) :], job.paragraph_styles, "paragraph style")}
    elif words.startswith("in "):
        names = re.findall(r"(?:[\"“”][^\"“”]*[\"“”]|(?:(?!\s+or\s)[^\"“”])+)", part[3:].strip())
        names = [name for name in names if name.strip() not in ("or", "")]
        values["styles"] = tuple(
            _style(re.sub(r"^\s*or\s+", "", name), job.paragraph_styles, "paragraph style") for name in names
        )
    elif re.fullmatch(r"(\d+|\w+) paragraphs?", words) and number:
        values["count"] = count
    elif match := re.fullmatch(r"(first|last|number \d+) of (?:each|a|the) run", words):
        values["place"] = "nth" if match[1].startswith("number") else match[1]
        if match[1].startswith("number"):
            values["count"] = count
    elif words in ("from @ through @", "between @ and @"):
        values |= {"stretch": "between", "begin": marks[0], "end": marks[1], "with_marks": words.startswith("from")}
    elif words in ("up to @", "through @"):
        values |= {"stretch": "up to", "end": marks[0], "with_marks": words.startswith("through")}
    elif words == "like @":
        values |= {"stretch": "pattern", "begin": marks[0]}
    elif match := re.fullmatch(
        r"(?:the )?(first|last)(?: (?:\d+|one|two|three|four|five))? (word|sentence|character|letter|line)s?", words
    ):
        values |= {"stretch": match[1], "amount": count, "unit": UNITS[match[2]]}
    elif words == "once":
        values["times"] = 1
    elif re.fullmatch(r"(\d+|two|three|four|five) times", words):
        values["times"] = count
    else:
        raise MarkingError(
            f'“{part}” is not understood. A place is written as: in Body · after Chapter heading · from "[" through "]"'
            ' · up to ":" · like "\\d+" · first 3 words · once.'
        )


def _names_a_style(words: str, job: Job) -> bool:
    return any(style.name == words for style in job.paragraph_styles.values())


def _becomes(part: str, job: Job, values: dict[str, Any], whole: bool) -> None:
    words = " ".join(part.split())
    if words in ("plain", "hidden"):
        values[words] = True
    elif match := re.fullmatch(r"in colou?r (.+)", words):
        values["swatch"] = _style(match[1], job.swatches, "swatch")
    elif whole and (key := _key(words, job.paragraph_styles)):
        values["paragraph_style"] = key
    elif key := _key(words, job.character_styles):
        values["character_style"] = key
    else:
        raise MissingStyle("paragraph" if whole else "character", _bare(words))


def _number(word: str) -> int:
    return {"one": 1, "two": 2, "three": 3, "four": 4, "five": 5}.get(word) or int(word)


def _bare(name: str) -> str:
    match = _QUOTED.fullmatch(name.strip())
    return (match[1] if match else name).strip()


def _key(name: str, table: Mapping[str, Any]) -> str:
    bare = _bare(name).casefold()
    return next((key for key, one in table.items() if one.name.casefold() == bare), "") or (
        bare if bare in table else ""
    )


def _style(name: str, table: Mapping[str, Any], kind: str) -> str:
    key = _key(name, table)
    if not key and kind == "paragraph style":
        raise MissingStyle("paragraph", _bare(name))
    if not key:
        raise MarkingError(f"There is no {kind} “{_bare(name)}” in this job.")
    return key


def write_rule(rule: Marking, job: Job) -> str:
    """The line that says a rule: ``read_rule`` of it is that rule."""
    where = []
    if rule.styles:
        where.append("in " + " or ".join(_named(key, job.paragraph_styles) for key in rule.styles))
    if rule.place in ("after", "before"):
        where.append(f"{rule.place} {_named(rule.beside, job.paragraph_styles)}")
        if rule.count > 1:
            where.append(f"{rule.count} paragraphs")
    elif rule.place != "every":
        where.append(f"number {rule.count} of each run" if rule.place == "nth" else f"{rule.place} of each run")
    begin, end = _mark(rule.begin, rule.stretch == "pattern"), _mark(rule.end)
    match rule.stretch:
        case "pattern":
            where.append(f"like {begin}")
        case "between":
            where.append(f"from {begin} through {end}" if rule.with_marks else f"between {begin} and {end}")
        case "up to":
            where.append(f"{'through' if rule.with_marks else 'up to'} {end}")
        case "from":
            where.append(
                f"{'from' if rule.with_marks else 'behind' if _names_a_style(rule.begin, job) else 'after'} {begin}"
            )
        case "first" | "last":
            unit = rule.unit if rule.amount > 1 else rule.unit[:-1]
            where.append(f"{rule.stretch} {rule.amount} {unit}" if rule.amount > 1 else f"{rule.stretch} {unit}")
    if rule.times:
        where.append("once" if rule.times == 1 else f"{rule.times} times")
    becomes = [
        (
            _named(rule.paragraph_style, job.paragraph_styles)
            if rule.paragraph_style and rule.stretch == "paragraph"
            else ""
        ),
        _named(rule.character_style, job.character_styles) if rule.character_style else "",
        f"in colour {_named(rule.swatch, job.swatches)}" if rule.swatch else "",
        "plain" if rule.plain else "",
        "hidden" if rule.hidden else "",
    ]
    return f"{', '.join(where) or ANYWHERE}: {', '.join(filter(None, becomes))}"


def _name(key: str, table: Mapping[str, Any]) -> str:
    return table[key].name if key in table else key


def _odd(name: str) -> bool:
    return bool(re.search(r"[,:\"“”]|\bor\b", name)) or name != name.strip()


def _named(key: str, table: Mapping[str, Any]) -> str:
    name = _name(key, table)
    return f"“{name}”" if _odd(name) else name


def _mark(text: str, pattern: bool = False) -> str:
    return f'"{text}"' if pattern else '"' + re.sub(r'(["“”\\])', r"\\\1", text) + '"'
