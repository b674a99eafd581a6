"""Starting the application: migrate, load the demo, run the web server and the task worker together."""

from __future__ import annotations

import os
import signal
import subprocess
import sys
import time
import urllib.error
import urllib.request
from pathlib import Path
from types import FrameType

GUNICORN = ["--workers", "1", "--threads", "6", "--timeout", "120", "--graceful-timeout", "5", "--log-level", "warning"]


def demo(port: int) -> None:
    """Start on 127.0.0.1 with the demo's jobs; a second start keeps what the user did. Runs until stopped."""
    os.environ["DJANGO_SETTINGS_MODULE"] = "lexigon.site.settings"
    os.environ.setdefault("LEXIGON_DEMO", "1")
    import django

    django.setup()
    from django.core.management import call_command

    from lexigon.bench.services.outputs import resume

    call_command("migrate", verbosity=0)
    call_command("load_demo")
    resume()
    run(port)


def run(port: int) -> None:
    address = f"127.0.0.1:{port}"
    web = [sys.executable, "-m", "gunicorn", "lexigon.site.wsgi:application", "--bind", address, *GUNICORN]
    worker = [sys.executable, "-m", "django", "db_worker", "--no-startup-delay"]
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
            f"\nLexigon is ready: http://{address}/\nStop it with Ctrl+C. Your work is kept in {_data()}.", flush=True
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
