"""Pictures and drawings that are brought in: examined, and stored in the form that every output can use."""
