"""EN 1992-1-1 (2004+A1:2014) with EN 1990 combinations: pure functions by clause, and the code object."""
