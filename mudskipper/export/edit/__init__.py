"""Scenes as an edit, as subtitles and as tables."""
