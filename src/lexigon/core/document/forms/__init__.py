"""Pages that are folded, or bound as a cover: their panels, their folds, and the panel that an object is on.

Pure geometry of the set-up; calculators, remarks and what a set-up changes in a job are in ``core/brief``.
"""
