"""The open file format of a job: values as JSON, whole jobs, upgrades from earlier formats, and the ``.lexigon``
archive.

Imports the document alone: no edits, no composition.
"""
