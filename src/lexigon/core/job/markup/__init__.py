"""Rules that mark text up while it is set, the lines they are written in, and signs by name. Knows the job alone, no setting and no files."""
