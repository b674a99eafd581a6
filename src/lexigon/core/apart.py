"""Work on what comes from outside, in a process of its own: with limits of memory and time, and nothing at stake but the answer."""

from __future__ import annotations

import resource
import subprocess
import sys
from collections.abc import Sequence
from pathlib import Path

BYTES = 2_000_000_000


def run_apart(module: str, arguments: Sequence[str], seconds: int, given: bytes = b"") -> bytes:
    """What ``python -m module`` writes, given so many seconds of computing; what it wrote until then, where it dies of it."""
    package = str(Path(__file__).resolve().parents[2])
    try:
        done = subprocess.run(
            [sys.executable, "-m", module, *arguments], input=given, stdout=subprocess.PIPE, stderr=subprocess.DEVNULL, check=False,
            timeout=3 * seconds, env={"PYTHONPATH": package}, preexec_fn=lambda: _limit(seconds),
        )  # fmt: skip
        return done.stdout
    except subprocess.TimeoutExpired as late:
        return late.stdout or b""


def _limit(seconds: int) -> None:
    resource.setrlimit(resource.RLIMIT_CPU, (seconds, seconds + 1))
    resource.setrlimit(resource.RLIMIT_AS, (BYTES, BYTES))
    resource.setrlimit(resource.RLIMIT_CORE, (0, 0))
