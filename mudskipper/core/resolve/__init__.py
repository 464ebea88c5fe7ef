"""Scenes at many frames at once: layers, items, bounds, speeds, sound, and what is drawn."""
