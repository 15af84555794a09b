"""Documents as files: the package, its parts, older versions, and safety copies."""
