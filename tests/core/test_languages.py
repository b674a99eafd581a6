"""Passages in another language are found, named, and set as such. The sentences are proverbs and everyday ones, written
for this test."""

from __future__ import annotations

from pathlib import Path

import pytest

from demo.guide import guide
from lexigon.core.document.model import Cell, Job, Paragraph, Span, TextTable, TypeSpec
from lexigon.core.editing.intents import PourText
from lexigon.core.flow.workspace import Workspace
from lexigon.core.manuscript.review import word_lists as wordlists
from lexigon.core.manuscript.review.languages import name_of
from lexigon.core.manuscript.review.spelling import Speller, checked, set_languages
from lexigon.core.manuscript.review.word_lists import SHIPPED, Dictionaries
from tests.core.helpers import book

SHIPPED_ONLY = Dictionaries({path.stem: path.with_suffix("") for path in SHIPPED.glob("*.dic")})


def holding(*texts: str | Paragraph) -> Workspace:
    workspace = Workspace(book())
    rows = (one if isinstance(one, Paragraph) else Paragraph(f"p{n}", "body", one) for n, one in enumerate(texts))
    workspace.do(PourText("main", tuple(rows)))
    return workspace


def passages(job: Job) -> list[tuple[str, str]]:
    """The language and the words of each passage, in order."""
    texts = {p.id: p.text for story in job.stories.values() for p in story.paragraphs}
    texts |= {p.id: p.text for t in job.tables.values() for row in t.rows for cell in row for p in cell.paragraphs}
    report = checked(Speller(job, SHIPPED_ONLY))
    return [(one.language, texts[at.p][at.start : at.end]) for one in report.foreign for at in one.places]


@pytest.mark.parametrize(
    ("before", "passage", "after", "language"),
    [
        ("He said: “", "Der Strandläufer sucht im Watt nach Nahrung", ".” Nobody answered.", "de-DE"),
        ("The sign reads ", "Hunde bitte an der Leine führen", ", which they did not.", "de-DE"),
        ("“", "Les oiseaux volent vers la mer", "”, she wrote.", "fr-FR"),
        ("In the old log: ", "De zee geeft en de zee neemt", ".", "nl-NL"),
        ("He muttered ", "Más vale pájaro en mano", " and left.", "es-ES"),
    ],
)
def test_a_passage_in_another_language_is_found_with_all_its_words(
    before: str, passage: str, after: str, language: str
) -> None:
    job = holding(f"The tide was low that day. {before}{passage}{after}").job
    assert passages(job) == [(language, passage)]


def test_what_is_in_the_language_of_the_job_is_left_to_spelling() -> None:
    job = holding(
        "A reciept for Mrs Quonk of Merrowick, whose zibble glimped.",
        "Calidris alpina, Calidris canutus and Tringa totanus were counted at Merrow Rill.",
        Paragraph("s", "body", "Das ist schon Deutsch", (Span(0, 21, type=TypeSpec(language="de-DE")),)),
    ).job
    assert passages(job) == []
    assert {one.word for one in checked(Speller(job, SHIPPED_ONLY)).unknown} >= {"reciept", "zibble"}
    assert passages(guide()) == [], "names of birds and places in the demo's guide are no passages"


def test_passages_are_set_in_their_language_in_one_step_and_no_longer_told_as_mistakes() -> None:
    german = "Die Flut kommt schnell und leise über das Watt"
    workspace = holding(f"They say: {german}.", "Nothing here.")
    cell = Paragraph("c", "body", "Le vent souffle du large aujourd’hui")
    workspace.job.tables["t"] = TextTable("t", "Table 1", ((Cell((cell,)),),))
    report = checked(Speller(workspace.job, SHIPPED_ONLY))
    assert not report.unknown, "they are offered as passages, not word by word"
    assert [(name_of(one.language), one.words) for one in report.foreign] == [("German", 9), ("French", 6)]
    change = workspace.do(set_languages(workspace.job, report.foreign))
    (span,) = workspace.job.stories["main"].paragraphs[0].spans
    assert (span.start, span.end, span.type) == (10, 10 + len(german), TypeSpec(language="de-DE"))
    assert workspace.job.tables["t"].rows[0][0].paragraphs[0].spans[0].type == TypeSpec(language="fr-FR")
    again = checked(Speller(workspace.job, SHIPPED_ONLY))
    assert not again.foreign
    assert not again.unknown, "French is checked with the dictionary that ships"
    assert again.unchecked == ({"de-DE": 9} if SHIPPED_ONLY.of("de-DE") is None else {})
    workspace.run(change.inverse)
    assert not workspace.job.stories["main"].paragraphs[0].spans


def test_dictionaries_of_the_system_are_used_and_named(tmp_path: Path, monkeypatch: pytest.MonkeyPatch) -> None:
    for name in ("da_DK", "xx-no-tag"):
        (tmp_path / f"{name}.aff").write_text("SET UTF-8\n")
        (tmp_path / f"{name}.dic").write_text("1\nvand\n")
    (tmp_path / "sv_SE.dic").write_text("1\nvatten\n")  # without its other half
    monkeypatch.setattr(wordlists, "INSTALLED", (tmp_path, tmp_path / "none"))
    found = wordlists.Dictionaries()
    assert set(found.installed) == {"da-DK"}
    book_ = found.of("da-DK")
    assert book_ is not None
    assert book_.knows("vand")
    assert not book_.knows("vatten")
    assert {"en-GB", "en-US", "es", "fr", "nl"} <= set(found.languages)
