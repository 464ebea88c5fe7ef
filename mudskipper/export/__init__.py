"""Frames to files: rendering in chunks on an executor, encoding, and jobs that survive a restart."""
