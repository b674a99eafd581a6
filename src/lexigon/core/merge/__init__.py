"""Records for many pieces from one design: reading them, and values computed from them.

What lives here knows records and their values as text. It knows no page and no press."""
