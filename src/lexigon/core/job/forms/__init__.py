"""What a flat page becomes when it is folded or bound as a cover: its panels, where it folds, and which panel a thing stands on.

Pure geometry of the set-up; calculators, remarks and what a set-up changes in a job are in ``core/brief``.
"""
