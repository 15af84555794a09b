"""The figure as a value; nothing here computes."""
