"""``python -m lexigon``; see lexigon/cli.py."""

import gc

from lexigon.cli import main

gc.set_threshold(
    50_000, 20, 100
)  # what a command makes it keeps until it is done: looking it through takes time and finds nothing
raise SystemExit(main())
