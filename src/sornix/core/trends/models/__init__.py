"""The shapes that a trend can have."""
