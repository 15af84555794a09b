"""A report written out: PDF, HTML, Markdown and OpenDocument text, from the same blocks."""
