"""The document: the model of a job, the limits of its values, the cascade of its styles, and what follows from them
without composing: numbering, spreads, forms of covers and folds, outlines.

Imports nothing that changes, stores or composes a job.
"""
