"""``lexigon test``: what the tests need from Debian, then style, types, import rules and every test."""

from __future__ import annotations

import os
import shutil
import subprocess
import sys
from pathlib import Path

ROOT = Path(__file__).resolve().parents[2]
PROGRAMS = {
    "chromium-headless-shell": "chromium-headless-shell",
    "hb-shape": "libharfbuzz-bin",
    "pdftotext": "poppler-utils",
    "qpdf": "qpdf",
    "gs": "ghostscript",
    "redis-server": "redis-server",
}
FILES = {
    "/usr/share/unicode/auxiliary/LineBreakTest.txt": "unicode-data",
    "/usr/share/color/icc/FOGRA39L.ti3": "icc-profiles-free",
    "/usr/share/fonts/opentype/ebgaramond": "fonts-ebgaramond",
    "/usr/lib/postgresql": "postgresql",
}


def missing_packages() -> list[str]:
    packages = [package for program, package in PROGRAMS.items() if not shutil.which(program)]
    return packages + [package for path, package in FILES.items() if not Path(path).exists()]


def install_packages() -> None:
    """Install Debian packages where we may; else say which are missing (their tests are skipped)."""
    packages = missing_packages()
    if not packages:
        return
    if os.geteuid() == 0 and shutil.which("apt-get"):
        print(f"Installing for the tests: {', '.join(packages)} ...", flush=True)
        quiet = {"stdout": subprocess.DEVNULL, "env": {**os.environ, "DEBIAN_FRONTEND": "noninteractive"}}
        subprocess.run(["apt-get", "update", "-qq"], check=False, **quiet)  # type: ignore[call-overload]
        for wanted in (packages, *([package] for package in packages)):  # all at once; else each that can be had
            done = subprocess.run(["apt-get", "install", "-y", "-qq", *wanted], check=False, **quiet)  # type: ignore[call-overload]
            if wanted is packages and not done.returncode:
                break
    left = missing_packages()
    if left:
        print(f"Tests that need these Debian packages are skipped: apt-get install {' '.join(left)}", flush=True)


def run_all(pytest_arguments: list[str]) -> int:
    """Run every check; 0 if all passed. Arguments go to pytest, and then only pytest runs."""
    install_packages()
    python = sys.executable
    commands = [[python, "-m", "pytest", "--durations=10", *pytest_arguments]]
    if not pytest_arguments:
        commands = [
            [python, "-m", "ruff", "check", "."],
            [python, "-m", "ruff", "format", "--check", "--quiet", "."],
            [python, "-m", "mypy"],
            [str(Path(python).with_name("lint-imports")), "--no-logo"],
            *commands,
        ]
    environment = {**os.environ, "PYTHONPATH": f"{ROOT / 'src'}{os.pathsep}{ROOT}"}
    failed = 0
    for command in commands:
        print(f"$ {' '.join(Path(part).name if '/' in part else part for part in command)}", flush=True)
        failed |= subprocess.run(command, cwd=ROOT, env=environment, check=False).returncode
    return 1 if failed else 0
