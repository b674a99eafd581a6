"""Runs the tests against mutants of the engine: small changes of the code that some test should notice.

    python -m pip install -r requirements-mutants.txt
    python -m tools.mutants [MODULE ...] [--sample 40]

It takes hours for all mutants, and some minutes a module for a sample, which is the same each time. The mutants are
made in a copy of the committed sources, by mutmut.
"""

from __future__ import annotations

import argparse
import json
import os
import random
import re
import subprocess
import sys
import tempfile
from pathlib import Path

ROOT = Path(__file__).parents[1]
MODULES = {
    "core/type/linebreak": ("core/test_linebreak.py", "core/test_setting.py"),
    "core/type/breaks": ("core/test_type.py", "core/test_setting.py", "core/test_linebreak.py"),
    "core/flow/column": ("core/test_flow.py", "core/test_notes.py", "core/test_last_page.py", "core/test_afloat.py"),
    "core/flow/even_feet": ("core/test_even_feet.py", "core/test_last_page.py"),
    "core/editing/edits": ("core/test_job.py", "core/test_rebasing.py", "core/test_objects.py"),
    "core/picture/conversion": ("core/test_pictures.py", "core/test_adjusting.py", "core/test_inked_pages.py"),
    "core/pdf/content": ("core/test_press.py", "core/test_strokes.py", "core/test_blending.py"),
    "bench/services/rows": ("web/test_touches.py", "web/test_edits.py", "web/test_older_rows.py"),
}
"""The modules, below src/lexigon, with the tests that should notice what is wrong in them."""
WORDING = re.compile(r"""^[-+].*(Error\(|f?"[A-Z][^"]*[.!?]"|"XX|TypeVar|cast\()""", re.M)
"""Changes of messages and types, which say nothing about how well the rules are tested."""


def main() -> int:
    """Print the mutants that no test noticed. Returns their number."""
    parser = argparse.ArgumentParser(description="Run the tests against mutants of the engine.")
    parser.add_argument("modules", nargs="*", help=f"of {', '.join(MODULES)} (default: all)")
    parser.add_argument("--sample", type=int, default=40, help="mutants of each module (default: %(default)s)")
    options = parser.parse_args()
    survivors = 0
    for module in options.modules or MODULES:
        with tempfile.TemporaryDirectory(prefix="mutants-") as folder:
            survivors += _survivors(module, Path(folder), options.sample)
    return survivors


def _survivors(module: str, folder: Path, sample: int) -> int:
    source = f"src/lexigon/{module}.py"
    subprocess.run(["git", "clone", "-q", str(ROOT), str(folder)], check=True)
    with (folder / "pyproject.toml").open("a") as stream:
        stream.write(
            "\n[tool.mutmut]\n"
            f"only_mutate = {json.dumps([source])}\n"
            'source_paths = ["src/lexigon/"]\n'
            'also_copy = ["src", "demo", "tools", "docs", "benchmarks", "lexigon", "README.md"]\n'
            f"pytest_add_cli_args_test_selection = {json.dumps([f'tests/{name}' for name in MODULES[module]])}\n"
        )
    _mutmut(folder, "run", "no mutant of this name")  # makes the mutants, and learns which test runs what
    names = re.findall(r"\S*__mutmut_\d+", _mutmut(folder, "results", "--all", "true"))
    random.Random(1).shuffle(names)
    chosen: list[str] = []
    while names and len(chosen) < sample:
        name = names.pop()
        if not WORDING.search(_mutmut(folder, "show", name)):
            chosen.append(name)
    _mutmut(folder, "run", "--max-children", "1", *chosen)
    results = dict(re.findall(r"(\S*__mutmut_\d+): (.+)", _mutmut(folder, "results", "--all", "true")))
    missed = [name for name in chosen if results.get(name) in ("survived", "no tests")]
    print(f"{module}: {len(missed)} of {len(chosen)} were not noticed", flush=True)
    for name in missed:
        lines = _mutmut(folder, "show", name).splitlines()
        print("\n".join(line for line in lines if re.match(r"[-+@ ](?![-+])", line)), flush=True)
    return len(missed)


def _mutmut(folder: Path, *arguments: str) -> str:
    environment = {name: value for name, value in os.environ.items() if name != "PYTHONPATH"}
    command = [sys.executable, "-m", "mutmut", *arguments]
    return subprocess.run(command, cwd=folder, env=environment, capture_output=True, text=True, check=False).stdout


if __name__ == "__main__":
    sys.exit(bool(main()))
