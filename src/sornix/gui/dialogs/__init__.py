"""Windows that ask one thing."""
