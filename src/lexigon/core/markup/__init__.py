"""Mark-up rules that format text while it is set, the lines they are written in, and characters by name. Depends on the
job alone, not on composing or files."""
