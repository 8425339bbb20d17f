"""What people look at: terminal, figures, tables."""
