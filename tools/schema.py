"""Writes docs/job.schema.json from the model: ``PYTHONPATH=src python -m tools.schema``."""

import json
from pathlib import Path

from lexigon.core.fileformat.jobs import schema

if __name__ == "__main__":
    Path("docs/job.schema.json").write_text(json.dumps(schema(), indent=1) + "\n")
