"""What is painted: contents draw on a pen, and pens record, measure or paint."""
