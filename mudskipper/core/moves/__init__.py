"""The sums that edits are made of: keys, anchors, pictures held where they were, carriers, masks of shapes."""
