"""What a fit is, and what it says: equation, statistics, intervals, read-offs, reports."""
