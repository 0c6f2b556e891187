"""Transformers: sized with their devices, their conductors and bonds; what they lose, and let through in a fault."""
