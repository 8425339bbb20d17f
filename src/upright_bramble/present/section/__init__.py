"""One cross-section for people: terminal, data, figures, tables, report."""
