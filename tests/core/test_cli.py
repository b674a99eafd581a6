"""The command line, as a script uses it: from a text file to files, facts, and errors in plain words."""

from __future__ import annotations

import json
import os
import re
import shlex
import subprocess
import sys
from dataclasses import replace
from pathlib import Path

import pytest
from PIL import Image

from demo.manuscripts import docx
from lexigon.cli.main import main, parser
from lexigon.cli.new import parse_edges, parse_size
from lexigon.core.document.model import TypeSpec
from lexigon.core.editing.intents import AddNote, AddTextFrame, Place, PlaceListing, ReplaceText
from lexigon.core.fileformat import package
from lexigon.core.flow.listing_entries import gathered
from lexigon.core.flow.workspace import Workspace
from lexigon.core.geometry import Rect
from tests.core.helpers import words

BAD = [
    (["new", "--size", "9x", "--out", "x.lexigon"], "not a page size"),
    (["new", "--margins", "5in", "--out", "x.lexigon"], "no room"),
    (["new", "--margins", "1in,1in", "--out", "x.lexigon"], "four for the margins"),
    (["new", "--body", "11 on 15", "--out", "x.lexigon"], "not a body setting"),
    (["new", "--body", "0/0 EB Garamond", "--out", "x.lexigon"], "between 2 and 500 pt"),
    (["new", "--body", "1.2.3/15 EB Garamond", "--out", "x.lexigon"], "not a body setting"),
    (["new", "--name", "a\udcff", "--out", "x.lexigon"], "not UTF-8 text"),
    (["new", "--margins", "1e999in", "--out", "x.lexigon"], "unit"),
    (["new", "--language", "no such", "--out", "x.lexigon"], "A language is named"),
    (["new", "--font", "none.ttf", "--out", "x.lexigon"], "No such file"),
    (["output", "book.lexigon", "--out", "."], "is a folder"),
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
        [
            "new",
            "--manuscript",
            "tides.txt",
            "--size",
            "6x9in",
            "--margins",
            "0.75in,0.75in,0.875in,0.625in",
            "--bleed",
            "0.125in",
            "--facing",
            "--body",
            "11/15 EB Garamond",
            "--language",
            "en-GB",
            "--out",
            "book.lexigon",
        ]
    )
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


def test_what_should_be_looked_at_is_told_and_refused_when_asked(
    book: Path, capsys: pytest.CaptureFixture[str], monkeypatch: pytest.MonkeyPatch
) -> None:
    """Signs no font has, a family that is missing, text without room, controls in a manuscript: one line each, exit
    code 3."""
    Path("odd.txt").write_text("Chapter 1\n\nA \U00012000 sign\x07 and words.\n", "utf-8")
    assert main(["new", "--manuscript", "odd.txt", "--out", "odd.lexigon"]) == 3
    told = capsys.readouterr().err
    assert "No font has \U00012000 (U+12000)" in told
    assert "1 control character of the manuscript left out." in told
    assert main(["new", "--manuscript", "odd.txt", "--strict", "--out", "strict.lexigon"]) == 2
    assert not Path("strict.lexigon").exists()
    job = package.read(Path("book.lexigon").read_bytes())
    job.paragraph_styles["body"] = replace(
        job.paragraph_styles["body"], type=TypeSpec(family="Nowhere Sans", size=11.0, language="xq")
    )
    workspace = Workspace(job)
    workspace.do(AddTextFrame(job.pages[0].id, Rect(60, 60, 90, 16), text="one\ntwo\nthree"))
    Path("odd.lexigon").write_bytes(package.write(job))
    capsys.readouterr()
    assert main(["output", "odd.lexigon", "--out", "odd.pdf"]) == 3
    lines = capsys.readouterr().err.splitlines()
    assert any("words (3 lines) of “Text 1” do not fit." in line for line in lines)
    assert any("There is no font “Nowhere Sans”" in line for line in lines)
    assert any("“xq” is not a known language" in line for line in lines)
    assert main(["facts", "odd.lexigon", "--json"]) == 0
    assert len(json.loads(capsys.readouterr().out)["findings"]) == len(lines)
    assert main(["output", "odd.lexigon", "--strict", "--out", "strict.pdf"]) == 2
    assert not list(Path().glob("strict*"))
    monkeypatch.setenv("SOURCE_DATE_EPOCH", "abc")
    assert main(["output", "book.lexigon", "--out", "x.pdf"]) == 2
    assert "SOURCE_DATE_EPOCH is a number" in capsys.readouterr().err


def test_swatches_are_brought_in_listed_and_saved(book: Path, capsys: pytest.CaptureFixture[str]) -> None:
    Path("house.gpl").write_text("GIMP Palette\nName: House\n#\n30 91 79\tBottle green\n255 255 255\tChalk\n")
    assert (
        main(["swatches", "book.lexigon", "--add", "house.gpl", "--group", "Ours", "--save", "all.swatches.json"]) == 0
    )
    assert "2 swatches imported" in capsys.readouterr().out
    assert main(["swatches", "book.lexigon"]) == 0
    assert "Ours: Bottle green" in capsys.readouterr().out
    assert [one["name"] for one in json.loads(Path("all.swatches.json").read_text())["swatches"]][-2:] == [
        "Bottle green",
        "Chalk",
    ]
    Path("house.gpl").write_text("nothing of the kind")
    before = book.read_bytes()
    assert main(["swatches", "book.lexigon", "--add", "house.gpl"]) == 2
    assert "not a palette" in capsys.readouterr().err
    assert book.read_bytes() == before


def test_folders_of_pictures_are_brought_in_and_updated(book: Path, capsys: pytest.CaptureFixture[str]) -> None:
    folder = Path("flats/inner")
    folder.mkdir(parents=True)
    for name, colour in (("ebb.png", 90), ("flood.jpg", 140)):
        Image.new("RGB", (300, 200), (colour, 20, 20)).save(folder / name)
    (folder / "wrong.png").write_bytes(b"words")
    (folder / "notes.txt").write_text("words")
    assert main(["pictures", "book.lexigon", "flats"]) == 3, "one is to be looked at"
    out, err = capsys.readouterr()
    assert "2 pictures imported" in out
    assert "wrong.png" in err
    Image.new("RGB", (400, 200), (9, 9, 9)).save("ebb.png")
    assert main(["pictures", "book.lexigon", "ebb.png", "--update"]) == 0
    assert "1 updated" in capsys.readouterr().out
    assert main(["pictures", "book.lexigon"]) == 0
    assert "ebb: 400 x 200 pixels, rgb, 0 uses" in capsys.readouterr().out
    files = package.read_files(book.read_bytes())
    assert {file.file for file in package.read(book.read_bytes()).pictures.values()} <= set(files)
    before = book.read_bytes()
    assert main(["pictures", "book.lexigon", "nowhere"]) == 2
    assert book.read_bytes() == before


@pytest.mark.parametrize(("command", "code"), [("| true", 0), ("> /dev/full", 2), (">&-", 0)])
def test_output_that_nobody_takes_makes_no_traceback(book: Path, command: str, code: int) -> None:
    source = Path(__file__).parents[2] / "src"
    done = subprocess.run(
        ["bash", "-c", f"set -o pipefail; {sys.executable} -m lexigon facts book.lexigon --json {command}"],
        capture_output=True,
        text=True,
        check=False,
        env={**os.environ, "PYTHONPATH": str(source)},
    )
    assert done.returncode == code, done.stderr
    assert "Traceback" not in done.stderr
    assert "Exception" not in done.stderr


@pytest.mark.parametrize("port", ["0", "99999999", "x"])
def test_a_port_that_is_none_is_said(capsys: pytest.CaptureFixture[str], port: str) -> None:
    with pytest.raises(SystemExit) as refused:
        main(["demo", "--port", port])
    assert refused.value.code == 2
    assert "65535" in capsys.readouterr().err


def test_a_manuscript_is_surveyed_and_taken_in_as_chosen(tmp_path: Path, capsys: pytest.CaptureFixture[str]) -> None:
    copy = tmp_path / "copy.docx"
    copy.write_bytes(docx())
    assert main(["survey", str(copy)]) == 0
    told = capsys.readouterr().out
    assert "3  lines formatted as bold = section" in told
    assert "28  indents *" in told
    assert main(["survey", str(copy), "--json"]) == 0
    found = json.loads(capsys.readouterr().out)
    assert {one["id"]: one["count"] for one in found["clean_ups"]}["spaces"] == 34
    out = tmp_path / "guide.lexigon"
    made = ["new", "--manuscript", str(copy), "--out", str(out)]
    chosen = ["--clean", "quotes", "--leave", "spaces", "--becomes", "lines formatted as bold=chapter"]
    assert main([*made, *chosen]) == 0
    job = package.read(out.read_bytes())
    texts = {p.text: p.style for p in job.stories["main"].paragraphs}
    assert texts["Two clocks over the mud"] == "chapter"
    assert any(".  " in text for text in texts)
    assert not any("'" in text for text in texts)
    for wrong, said in (
        (["--clean", "quots"], "no clean-up “quots”"),
        (["--becomes", "Title=hero"], "no style “hero”"),
        (["--becomes", "Title"], "Type a style mapping"),
    ):
        out.unlink(missing_ok=True)
        assert main([*made, *wrong]) == 2
        assert said in capsys.readouterr().err
        assert not out.exists()


def test_the_copy_of_a_job_is_written_for_its_writers(book: Path, capsys: pytest.CaptureFixture[str]) -> None:
    for suffix in ("docx", "html", "md", "txt"):
        assert main(["copy", str(book), "--out", f"copy.{suffix}"]) == 0
        assert "3,608 words" in capsys.readouterr().out
    assert Path("copy.txt").read_text().startswith("Chapter 1\n\n")
    assert main(["copy", str(book), "--out", "copy.pdf"]) == 2
    assert "selects the format" in capsys.readouterr().err


def test_a_new_version_is_compared_and_taken_over(tmp_path: Path, capsys: pytest.CaptureFixture[str]) -> None:
    one, other, out = tmp_path / "one.txt", tmp_path / "other.txt", tmp_path / "tides.lexigon"
    one.write_text("The tide turned at six.\n\nThe hide was full of wardens.\n")
    other.write_text("The tide turned at seven.\n\nThe hide was full of wardens.\n\nNew.\n")
    assert main(["new", "--manuscript", str(one), "--out", str(out)]) == 0
    capsys.readouterr()
    assert main(["compare", str(out), str(other), "--since", str(one)]) == 0
    told = capsys.readouterr().out
    assert "changed by the writer: The tide turned at [-six-]{+seven+}." in told
    assert "2 paragraphs differ" in told
    assert main(["compare", str(out), str(other), "--take", "usual"]) == 0
    made = package.read(out.read_bytes()).stories["main"].paragraphs
    assert [p.text for p in made] == ["The tide turned at seven.", "The hide was full of wardens.", "New."]


def test_words_are_found_and_replaced_in_a_file(book: Path, capsys: pytest.CaptureFixture[str]) -> None:
    capsys.readouterr()
    assert main(["find", str(book), "chapter", "--whole"]) == 0
    assert "[Chapter] 4" in (told := capsys.readouterr().out)
    assert told.endswith("4 found\n")
    assert main(["find", str(book), r"chapter (\d)", "--pattern", "--put", "Tide <1>", "--out", "other.lexigon"]) == 0
    assert "4 replaced" in capsys.readouterr().out
    assert package.read(Path("other.lexigon").read_bytes()).stories["main"].paragraphs[0].text == "Tide 1"
    assert main(["find", str(book), "(", "--pattern"]) == 2
    assert "is not valid" in capsys.readouterr().err


def test_the_kinds_of_notes_of_a_file_are_told_and_changed(book: Path, capsys: pytest.CaptureFixture[str]) -> None:
    workspace = Workspace(package.read(book.read_bytes()))
    first = next(p for p in workspace.job.stories["main"].paragraphs if len(p.text) > 20)
    workspace.do(AddNote("main", Place(first.id, 9), Place(first.id, 9), "Counted twice."))
    book.write_bytes(package.write(workspace.job, {}))
    assert main(["notes", str(book)]) == 0
    assert "Footnotes (foot): 1 notes, at the foot of the column, 1, numbered throughout" in capsys.readouterr().out
    assert (
        main(
            ["notes", str(book), "--set", "signs=*", "--set", "counted=page", "--set", "kept=3", "--set", "divided=no"]
        )
        == 0
    )
    kind = package.read(book.read_bytes()).note_kinds["foot"]
    assert (kind.signs, kind.counted, kind.kept, kind.divided) == ("*", "page", 3, False)
    assert main(["notes", str(book), "--kind", "side", "--set", "width=60"]) == 0
    capsys.readouterr()
    assert main(["notes", str(book), "--json"]) == 0
    assert [one["place"] for one in json.loads(capsys.readouterr().out)] == ["foot", "margin"]
    for wrong in ("signs=?", "signs", "kept=many", "colour=red", "width=-4"):
        before = book.read_bytes()
        assert main(["notes", str(book), "--set", wrong]) == 2
        assert book.read_bytes() == before


def test_the_listings_of_a_file_are_told_and_brought_up_to_date(book: Path, capsys: pytest.CaptureFixture[str]) -> None:
    capsys.readouterr()
    assert main(["listings", str(book), "--add", "Contents"]) == 0
    told = capsys.readouterr().out
    assert "Contents: 4 entries, not inserted" in told
    assert "Chapter 1  " in told
    workspace = Workspace(package.read(book.read_bytes()))
    (listing,) = workspace.job.listings.values()
    now = tuple(found.entry for found in gathered(workspace.composition, listing))
    workspace.do(PlaceListing(listing.id, "main", Place("$", 0), now))
    workspace.do(ReplaceText("main", Place("^", 0), Place("^", 0), "The "))
    book.write_bytes(package.write(workspace.job, {}))
    assert main(["listings", str(book)]) == 0
    assert "* words: Chapter 1 -> The Chapter 1" in capsys.readouterr().out
    assert main(["listings", str(book), "--name", "Contents", "--update"]) == 0
    capsys.readouterr()
    assert main(["listings", str(book), "--json"]) == 0
    (one,) = json.loads(capsys.readouterr().out)
    assert (one["state"], one["entries"][0]["words"]) == ("up to date", "The Chapter 1")
    (book.parent / "words.txt").write_text("marsh\nshingle = marsh > shingle\n")
    assert main(["listings", str(book), "--add", "Index", "--mark", "words.txt"]) == 0
    capsys.readouterr()
    assert main(["listings", str(book), "--name", "Index", "--json"]) == 0
    (index,) = json.loads(capsys.readouterr().out)
    assert [(one["words"], one["level"]) for one in index["entries"]] == [("M", 1), ("marsh", 1), ("shingle", 2)]
    assert main(["listings", str(book), "--add", "Wild"]) == 2
    assert main(["listings", str(book), "--name", "Wild"]) == 2
    assert "Available are: Contents" in capsys.readouterr().err


def test_the_spelling_of_a_file_is_told(tmp_path: Path, capsys: pytest.CaptureFixture[str]) -> None:
    copy, out = tmp_path / "copy.txt", tmp_path / "copy.lexigon"
    copy.write_text("The receipt, the receipt and the receipt. A reciept for the the hide.\n")
    assert main(["new", "--manuscript", str(copy), "--out", str(out)]) == 0
    capsys.readouterr()
    assert main(["spelling", str(out)]) == 0
    assert capsys.readouterr().out == "     1  reciept = receipt?\n        the the\n"
    assert main(["spelling", str(out), "--json"]) == 0
    assert json.loads(capsys.readouterr().out)["unknown"][0]["near"] == "receipt"


FORMER = [
    (
        [
            "new",
            "--size",
            "5x8in",
            "--quotes",
            "--clean",
            "spaces",
            "--leave",
            "tabs",
            "--becomes",
            "A=b",
            "--out",
            "x",
        ],
        [
            "new",
            "--page-size",
            "5x8in",
            "--typographic-quotes",
            "--clean-up",
            "spaces",
            "--no-clean-up",
            "tabs",
            "--map-style",
            "A=b",
            "-o",
            "x",
        ],
    ),
    (["compare", "j", "m", "--take", "all", "--out", "x"], ["compare", "j", "m", "--apply", "all", "--output", "x"]),
    (["copy", "j", "--out", "x.md"], ["copy", "j", "--output", "x.md"]),
    (
        ["find", "j", "w", "--put", "v", "--pattern", "--whole", "--case", "--set-in", "de", "--keep-case"],
        [
            "find",
            "j",
            "w",
            "--replace",
            "v",
            "--regex",
            "--whole-words",
            "--match-case",
            "--in-language",
            "de",
            "--preserve-case",
        ],
    ),
    (
        ["listings", "j", "--update", "--take-all", "--mark", "f"],
        ["listings", "j", "--update", "--replace-edits", "--mark-from", "f"],
    ),
    (["frames", "j", "--stand", "a=near"], ["frames", "j", "--place", "a=near"]),
    (["tables", "j", "--refresh", "f.csv"], ["tables", "j", "--update", "f.csv"]),
    (["pictures", "j", "p", "--update"], ["pictures", "j", "p", "--replace"]),
    (
        ["swatches", "j", "--add", "a.gpl", "--save", "b.css"],
        ["swatches", "j", "--import", "a.gpl", "--export", "b.css"],
    ),
    (["output", "j", "--out", "x.pdf"], ["export", "j", "--output", "x.pdf"]),
    (
        ["publication", "a", "--own", "a", "--apart", "a", "--number", "--align", "--gather", "--out", "x"],
        [
            "publication",
            "a",
            "--own-numbering",
            "a",
            "--not-numbered",
            "a",
            "--write-numbers",
            "--match-styles",
            "--update-listings",
            "-o",
            "x",
        ],
    ),
]


@pytest.mark.parametrize(("former", "present"), FORMER, ids=lambda words: " ".join(words)[:24])
def test_former_names_of_commands_and_options_are_read(former: list[str], present: list[str]) -> None:
    old, new = vars(parser().parse_args(former)), vars(parser().parse_args(present))
    assert {**old, "command": ""} == {**new, "command": ""}


def test_help_of_every_command_has_two_examples_that_are_read(capsys: pytest.CaptureFixture[str]) -> None:
    root = parser()
    commands = next(action for action in root._actions if action.dest == "command").choices
    for name in commands:
        with pytest.raises(SystemExit):
            root.parse_args([name, "--help"])
        shown = capsys.readouterr().out
        examples = re.findall(r"^  (?:\w+=\S+ )?lexigon (.+)$", shown, re.MULTILINE)
        assert len(examples) >= 2, name
        for line in examples:
            root.parse_args(shlex.split(line)[:2] if line.startswith("test") else shlex.split(line))
        for former, _ in FORMER:
            for option in former:
                if option.startswith("--") and option in (
                    "--put",
                    "--take",
                    "--becomes",
                    "--whole",
                    "--apart",
                    "--stand",
                ):
                    assert f"{option} " not in shown, "former names are not shown"
