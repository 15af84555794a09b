"""The window and the application: they know every other room, and nobody knows them."""
