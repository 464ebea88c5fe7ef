"""Formulas: a property's value by formula, for all frames at once."""
