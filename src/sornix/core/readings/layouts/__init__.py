"""How a text of readings is laid out, weighed from the text itself."""
