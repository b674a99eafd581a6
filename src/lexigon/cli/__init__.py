"""The ``lexigon`` command: jobs from the command line, on the same core as the application.

One module a command, with ``EXAMPLES``, ``add_arguments`` and ``run``; ``main`` has their list and imports the one that
is asked for. ``options`` has what they share in their arguments, ``jobs`` how they read and write job files. Only what
concerns the command line belongs here: what is done to a job is an intent of the core.
"""
