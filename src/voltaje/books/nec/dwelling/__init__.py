"""Dwellings: a house read, both methods of its demand, its service, and what the path asks of it."""
