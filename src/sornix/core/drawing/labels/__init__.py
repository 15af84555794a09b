"""Words on the figure and where they find room."""
