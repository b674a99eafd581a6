"""Writers of a job's copy, one a format."""
