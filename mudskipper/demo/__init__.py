"""The made-up demo project, Low Tide Week, made by code."""
