"""Hostile input, made anew each time from seeds: job files, fonts, manuscripts, templates and requests, changed at
random.

No variant is kept as a file: the generators are the corpus. ``LEXIGON_FUZZ=10`` in the environment asks for ten times
as many of each as the suite runs."""

from __future__ import annotations

import copy
import io
import json
import os
import random
import zipfile
from collections.abc import Iterator
from typing import Any

from lxml import etree

TIMES = int(os.environ.get("LEXIGON_FUZZ", "1"))

ODD: list[Any] = [
    None,
    True,
    False,
    0,
    -1,
    1,
    2,
    3.5,
    -0.0,
    1e-9,
    1e9,
    -1e9,
    1e308,
    10**30,
    2**63,
    "",
    " ",
    "x",
    "\0",
    "a\0b",
    "\ud800",
    "x" * 5000,
    "../../etc/passwd",
    "/etc/passwd",
    "body",
    "main",
    "\u2028",
    "\ufffc",
    "é",
    "<script>",
    "#000",
    "0" * 64,
    [],
    {},
    [[]],
    [{}],
    {"id": "x"},
    [0, 0, 0, 0],
    [1e308] * 4,
    ["a"],
    float("inf"),
    float("-inf"),
    float("nan"),
    12,
    99,
    400,
    100_000,
    -500,
]
"""Values that stand where others belong."""
WRONG_NAMES = ["colums", "__class__", "op", "do", "id", "", "kind", "x" * 300, "\0"]


def places(value: Any, at: tuple[Any, ...] = ()) -> Iterator[tuple[Any, ...]]:
    """Every place in a JSON value, as the keys and indexes that lead there."""
    if at:
        yield at
    items = value.items() if isinstance(value, dict) else enumerate(value) if isinstance(value, list) else ()
    for key, inner in items:
        yield from places(inner, (*at, key))


def changed(source: Any, chance: random.Random) -> Any:
    """A copy of a JSON value with one to three places changed, renamed, doubled, swapped or taken away."""
    data = copy.deepcopy(source)
    for _ in range(chance.choice([1, 1, 1, 2, 3])):
        every = list(places(data))
        if not every:
            break
        *way, last = chance.choice(every)
        holder = data
        for step in way:
            holder = holder[step]
        what = chance.randrange(8)
        if what < 4:
            holder[last] = copy.deepcopy(chance.choice(ODD))
        elif what == 4 and isinstance(holder[last], (int, float)) and not isinstance(holder[last], bool):
            holder[last] = holder[last] * chance.choice([-1, 0, 1000, 1e6, 1e12, 0.001])
        elif what == 5:
            del holder[last]
        elif what == 6 and isinstance(holder, dict):
            holder[chance.choice([*WRONG_NAMES, *map(str, holder)])] = holder[last]
        elif what == 7 and isinstance(holder, list):
            holder += holder[last : last + 1] * chance.choice([1, 1, 40])
        else:  # a value from somewhere else in the same job
            other: Any = data
            for step in chance.choice(every):
                try:
                    other = other[step]
                except (KeyError, IndexError, TypeError):
                    break
            holder[last] = copy.deepcopy(other)
    return data


PLAUSIBLE: list[Any] = [
    0,
    0.01,
    0.5,
    1,
    2,
    3,
    5,
    12,
    20,
    40,
    100,
    499,
    4999,
    9999,
    -1,
    -12,
    -9999,
    300_000,
    -300_000,
    0.999,
]


def stretched(source: Any, chance: random.Random) -> Any:
    """A copy with several numbers set to values that each alone may pass, however ill they go together."""
    data = copy.deepcopy(source)
    numbers = [
        way for way in places(data) if isinstance(_at(data, way), (int, float)) and not isinstance(_at(data, way), bool)
    ]
    for *way, last in chance.sample(numbers, min(len(numbers), chance.randint(1, 12))):
        _at(data, way)[last] = chance.choice(PLAUSIBLE)
    return data


def _at(data: Any, way: Any) -> Any:
    for step in way:
        data = data[step]
    return data


def rings_and_chains(source: dict[str, Any]) -> Iterator[dict[str, Any]]:
    """What random changes seldom make: things based on each other in rings and in endless chains, and giants."""
    for table in ("paragraph_styles", "character_styles", "frame_styles", "rule_styles", "masters"):
        for count, close in ((1, True), (2, True), (3000, False), (3000, True), (61, False), (59, False)):
            data = copy.deepcopy(source)
            entries = data.setdefault(table, {})
            for number in range(count):
                below = f"c{number + 1}" if number + 1 < count else "c0" if close else None
                entries[f"c{number}"] = {
                    "id": f"c{number}",
                    "name": f"C {number}",
                    **({"based_on": below} if below else {}),
                }
            yield data
    first, giant = next(iter(source["stories"].values()))["paragraphs"][0], 8000 * TIMES
    for text in ("w" * giant, "a " * giant, "\u00ad" * giant, "\t" * giant, "\u2028" * 900, "fi\u0301" * giant):
        data = copy.deepcopy(source)
        next(iter(data["stories"].values()))["paragraphs"] = [{**first, "text": text, "spans": []}]
        yield data
    for table in ("paragraph_styles", "swatches", "masters", "stories", "pages"):
        data = copy.deepcopy(source)
        data[table] = [] if table == "pages" else {}
        yield data


def as_package(data: Any, files: dict[str, bytes] | None = None) -> bytes:
    """A .lexigon file with this JSON in it, whatever it is."""
    target = io.BytesIO()
    with zipfile.ZipFile(target, "w", zipfile.ZIP_DEFLATED) as archive:
        archive.writestr("mimetype", "application/vnd.lexigon+zip")
        archive.writestr("job.json", json.dumps(data).encode("utf-8", "surrogatepass"))
        for name, content in (files or {}).items():
            archive.writestr(f"files/{name}", content)
    return target.getvalue()


def scrambled(data: bytes, chance: random.Random, most: int = 40) -> bytes:
    """A file cut off, with bytes turned over, stretches doubled, or filled with nothing."""
    made = bytearray(data)
    for _ in range(chance.randint(1, most)):
        if not made:
            break
        at, what = chance.randrange(len(made)), chance.randrange(6)
        if what < 3:
            made[at] = chance.randrange(256)
        elif what == 3:
            made[at : at + 4] = chance.choice([b"\0\0\0\0", b"\xff\xff\xff\xff", b"\x7f\xff\xff\xff"])
        elif what == 4:
            made[at:at] = made[at : at + chance.randrange(64)]
        elif chance.random() < 0.2:
            del made[at:]
    return bytes(made)


def shuffled(data: bytes, chance: random.Random, times: int = 4) -> bytes:
    """An XML document with elements moved, doubled, renamed, or of other values."""
    root = etree.fromstring(data)
    for _ in range(times):
        every = [one for one in root.iter() if isinstance(one.tag, str)]
        one, other = chance.choice(every), chance.choice(every)
        if one.getparent() is None:
            continue
        what = chance.randrange(5)
        if what == 0:
            one.getparent().remove(one)
        elif what == 1:
            other.append(copy.deepcopy(one))
        elif what == 2:
            one.tag = other.tag
        elif what == 3:
            one.text = chance.choice(["", "-1", "9" * 400, "\u2028", "x" * 3000])
        else:
            for name in list(one.attrib):
                one.set(name, str(chance.choice(["", "-1", "99999999", "1e308", "x", "0", "url(#a)", "\u00e9"])))
    return etree.tostring(root)


def changed_within(data: bytes, chance: random.Random) -> bytes:
    """A zip file with one of its XML parts changed."""
    target = io.BytesIO()
    with zipfile.ZipFile(io.BytesIO(data)) as source, zipfile.ZipFile(target, "w", zipfile.ZIP_DEFLATED) as made:
        names = source.namelist()
        part = chance.choice([name for name in names if name.endswith(".xml")])
        for name in names:
            content = source.read(name)
            if name == part:
                content = shuffled(content, chance) if chance.random() < 0.7 else scrambled(content, chance, 6)
            made.writestr(name, content)
    return target.getvalue()
