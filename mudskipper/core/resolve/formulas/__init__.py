"""Formulas evaluated in their scene."""
