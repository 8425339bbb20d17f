"""What every stage speaks: sizes of bars, quantities and their units."""
