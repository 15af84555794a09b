"""Types of files that hold readings."""
