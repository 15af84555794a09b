"""What a display list is made of, and its styles."""
