"""Cautions about axes and how readings stand on them."""
