"""The search for the least sum of squares of a formula."""
