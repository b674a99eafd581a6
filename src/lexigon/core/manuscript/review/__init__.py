"""What is looked for in copy: clean-ups, finding and replacing, spelling, surveys of manuscripts, new versions."""
