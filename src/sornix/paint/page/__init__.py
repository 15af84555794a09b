"""A figure as a page that can be pointed at: one file, which asks nothing of any other."""
