"""Setting a job up: sizes, papers, spines, folds, envelopes, bindings; reading what was typed; drawings to scale."""
