"""What this application is called, and which version it is."""

__version__ = "0.1.0"
APPLICATION_ID = "io.sornix.Sornix"
