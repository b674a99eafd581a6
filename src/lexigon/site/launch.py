"""Starting the application: the demo, or the parts of an installation (web servers and workers, on one machine or
several)."""

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
"""The number of PostgreSQL's advisory lock that is held during migrations; any number will do."""


def prepare() -> None:
    """Set Django up and migrate the database. Of several processes that start at once, one migrates."""
    os.environ["DJANGO_SETTINGS_MODULE"] = "lexigon.site.settings"
    import django

    django.setup()
    from django.core.management import call_command
    from django.db import OperationalError

    from lexigon.bench.services.bins import delete_expired

    with _exclusive():
        call_command("migrate", verbosity=0)
        with suppress(OperationalError):  # a full disk must not prevent reading
            delete_expired()


@contextmanager
def _exclusive() -> Iterator[None]:
    from django.db import connection

    if connection.vendor == "postgresql":
        with connection.cursor() as cursor:
            cursor.execute("SELECT pg_advisory_lock(%s)", [MIGRATING])
            try:
                yield
            finally:
                cursor.execute("SELECT pg_advisory_unlock(%s)", [MIGRATING])
    else:
        with (_data_folder() / "migrating").open("w") as lock:
            fcntl.flock(lock, fcntl.LOCK_EX)
            yield


def run_demo(port: int) -> None:
    """Start on 127.0.0.1 with the demo's jobs; a second start keeps what the user did. Runs until stopped."""
    os.environ.setdefault("LEXIGON_DEMO", "1")
    prepare()
    from django.core.management import call_command

    from lexigon.bench.services import manuscripts, outputs  # noqa: F401
    from lexigon.bench.services import work as background

    call_command("load_demo")
    background.abandoned()
    _run_both(port)


def run_server(bind: str, workers: int) -> None:
    """Run the web server of an installation, until it is stopped."""
    prepare()
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


def run_worker() -> None:
    """Run a worker of an installation, until it is stopped: it does queued work, and takes over that of dead
    workers."""
    prepare()
    from django.conf import settings
    from django.core.management import call_command

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


def _run_both(port: int) -> None:
    """Run a web server and a worker until one of them stops or the user does. Raises SystemExit."""
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
            f"\nLexigon is ready: http://{address}/\nStop it with Ctrl+C. Your work is saved in {_data_folder()}.",
            flush=True,
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


def _data_folder() -> Path:
    from django.conf import settings

    return Path(settings.DATA)


def _answers(url: str, server: subprocess.Popen[bytes]) -> bool:
    """Return whether a server answers within half a minute."""
    for _ in range(120):
        if server.poll() is not None:
            return False
        try:
            urllib.request.urlopen(url, timeout=2)
            return True
        except (urllib.error.URLError, OSError):
            time.sleep(0.25)
    return False
