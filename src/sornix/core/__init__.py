"""Readings, figures, scales, trends and drawing, free of any interface code."""
