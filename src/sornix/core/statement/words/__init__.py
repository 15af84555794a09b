"""The words of statements: how they are divided, and which of them say what."""
