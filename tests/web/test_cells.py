"""What is typed in the cells of tables over HTTP: it is kept as all words are, the slip and the board are told of it,
it is taken back."""

from __future__ import annotations

import json
from collections.abc import Callable
from typing import Any

from django.test import Client

from lexigon.bench import models
from lexigon.bench.services.jobs import forget, opened
from lexigon.core.fileformat.jobs import job_to_json
from tests.web.conftest import from_rows
from tests.web.test_typing import at, get, post

Edit = Callable[..., Any]


def test_a_cell_is_typed_in_kept_told_and_taken_back(client: Client, job: models.Job, edit: Edit) -> None:
    with opened(job.pk) as live:
        first = live.job.stories["main"].paragraphs[0].id
    rows = "\n".join(f"Day {n}\t{n}.5" for n in range(90))
    edit({"do": "add-table", "story": "main", "at": at(first, 0), "words": rows})
    with opened(job.pk) as live:
        (table,) = live.job.tables.values()
        before = job_to_json(live.job)
    key, p = f"{table.id}/80.0", table.rows[80][0].paragraphs[0].id
    typed = {"do": "replace-text", "story": key, "start": at(p, 6), "end": at(p, 6), "text": " Monday\nlate"}
    answer = edit(typed)
    assert answer["caret"]["story"] == key
    assert answer["caret"]["page"] > 0, "the page that the row stands on"
    with opened(job.pk) as live:
        assert from_rows(job) == job_to_json(live.job)
    forget(job.pk)
    kept = json.loads(from_rows(job))["tables"][table.id]["rows"][80][0]["paragraphs"]
    assert [one["text"] for one in kept] == ["Day 80 Monday", "late"]
    # A place in it is found again, with its page; the slip knows the cell.
    found = get(client, job, "board/pages", story=key, p="$", offset=0)
    assert found["caret"]["page"] == answer["caret"]["page"]
    told = get(client, job, "board/context", page=found["caret"]["page"], story=key, p=p, offset=0, p2=p, offset2=0)[
        "text"
    ]
    assert (told["heading"], told["table"]) == ("Cell 1 of row 81", table.id)
    place = {"page": 0, "story": key, "p": p, "offset": 0, "p2": p, "offset2": 0}
    told = get(client, job, "board/context", **place, table=table.id, top=80, left=0, bottom=81, right=5)
    assert (told["text"]["align"], told["text"]["indent"]) == ("left", "0 pt"), "as the table has it, not as body text"
    assert (told["cells"]["count"], told["cells"]["columns"], told["cells"]["size"]) == (4, 2, "content")
    assert told["cells"]["rules"]["down"] is None
    assert "cells" not in get(client, job, "board/context", **place, table="gone", top=0, left=0, bottom=0, right=0)
    copied = get(client, job, f"tables/{table.id}/cells", top=79, left=0, bottom=80, right=9)
    assert copied["text"] == 'Day 79\t79.5\n"Day 80 Monday\nlate"\t80.5'
    assert copied["html"].count("<tr") == 2
    stale = {"do": "replace-text", "story": f"{table.id}/500.0", "start": at(p, 0), "end": at(p, 0), "text": "x"}
    refused = post(client, job, "edits", {"intents": [stale], "view": [0], "base": 2}, 400)
    assert "no longer in the job" in refused["error"]
    back = post(client, job, "undo", {"view": [0]})
    assert back["label"]
    assert from_rows(job) == before


def test_the_sheet_of_a_table_gives_back_what_it_was_told(client: Client, job: models.Job, edit: Edit) -> None:
    """Opened and kept without a change it changes nothing, whatever single cells have of their own."""
    with opened(job.pk) as live:
        first = live.job.stories["main"].paragraphs[0].id
    edit({"do": "add-table", "story": "main", "at": at(first, 0), "words": "a\tb\nc\td"})
    with opened(job.pk) as live:
        (table,) = live.job.tables
    cells = {"table": table, "top": 1, "left": 0, "bottom": 1, "right": 0}
    edit(
        {
            "do": "set-cells",
            "cells": cells,
            "turn": 90,
            "height": 40,
            "fill": {"swatch": "black", "tint": 0.2},
            "edges": ["foot"],
            "rule": {"weight": 2},
        }
    )
    edit({"do": "set-columns", "cells": cells, "size": "fixed", "value": 50, "align": "centre"})
    both = {"table": table, "top": 0, "left": 0, "bottom": 0, "right": 1}
    edit({"do": "set-columns", "cells": both, "size": "share", "value": 2})
    said = get(client, job, "board/context", page=0, **both)["cells"]
    assert (said["size"], said["value"], said["align"]) == ("share", "2", "various"), "each by itself"
    edit({"do": "set-columns", "cells": cells, "size": "fixed", "value": 50})
    with opened(job.pk) as live:
        before = job_to_json(live.job)
    told = get(client, job, f"tables/{table}")
    rows, was = [], 0
    for row in told["rows"]:
        rows.append([{**cell, "was": was + n} for n, cell in enumerate(row)])
        was += len(row)
    said = {name: told[name] for name in ("heads", "foots", "style", "sizes", "continued", "divide")}
    edit({"do": "change-table", "table": table, "rows": rows, **said})
    assert from_rows(job) == before
    edit({"do": "change-table", "table": table, "rows": rows, **said, "divide": True})
    assert json.loads(from_rows(job))["tables"][table]["divide"] is True


def test_the_sheet_of_a_table_says_how_much_of_it_is_overset(client: Client, job: models.Job, edit: Edit) -> None:
    with opened(job.pk) as live:
        page = live.job.pages[0].id
    rect = {"x": 40, "y": 40, "width": 200, "height": 120}
    edit({"do": "add-text-frame", "page": page, "rect": rect})
    with opened(job.pk) as live:
        story = live.job.pages[0].frames[-1].story
    edit(
        {"do": "add-table", "story": story, "at": at("^", 0), "words": "\n".join(f"Day {n}\t{n}.5" for n in range(24))}
    )
    with opened(job.pk) as live:
        (table,) = live.job.tables
    told = get(client, job, f"tables/{table}")["overset"]
    assert told.startswith("Overset: ")
    assert "table rows (" in told
    assert told.endswith("do not fit. Enlarge the frame, or link another frame.")
    with opened(job.pk) as live:
        frame = live.job.pages[0].frames[-1].id
    edit({"do": "change-frame", "page": page, "frame": frame, "rect": rect | {"height": 560}})
    assert get(client, job, f"tables/{table}")["overset"] == ""
