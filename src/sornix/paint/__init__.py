"""Painting a display list: on the screen, and into PNG, SVG and PDF.

Its parts are imported one by one (`fonts`, `measure`, `painter`, `export`), because a window needs
only the first two to stand.
"""
