"""The readings as a grid of cells."""
