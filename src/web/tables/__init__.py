"""The published tables, readable, each with its pedigree."""
