"""The views. They check who asks, call a service or the core, and answer; they hold no rules."""
