"""Starting the application: the demo, or the parts of an installation (web servers and workers, on one machine or several)."""

from __future__ import annotations

import fcntl
import os
import signal
import subprocess
import sys
import threading
import time
import urllib.error
import urllib.request
from collections.abc import Iterator
from contextlib import contextmanager, suppress
from pathlib import Path
from types import FrameType

THREADS = "6"
GUNICORN = ["--timeout", "120", "--graceful-timeout", "5", "--log-level", "warning", "--threads", THREADS]
MIGRATING = 5_463_021
"""The number of PostgreSQL's advisory lock that is held while tables are brought up to date; any will do."""


def _prepared() -> None:
    """Django, with its tables as this version has them. Of several that start at once, one brings them up to date."""
    os.environ["DJANGO_SETTINGS_MODULE"] = "lexigon.site.settings"
    import django

    django.setup()
    from django.core.management import call_command
    from django.db import OperationalError

    from lexigon.bench.services.bins import delete_expired

    with _alone():
        call_command("migrate", verbosity=0)
        with suppress(OperationalError):  # a full disk keeps nobody from reading
            delete_expired()


@contextmanager
def _alone() -> Iterator[None]:
    from django.db import connection

    if connection.vendor == "postgresql":
        with connection.cursor() as cursor:
            cursor.execute("SELECT pg_advisory_lock(%s)", [MIGRATING])
            try:
                yield
            finally:
                cursor.execute("SELECT pg_advisory_unlock(%s)", [MIGRATING])
    else:
        with (_data() / "migrating").open("w") as lock:
            fcntl.flock(lock, fcntl.LOCK_EX)
            yield


def demo(port: int) -> None:
    """Start on 127.0.0.1 with the demo's jobs; a second start keeps what the user did. Runs until stopped."""
    os.environ.setdefault("LEXIGON_DEMO", "1")
    _prepared()
    from django.core.management import call_command

    from lexigon.bench.services import manuscripts, outputs  # noqa: F401
    from lexigon.bench.services import work as background

    call_command("load_demo")
    background.abandoned()
    run(port)


def serve(bind: str, workers: int) -> None:
    """Run the web server of an installation, until it is stopped."""
    _prepared()
    command = [
        sys.executable,
        "-m",
        "gunicorn",
        "lexigon.site.wsgi:application",
        "--bind",
        bind,
        "--workers",
        str(workers),
    ]
    os.execv(sys.executable, [*command, *GUNICORN])


def work() -> None:
    """Run a worker of an installation, until it is stopped: it does what is queued, and looks after what others left."""
    _prepared()
    from django.conf import settings
    from django.core.management import call_command

    from lexigon.bench.services import manuscripts, outputs  # noqa: F401  (they say what kinds of work there are)
    from lexigon.bench.services import work as background

    over = threading.Event()
    watcher = threading.Thread(target=background.watch, args=(over,), daemon=True)
    watcher.start()
    try:
        if settings.RQ_QUEUES:
            call_command("rqworker", "default", job_class="django_tasks_rq.Job", verbosity=0)
        else:
            call_command("db_worker", startup_delay=False, reload=False, verbosity=0)
    finally:
        over.set()


def run(port: int) -> None:
    address = f"127.0.0.1:{port}"
    web = [
        sys.executable,
        "-m",
        "gunicorn",
        "lexigon.site.wsgi:application",
        "--bind",
        address,
        "--workers",
        "1",
        *GUNICORN,
    ]
    worker = [sys.executable, "-m", "lexigon", "work"]
    children = [subprocess.Popen(command) for command in (web, worker)]

    def stop(signum: int, frame: FrameType | None) -> None:
        raise SystemExit(0)

    for name in (signal.SIGTERM, signal.SIGINT):
        signal.signal(name, stop)
    try:
        if not _answers(f"http://{address}/sign-in/", children[0]):
            raise SystemExit(
                f"Lexigon could not start on {address}. Is the port taken? Try --port with another number."
            )
        print(
            f"\nLexigon is ready: http://{address}/\nStop it with Ctrl+C. Your work is saved in {_data()}.", flush=True
        )
        while all(child.poll() is None for child in children):
            time.sleep(0.5)
        raise SystemExit("A part of Lexigon stopped; nothing that was saved is lost. Start it again.")
    finally:
        for child in children:
            child.terminate()
        for child in children:
            try:
                child.wait(10)
            except subprocess.TimeoutExpired:
                child.kill()


def _data() -> Path:
    from django.conf import settings

    return Path(settings.DATA)


def _answers(url: str, server: subprocess.Popen[bytes]) -> bool:
    for _ in range(120):
        if server.poll() is not None:
            return False
        try:
            urllib.request.urlopen(url, timeout=2)
            return True
        except (urllib.error.URLError, OSError):
            time.sleep(0.25)
    return False
