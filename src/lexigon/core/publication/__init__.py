"""Several jobs as one publication: the numbers of their pages, the styles they share, their one output. Knows jobs and
how they are composed; keeps nothing, and changes a job through its intents alone."""
