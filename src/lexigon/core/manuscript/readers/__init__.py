"""Readers of manuscripts and of the cells of tables, one a format."""
