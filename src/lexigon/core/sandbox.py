"""Working on untrusted input in a separate process with limits of memory and time, so that only the answer is at
risk."""

from __future__ import annotations

import resource
import subprocess
import sys
from collections.abc import Sequence
from pathlib import Path

BYTES = 2_000_000_000
"""Of memory, unless a caller says how much its work may take."""


def run_apart(module: str, arguments: Sequence[str], seconds: int, data: bytes = b"", memory: int = BYTES) -> bytes:
    """Return what ``python -m module`` writes, given so many seconds of computing; what it wrote until then, where it
    dies of it."""
    package = str(Path(__file__).resolve().parents[2])
    try:
        done = subprocess.run(
            [sys.executable, "-m", module, *arguments],
            input=data,
            stdout=subprocess.PIPE,
            stderr=subprocess.DEVNULL,
            check=False,
            timeout=3 * seconds,
            env={"PYTHONPATH": package},
            preexec_fn=lambda: _limit(seconds, memory),
        )
        return done.stdout
    except subprocess.TimeoutExpired as late:
        return late.stdout or b""


def _limit(seconds: int, memory: int) -> None:
    """Limit the process that is about to begin; one within another gets no more than that has."""
    for what, most in ((resource.RLIMIT_CPU, seconds), (resource.RLIMIT_AS, memory), (resource.RLIMIT_CORE, 0)):
        hard = resource.getrlimit(what)[1]
        most = most if hard == resource.RLIM_INFINITY else min(most, hard)
        resource.setrlimit(what, (most, most))
