"""Sornix: measured readings as figures, least-squares trends, and a plain account of both."""

__version__ = "0.1.0"
APPLICATION_ID = "io.sornix.Sornix"
