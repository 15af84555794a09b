"""What follows from a figure and its readings."""
