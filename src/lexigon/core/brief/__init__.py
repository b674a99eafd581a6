"""The set-up of a job: named sizes, reading what was typed, and the drawing to scale."""
