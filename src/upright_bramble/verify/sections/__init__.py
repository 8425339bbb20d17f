"""One cross-section by itself: every check of the code that applies to it, for each set of forces."""
