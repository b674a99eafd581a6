"""Between the views and the core: keeping jobs in the database, open jobs, background work."""
