"""Merging: records applied as edits, checked one by one, and written."""

from __future__ import annotations

import io
import subprocess
from dataclasses import replace
from pathlib import Path

import pypdfium2 as pdfium
import pytest
import zxingcpp
from hypothesis import given
from hypothesis import strategies as st

from demo.cards import LONGEST, MISSING, NEAR, PEOPLE, records_csv, warden_cards
from demo.prices import ARTICLES, price_files, price_list
from lexigon.core.document.consistency import check
from lexigon.core.document.model import Anchor, Job, Repeat, Section, bounds_of
from lexigon.core.document.story_text import LINE_BREAK
from lexigon.core.editing.edits import apply_all
from lexigon.core.editing.intents import (
    AddShape,
    AddTextFrame,
    AdjustRecord,
    BindField,
    BindPages,
    ChangeFrame,
    ChangeRecordSet,
    FramePicture,
    InsertField,
    Place,
    PutRecords,
    PutSection,
    RemoveRecordSet,
    RepeatObject,
    ReplaceText,
    SetCode,
    ShowPicture,
)
from lexigon.core.errors import LexigonError
from lexigon.core.fileformat import package
from lexigon.core.fileformat.values import plain
from lexigon.core.flow.workspace import Workspace
from lexigon.core.geometry import Rect
from lexigon.core.merge.applying import MergePlan, bound_fields
from lexigon.core.merge.expressions import Surroundings
from lexigon.core.merge.merged_job import merged_job
from lexigon.core.merge.merger import Merger
from lexigon.core.merge.model import RecordError, Records
from lexigon.core.merge.output import file_names, safe_name, write_merged, write_record
from lexigon.core.merge.reading import read_records
from lexigon.core.merge.reloading import reloaded
from lexigon.core.merge.repeating import repeated_job
from lexigon.core.merge.storage import ROWS_PER_FILE, RecordRows, Row, pack, record_set, unpacked
from lexigon.core.merge.templates import read_template
from lexigon.core.merge.verdicts import verdicts
from lexigon.core.press.document import write_pdf
from lexigon.core.press.recipes import recipe
from tests.core.merging import WHEN, Find, cards_file, finder, merger_of, named


@pytest.fixture(scope="module")
def cards() -> bytes:
    """The demo's cards as a file with all that belongs to them."""
    return cards_file()


@pytest.fixture
def job(cards: bytes) -> Job:
    return package.read(cards)


@pytest.fixture(scope="module")
def find(cards: bytes, tmp_path_factory: pytest.TempPathFactory) -> Find:
    return finder(cards, tmp_path_factory.mktemp("files"))


def flyer(text: str, *records: dict[str, str]) -> tuple[Workspace, Merger]:
    """A card with one frame of text, whose fields are written in braces, and records for it."""
    workspace = Workspace(warden_cards())
    workspace.do(RemoveRecordSet(next(iter(workspace.job.record_sets))))
    page = workspace.job.pages[0].id
    workspace.do(AddTextFrame(page, Rect(20, 20, 200, 100), name="Words", text=text))
    story = workspace.job.stories[named(workspace.job, "Words")[1].story or ""]
    for paragraph in list(story.paragraphs):
        for name in records[0]:
            for form, mark in (("", f"{{{name}}}"), ("line", f"{{{name}!}}")):
                now = next(p for p in story.paragraphs if p.id == paragraph.id)
                if (at := now.text.find(mark)) >= 0:
                    start, end = Place(now.id, at), Place(now.id, at + len(mark))
                    workspace.do(InsertField(story.id, start, end, Anchor("record", name, form)))
    values = Records(tuple(records[0]), tuple(tuple(one.values()) for one in records))
    own, files = record_set("d1", "Guests", values)
    return workspace, Merger(workspace.job, own, stored(files))


def stored(files: dict[str, bytes]) -> Find:
    """Files in memory as paths: what reads them reads each once."""
    import tempfile

    folder = Path(tempfile.mkdtemp(prefix="lexigon-test-"))
    for name, content in files.items():
        (folder / name).write_bytes(content)
    return lambda name: path if (path := folder / name).is_file() else None


def words_of(merger: Merger, name: str = "Words") -> list[str]:
    story = named(merger.workspace.job, name)[1].story or ""
    return [p.text for p in merger.job.stories[story].paragraphs]


# Templates and storage


def test_templates_name_fields_in_braces() -> None:
    template = read_template("{{{Surname}}}-{id}", ["surname", "ID"])
    assert template.of({"surname": "Finch", "ID": "7"}) == "{Finch}-7"
    assert template.fields == ("surname", "ID")
    for wrong in ("{surname", "surname}", "{}", "{a}{"):
        with pytest.raises(RecordError):
            read_template(wrong)
    with pytest.raises(RecordError, match="There is no field “age”"):
        read_template("{age}", ["surname", "id"])


@given(st.text(max_size=60))
def test_any_text_is_a_template_or_refused(text: str) -> None:
    doubled = text.replace("{", "{{").replace("}", "}}")
    assert read_template(doubled).of({}) == text
    try:
        read_template(text)
    except RecordError:
        assert "{" in text or "}" in text


@given(st.lists(st.tuples(st.lists(st.text(max_size=8), min_size=2, max_size=2), st.booleans()), max_size=450))
def test_rows_are_stored_and_read_back(rows: list[tuple[list[str], bool]]) -> None:
    original = [Row(tuple(values), on) for values, on in rows]
    names, files = pack(original)
    assert len(names) == -(-len(rows) // ROWS_PER_FILE)
    assert [row for name in names for row in unpacked(files[name], 2)] == original


def test_the_file_of_a_row_is_looked_for_once() -> None:
    """In an installation that is a question to the database and the disk."""
    own, files = record_set("d1", "Many", Records(("a",), tuple((str(number),) for number in range(500))))
    find, asked = stored(files), list[str]()

    def counted(name: str) -> Path | None:
        asked.append(name)
        return find(name)

    data = RecordRows(own, counted)
    assert [row.values[0] for row in data] == [str(number) for number in range(500)]
    assert [row.values[0] for row in data][-1] == "499"
    assert sorted(asked) == sorted(own.files)


def test_a_cell_that_is_edited_writes_one_small_file() -> None:
    own, files = record_set("d1", "Many", Records(("a", "b"), tuple((str(n), "") for n in range(1000))))
    rows = RecordRows(own, stored(files))
    changed, new = rows.with_rows({450: Row(("x", "y"), False)})
    assert len(own.files) == 5
    assert len(new) == 1
    assert [a == b for a, b in zip(own.files, changed.files, strict=True)] == [True, True, False, True, True]
    again = RecordRows(changed, stored(files | new))
    assert again.row(450) == Row(("x", "y"), False)
    assert again.row(449).values == ("449", "")
    with pytest.raises(RecordError, match="is missing"):
        RecordRows(own, lambda name: None).row(0)
    for damaged in (b"", b"[]", b'{"rows":3}', b'{"rows":[[1]],"off":7}', b"{" * 5000):
        with pytest.raises(RecordError, match="damaged"):
            unpacked(damaged, 2)


def test_computed_fields_use_those_before_them_and_other_sets(find: Find) -> None:
    own, files = record_set(
        "d1", "Guests", Records(("first", "last", "town"), (("Una", "Brine", "m"), ("", "Ebb", "x")))
    )
    places, more = record_set("d2", "Places", Records(("code", "name"), (("m", "Merrowick"),)))
    workspace = Workspace(warden_cards())
    (former,) = workspace.job.record_sets.values()
    workspace.job.record_sets[places.id] = places
    fields = (
        ("name", 'join(" ", first, last)'),
        ("label", "upper(name)"),
        ("place", 'lookup("Places", "code", town, "name")'),
        ("wrong", "nonsense("),
    )
    from lexigon.core.document.model import ComputedField

    own = replace(own, computed=tuple(ComputedField(*one) for one in fields))
    merger = Merger(workspace.job, own, stored(files | more))
    record = merger.record(0)
    assert (record["name"], record["label"], record["place"], record["wrong"]) == (
        "Una Brine",
        "UNA BRINE",
        "Merrowick",
        "",
    )
    assert merger.record(1)["name"] == "Ebb"
    _, faults = merger.rows.record(0, Surroundings())
    assert any("“wrong” has no value" in fault for fault in faults)
    assert former.name == "Wardens"


# A record in the piece


def test_a_merged_piece_has_the_bytes_of_the_piece_typed_by_hand(job: Job, find: Find) -> None:
    """For several records, in any order, and with every recipe for print."""
    merger = merger_of(job, find)
    for number, kind in ((3, "print"), (LONGEST, "trim"), (2, "older"), (0, "screen")):
        record = merger.record(number)
        by_hand = Workspace(package.read(package.write(job)), find, WHEN.date())
        page, _frame = named(by_hand.job, "Name")
        typed = {"Name": [record[name] for name in ("name", "post", "motto", "phone")], "Number": [record["id"]]}
        for name, values in typed.items():
            story = by_hand.job.stories[named(by_hand.job, name)[1].story or ""]
            for paragraph, value in zip(list(story.paragraphs), values, strict=True):
                at = paragraph.text.index("\ufffc")
                by_hand.do(ReplaceText(story.id, Place(paragraph.id, at), Place(paragraph.id, at + 1), value))
            for paragraph in [p for p in story.paragraphs if not p.text]:
                before = story.paragraphs[story.paragraphs.index(paragraph) - 1]
                start, end = Place(before.id, len(before.text)), Place(paragraph.id, 0)
                by_hand.do(ReplaceText(story.id, start, end, ""))
        page, code = named(by_hand.job, "Contact")
        contact = (
            f"MECARD:N:{record['name']};TEL:{record['phone']};URL:https://saltmarsh.example/wardens/{record['id']};;"
        )
        by_hand.do(SetCode(page, code.id, text=contact))
        picture = next(p for p in by_hand.job.pictures.values() if f"{p.name}.png" == record["portrait"])
        by_hand.do(ShowPicture(page, named(by_hand.job, "Portrait")[1].id, picture.id))
        by_hand.do(FramePicture(page, named(by_hand.job, "Portrait")[1].id, focus=picture.focus))
        ink_set = next(one.id for one in by_hand.job.ink_sets.values() if one.name == record["watch"])
        for one in by_hand.job.pages:
            by_hand.do(PutSection(one.id, Section(ink_set=ink_set)))
        typed_file, merged_file = io.BytesIO(), io.BytesIO()
        write_pdf(by_hand.composition, recipe(kind), typed_file, WHEN)
        write_record(merger, number, recipe(kind), merged_file, WHEN)
        assert typed_file.getvalue() == merged_file.getvalue(), (number, kind)


def test_words_and_codes_of_every_record_are_in_the_file(job: Job, find: Find, tmp_path: Path) -> None:
    """Read by poppler and by a reader of bar codes, from the pages as they are printed."""
    merger = merger_of(job, find)
    with (tmp_path / "cards.pdf").open("wb") as target:
        write_merged(merger, merger.numbers(), recipe("trim"), target, WHEN)
    text = subprocess.run(["pdftotext", tmp_path / "cards.pdf", "-"], check=True, capture_output=True, text=True).stdout
    pages = text.split("\f")
    document = pdfium.PdfDocument(tmp_path / "cards.pdf")
    assert len(document) == 2 * len(PEOPLE)
    for number, (name, post, _, _) in enumerate(PEOPLE):
        words = " ".join(pages[2 * number + 1].split()).replace("- ", "-").replace(" -", "-")
        assert f"Warden no. {number + 1:03}" in words
        if number != LONGEST:
            assert name in words
            assert post in words
        (code,) = zxingcpp.read_barcodes(document[2 * number + 1].render(scale=3).to_pil())
        assert code.text.startswith(f"MECARD:N:{name};")
        assert code.text.endswith(f"/{number + 1:03};;")


def test_bytes_are_those_of_several_processes(job: Job, find: Find) -> None:
    one, two = io.BytesIO(), io.BytesIO()
    numbers = [number % 24 for number in range(60)]
    write_merged(merger_of(job, find), numbers, recipe("print"), one, WHEN)
    write_merged(merger_of(job, find), numbers, recipe("print"), two, WHEN, processes=3)
    assert one.getvalue() == two.getvalue()


def test_a_job_is_left_as_it_was_and_records_come_in_any_order(job: Job, find: Find) -> None:
    merger = merger_of(job, find)
    before = plain(merger.job)
    texts = {}
    for number in (5, 2, 5, LONGEST, 2, 0):
        merger.show(number)
        check(merger.job)
        text = [words for name in ("Name", "Number") for words in words_of(merger, name)]
        assert texts.setdefault(number, text) == text
    merger.reset()
    assert plain(merger.job) == before


def test_lines_whose_fields_are_empty_are_left_out() -> None:
    _, merger = flyer(
        f"{{name}}\nTel. {{phone!}}\n{{street}}{LINE_BREAK}{{box!}}{LINE_BREAK}{{town}}",
        {"name": "Una", "phone": "12", "street": "Mud Lane", "box": "B1", "town": "Merrowick"},
        {"name": "", "phone": " ", "street": "Quay", "box": "", "town": "Merrowick"},
        {"name": "Lev\nCurlew", "phone": "", "street": "", "box": "", "town": ""},
    )
    shown = []
    for number in range(3):
        merger.show(number)
        shown.append(words_of(merger))
    assert shown == [
        ["Una", "Tel. 12", f"Mud Lane{LINE_BREAK}B1{LINE_BREAK}Merrowick"],
        ["", f"Quay{LINE_BREAK}Merrowick"],
        [f"Lev{LINE_BREAK}Curlew", f"{LINE_BREAK}"],
    ]


def test_values_cannot_smuggle_in_objects_or_controls() -> None:
    _, merger = flyer("{a}", {"a": "\ufffc\x00=cmd()|'/c'!A1\u202e"})
    merger.show(0)
    check(merger.job)
    assert words_of(merger) == ["=cmd()|'/c'!A1\u202e"]


def test_each_property_is_set_and_wrong_values_are_reported() -> None:
    workspace = Workspace(warden_cards())
    page = workspace.job.pages[0].id
    workspace.do(AddShape(page, Rect(30, 30, 60, 40), name="Patch"))
    workspace.do(AddTextFrame(page, Rect(100, 30, 60, 40), name="Words", text="Slack water"))
    patch, frame = named(workspace.job, "Patch")[1].id, named(workspace.job, "Words")[1].id
    for name in ("fill", "tint", "stroke", "x", "y", "width", "height", "rotation"):
        workspace.do(BindField(page, patch, name, f"{{{name}}}"))
    for name, field in (("text colour", "fill"), ("font", "font"), ("size", "size"), ("language", "language")):
        workspace.do(BindField(page, frame, name, f"{{{field}}}"))
    good = {
        "fill": "Lamp",
        "tint": "40 %",
        "stroke": "night",
        "x": "10 mm",
        "y": "1in",
        "width": "20mm*2",
        "height": "72 pt",
        "rotation": "-90°",
        "font": "barlow condensed",
        "size": "14",
        "language": "de-DE",
    }
    plan = MergePlan(workspace.job, tuple(good), ("Barlow Condensed",))
    applied = plan.apply(good)
    assert not applied.problems
    undo = apply_all(workspace.job, applied.edits)
    check(workspace.job)
    one, text = named(workspace.job, "Patch")[1], named(workspace.job, "Words")[1]
    assert one.place is not None
    assert one.make.fill is not None
    assert one.make.stroke is not None
    mm = 72 / 25.4
    box = one.place.rect
    assert (box.x, box.y, box.width, box.height) == pytest.approx((10 * mm, 72, 40 * mm, 72))
    assert (one.place.rotation, one.make.fill.swatch, one.make.fill.tint) == (270, "lamp", 0.4)
    assert one.make.stroke.swatch == "night"
    type_ = workspace.job.stories[text.story or ""].paragraphs[0].spans[0].type
    assert type_ is not None
    assert (type_.swatch, type_.family, type_.size, type_.language) == ("lamp", "Barlow Condensed", 14, "de-DE")
    apply_all(workspace.job, undo)
    wrong = {
        "fill": "Lampp",
        "tint": "120",
        "stroke": "teal",
        "x": "near",
        "y": "",
        "width": "1 pt",
        "height": "",
        "rotation": "round",
        "font": "Unheard",
        "size": "huge",
        "language": "en-GB",
    }
    problems = plan.apply(wrong).problems
    assert {one.field for one in problems} == {"fill", "tint", "stroke", "x", "width", "rotation", "font", "size"}
    assert next(one for one in problems if one.field == "fill").suggestions == ("lamp",)


def test_objects_hide_and_pages_are_left_out(job: Job, find: Find) -> None:
    workspace = Workspace(job, find)
    page, moon = named(job, "Moon")
    _, name = named(job, "Name")
    workspace.do(BindField(page, moon.id, "visible", "{motto}"))
    workspace.do(BindField(job.pages[1].id, name.id, "visible", "{phone}"))
    workspace.do(BindPages((page,), "used", "{phone}"))
    merger = merger_of(job, find)
    full, bare = merger.show(0), merger.show(2)  # the third has neither a motto nor a telephone number
    assert (full.pages, bare.pages) == ([0, 1], [1])
    check(merger.job)
    assert [one.name for one in merger.job.pages[0].objects if one.name == "Moon"] == []
    assert name.story not in merger.job.stories, "text that nobody sees is neither composed nor checked"
    merger.show(0)
    assert named(merger.job, "Moon")[1] == named(job, "Moon")[1]


# Bindings and record sets as edits


def test_bindings_are_undone_and_travel_with_their_object(job: Job, find: Find) -> None:
    workspace = Workspace(job, find)
    page, portrait = named(job, "Portrait")
    before = plain(job)
    change = workspace.do(BindField(page, portrait.id, "picture", ""))
    assert not named(job, "Portrait")[1].bindings
    workspace.run(change.inverse)
    assert plain(job) == before
    for frame, property_ in (("Portrait", "code"), ("Name", "picture"), ("Mist", "font")):
        with pytest.raises(LexigonError):
            workspace.do(BindField(page, named(job, frame)[1].id, property_, "{id}"))  # type: ignore[arg-type]
    assert plain(job) == before
    assert {name for name, _ in bound_fields(job)} == {"name", "post", "motto", "phone", "portrait", "watch", "id"}


def test_record_sets_are_named_keyed_and_part_of_the_file(job: Job, find: Find, cards: bytes) -> None:
    workspace = Workspace(job, find)
    (own,) = job.record_sets.values()
    with pytest.raises(LexigonError, match="already"):
        workspace.do(PutRecords("wardens", ("a",), (), 0))
    with pytest.raises(LexigonError, match="same name"):
        workspace.do(PutRecords("Others", ("a", "A"), (), 0))
    with pytest.raises(LexigonError, match="no field “age”"):
        workspace.do(ChangeRecordSet(own.id, key="age"))
    assert set(own.files) <= set(package.files_used(job))
    assert set(own.files) <= set(package.read_files(cards))
    adjusted = AdjustRecord(own.id, "001", named(job, "Moon")[1].id, move=(5, 0))
    workspace.do(adjusted)
    change = workspace.do(RemoveRecordSet(own.id))
    assert not job.record_sets
    assert not job.record_adjustments
    workspace.run(change.inverse)
    assert list(job.record_sets.values()) == [own]
    assert len(job.record_adjustments) == 1


def test_adjustments_are_for_one_record_and_found_by_its_key(job: Job, find: Find) -> None:
    workspace = Workspace(job, find)
    (own,) = job.record_sets.values()
    _, portrait = named(job, "Portrait")
    _, name = named(job, "Name")
    assert portrait.picture is not None
    assert portrait.rect is not None
    workspace.do(AdjustRecord(own.id, "005", portrait.id, move=(3, -2), picture=replace(portrait.picture, rotation=5)))
    workspace.do(AdjustRecord(own.id, "005", name.id, text=("Hob", "Wherry")))
    merger = merger_of(job, find)
    merger.show(4)
    adjusted = named(merger.job, "Portrait")[1]
    assert adjusted.picture is not None
    assert adjusted.rect is not None
    assert adjusted.rect.x == portrait.rect.x + 3
    assert adjusted.picture.rotation == 5
    assert job.pictures[adjusted.picture.picture].name == "hob-05", "the crop is kept, not the picture"
    assert words_of(merger, "Name") == ["Hob", "Wherry"]
    check(merger.job)
    merger.show(3)
    assert named(merger.job, "Portrait")[1].rect == portrait.rect
    assert words_of(merger, "Name")[0] == "Odile Marsh"


def test_records_that_are_read_again_say_what_changed() -> None:
    old, files = record_set(
        "d1", "Guests", Records(("id", "name", "town"), (("1", "Una", "M"), ("2", "Lev", "M"), ("3", "Ida", "X")))
    )
    rows = RecordRows(old, stored(files))
    off, more = rows.with_rows({1: Row(("2", "Lev", "M"), False)})
    rows = RecordRows(off, stored(files | more))
    again = reloaded(
        rows, Records(("id", "name", "post"), (("3", "Ida", ""), ("2", "Leo", "p"), ("4", "Gil", ""))), "id"
    )
    assert (again.added, again.removed) == (("4",), ("1",))
    assert [(one.key, one.field, one.old, one.new) for one in again.changed] == [("2", "name", "Lev", "Leo")]
    assert (again.new_fields, again.lost_fields) == (("post",), ("town",))
    assert [row.on for row in again.rows] == [True, False, True], "what was switched off stays so"


# Verdicts and output


def test_every_record_has_a_verdict(job: Job, find: Find) -> None:
    merger = merger_of(job, find)
    result = {one.number: one for one in verdicts(merger, merger.numbers())}
    assert {number for number, one in result.items() if one.level != "ready"} == {LONGEST, NEAR, MISSING}
    assert [one.kind for one in result[LONGEST].problems] == ["overset"]
    (near,), (missing,) = result[NEAR].problems, result[MISSING].problems
    assert (near.kind, near.field, near.suggestions) == ("near picture", "portrait", ("corin-11",))
    assert missing.kind == "missing picture"
    assert not missing.suggestions
    shown = merger.show(MISSING)
    assert shown.number == MISSING
    assert named(merger.job, "Portrait")[1].picture is None, "never somebody else's face"


def test_duplicates_empty_fields_and_lost_fields_are_reported(find: Find) -> None:
    people = ({"id": "1", "name": "Una"}, {"id": "1", "name": ""}, {"id": "2", "name": "Una"})
    _workspace, merger = flyer("{name} {id}", *people)
    merger.rows.records = replace(merger.rows.records, key="id")
    problems = [[problem.kind for problem in one.problems] for one in verdicts(merger, range(3))]
    assert ["duplicate" in kinds for kinds in problems] == [True, True, False]
    assert ["empty" in kinds for kinds in problems] == [False, True, False]
    assert all("missing field" in kinds for kinds in problems)


def test_file_names_are_safe_and_different(job: Job, find: Find) -> None:
    merger = merger_of(job, find)
    names = dict(file_names(merger, [0, 1, 4], read_template("{watch}")))
    assert names == {0: "Day", 1: "Day-2", 4: "Day-3"}
    assert list(file_names(merger, [4], read_template("card-{record}"))) == [(4, "card-5")]
    for text, name in (
        ("../../etc/passwd", "etc-passwd"),
        ("a/b\\c:d", "a-b-c-d"),
        ("CON", "CON-"),
        ("  .hidden. ", "hidden"),
        ("\u202egnp.exe", "gnp.exe"),
        ("Ænne Öß 🦆", "Ænne Öß 🦆"),
        ("עדה", "עדה"),
        ("…", "…"),
        ("///", ""),
    ):
        assert safe_name(text) == name
    assert len(safe_name("ß🦆" * 500).encode()) < 250


def test_a_file_of_many_records_has_a_bookmark_for_each(job: Job, find: Find) -> None:
    import pikepdf

    target = io.BytesIO()
    merger = merger_of(job, find)
    write_merged(merger, [0, 3, 5], recipe("screen"), target, WHEN)
    with pikepdf.open(target) as pdf, pdf.open_outline() as outline:
        assert [one.title for one in outline.root] == ["001", "004", "006"]


def test_records_are_read_from_the_demo_file() -> None:
    records, recognition = read_records(records_csv().encode())
    assert recognition.separator == ";"
    assert len(records.rows) == len(PEOPLE)
    assert records.rows[0][0] == "001"


def test_a_merge_becomes_a_job_that_prints_the_same(job: Job, find: Find) -> None:
    merger = merger_of(job, find)
    made = merged_job(merger, [2, LONGEST, 5], "Three cards")
    check(made)
    assert (len(made.pages), made.record_sets) == (6, {})
    assert not list(bound_fields(made))
    assert made.main_story == job.main_story
    as_job, merged_file = io.BytesIO(), io.BytesIO()
    write_pdf(Workspace(package.read(package.write(made)), find, WHEN.date()).composition, recipe("trim"), as_job, WHEN)
    write_merged(merger, [2, LONGEST, 5], recipe("trim"), merged_file, WHEN)
    one, two = (pdfium.PdfDocument(file.getvalue()) for file in (as_job, merged_file))
    for page in range(6):
        pictures = [each[page].render(scale=1).to_pil() for each in (one, two)]
        assert pictures[0].tobytes() == pictures[1].tobytes()


def test_a_merge_with_too_many_stories_becomes_no_job(job: Job, find: Find, monkeypatch: pytest.MonkeyPatch) -> None:
    """A job with more could not be opened again."""
    cards = merger_of(job, find)
    prices = merger_of(price_list(), stored(price_files()))
    monkeypatch.setattr("lexigon.core.merge.merged_job.MOST_ENTRIES", 20)
    for merger in (cards, prices):
        with pytest.raises(LexigonError, match="at most 20 stories; these records would need"):
            merged_job(merger, merger.numbers(), "Too many")


# Several records on a page


def test_an_object_is_repeated_in_groups_over_pages(tmp_path: Path) -> None:
    """The words of the file, read by poppler, are the records with the headings of their groups, in order."""
    job = price_list()
    merger = merger_of(job, stored(price_files()))
    made = repeated_job(merger, merger.numbers(), "Prices")
    check(made)
    assert not list(bound_fields(made))
    headings = [one for page in made.pages for one in page.objects if one.name == "Shelf"]
    entries = [one for page in made.pages for one in page.objects if one.group is not None]
    shelves = list(dict.fromkeys(shelf for shelf, _, _, _ in ARTICLES))
    assert (len(entries), len(headings), len(made.pages)) == (len(ARTICLES), len(shelves), 2)
    with (tmp_path / "prices.pdf").open("wb") as target:
        write_merged(merger, merger.numbers(), recipe("trim"), target, WHEN)
    command = ["pdftotext", "-layout", tmp_path / "prices.pdf", "-"]
    words = " ".join(subprocess.run(command, check=True, capture_output=True, text=True).stdout.split())
    assert all(f"{article}" in words and f"{float(price):,.2f}" in words for _, article, _, price in ARTICLES)
    assert [words.index(shelf) for shelf in shelves] == sorted(words.index(shelf) for shelf in shelves)
    area = made.text_area(0)
    for page in made.pages:
        boxes = [box for one in page.objects if (box := bounds_of((one,)))]
        assert all(box.right < area.right + 1 and box.foot < area.foot + 1 for box in boxes)
        assert not any(a.overlaps(b, 0.5) for n, a in enumerate(boxes) for b in boxes[n + 1 :]), "nothing overlaps"


def test_what_cannot_be_repeated_is_refused(job: Job, find: Find) -> None:
    workspace = Workspace(job, find)
    page, portrait = named(job, "Portrait")
    with pytest.raises(LexigonError, match="No object is repeated"):
        repeated_job(merger_of(job, find), [0], "x")
    workspace.do(RepeatObject(page, portrait.id, Repeat()))
    with pytest.raises(LexigonError, match="is repeated on this page already"):
        workspace.do(RepeatObject(page, named(job, "Name")[1].id, Repeat()))
    with pytest.raises(LexigonError, match="heading is another object"):
        workspace.do(RepeatObject(page, portrait.id, Repeat(heading=portrait.id)))
    workspace.do(ChangeFrame(page, portrait.id, rect=Rect(0, 0, 500, 500)))
    with pytest.raises(LexigonError, match="does not fit within the margins"):
        repeated_job(merger_of(job, find), [0], "x")
    workspace.do(RepeatObject(page, portrait.id))
    assert named(job, "Portrait")[1].repeat is None


def test_records_that_somebody_else_changed_are_not_overwritten(job: Job, find: Find) -> None:
    workspace = Workspace(job, find)
    (own,) = job.record_sets.values()
    rows = RecordRows(own, find)
    first, files = rows.with_rows({0: Row(rows.row(0).values, False)})
    second, _ = rows.with_rows({1: Row(rows.row(1).values, False)})
    workspace.do(PutRecords(own.name, own.fields, first.files, own.count, id=own.id, former=own.files))
    with pytest.raises(LexigonError, match="at the same moment"):
        workspace.do(PutRecords(own.name, own.fields, second.files, own.count, id=own.id, former=own.files))
    assert job.record_sets[own.id].files == first.files
    assert set(files) == set(first.files)
