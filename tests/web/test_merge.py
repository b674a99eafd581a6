"""Merge over the web: records imported, edited, checked and exported; by those who may."""

from __future__ import annotations

import io
import json
import subprocess
import zipfile
from pathlib import Path
from typing import Any

import pikepdf
import pytest
from django.contrib.auth.models import User
from django.core.files.uploadedfile import SimpleUploadedFile
from django.test import Client
from django.urls import reverse

from demo.cards import LONGEST, MISSING, NEAR, PEOPLE, portraits, record_files, records_csv, warden_cards
from lexigon.bench import models
from lexigon.bench.services import merge_chunks, merge_outputs, rows, store, work
from lexigon.bench.services.files import stored
from lexigon.bench.services.jobs import create_job
from lexigon.core.document.story_text import new_id
from lexigon.core.errors import LexigonError
from lexigon.core.fileformat.values import plain
from lexigon.core.merge.verdicts import RecordCheck
from lexigon.core.press.facts import pdf_facts
from lexigon.core.press.sheets import SheetLayout
from tests.web.conftest import from_rows


@pytest.fixture
def cards(user: User) -> models.Job:
    job = warden_cards()
    job.id = new_id("j")
    return create_job(user, job, [stored(data) for data in (*portraits().values(), *record_files().values())])


def ask(client: Client, job: models.Job, name: str, status: int = 200, **query: Any) -> Any:
    response = client.get(f"/job/{job.pk}/merge/{name}/", query)
    assert response.status_code == status, response.content
    return response.json()


def send(client: Client, job: models.Job, where: str, status: int = 200, **data: Any) -> Any:
    response = client.post(f"/job/{job.pk}/merge/{where}/", json.dumps(data), content_type="application/json")
    assert response.status_code == status, response.content
    return response.json()


def upload(client: Client, job: models.Job, where: str, content: bytes, status: int = 200, **more: str) -> Any:
    file = SimpleUploadedFile("guests.csv", content)
    response = client.post(f"/job/{job.pk}/merge/{where}/", {"file": file, **more})
    assert response.status_code == status, response.content
    return response.json()


def all_verdicts(client: Client, job: models.Job) -> dict[int, Any]:
    for _ in range(50):
        answer = ask(client, job, "verdicts")
        if answer["done"]:
            return {one["number"]: one for one in answer["verdicts"]}
    raise AssertionError("the records are never all checked")


def test_records_are_looked_at_corrected_imported_and_reloaded(client: Client, job: models.Job) -> None:
    csv = "id;name;town\n007;Una; Merrowick\n008;“Lev”;\n".encode("cp1252", "replace")
    seen = upload(client, job, "look", csv)
    assert seen["recognition"]["separator"] == ";"
    assert seen["rows"][0] == ["007", "Una", " Merrowick"], "nothing is mangled"
    wrong = upload(client, job, "look", csv, separator=",")
    assert [one["name"] for one in wrong["fields"]] == ["id;name;town"]
    answer = upload(client, job, "import", csv, name="Guests", source="guests.csv")
    (own,) = answer["sets"]
    assert (own["name"], own["count"], own["fields"]) == ("Guests", 2, ["id", "name", "town"])
    before = from_rows(job)
    send(client, job, "change", intents=[{"do": "change-record-set", "id": own["id"], "key": "id"}])
    send(client, job, "cells", set=own["id"], changes=[{"row": 1, "on": False}])
    again = b"id,name,post\n008,Leo,hide\n009,Ida,\n"
    reload = upload(client, job, "look", again, set=own["id"])["reload"]
    assert (reload["added"], reload["removed"]) == (["009"], ["007"])
    assert reload["counts"] == [1, 1, 1]
    upload(client, job, "import", again, set=own["id"], name="Guests")
    table = ask(client, job, "rows")
    assert [row[1:] for row in table["rows"]] == [[False, ["008", "Leo", "hide"]], [True, ["009", "Ida", ""]]]
    for _ in range(3):
        client.post(f"/job/{job.pk}/undo/", "{}", content_type="application/json")
    assert from_rows(job) == before


def test_wrong_files_are_refused_in_words(client: Client, job: models.Job) -> None:
    before = from_rows(job)
    for content, words in (
        (b"", "Select a file"),
        (b"PK\x03\x04nonsense", "damaged"),
        (b"\xd0\xcf\x11\xe0old", "old or a locked workbook"),
        (b"a," * 600 + b"\n" + b"1," * 600, "at most 500 fields"),
        (bytes(range(256)) * 40, ""),
    ):
        answer = upload(client, job, "import", content, status=400, name="Guests")
        assert words in answer["error"]
    upload(client, job, "import", b"a,b\n1,2\n", name="Guests")
    assert "already" in upload(client, job, "import", b"a,b\n1,2\n", status=400, name="guests")["error"]
    send(client, job, "cells", 400, changes=[{"row": 5, "field": "a", "value": "x"}])
    send(client, job, "cells", 400, changes=[{"row": 0, "field": "c", "value": "x"}])
    send(client, job, "computed", 400, computed=[{"name": "c", "expression": "upper("}])
    send(
        client,
        job,
        "change",
        400,
        intents=[{"do": "put-records", "name": "X", "fields": ["a"], "files": ["ab" * 32], "count": 1}],
    )
    client.post(f"/job/{job.pk}/undo/", "{}", content_type="application/json")
    assert from_rows(job) == before


def test_the_table_is_searched_sorted_filtered_and_computed(client: Client, cards: models.Job) -> None:
    computed = [{"name": "label", "expression": 'upper(left(name, 3)) & "-" & id'}]
    send(client, cards, "computed", computed=computed)
    all_verdicts(client, cards)
    table = ask(client, cards, "rows", sort="label", count=2)
    assert [row[2][-1] for row in table["rows"]] == ["ANS-002", "BRA-009"]
    assert (table["total"], len(table["numbers"])) == (24, 24)
    assert ask(client, cards, "rows", search="curlew")["numbers"] == [15]
    assert ask(client, cards, "rows", show="error")["numbers"] == [LONGEST, NEAR, MISSING]
    send(client, cards, "cells", changes=[{"row": 3, "on": False}])
    assert ask(client, cards, "rows", show="off")["numbers"] == [3]
    piece = ask(client, cards, "piece", record=5)
    assert piece["key"] == "006"
    assert [page["index"] for page in piece["pages"]] == [0, 1]
    assert "Sanna Quill" in piece["pages"][1]["svg"]
    day, night = (ask(client, cards, "piece", record=n)["pages"][0]["svg"] for n in (0, 5))
    assert day != night, "the ink set of a page is a binding of the page, and read from its row"


def test_a_near_miss_is_corrected_and_its_verdict_follows(client: Client, cards: models.Job) -> None:
    verdict = all_verdicts(client, cards)[NEAR]
    (problem,) = verdict["problems"]
    assert problem["suggestions"] == ["corin-11"]
    send(client, cards, "cells", changes=[{"row": NEAR, "field": "portrait", "value": problem["suggestions"][0]}])
    assert all_verdicts(client, cards)[NEAR]["level"] == "ready"
    (fit,) = ask(client, cards, "verdicts")["fits"]
    send(client, cards, "fit", story=fit["story"])
    assert [n for n, one in all_verdicts(client, cards).items() if one["level"] == "error"] == [MISSING]


def test_after_a_change_of_one_record_only_that_one_is_checked_again(
    client: Client, cards: models.Job, monkeypatch: pytest.MonkeyPatch
) -> None:
    original, numbers = RecordCheck.verdict, list[int]()

    def counting(check: RecordCheck, number: int) -> Any:
        numbers.append(number)
        return original(check, number)

    monkeypatch.setattr(RecordCheck, "verdict", counting)
    before = all_verdicts(client, cards)
    assert sorted(numbers) == list(range(24))
    numbers.clear()
    send(client, cards, "cells", changes=[{"row": 6, "field": "motto", "value": "Hurries"}])
    send(client, cards, "cells", changes=[{"row": 7, "on": False}])
    after = all_verdicts(client, cards)
    assert numbers == [6]
    assert {n for n in before if n not in after} == {7}
    send(client, cards, "cells", changes=[{"row": 0, "field": "id", "value": "002"}])
    numbers.clear()
    assert [one["problems"][-1]["kind"] for n, one in all_verdicts(client, cards).items() if n < 2] == ["duplicate"] * 2
    assert sorted(numbers) == [0, 1], "the other record of the same key as well"


def test_the_board_with_a_record_in_place_of_the_design(client: Client, cards: models.Job) -> None:
    """What is done to its pages changes that record only; a record that does not exist leaves the design."""

    def pages(record: str) -> Any:
        answer = client.get(f"/job/{cards.pk}/board/pages/", {"page": 1, "record": record})
        assert answer.status_code == 200, answer.content
        return answer.json()["pages"]["1"]

    key = ask(client, cards, "fields")["set"]
    record = f"{key}:3"
    before = pages(record)
    assert before["record"] == record
    assert "Odile Marsh" in before["svg"]
    for gone in ("", f"{key}:999", "nothing:0", "::", f"{key}:x"):
        assert not pages(gone).get("record")
        assert "Odile Marsh" not in pages(gone)["svg"]
    portrait = next(one for one in before["frames"] if one["name"] == "Portrait")
    chosen = [{"page": before["id"], "id": portrait["id"]}]

    def edit(status: int, **intent: Any) -> Any:
        data = {"intents": [intent], "view": [1], "record": record, "token": new_id("t")}
        answer = client.post(f"/job/{cards.pk}/edits/", json.dumps(data), content_type="application/json")
        assert answer.status_code == status, answer.content
        return answer.json()

    answer = edit(200, do="move-objects", objects=chosen, dx=9, dy=0)
    moved = next(one for one in answer["pages"]["1"]["frames"] if one["name"] == "Portrait")
    assert moved["x"] == pytest.approx(portrait["x"] + 9, abs=0.001)
    assert len(json.loads(from_rows(cards))["record_adjustments"]) == 1
    slip = {"page": 1, "frame": portrait["id"], "record": record}
    places = [client.get(f"/job/{cards.pk}/board/context/", slip | {"record": one}).json() for one in (record, "")]
    assert places[0]["frame"] != places[1]["frame"], "the slip shows the record, too"
    refused = edit(400, do="remove-frame", page=before["id"], frame=portrait["id"])
    assert "cannot be added, deleted" in json.dumps(refused)
    (adjustment,) = json.loads(from_rows(cards))["record_adjustments"]
    edit(200, do="remove-record-adjustment", id=adjustment)
    assert pages(record)["svg"] == before["svg"]


def test_only_those_who_may_see_or_change_records(client: Client, cards: models.Job) -> None:
    other = User.objects.create_user("tern", password="tides and birds")
    stranger = Client()
    stranger.force_login(other, backend="django.contrib.auth.backends.ModelBackend")
    for name in ("rows", "verdicts", "piece", "fields", "words"):
        assert stranger.get(f"/job/{cards.pk}/merge/{name}/").status_code == 404
    models.Share.objects.create(job=cards, user=other, role="view")
    assert len(ask(stranger, cards, "rows")["rows"]) == 24
    send(stranger, cards, "cells", 403, changes=[{"row": 0, "field": "name", "value": "x"}])
    send(stranger, cards, "start", form="one", recipe="trim")


def test_a_record_is_adjusted_alone_and_the_adjustment_removed(client: Client, cards: models.Job) -> None:
    before = {n: ask(client, cards, "piece", record=n)["pages"][1]["svg"] for n in (4, 5)}
    objects = {one["name"]: one for one in ask(client, cards, "piece", record=4)["objects"]}
    assert objects["Name"]["text"][0] == "Hob Wherry"
    send(client, cards, "adjust", record=4, object=objects["Portrait"]["id"], right="2 mm", focus=[0.5, 0.2])
    send(client, cards, "adjust", record=4, object=objects["Name"]["id"], text=["Hob", "Wherry"])
    piece = ask(client, cards, "piece", record=4)
    assert piece["pages"][1]["svg"] != before[4]
    assert sorted(one["words"] for one in piece["adjustments"]) == [
        "Name: other words",
        "Portrait: moved by 2 mm, 0 mm, another crop",
    ]
    assert ask(client, cards, "piece", record=5)["pages"][1]["svg"] == before[5]
    send(client, cards, "adjust", 400, record=4, object="nothing", right="2 mm")
    send(client, cards, "adjust", 400, record=4, object=objects["Name"]["id"], right="far")
    for one in piece["adjustments"]:
        send(client, cards, "change", intents=[{"do": "remove-record-adjustment", "id": one["id"]}])
    assert ask(client, cards, "piece", record=4)["pages"][1]["svg"] == before[4]


def test_the_pieces_on_a_sheet_are_counted(client: Client, cards: models.Job) -> None:
    """85 x 55 mm with bleed of 3 mm on A4 with margins of 10 mm: by hand, 5 rows of 2, 3 of 3 with gaps."""
    address = f"/job/{cards.pk}/merge/sheet/"
    words = client.get(address, {"sheet": "A4", "gap": "0"}).json()["words"]
    assert words == (
        "10 pieces on a sheet, 2 × 5, upright. Bleed between pieces is cut off. Set a gap of 6 mm to print it."
    )
    assert (
        client.get(address, {"sheet": "A4", "gap": "6 mm"}).json()["words"] == "9 pieces on a sheet, 3 × 3, landscape."
    )
    for wrong in ({"sheet": "A9"}, {"sheet": "A4", "gap": "wide"}, {"sheet": "A4", "gap": "-1"}):
        assert client.get(address, wrong).status_code == 400


def test_words_of_one_record_are_read_as_it_sets_them(client: Client, cards: models.Job) -> None:
    story = next(one for one in rows.load(cards.pk)[1].stories.values() if one.name == "Name")
    words = ask(client, cards, "words", record=4, story=story.id)
    assert (words["name"], words["record"], words["text"][0]) == ("Name", "005", "Hob Wherry")
    adjustment = {key: words[key] for key in ("set", "record", "object")} | {"do": "adjust-record", "text": ["Hob W."]}
    send(client, cards, "change", intents=[adjustment])
    assert ask(client, cards, "words", record=4, story=story.id)["text"] == ["Hob W."]
    assert client.get(f"/job/{cards.pk}/merge/words/", {"record": 4, "story": "none"}).status_code == 400


def test_a_merge_is_opened_as_a_job(client: Client, cards: models.Job) -> None:
    answer = send(client, cards, "as-job", records="1-3")
    made = models.Job.objects.get(pk=answer["board"].split("/")[2])
    assert made.name == "Wardens’ cards, merged"
    assert client.get(answer["board"]).status_code == 200
    assert "Pim Garrow" in from_rows(made)
    assert "Odile Marsh" not in from_rows(made)


def finished(client: Client, job: models.Job, **form: Any) -> tuple[models.MergeOutput, bytes]:
    row = send(client, job, "start", **form)
    merge_outputs.make_merge.call(row["id"])
    output = models.MergeOutput.objects.get(pk=row["id"])
    assert output.state == output.READY, output.error
    answer = client.get(row["file"])
    return output, b"".join(answer.streaming_content)  # type: ignore[arg-type]


def test_outputs_one_pdf_single_files_and_sheets(client: Client, cards: models.Job) -> None:
    output, whole = finished(client, cards, form="one", recipe="trim", records="1-3, 8")
    with pikepdf.open(io.BytesIO(whole)) as pdf:
        assert len(pdf.pages) == 8
    assert output.facts is not None
    assert output.facts["records"] == 4
    _, archive = finished(client, cards, form="each", recipe="trim", records="1-2", name="{name} {id}")
    with zipfile.ZipFile(io.BytesIO(archive)) as files:
        assert files.namelist() == ["Merrow Finch 001.pdf", "Ansa Tolley 002.pdf"]
    _, images = finished(client, cards, form="each", recipe="png", numbers=[4], name="{id}")
    with zipfile.ZipFile(io.BytesIO(images)) as files:
        assert files.namelist() == ["005-1.png", "005-2.png"]
        assert files.read("005-1.png").startswith(b"\x89PNG")
    _, sheets = finished(client, cards, form="sheets", recipe="print", sheet="A4", gap="0", order="stacks")
    with pikepdf.open(io.BytesIO(sheets)) as pdf:
        assert len(pdf.pages) == 6, "ten cards on A4, in two columns and five rows; three sheets with backs"
    (path := store.local(models.MergeOutput.objects.first().proof))  # type: ignore[union-attr]
    assert path is not None
    assert pdf_facts(path)["findings"] == [], "sheets keep the conformance of the pieces"
    assert "record" in send(client, cards, "start", 400, form="one", recipe="trim", records="30")["error"]
    send(client, cards, "start", 400, form="each", recipe="trim", name="{age}")
    send(client, cards, "start", 400, form="sheets", recipe="trim", sheet="A9")


def test_only_records_that_changed_are_exported_again(client: Client, cards: models.Job) -> None:
    form = {"form": "one", "recipe": "trim", "changed": True}
    assert "Export all" in send(client, cards, "start", 400, **form)["error"]
    finished(client, cards, form="one", recipe="trim")
    assert (
        "No record has changed" in send(client, cards, "start", 400, form="one", recipe="trim", changed=True)["error"]
    )
    send(client, cards, "cells", changes=[{"row": 6, "field": "motto", "value": "Hurries"}])
    moon = next(one["id"] for one in ask(client, cards, "piece", record=2)["objects"] if one["name"] == "Moon")
    send(client, cards, "adjust", record=2, object=moon, right="1 mm")
    output, _ = finished(client, cards, **form)
    assert output.numbers == [2, 6]


class Killed(BaseException):
    """The worker's process ends."""


@pytest.mark.parametrize("form", ["each", "one", "sheets"])
def test_a_worker_that_takes_over_makes_only_what_is_missing(
    client: Client,
    cards: models.Job,
    form: str,
    monkeypatch: pytest.MonkeyPatch,
    settings: Any,
    django_capture_on_commit_callbacks: Any,
) -> None:
    settings.LEXIGON_CHUNK = 60 if form == "each" else 6
    begun: list[int] = []  # the first record of each chunk that was begun
    make, end = merge_chunks._make, work.end

    def make_or_die(chunk: models.MergeChunk, folder: Path) -> None:
        begun.append(chunk.first)
        if len(begun) == 3:
            raise Killed
        make(chunk, folder)

    def end_if_alive(row: models.Work, state: str, **values: Any) -> bool:
        return state != row.FAILED and end(row, state, **values)  # what is killed cannot say so

    monkeypatch.setattr(merge_chunks, "_make", make_or_die)
    monkeypatch.setattr(work, "end", end_if_alive)
    own = ask(client, cards, "fields")["set"]
    values = {"recipe": "trim", "revision": 0, "record_set": own, "numbers": list(range(24)), "form": form}
    layout = plain(SheetLayout(order="stacks")) if form == "sheets" else {}
    output = models.MergeOutput.objects.create(job=cards, name="{id}", layout=layout, **values)
    work.queue(output)  # the queue of tests does it at once
    chunks = list(output.chunks.all())
    assert [one.state for one in chunks] == ["ready", "ready", "running", "ready"]
    assert store.exists(chunks[0].place)
    work.abandoned()
    with django_capture_on_commit_callbacks(execute=True):
        assert work.overdue() == 1
    output.refresh_from_db()
    assert output.state == output.READY, output.error
    assert begun == [0, 6, 12, 18, 12], "what was finished is not made again"
    assert not output.chunks.exists()
    assert not store.exists(chunks[0].place), "the files of chunks are gone in the end"
    path = store.local(output.place)
    assert path is not None
    if form == "each":
        with zipfile.ZipFile(path) as archive:
            assert len(set(archive.namelist())) == 24
    else:
        text = subprocess.run(["pdftotext", path, "-"], check=True, capture_output=True, text=True).stdout
        # Ten cards of 85 x 55 mm are on A4: three sheets of two pages.
        assert len(pikepdf.open(path).pages) == (6 if form == "sheets" else 48)
        assert all(one[0].split()[0] in text for one in PEOPLE)


def test_a_chunk_that_cannot_be_made_fails_the_merge(
    client: Client, cards: models.Job, monkeypatch: pytest.MonkeyPatch, settings: Any
) -> None:
    def fail(*_: Any) -> None:
        raise LexigonError("The disk is full.")

    settings.LEXIGON_CHUNK = 10
    monkeypatch.setattr(merge_chunks, "write_merged", fail)
    row = send(client, cards, "start", form="one", recipe="trim")
    assert (row["state"], row["error"]) == ("failed", "The disk is full.")
    assert not models.MergeChunk.objects.exists()


def test_a_merge_that_is_stopped_leaves_no_chunks(
    client: Client,
    cards: models.Job,
    monkeypatch: pytest.MonkeyPatch,
    settings: Any,
    django_capture_on_commit_callbacks: Any,
) -> None:
    settings.LEXIGON_CHUNK = 10
    make, places = merge_chunks._make, list[str]()

    def stop_halfway(chunk: models.MergeChunk, folder: Path) -> None:
        make(chunk, folder)
        places.append(chunk.place)
        if chunk.first == 10:
            client.post(reverse("merge-stop", args=[cards.pk, chunk.output_id]))

    monkeypatch.setattr(merge_chunks, "_make", stop_halfway)
    with django_capture_on_commit_callbacks(execute=True):
        row = send(client, cards, "start", form="one", recipe="trim")
    assert row["state"] == "stopped"
    assert not models.MergeChunk.objects.exists()
    assert len(places) == 2, "the third is not begun"
    assert not any(map(store.exists, places))


def test_a_record_file_of_the_demo_is_the_same_after_a_round_trip(client: Client, cards: models.Job) -> None:
    rows = ask(client, cards, "rows")["rows"]
    text = "\n".join(";".join(values) for _, _, values in rows)
    assert records_csv().replace("\r\n", "\n").split("\n", 1)[1].strip() == text
