"""Functions from figure to figure."""
