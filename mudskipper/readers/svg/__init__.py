"""Vector art from SVG files: what is in a file as the data of layers.

It imports nothing of the application and runs in a process of its own with limits (`python -m mudskipper.readers.svg`):
a file comes in on standard input, JSON goes out.
"""
