"""Measurements as ratios within one run: python -m benchmarks [NAME…] prints JSON."""
