"""The job's rules and computation. No Django, no HTTP, no HTML; import-linter enforces it.

Imports point downward only: press -> paint -> flow -> type -> job -> lengths, geometry.
"""
