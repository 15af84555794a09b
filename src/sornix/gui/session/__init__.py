"""A document at work: its history, its scene, and what is asked of it."""
