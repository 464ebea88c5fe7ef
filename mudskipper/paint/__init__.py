"""Draw list → pixels."""
