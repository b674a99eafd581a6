"""``python -m lexigon``; see lexigon/cli.py."""

from lexigon.cli import main

raise SystemExit(main())
