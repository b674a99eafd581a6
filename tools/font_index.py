"""Writes the index of the shipped fonts beside them: ``PYTHONPATH=src python -m tools.font_index``."""

import json

from lexigon.core.type.fonts import INDEX, SHIPPED, font_facts

if __name__ == "__main__":
    rows = {path.relative_to(SHIPPED).as_posix(): font_facts(path) for path in sorted(SHIPPED.glob("*/*.[ot]tf"))}
    INDEX.write_text("{\n" + ",\n".join(f"{json.dumps(k)}: {json.dumps(v)}" for k, v in rows.items()) + "\n}\n")
