"""The figure on the screen, and the hand on it."""
