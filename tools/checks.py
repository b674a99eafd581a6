"""``lexigon test``: what the tests need from Debian and npm, then style, types, import rules, scripts and every
test."""

from __future__ import annotations

import hashlib
import os
import shutil
import subprocess
import sys
import tempfile
from pathlib import Path

ROOT = Path(__file__).resolve().parents[1]
PROGRAMS = {
    "chromium-headless-shell": "chromium-headless-shell",
    "hb-shape": "libharfbuzz-bin",
    "pdftotext": "poppler-utils",
    "qpdf": "qpdf",
    "gs": "ghostscript",
    "pandoc": "pandoc",
    "redis-server": "redis-server",
    "java": "default-jre-headless",
}
FILES = {
    "/usr/share/unicode/auxiliary/LineBreakTest.txt": "unicode-data",
    "/usr/share/color/icc/FOGRA39L.ti3": "icc-profiles-free",
    "/usr/share/fonts/opentype/ebgaramond": "fonts-ebgaramond",
    "/usr/lib/postgresql": "postgresql",
    "/usr/share/java/preflight.jar": "libpdfbox2-java",
    "/usr/share/java/commons-io.jar": "libcommons-io-java",
    "/usr/share/java/javax.activation.jar": "libactivation-java",
    "/usr/share/java/jaxb-api.jar": "libjaxb-api-java",
}


NO_TESTS = 5
"""The exit code of pytest where no test had to run."""


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
        for group in (packages, *([package] for package in packages)):  # all at once; else each that can be had
            done = subprocess.run(["apt-get", "install", "-y", "-qq", *group], check=False, **quiet)  # type: ignore[call-overload]
            if group is packages and not done.returncode:
                break
    left = missing_packages()
    if left:
        print(f"Tests that need these Debian packages are skipped: apt-get install {' '.join(left)}", flush=True)


def install_scripts(environment: dict[str, str]) -> bool:
    """Return what checks the scripts, as package-lock.json has it; Node comes with the Python packages. False if it
    cannot be had."""
    lock, stamp = ROOT / "package-lock.json", ROOT / "node_modules" / "lexigon.stamp"
    lock_hash = hashlib.sha256(lock.read_bytes()).hexdigest()
    if stamp.exists() and stamp.read_text() == lock_hash:
        return True
    print("Installing what checks the scripts ...", flush=True)
    command = ["npm", "ci", "--ignore-scripts", "--no-audit", "--no-fund", "--loglevel=error"]
    if subprocess.run(command, cwd=ROOT, env=environment, check=False).returncode:
        return False
    stamp.write_text(lock_hash)
    return True


def style_sheet_is_built(environment: dict[str, str]) -> bool:
    """Return whether the committed style sheet matches its sources."""
    with tempfile.TemporaryDirectory() as folder:
        built = Path(folder) / "app.css"
        command = ["npm", "run", "--silent", "css", "--", "-o", str(built)]
        done = subprocess.run(command, cwd=ROOT, env=environment, check=False, capture_output=True, text=True)
        if done.returncode:
            print(done.stderr, flush=True)
            return False
        if built.read_bytes() == (ROOT / "src/lexigon/bench/static/bench/app.css").read_bytes():
            return True
    print("The style sheet is not what its sources make: npm run css", flush=True)
    return False


def check_scripts(environment: dict[str, str]) -> int:
    """Types, style and tests of the scripts, and the style sheet; 0 if all is well."""
    if not install_scripts(environment):
        return 1
    failed = 0
    for name in ("types", "lint", "format", "pure"):
        print(f"$ npm run {name}", flush=True)
        failed |= subprocess.run(["npm", "run", "--silent", name], cwd=ROOT, env=environment, check=False).returncode
    print("$ npm run css (compared)", flush=True)
    return failed or not style_sheet_is_built(environment)


def changed_files() -> list[str]:
    """Return the paths of files that differ from the last commit, new ones included."""
    commands = (["git", "diff", "--name-only", "HEAD"], ["git", "ls-files", "--others", "--exclude-standard"])
    outputs = [subprocess.run(one, cwd=ROOT, check=False, capture_output=True, text=True).stdout for one in commands]
    return sorted({line for output in outputs for line in output.splitlines()})


def browser_tests(paths: list[str]) -> list[str]:
    """Return the browser tests for changed files of the interface: one whole job, and the files with a name in common
    with what changed."""
    interface = [path for path in paths if path.startswith(("src/lexigon/bench/", "tests/browser/"))]
    names = {Path(path).stem.removeprefix("test_").rstrip("s") for path in interface}
    tests = sorted((ROOT / "tests/browser").glob("test_*.py"))
    alike = {test.name for test in tests if test.stem.removeprefix("test_").rstrip("s") in names}
    return [f"tests/browser/{name}" for name in sorted({*alike, "test_flyer.py"})] if interface else []


def run_changed(pytest_arguments: list[str]) -> int:
    """Run what a change can touch: style and types of everything, tests of the code that changed since they last ran
    (pytest-testmon records what each runs), the scripts and browser tests if files of the interface changed."""
    install_packages()
    paths = changed_files()
    environment = _environment()
    failed = 0
    if any(path.startswith("src/lexigon/bench/") and not path.endswith(".py") for path in paths):
        failed |= check_scripts(environment)
    pytest = [sys.executable, "-m", "pytest", "-n", "2", "--dist", "loadfile", *pytest_arguments]
    commands = [*_static_checks(), [*pytest, "--testmon", "tests/core", "tests/web", "tests/scripts"]]
    if tests := browser_tests(paths):
        commands.append([*pytest, *tests])
    return 1 if failed | _run(commands, environment) else 0


def run_all(pytest_arguments: list[str]) -> int:
    """Run every check; 0 if all passed. Arguments go to pytest, and then only pytest runs."""
    install_packages()
    both_cores = [] if pytest_arguments else ["-n", "2", "--dist", "loadfile"]
    commands = [[sys.executable, "-m", "pytest", "--durations=10", *both_cores, *pytest_arguments]]
    environment = _environment()
    failed = 0
    if not pytest_arguments:
        failed = check_scripts(environment)
        commands = [*_static_checks(), *commands]
    return 1 if failed | _run(commands, environment) else 0


def _environment() -> dict[str, str]:
    path = f"{Path(sys.executable).parent}{os.pathsep}{os.environ.get('PATH', '')}"
    return {**os.environ, "PYTHONPATH": f"{ROOT / 'src'}{os.pathsep}{ROOT}", "PATH": path}


def _static_checks() -> list[list[str]]:
    python = sys.executable
    return [
        [python, "-m", "ruff", "check", "."],
        [python, "-m", "ruff", "format", "--check", "--quiet", "."],
        [python, "-m", "mypy"],
        [str(Path(python).with_name("lint-imports")), "--no-logo"],
    ]


def _run(commands: list[list[str]], environment: dict[str, str]) -> int:
    failed = 0
    for command in commands:
        print(f"$ {' '.join(Path(part).name if '/' in part else part for part in command)}", flush=True)
        code = subprocess.run(command, cwd=ROOT, env=environment, check=False).returncode
        failed |= 0 if code == NO_TESTS else code
    return failed
