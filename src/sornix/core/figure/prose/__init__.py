"""What is said of a figure: caption, methods, reports of trends."""
