"""Before the first cutting is stuck: the bench by lot, and what its numbers can show."""
