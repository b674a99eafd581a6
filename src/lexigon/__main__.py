"""``python -m lexigon``; see lexigon/cli/main.py."""

import gc

from lexigon.cli.main import main

# What a command creates stays in use until it is done: examining it for garbage takes time and finds nothing.
gc.set_threshold(50_000, 20, 100)
raise SystemExit(main())
