"""Mark-up rules on the screen: their lines, what they find, a library of one's own."""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from itertools import islice
from typing import Any, get_args

from lexigon.bench.models import KeptRule
from lexigon.bench.services.jobs import OpenJob
from lexigon.core.document.model import OBJECT, Marking, Paragraph
from lexigon.core.editing.intents import (
    DoMarking,
    Intent,
    MoveMarking,
    PutMarking,
    PutStyle,
    RemoveMarking,
    SwitchMarking,
)
from lexigon.core.errors import LexigonError
from lexigon.core.markup.marker import MarkingError, MissingStyle, finder, stands, stretches
from lexigon.core.markup.notation import read_rule, write_rule

MOST_SHOWN = 40
MOST_COUNTED = 20_000
MOST_KEPT = 500
AROUND = 40
OF_RULES = PutStyle | PutMarking | SwitchMarking | MoveMarking | RemoveMarking | DoMarking


def listed(live: OpenJob) -> list[dict[str, Any]]:
    """The mark-up rules of a job in order, with the number of matches of each."""
    return [
        {"id": rule.id, "on": rule.on, "line": write_rule(rule, live.job), **_counted(live, rule)}
        for rule in live.job.markings.values()
    ]


def _matches(live: OpenJob, rule: Marking) -> Iterator[tuple[str, Paragraph, int, int]]:
    """Return where a rule acts; of first lines as the text is set now."""
    if rule.unit != "lines" or rule.stretch != "first":
        yield from stretches(rule, live.job, strict=True)
        return
    finder(rule)  # says what cannot be
    styles = frozenset(rule.styles)
    for key, flow in live.workspace.composition.flows.items():
        paragraphs = [p.paragraph for p in flow.paragraphs]
        reported: set[int] = set()
        for block in (block for column in flow.columns for block in column.blocks):
            if block.paragraph in reported or block.base:
                continue
            reported.add(block.paragraph)
            if stands(rule, styles, paragraphs, block.paragraph):
                lines = flow.lines(block.paragraph, block.measure)
                end = flow.paragraphs[block.paragraph].shown.source(lines[min(rule.amount, len(lines)) - 1].end)
                if end:
                    yield key, paragraphs[block.paragraph], 0, end


def _counted(live: OpenJob, rule: Marking) -> dict[str, Any]:
    try:
        count = sum(1 for _ in islice(_matches(live, rule), MOST_COUNTED))
    except MarkingError as error:
        return {"count": 0, "problem": str(error)}
    return {"count": count, "problem": ""}


def look(live: OpenJob, line: str) -> dict[str, Any]:
    """Return what a rule would find, before there is one. Raises MarkingError for what is none."""
    rule = read_rule(line, live.job, "r")
    places = list(islice(_matches(live, rule), MOST_COUNTED))
    composition = live.workspace.composition
    rows = []
    for story, p, a, b in places[:MOST_SHOWN]:
        text = p.text.replace(OBJECT, "\u25c7")
        page = composition.page_of(story, p.id, a)
        rows.append(
            {
                "before": text[max(a - AROUND, 0) : a],
                "text": text[a:b][:240],
                "behind": text[b : b + AROUND] if b - a <= 240 else " \u2026",
                "page": page,
                "label": composition.values.labels[page] if page is not None else "",
            }
        )
    return {"count": len(places), "rows": rows, "line": write_rule(rule, live.job)}


def missing_style(live: OpenJob, line: str) -> dict[str, str] | None:
    """The kind and name of a style that a rule names and the job lacks; None if it lacks none, or if the rule cannot be
    read for another reason."""
    try:
        read_rule(line, live.job, "r")
    except MissingStyle as error:
        return {"kind": error.kind, "name": error.name}
    except MarkingError:
        pass
    return None


def carry_out(live: OpenJob, intents: Sequence[Intent], user: Any) -> None:
    """Do intents about rules, as one change each. Raises LexigonError for others."""
    if not all(isinstance(one, get_args(OF_RULES)) for one in intents):
        raise LexigonError("Only rules and the styles that they name can be changed here.")
    for intent in intents:
        live.do([intent], user)


def library(user: Any) -> list[str]:
    """The rule lines that a user has saved."""
    return list(KeptRule.objects.filter(owner=user).values_list("line", flat=True))


def keep(user: Any, line: str, forgotten: bool) -> list[str]:
    """Keep a line in the library, or forget it; what is in it then."""
    own = KeptRule.objects.filter(owner=user)
    if forgotten:
        own.filter(line=line).delete()
    elif not own.filter(line=line).exists():
        if own.count() >= MOST_KEPT:
            raise LexigonError(f"There are {MOST_KEPT} rules in your library already. Delete one first.")
        KeptRule.objects.create(owner=user, line=line)
    return library(user)
