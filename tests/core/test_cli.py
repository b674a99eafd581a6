"""The command line, as a script uses it: from a text file to files, facts, and errors in plain words."""

from __future__ import annotations

import json
from pathlib import Path

import pytest

from lexigon.cli import main, parse_edges, parse_size
from tests.core.helpers import words

BAD = [
    (["new", "--size", "9x", "--out", "x.lexigon"], "not a page size"),
    (["new", "--margins", "5in", "--out", "x.lexigon"], "no room"),
    (["new", "--margins", "1in,1in", "--out", "x.lexigon"], "four for the margins"),
    (["new", "--body", "11 on 15", "--out", "x.lexigon"], "not a body setting"),
    (["new", "--body", "11/15 Nobody Sans", "--out", "x.lexigon"], "There is no font"),
    (["new", "--manuscript", "none.txt", "--out", "x.lexigon"], "No such file"),
    (["facts", "none.pdf"], "No such file"),
    (["output", "book.lexigon", "--recipe", "gold", "--out", "x.pdf"], "There is no recipe"),
    (["output", "book.lexigon", "--pages", "9-3", "--out", "x.pdf"], "runs backwards"),
    (["output", "book.lexigon", "--out", "nowhere/x.pdf"], "No such file"),
]


@pytest.fixture
def book(tmp_path: Path, monkeypatch: pytest.MonkeyPatch) -> Path:
    monkeypatch.chdir(tmp_path)
    chapters = (f"Chapter {n}\n\n{words(900, n)}\n" for n in range(1, 5))
    Path("tides.txt").write_text("\n".join(chapters))
    made = main(
        ["new", "--manuscript", "tides.txt", "--size", "6x9in", "--margins", "0.75in,0.75in,0.875in,0.625in",
         "--bleed", "0.125in", "--facing", "--body", "11/15 EB Garamond", "--language", "en-GB", "--out", "book.lexigon"]
    )  # fmt: skip
    assert made == 0
    return tmp_path / "book.lexigon"


def test_from_a_text_file_to_facts(book: Path, capsys: pytest.CaptureFixture[str]) -> None:
    capsys.readouterr()
    assert main(["facts", "book.lexigon", "--json"]) == 0
    facts = json.loads(capsys.readouterr().out)
    assert (facts["words"], facts["trim"], facts["overset"]) == (4 * 902, [432.0, 648.0], {})
    assert (facts["bleed"], facts["inks"], facts["fonts"]) == (
        [9.0] * 4,
        ["Black"],
        ["EBGaramond-Italic", "EBGaramond-Regular"],
    )
    for recipe, name in (("print", "p.pdf"), ("screen", "s.pdf")):
        assert main(["output", "book.lexigon", "--recipe", recipe, "--out", name]) == 0
    capsys.readouterr()
    assert main(["facts", "p.pdf", "--json"]) == 0
    pdf = json.loads(capsys.readouterr().out)
    assert (pdf["pages"], pdf["findings"], pdf["profile"]) == (facts["pages"], [], "FOGRA39")
    assert main(["output", "book.lexigon", "--recipe", "png", "--out", "images", "--pages", "1,3-4"]) == 0
    assert sorted(path.name for path in Path("images").iterdir()) == ["page-001.png", "page-003.png", "page-004.png"]
    capsys.readouterr()
    assert main(["facts", "s.pdf"]) == 0
    assert "Chapter 4" in capsys.readouterr().out


@pytest.mark.parametrize(("arguments", "says"), BAD)
def test_what_cannot_be_is_said_and_leaves_no_file(
    book: Path, arguments: list[str], says: str, capsys: pytest.CaptureFixture[str]
) -> None:
    before = sorted(path.name for path in book.parent.iterdir())
    assert main(arguments) == 2
    assert says in capsys.readouterr().err
    assert sorted(path.name for path in book.parent.iterdir()) == before


def test_sizes_and_edges_take_units() -> None:
    assert parse_size("148 x 210 mm")[2] == "mm"
    assert parse_size('6"x9"')[:2] == (432.0, 648.0)
    assert parse_edges("3mm", "mm", "bleed").inner == parse_edges("3,3,3,3", "mm", "bleed").outer
