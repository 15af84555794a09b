"""Series, curves and error bars as geometry."""
