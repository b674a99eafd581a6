"""Quotation marks of six novels, against a rule that looks at the neighbours of each mark and at nothing else.

The novels have straight marks, double outside and single within. The rule knows no nesting and no words; where the two
differ, the place is printed: most are 'tis and the like, which the rule takes for quotations.
"""

from __future__ import annotations

import itertools

from benchmarks.novel import NAMES, novel
from lexigon.core.manuscript.readers.blocks import blocks_of
from lexigon.core.manuscript.readers.decode import decode
from lexigon.core.manuscript.review.typography import typeset_with_doubts

OPENS_BEHIND = " \u2028\u00a0([_—–-\"'"


def by_neighbours(text: str) -> list[tuple[int, str]]:
    """Each straight mark's place, and what its neighbours make of it."""
    found = []
    for before, (at, sign), behind in zip(f" {text}", enumerate(text), f"{text[1:]} ", strict=False):
        if sign == '"':
            opens = before in OPENS_BEHIND and not behind.isspace() and behind not in ".,;:!?"
            found.append((at, "“" if opens else "”"))
        elif sign == "'":
            opens = before in OPENS_BEHIND and behind.isalnum()
            found.append((at, "‘" if opens else "’"))
    return found


def main() -> None:
    for name in NAMES:
        marks, doubtful = 0, 0
        places: list[str] = []
        for block in blocks_of(decode(novel(name).encode()).text)[0]:
            wanted = by_neighbours(block.text)
            typeset, _, doubts = typeset_with_doubts(block.text, (), "en-US")
            got = [sign for sign in typeset if sign in "“”‘’"]
            marks, doubtful = marks + len(wanted), doubtful + len(doubts)
            for (at, want), sign in itertools.zip_longest(wanted, got, fillvalue=(0, "")):
                if want != sign:
                    places.append(f"{want} {sign}  {block.text[max(at - 24, 0) : at + 24]}")  # type: ignore[operator]
        print(
            f"{name}: {marks:,} marks, {len(places)} otherwise than by their neighbours, {doubtful} listed as doubtful"
        )
        for place in places:
            print("   ", place.replace("\u2028", " / "))


if __name__ == "__main__":
    main()
