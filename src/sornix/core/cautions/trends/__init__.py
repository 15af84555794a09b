"""Cautions about trends."""
