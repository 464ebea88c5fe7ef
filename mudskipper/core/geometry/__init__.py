"""Curves, matrices and boxes, with nothing of the document in them."""
