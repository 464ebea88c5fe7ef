"""Values over time: tracks of every kind, how they are evaluated and found, motion, a source's own time."""
