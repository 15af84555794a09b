"""What is drawn when nothing was asked for."""
