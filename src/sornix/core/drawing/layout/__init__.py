"""Where panels, axes and titles stand."""
