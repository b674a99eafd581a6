"""Documents with styles of their own, over the web: looked through, mapped, poured with notes, pictures and tables; and
hostile ones."""

from __future__ import annotations

import json
import random
from typing import Any

import pytest
from django.core.files.uploadedfile import SimpleUploadedFile
from django.test import Client

from lexigon.bench import models
from lexigon.bench.services.files import Files
from lexigon.bench.services.jobs import opened
from lexigon.core.document.model import Listing, ListingSource, Paragraph, Section
from lexigon.core.document.numbering import sections
from lexigon.core.editing.intents import InsertListing, PourText, PutListing, PutSection
from lexigon.core.fileformat.jobs import job_from_json, job_to_json
from lexigon.core.flow.listing_entries import due, gathered
from lexigon.core.manuscript import reading
from tests import hostile
from tests.core.test_manuscript_formats import RTF, W, docx, p, r
from tests.web.conftest import from_rows

NOTE = '<w:r><w:footnoteReference w:id="2"/></w:r>'
STYLES = (
    f'<w:styles xmlns:w="{W}"><w:style w:type="paragraph" w:styleId="H"><w:name w:val="Overline"/></w:style></w:styles>'
)
NOTES = f'<w:footnotes xmlns:w="{W}"><w:footnote w:id="2">{p(r("Of the tide."))}</w:footnote></w:footnotes>'
BODY = (
    p(r("Low Water"), '<w:outlineLvl w:val="0"/>')
    + p(r("Kicker"), '<w:pStyle w:val="H"/>')
    + p(r("It began with the tide.") + NOTE)
    + f"<w:tbl><w:tr><w:tc>{p(r('06:12'))}</w:tc><w:tc>{p(r('0.4 m'))}</w:tc></w:tr></w:tbl>"
)


def look(client: Client, job: models.Job, name: str, data: bytes, **more: str) -> Any:
    return client.post(f"/job/{job.pk}/manuscript/look/", {"file": SimpleUploadedFile(name, data), **more})


def pour(client: Client, job: models.Job, pk: int) -> Any:
    return client.post(f"/job/{job.pk}/manuscript/{pk}/pour/", "{}", content_type="application/json")


def test_a_document_is_surveyed_mapped_and_poured_with_all_that_stands_in_it(client: Client, job: models.Job) -> None:
    with opened(job.pk) as live:
        before = job_to_json(live.job)
    data = docx(BODY, styles=STYLES, footnotes=NOTES)
    answer = look(client, job, "copy.docx", data).json()
    assert {use["name"]: use["target"] for use in answer["uses"]} == {
        "level 1, no style": "chapter",
        "Overline": "body",
        "no style": "body",
    }
    assert "1 footnote, at the bottom of the column" in answer["told"]
    assert "1 table, with rows and columns" in answer["told"]
    answer = look(client, job, "copy.docx", data, mapping=json.dumps({"Overline": "section"})).json()
    assert [row["style"] for row in answer["headings"]] == ["chapter", "section"]
    assert pour(client, job, answer["id"]).status_code == 200
    again = job_from_json(from_rows(job))
    story = again.stories["main"]
    assert [one.style for one in story.paragraphs[:3]] == ["chapter", "section", "first"]
    assert [span.object.kind for one in story.paragraphs for span in one.spans if span.object] == ["note", "table"]
    assert [one.text for note in again.stories.values() if note.kind == "note" for one in note.paragraphs] == [
        "Of the tide."
    ]
    assert [len(table.rows) for table in again.tables.values()] == [1]
    with opened(job.pk) as live:
        live.undo(None)
        assert job_to_json(live.job) == before


def test_a_file_is_read_once_to_be_surveyed_and_poured_and_never_poured_with_the_same_ids(
    client: Client, job: models.Job, monkeypatch: pytest.MonkeyPatch
) -> None:
    calls: list[str] = []
    read = reading.read
    monkeypatch.setattr(reading, "read", lambda data, name, **more: (calls.append(name), read(data, name, **more))[1])
    ids = []
    for count in (1, 2):
        answer = look(client, job, "once.txt", b"The tide was low.\n\nThe plank was long.\n").json()
        assert pour(client, job, answer["id"]).status_code == 200
        assert len(calls) == count
        with opened(job.pk) as live:
            ids.append({p.id for p in live.job.stories["main"].paragraphs})
    assert not ids[0] & ids[1]


def test_a_picture_of_a_document_is_kept_and_one_that_cannot_be_read_is_left_out(
    client: Client, job: models.Job
) -> None:
    import base64
    import io

    from PIL import Image

    out = io.BytesIO()
    Image.new("RGB", (80, 40), "teal").save(out, "PNG")
    good = base64.b64encode(out.getvalue()).decode()
    html = (
        f"<html><body><p>Before <img alt='A reed' src='data:image/png;base64,{good}'> after <img "
        "src='data:image/png;base64,AAAA'> all.</p></body></html>"
    )
    answer = look(client, job, "copy.html", html.encode()).json()
    assert pour(client, job, answer["id"]).status_code == 200
    again = job_from_json(from_rows(job))
    (inlay,) = again.inlays.values()
    assert inlay.picture
    file = again.pictures[inlay.picture.picture]
    assert (file.width, file.alt) == (80, "A reed")
    assert Files(job.pk).path_of(file.file)
    assert again.stories["main"].paragraphs[0].text.replace("\ufffc", "@") == "Before @ after  all."


@pytest.mark.parametrize("kind", ["docx", "rtf", "html"])
def test_changed_documents_are_read_or_refused_in_words(client: Client, job: models.Job, kind: str) -> None:
    html = (
        b"<html><body><h1>Ebb</h1><p>It <i>began</i><a href='#n'"
        b" role='doc-noteref'>1</a></p><table><tr><td>1</table><div id='n'>note</div></body></html>"
    )
    source = {"docx": docx(BODY, styles=STYLES, footnotes=NOTES), "rtf": RTF.encode("cp1252"), "html": html}[kind]
    before, statuses = from_rows(job), set()
    for number in range(40 * hostile.TIMES):
        data = (
            hostile.scrambled(source, random.Random(number))
            if kind != "docx"
            else hostile.changed_within(source, random.Random(number))
        )
        answer = look(
            client,
            job,
            f"a.{kind}",
            data,
            mapping=random.Random(number).choice(["", "[]", "{", '{"a": 3}', '{"no style": "nowhere"}']),
        )
        statuses.add(answer.status_code)
        assert answer.status_code in (200, 400), answer.content
        if answer.status_code == 400:
            assert len(answer.json()["error"]) > 10
    assert 200 in statuses
    assert from_rows(job) == before


def test_clean_ups_are_chosen_without_handing_the_file_in_again_and_kept_for_the_house(
    client: Client, job: models.Job
) -> None:
    data = docx(
        p(r('"Low  water," she said.')) + p("") + p(r("\u00a0\u00a0It's time."), '<w:pStyle w:val="H"/>'), styles=STYLES
    )
    answer = look(client, job, "copy.docx", data).json()
    assert {one["id"]: one["on"] for one in answer["found"]} == {
        "empty": True,
        "indents": True,
        "spaces": True,
        "quotes": False,
    }
    assert {"before": '"Low', "was": "  ", "now": " ", "behind": 'water," she said.'} in [
        example for one in answer["found"] for example in one["examples"]
    ]
    chosen = {
        "again": str(answer["id"]),
        "cleaned": json.dumps({"quotes": True, "spaces": False, "nonsense": True}),
        "mapping": json.dumps({"Overline": "quote"}),
    }
    again = client.post(f"/job/{job.pk}/manuscript/look/", chosen).json()
    assert [row["text"] for row in again["sample"]] == ["‘Low  water,’ she said.", "It’s time."]
    assert again["sample"][1]["id"] == "quote"
    kept = {"name": "Saltmarsh", "mapping": {"Overline": "quote"}, "cleaned": {"quotes": True, "nonsense": True}}
    address = f"/job/{job.pk}/manuscript/houses/"
    answer = client.post(address, json.dumps(kept), content_type="application/json").json()
    assert answer["houses"] == [{"name": "Saltmarsh", "mapping": {"Overline": "quote"}, "cleaned": {"quotes": True}}]
    assert "Saltmarsh" in client.get(f"/job/{job.pk}/manuscript/").content.decode()
    assert client.post(address, json.dumps({"name": " "}), content_type="application/json").status_code == 400
    gone = client.post(
        address, json.dumps({"name": "Saltmarsh", "forgotten": True}), content_type="application/json"
    ).json()
    assert gone["houses"] == []
    assert pour(client, job, again["id"]).status_code == 200
    with opened(job.pk) as live:
        assert live.job.stories["main"].paragraphs[0].text == "‘Low  water,’ she said."


def test_the_next_version_of_a_manuscript_is_taken_in_with_the_choices_made_for_the_one_before(
    client: Client, job: models.Job
) -> None:
    """29 changes are 29, and not every heading and every quotation mark anew."""

    def version(*words: str) -> bytes:
        rows = ((f"Tide {n}", f"The hide  was full --- {n}. {words[n % len(words)]}") for n in range(40))
        return docx("".join(p(r(head), '<w:pStyle w:val="H"/>') + p(r(text)) for head, text in rows), styles=STYLES)

    answer = look(client, job, "one.docx", version("Low."), mapping=json.dumps({"Overline": "section"})).json()
    assert answer["saved"] == ""
    odd = next(row["n"] for row in answer["headings"] if row["text"] == "Tide 7")
    styled = json.dumps({"styles": {str(odd): "chapter"}})
    address = f"/job/{job.pk}/manuscript/{answer['id']}/pour/"
    assert client.post(address, styled, content_type="application/json").status_code == 200
    answer = look(client, job, "two.docx", version("Low.", "High.")).json()
    assert (answer["saved"], answer["mapping"]) == ("one.docx", {"Overline": "section"})
    assert answer["restyled"] == {str(odd): "chapter"}
    asked = json.dumps({"styles": answer["restyled"]})
    address = f"/job/{job.pk}/manuscript/{answer['id']}/compare/"
    found = client.post(address, asked, content_type="application/json").json()
    assert found["count"] == 20, "as many as differ"
    # Started afresh, everything is guessed.
    fresh = client.post(f"/job/{job.pk}/manuscript/look/", {"again": str(answer["id"])}).json()
    assert (fresh["saved"], fresh["mapping"], fresh["restyled"]) == ("", {}, {})
    # Everything that a style can become is there by name, first paragraphs among it.
    names = {one["id"]: one["name"] for one in answer["targets"]}
    assert names["body"] == "Body (First paragraph after headings)"
    assert (names["first"], names["tablecaption"], names["heading6"]) == (
        "First paragraph",
        "Table caption",
        "Heading, sixth level",
    )


def test_a_sample_that_is_none_is_refused(client: Client, job: models.Job) -> None:
    answer = client.post(f"/job/{job.pk}/manuscript/look/", {"sample": "../secret-key"})
    assert answer.status_code == 400
    assert "no such sample" in answer.json()["error"]


def test_the_copy_goes_out_in_every_format_and_only_to_whom_it_belongs(client: Client, job: models.Job) -> None:
    answer = look(client, job, "copy.docx", docx(BODY, styles=STYLES, footnotes=NOTES)).json()
    assert pour(client, job, answer["id"]).status_code == 200
    for form, begins in (("docx", b"PK"), ("html", b"<!DOCTYPE"), ("md", b"## Low Water"), ("txt", b"Low Water")):
        response = client.post(f"/job/{job.pk}/manuscript/copy.{form}")
        assert response.status_code == 200
        assert response.content.startswith(begins)
        assert f".{form}" in response["Content-Disposition"]
        assert client.post(f"/job/{job.pk}/manuscript/copy.exe").status_code == 404
    again = look(client, job, "again.docx", client.post(f"/job/{job.pk}/manuscript/copy.docx").content).json()
    assert [(use["target"], use["why"]) for use in again["uses"]] == [
        (target, "the job’s style of that name") for target in ("chapter", "body", "body")
    ]
    stranger = Client()
    assert stranger.post(f"/job/{job.pk}/manuscript/copy.docx").status_code in (302, 401, 403, 404)


def test_a_new_version_is_compared_and_taken_over_but_for_what_was_corrected_here(
    client: Client, job: models.Job, edit: Any
) -> None:
    first = docx(p(r("The tide turned.")) + p(r("The hide was full.")) + p(r("It raned.")))
    answer = look(client, job, "copy.docx", first).json()
    assert pour(client, job, answer["id"]).status_code == 200
    with opened(job.pk) as live:
        third = live.job.stories["main"].paragraphs[2]
    edit(
        {
            "do": "replace-text",
            "story": "main",
            "start": {"paragraph": third.id, "offset": 4},
            "end": {"paragraph": third.id, "offset": 5},
            "text": "ai",
        }
    )
    second = docx(p(r("The tide turned at six.")) + p(r("The hide was full.")) + p(r("It raned.")) + p(r("New.")))
    answer = look(client, job, "copy, 2.docx", second).json()
    address = f"/job/{job.pk}/manuscript/{answer['id']}/"
    found = client.post(f"{address}compare/", "{}", content_type="application/json").json()
    assert found["since"].startswith("copy.docx")
    assert [(one["kind"], one["whose"], one["usual"]) for one in found["hunks"]] == [
        ("changed", "theirs", True),
        ("changed", "ours", False),
        ("added", "theirs", True),
    ]
    assert ["+", " at six"] in found["hunks"][0]["words"]
    taken = {"numbers": [0, 2], "revision": found["revision"]}
    stale = client.post(f"{address}take/", json.dumps(taken | {"revision": 1}), content_type="application/json")
    assert stale.status_code == 400
    assert "changed since it was compared" in stale.json()["error"]
    assert client.post(f"{address}take/", json.dumps(taken), content_type="application/json").status_code == 200
    with opened(job.pk) as live:
        assert [p_.text for p_ in live.job.stories["main"].paragraphs] == [
            "The tide turned at six.",
            "The hide was full.",
            "It rained.",
            "New.",
        ]
        assert live.job.stories["main"].paragraphs[2].id == third.id
    client.post(f"/job/{job.pk}/undo/", "{}", content_type="application/json")
    with opened(job.pk) as live:
        assert [p_.text for p_ in live.job.stories["main"].paragraphs] == [
            "The tide turned.",
            "The hide was full.",
            "It rained.",
        ]
    # What goes out is remembered too: it comes back as it left, and nothing differs.
    out = client.post(f"/job/{job.pk}/manuscript/copy.docx").content
    answer = look(client, job, "back.docx", out).json()
    found = client.post(
        f"/job/{job.pk}/manuscript/{answer['id']}/compare/", "{}", content_type="application/json"
    ).json()
    assert found["count"] == 0


def test_pouring_again_keeps_front_matter_contents_and_sections_with_their_text(
    client: Client, job: models.Job
) -> None:
    text = "# Bar\n\n" + "Low water again. " * 900 + "\n\n# Flats\n\n" + "High water. " * 400
    with opened(job.pk) as live:
        rows = (
            Paragraph("t", "title", "The Flats"),
            Paragraph("i", "imprint", "© The Observatory"),
            Paragraph("c", "chapter", "Flats"),
            Paragraph("b", "first", "Old words."),
        )
        live.do([PourText("main", rows)], job.owner)
        live.do([PutListing(Listing("l", "Contents", (ListingSource("chapter"),)))], job.owner)
        now = tuple(one.entry for one in gathered(live.workspace.composition, live.job.listings["l"]))
        live.do([InsertListing("l", "main", now, "front", "Contents")], job.owner)
        page = live.workspace.composition.where.page("main", "c")
        assert page
        live.do([PutSection(live.job.pages[page].id, Section("Flats", start=1))], job.owner)
        before = job_to_json(live.job)
    answer = look(client, job, "new.md", text.encode()).json()
    assert answer["stays"] == ["title page", "imprint", "Contents"]
    assert pour(client, job, answer["id"]).status_code == 200
    with opened(job.pk) as live:
        paragraphs = live.job.stories["main"].paragraphs
        assert [p.text.partition("\t")[0] for p in paragraphs][:7] == [
            "The Flats",
            "© The Observatory",
            "Contents",
            "Bar",
            "Flats",
            "Bar",
            paragraphs[6].text,
        ]
        assert due(live.workspace.composition, live.job.listings["l"]).differences == []  # type: ignore[union-attr]
        heading = next(p.id for p in paragraphs if p.style == "chapter" and p.text == "Flats")
        assert [index for index, _ in sections(live.job)] == [live.workspace.composition.where.page("main", heading)]
        live.undo(job.owner)
        assert job_to_json(live.job) == before, "one step"
    answer = look(client, job, "new.md", text.encode()).json()
    asked = json.dumps({"whole": True})
    client.post(f"/job/{job.pk}/manuscript/{answer['id']}/pour/", asked, content_type="application/json")
    with opened(job.pk) as live:
        assert live.job.stories["main"].paragraphs[0].text == "Bar"
