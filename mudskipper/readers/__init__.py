"""Readers of open formats, one module or folder each; they know nothing of the application."""
