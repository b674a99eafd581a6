"""Mark-up rules on a whole book: what twenty live ones cost of composing it, and of a keystroke. Budgets: issue of
copy, ``docs/benchmarks.md``."""

from __future__ import annotations

import time

from benchmarks.measure import Row, book, cpu, percentile, report
from lexigon.core.document.model import CharacterStyle, Job, TypeSpec
from lexigon.core.editing.intents import Place, ReplaceText
from lexigon.core.flow.workspace import Workspace
from lexigon.core.markup.notation import read_rule

LINES = [
    "after Chapter heading: Mark",
    'in Body, from "[" through "]": Mark',
    r'like "\b[A-Z]{3,}\b": Mark',
    'in Body, between "(" and ")": Mark',
    "first of each run: Mark",
]
WORDS = (
    "tide",
    "whale",
    "garden",
    "letter",
    "window",
    "carriage",
    "supper",
    "minister",
    "meadow",
    "ribbon",
    "orchard",
    "harbour",
    "candle",
    "parlour",
    "doctor",
)
"""Words that a book of any kind has some of."""


def ruled(job: Job) -> Job:
    job.character_styles["mark"] = CharacterStyle("mark", "Mark", type=TypeSpec(underline=True))
    for number, line in enumerate([*LINES, *(rf'like "\b{word}s?\b": Mark' for word in WORDS)]):
        job.markings[f"r{number}"] = read_rule(line, job, f"r{number}")
    return job


def main() -> list[Row]:
    plain, marked = book(), ruled(book())
    Workspace(plain)  # fonts and words are known from here on
    without = min(cpu(lambda: Workspace(plain)) for _ in range(3))
    with_them = min(cpu(lambda: Workspace(marked)) for _ in range(3))
    workspace = Workspace(marked)
    p = marked.stories[marked.main_story or ""].paragraphs[12]
    times = []
    for _ in range(60):
        begun = time.perf_counter()
        workspace.do(ReplaceText(marked.main_story or "", Place(p.id, 5), Place(p.id, 5), "a"))
        times.append(1000 * (time.perf_counter() - begun))
    return [
        Row("twenty rules, of compose", 100 * (with_them / without - 1), "%", 20),
        Row("keystroke under twenty rules, p95", percentile(times, 0.95), "ms", 20),
    ]


if __name__ == "__main__":
    report(main())
