"""Work on the copy over the web: found, shown as it would be, replaced in one change in each job, kept; nobody else's
jobs."""

from __future__ import annotations

import json
from typing import Any

from django.contrib.auth.models import User
from django.core.files.uploadedfile import SimpleUploadedFile
from django.test import Client

from lexigon.bench import models
from lexigon.bench.services.jobs import create_job, opened
from lexigon.core.document.model import Paragraph, TypeSpec
from lexigon.core.editing.intents import PourText, PutStyle, PutSwatch, SetParagraphs
from tests.core.helpers import book


def send(client: Client, job: models.Job, what: str, said: dict[str, Any], status: int = 200) -> Any:
    response = client.post(f"/job/{job.pk}/manuscript/{what}/", json.dumps(said), content_type="application/json")
    assert response.status_code == status, response.content
    return response.json()


def pour(job: models.Job, *texts: str) -> None:
    with opened(job.pk) as live:
        live.do([PourText("main", tuple(Paragraph(f"q{n}", "body", text) for n, text in enumerate(texts)))], job.owner)


def words(job: models.Job) -> list[str]:
    with opened(job.pk) as live:
        return [p.text for p in live.job.stories["main"].paragraphs]


def test_what_is_found_is_shown_and_replaced_but_for_what_was_unticked(client: Client, job: models.Job) -> None:
    pour(job, "A gull and a gull.", "The Gulls.")
    said = {"query": {"words": "gull"}, "exchange": {"words": "tern", "keep_case": True}}
    answer = send(client, job, "find/look", said)
    assert [(row["before"], row["text"], row["put"], row["label"]) for row in answer["rows"]] == [
        ("A ", "gull", "tern", "1"),
        ("A gull and a ", "gull", "tern", "1"),
        ("The ", "Gull", "Tern", "1"),
    ]
    stale = send(client, job, "find/exchange", said | {"left": [1], "revision": answer["revision"] - 1}, 400)
    assert "changed since" in stale["error"]
    done = send(client, job, "find/exchange", said | {"left": [1], "revision": answer["revision"]})
    assert (done["count"], words(job)) == (2, ["A tern and a gull.", "The Terns."])
    client.post(f"/job/{job.pk}/undo/", "{}", content_type="application/json")
    assert words(job) == ["A gull and a gull.", "The Gulls."]
    assert (
        "The regular expression is not valid"
        in send(client, job, "find/look", {"query": {"words": "(g", "pattern": True}}, 400)["error"]
    )
    assert send(client, job, "find/look", {"query": {}})["rows"] == []
    assert client.get(f"/job/{job.pk}/manuscript/find/?words=gull").status_code == 200


def test_in_all_jobs_of_ones_own_and_in_nobody_elses(client: Client, job: models.Job) -> None:
    other = create_job(job.owner, book())
    stranger = create_job(User.objects.create_user("stranger"), book())
    for one in (job, other, stranger):
        pour(one, "A gull.")
    said = {"query": {"words": "gull"}, "exchange": {"words": "tern"}, "everywhere": True}
    answer = send(client, job, "find/look", said)
    assert [(row["key"], row["count"]) for row in answer["jobs"]] == [(job.pk, 1), (other.pk, 1)]
    done = send(client, job, "find/exchange", said | {"revision": answer["revision"]})
    assert (done["count"], done["jobs"]) == (2, 2)
    assert [words(one) for one in (job, other, stranger)] == [["A tern."], ["A tern."], ["A gull."]]
    client.post(f"/job/{other.pk}/undo/", "{}", content_type="application/json")
    assert words(other) == ["A gull."]
    # A job that lacks the colour is left as it is, and that is said.
    with opened(job.pk) as live:
        live.do([PutSwatch(name="Reed", space="cmyk", values=(0.4, 0.0, 0.9, 0.2))], job.owner)
        reed = list(live.job.swatches)[-1]
    said = {"query": {"words": "tern|gull", "pattern": True}, "exchange": {"swatch": reed}, "everywhere": True}
    answer = send(client, job, "find/look", said)
    done = send(client, job, "find/exchange", said | {"revision": answer["revision"]})
    assert (done["count"], done["jobs"], done["skipped"]) == (1, 1, 1)


def test_searches_are_kept_and_forgotten(client: Client, job: models.Job) -> None:
    said = {"name": "Gulls", "query": {"words": "gull"}, "exchange": {"words": "tern"}}
    (kept,) = send(client, job, "find/keep", said)["searches"]
    assert kept["said"]["query"]["words"] == "gull"
    assert "Gulls" in client.get(f"/job/{job.pk}/manuscript/find/").content.decode()
    assert send(client, job, "find/keep", {"name": "Gulls", "forgotten": True})["searches"] == []
    send(client, job, "find/keep", {"name": " "}, 400)


def test_rules_show_what_they_find_act_are_ordered_and_taken_back(client: Client, job: models.Job) -> None:
    pour(job, "The [gist] of it.", "More [words].")
    with opened(job.pk) as live:
        body = live.job.paragraph_styles["body"].name
        live.do([PutStyle("character", name="Query", type=TypeSpec(italic=True))], job.owner)
    line = f'in {body}, from "[" through "]": Query'
    found = client.get(f"/job/{job.pk}/manuscript/rules/look/", {"line": line}).json()
    assert [(row["text"], row["label"]) for row in found["rows"]] == [("[gist]", "1"), ("[words]", "1")]
    wrong = client.get(f"/job/{job.pk}/manuscript/rules/look/", {"line": "in Nowhere: Query"})
    assert wrong.json()["missing"] == {"kind": "paragraph", "name": "Nowhere"}, "it is offered to be made"
    slow = client.get(f"/job/{job.pk}/manuscript/rules/look/", {"line": r'like "\d{2}(?=x)(": Query'})
    assert slow.status_code == 400
    (rule,) = send(client, job, "rules/edits", {"intents": [{"do": "put-marking", "line": line}]})["rules"]
    assert (rule["line"], rule["count"], rule["on"]) == (line, 2, True)
    with opened(job.pk) as live:
        assert live.workspace.composition.main
        (span,) = live.workspace.composition.main.paragraphs[0].shown.paragraph.spans
        assert (span.start, span.end) == (4, 10)
        assert not live.job.stories["main"].paragraphs[0].spans
    two = send(client, job, "rules/edits", {"intents": [{"do": "put-marking", "line": "first word: Query"}]})["rules"]
    moved = send(client, job, "rules/edits", {"intents": [{"do": "move-marking", "id": two[1]["id"], "to": 0}]})[
        "rules"
    ]
    assert [one["line"] for one in moved] == ["first word: Query", line]
    done = send(client, job, "rules/edits", {"intents": [{"do": "do-marking", "id": rule["id"]}]})["rules"]
    assert [one["on"] for one in done] == [True, False]
    with opened(job.pk) as live:
        assert len(live.job.stories["main"].paragraphs[0].spans) == 1
    client.post(f"/job/{job.pk}/undo/", "{}", content_type="application/json")
    with opened(job.pk) as live:
        assert not live.job.stories["main"].paragraphs[0].spans
    found = client.get(f"/job/{job.pk}/manuscript/rules/look/", {"line": "first line: Query"}).json()
    assert [row["text"] for row in found["rows"]] == ["The [gist] of it.", "More [words]."]
    assert (
        "Only rules"
        in send(client, job, "rules/edits", {"intents": [{"do": "put-copy", "name": "x", "text": "y"}]}, 400)["error"]
    )
    assert send(client, job, "rules/keep", {"line": line})["library"] == [line]
    assert line.split(",")[0] in client.get(f"/job/{job.pk}/manuscript/rules/").content.decode()
    assert send(client, job, "rules/keep", {"line": line, "forgotten": True})["library"] == []


def test_spelling_is_told_corrected_learned_and_gathered(client: Client, job: models.Job) -> None:
    pour(job, "The receipt and the receipt; one more receipt. A reciept for Quonk’s zibble.", "The zibble zibble.")
    base = f"/job/{job.pk}/manuscript/spelling/"
    told = client.get(f"{base}look/").json()
    assert [(one["word"], one["near"], one["count"]) for one in told["unknown"]] == [
        ("reciept", "receipt", 1),
        ("zibble", "", 3),
        ("Quonk's", "", 1),
    ]
    assert told["unknown"][0]["places"][0]["label"] == "1"
    assert [one["words"] for one in told["doubled"]] == ["zibble zibble"]
    assert "receipt" in client.get(f"{base}suggested/", {"word": "reciept", "language": "en-GB"}).json()["words"]
    assert {one["word"] for one in client.get(f"{base}view/?page=0").json()["found"]} == {
        "reciept",
        "Quonk's",
        "zibble",
    }
    assert send(client, job, "spelling/correct", {"words": ["reciept"], "put": "receipt"})["count"] == 1
    assert send(client, job, "spelling/correct", {"words": ["Quonk's"], "put": "Monk’s"})["count"] == 1
    assert words(job)[0].endswith("A receipt for Monk’s zibble.")
    with opened(job.pk) as live:
        live.do([PutStyle("character", name="Glossary", type=TypeSpec(italic=True))], job.owner)
        style = next(key for key, one in live.job.character_styles.items() if one.name == "Glossary")
    assert send(client, job, "spelling/correct", {"words": ["zibble"], "style": style})["count"] == 3
    with opened(job.pk) as live:
        assert [span.style for span in live.job.stories["main"].paragraphs[1].spans] == [style, style]
    send(client, job, "spelling/learn", {"words": ["zibble"], "mine": True})
    assert client.get(f"{base}look/").json()["unknown"] == []
    send(client, job, "spelling/learn", {"words": ["zibble"], "forgotten": True})
    send(client, job, "spelling/learn", {"words": ["zibble"]})
    told = client.get(f"{base}look/").json()
    assert (told["unknown"], [one["word"] for one in told["learned"]]) == ([], ["zibble"])
    send(client, job, "spelling/forget", {"id": told["learned"][0]["id"]})
    assert len(client.get(f"{base}look/").json()["unknown"]) == 1


def test_a_dictionary_is_brought_used_and_removed_and_what_is_none_is_refused(client: Client, job: models.Job) -> None:
    address = f"/job/{job.pk}/manuscript/spelling/dictionary/"
    aff, dic = ("de.aff", b"SET UTF-8\n"), ("de.dic", b"2\nWatt\nVogel\n")

    def bring(language: str, *files: tuple[str, bytes]) -> Any:
        return client.post(address, {"language": language, "file": [SimpleUploadedFile(*one) for one in files]})

    pour(job, "Watt Vogel Vogle")
    with opened(job.pk) as live:
        live.do([SetParagraphs("main", "q0", "q0", type=TypeSpec(language="de-DE"))], job.owner)
    look = f"/job/{job.pk}/manuscript/spelling/look/"
    assert client.get(look).json()["unchecked"] == [["de-DE", 3]]
    assert "Select both files of the dictionary" in bring("de-DE", dic).json()["error"]
    assert "dic file starts with the number of its words" in bring("de-DE", aff, ("de.dic", b"words")).json()["error"]
    assert "Type the language" in bring("../x", aff, dic).json()["error"]
    assert bring("de-DE", aff, dic).status_code == 200
    told = client.get(look).json()
    assert ([one["word"] for one in told["unknown"]], told["unchecked"]) == (["Vogle"], [])
    assert "de-DE" in client.get(f"/job/{job.pk}/manuscript/spelling/").content.decode()
    assert client.post(address, {"language": "de-DE", "remove": "1"}).status_code == 200
    assert client.get(look).json()["unchecked"] == [["de-DE", 3]]


def test_a_text_is_written_in_and_every_answer_makes_the_same_of_it(client: Client, job: models.Job) -> None:
    """Steps that come back, taken on a list of the paragraphs, give what the text is; words by chapter; undo; a reply
    that was lost."""
    pour(job, "The tide turned.", "It rained.")
    base = f"/job/{job.pk}/manuscript/"
    opening = client.get(f"{base}text/").json()
    rows, revision = opening["rows"], opening["revision"]
    assert [row["text"] for row in rows] == ["The tide turned.", "It rained."]

    def write(*intents: dict[str, Any], what: str = "write", **more: Any) -> dict[str, Any]:
        nonlocal revision
        answer = send(client, job, what, {"story": "main", "intents": list(intents), "base": revision, **more})
        revision = answer["revision"]
        if "rows" in answer:
            rows[:] = answer["rows"]
        for step in answer["steps"] if "rows" not in answer else ():
            rows[step["at"] : step["at"] + step["remove"]] = step["rows"]
        for row in answer.get("again", ()):
            rows[[one["id"] for one in rows].index(row["id"])] = row
        assert rows == client.get(f"{base}text/").json()["rows"]
        return answer

    at = lambda p, o: {"paragraph": rows[p]["id"], "offset": o}  # noqa: E731
    write({"do": "replace-text", "story": "main", "start": at(0, 4), "end": at(0, 8), "text": "sea"})
    write({"do": "replace-text", "story": "main", "start": at(0, 7), "end": at(0, 7), "text": "\n"})
    write({"do": "format-text", "story": "main", "start": at(0, 0), "end": at(0, 3), "type": {"italic": True}})
    assert rows[0]["spans"] == [[0, 3, "i"]]
    write({"do": "set-paragraphs", "story": "main", "first": rows[0]["id"], "last": rows[0]["id"], "style": "chapter"})
    write({"do": "add-note", "story": "main", "start": at(1, 3), "end": at(1, 3), "text": "Of larch."})
    (note,) = rows[1]["notes"]
    assert (note["number"], note["text"], rows[1]["spans"][0][3:]) == ("1", "Of larch.", ["note", "1"])
    answer = write(
        {
            "do": "replace-text",
            "story": note["story"],
            "start": {"paragraph": note["p"], "offset": 0},
            "end": {"paragraph": note["p"], "offset": 2},
            "text": "From",
        }
    )
    assert answer["again"][0]["notes"][0]["text"] == "From larch."
    token = {"token": "once"}
    write({"do": "replace-text", "story": "main", "start": at(2, 0), "end": at(2, 0), "text": "Then "}, **token)
    send(
        client,
        job,
        "write",
        {
            "story": "main",
            "intents": [{"do": "replace-text", "story": "main", "start": at(2, 0), "end": at(2, 0), "text": "Then "}],
            **token,
        },
    )
    assert words(job)[2] == "Then It rained.", "the same request twice is done once"
    write({"do": "set-paragraphs", "story": "main", "first": rows[2]["id"], "last": rows[2]["id"], "style": "chapter"})
    told = client.get(f"{base}text/?structure=1").json()
    assert [(row["text"], row["words"]) for row in told["structure"]] == [("The sea", 1), ("Then It rained.", 0)]
    write({"do": "move-paragraphs", "story": "main", "first": rows[0]["id"], "last": rows[1]["id"]})
    assert [row["text"].replace("\ufffc", "") for row in rows] == ["Then It rained.", "The sea", " turned."]
    before = [row["id"] for row in rows]
    assert write(what="step/undo")["label"] == "Move paragraphs"
    assert [row["id"] for row in rows] != before
    assert write(what="step/redo")["label"] == "Move paragraphs"
    assert [row["id"] for row in rows] == before
    assert (
        "no longer"
        in send(
            client,
            job,
            "write",
            {
                "story": "gone",
                "intents": [{"do": "replace-text", "story": "gone", "start": at(0, 0), "end": at(0, 0), "text": "x"}],
            },
            400,
        )["error"]
    )


def test_passages_in_another_language_are_listed_and_set_as_such(client: Client, job: models.Job) -> None:
    with opened(job.pk) as live:
        words = "They say: Les oiseaux volent vers la mer. And so it is."
        live.do([PourText("main", (Paragraph("a", "body", words),))], job.owner)
    look = f"/job/{job.pk}/manuscript/spelling/look/"
    told = client.get(look).json()
    (one,) = told["foreign"]
    assert (one["name"], one["words"], one["count"], told["unknown"]) == ("French", 6, 1, [])
    assert one["places"][0]["text"] == "Les oiseaux volent vers la mer"
    assert send(client, job, "spelling/language", {"language": "fr-FR"}) == {"count": 1}
    assert client.get(look).json()["foreign"] == []
    with opened(job.pk) as live:
        (span,) = live.job.stories["main"].paragraphs[0].spans
    assert span.type == TypeSpec(language="fr-FR")
    page = client.get(f"/job/{job.pk}/manuscript/spelling/").content.decode()
    assert "French" in page
    assert "hunspell-de-de" in page, "how to get others is explained"
