"""From results to a verdict: one module a question, each check, named steps, frozen result."""
