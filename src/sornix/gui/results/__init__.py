"""Numbers of trends, and cautions."""
