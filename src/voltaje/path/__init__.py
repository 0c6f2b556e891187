"""The path: the radial tree from source to load, and the open file that holds it."""
