"""Cautions about the readings that are drawn."""
