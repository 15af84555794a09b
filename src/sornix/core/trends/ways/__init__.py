"""How readings count: weights, robust losses, errors in both, logarithms, in common, resampling."""
