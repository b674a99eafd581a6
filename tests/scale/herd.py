"""Many processes at one job, some of them killed: a program that the tests run beside a database of its own.

Every process makes edits that can be told apart, and writes down each one that was answered. What was answered must
then be there, once; what was not may be there, once. ``python -m tests.scale.herd --processes 8 --edits 100 --kills
20`` prints what it found as JSON."""

from __future__ import annotations

import argparse
import json
import os
import random
import signal
import sys
import time
from collections import Counter
from pathlib import Path
from typing import Any


def _ready() -> None:
    os.environ.setdefault("DJANGO_SETTINGS_MODULE", "lexigon.site.settings")
    from lexigon.site.launch import prepare

    prepare()


def _job() -> str:
    from django.contrib.auth.models import User

    from lexigon.bench.services.jobs import create_job
    from tests.core.helpers import poured

    user, _ = User.objects.get_or_create(username="herd")
    return create_job(user, poured(30).job).pk


def _edits(key: str, name: str, first: int, last: int, acks: int) -> None:
    """Make the edits numbered ``first`` up to ``last``; write each one's name to ``acks`` when it was answered."""
    from django.contrib.auth.models import User

    from lexigon.bench.services.jobs import opened
    from lexigon.core.editing.intents import AddPages, AddTextFrame, Place, ReplaceText
    from lexigon.core.geometry import Rect

    user, chance = User.objects.get(username="herd"), random.Random(f"{name}{first}")
    for number in range(first, last):
        mark = f"{name}{number:04d}"
        with opened(key) as live:
            job = live.job
            what = chance.randrange(8)
            if what == 0:
                page = chance.choice(job.pages[:3])  # later ones go when they are empty
                live.do([AddTextFrame(page.id, Rect(60, 60, 90, 40), text=f"[{mark}]")], user, token=mark)
            elif what == 1:
                copies = [AddPages(len(job.pages), 1), _typed(job, mark, chance)]
                live.do(copies, user, token=mark)
            else:
                live.do([_typed(job, mark, chance)], user, base=max(live.revision - chance.randrange(3), 0), token=mark)
        os.write(acks, f"{mark}\n".encode())
    _ = (Place, ReplaceText)


def _typed(job: Any, mark: str, chance: random.Random) -> Any:
    from lexigon.core.editing.intents import Place, ReplaceText

    paragraph = chance.choice(job.stories["main"].paragraphs)
    place = Place(paragraph.id, 0)  # at the head, where no other edit can have cut it in two
    text = f"[{mark}]" + ("\n" if chance.random() < 0.2 else "")
    return ReplaceText("main", place, place, text)


class Herd:
    def __init__(self, key: str, folder: Path, edits: int) -> None:
        self.key, self.folder, self.edits = key, folder, edits
        self.running: dict[int, str] = {}
        self.killed = 0

    def acked(self, name: str) -> list[str]:
        path = self.folder / name
        return path.read_text().split() if path.exists() else []

    def start(self, name: str) -> None:
        """Fork a process that goes on behind the last edit that was answered (what was on its way is done again: its
        token tells)."""
        from django.db import connections

        connections.close_all()
        first = len(self.acked(name))
        child = os.fork()
        if child:
            self.running[child] = name
            return
        code = 1
        try:
            acks = os.open(self.folder / name, os.O_WRONLY | os.O_APPEND | os.O_CREAT)
            _edits(self.key, name, first, self.edits, acks)
            code = 0
        except BaseException:
            import traceback

            traceback.print_exc()
        finally:
            os._exit(code)

    def run(self, processes: int, kills: int, chance: random.Random) -> list[str]:
        for number in range(processes):
            self.start(chr(97 + number))
        failed = []
        while self.running:
            if kills:
                time.sleep(chance.uniform(0.005, 0.25))
                victim = chance.choice(list(self.running))
                os.kill(victim, signal.SIGKILL)
                kills -= 1
            pid, status = os.waitpid(-1, 0)
            name = self.running.pop(pid)
            if os.WIFSIGNALED(status):
                self.killed += 1
                self.start(name)
            elif status:
                failed.append(name)
        return failed


def _looked_through(key: str, acked: list[str]) -> dict[str, Any]:
    import re

    from lexigon.bench import models
    from lexigon.bench.services import rows
    from lexigon.bench.services.jobs import opened
    from lexigon.core.fileformat.jobs import job_to_json
    from lexigon.core.flow.workspace import Workspace

    job = rows.load(key)[1]
    text = "\n".join(p.text for story in job.stories.values() for p in story.paragraphs)
    found = Counter(re.findall(r"\[([a-z]\d{4})\]", text))
    revisions = list(models.Edit.objects.filter(job=key).values_list("revision", flat=True))
    with opened(key) as live:
        same = job_to_json(live.job) == job_to_json(job)
    start = rows.load_at(key, 0)
    return {
        "acked": len(acked),
        "lost": [mark for mark in acked if not found[mark]],
        "doubled": [mark for mark, count in found.items() if count > 1],
        "stray": len(set(found) - set(acked)),
        "revisions": revisions == list(range(1, len(revisions) + 1)),
        "live": same,
        "undone": not re.search(r"\[[a-z]\d{4}\]", job_to_json(start)),
        "fits": not Workspace(rows.load(key)[1]).opening.edits,
    }


def main() -> None:
    options = argparse.ArgumentParser()
    for name in ("processes", "edits", "kills", "seed"):
        options.add_argument(f"--{name}", type=int, default=0)
    options.add_argument("--folder", type=Path, required=True)
    wanted = options.parse_args()
    _ready()
    key = _job()
    herd = Herd(key, wanted.folder, wanted.edits)
    failed = herd.run(wanted.processes, wanted.kills, random.Random(wanted.seed))
    acked = [mark for path in sorted(wanted.folder.iterdir()) for mark in herd.acked(path.name)]
    print(json.dumps({"failed": failed, "killed": herd.killed, **_looked_through(key, acked)}))
    sys.exit(0)


if __name__ == "__main__":
    main()
