"""The scene as it is written: its layers, its properties, its versions, and items as layers of their own."""
