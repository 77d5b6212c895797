"""Trials designed from what a grower has: every plan that fits is compared by what it can show."""
