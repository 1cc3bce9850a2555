"""Formulas as people write them on paper: read, checked for their units, computed, printed."""
