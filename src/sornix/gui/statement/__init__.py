"""The sentence that says the figure, and the strip of each scale."""
