"""How a cell and a name are read: numbers, units, dates in words, marks of nothing."""
