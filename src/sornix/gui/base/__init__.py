"""Settings, themes, work in the background."""
