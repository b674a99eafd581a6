"""Imported pictures and drawings: examined, and stored in the form that every output can use."""
