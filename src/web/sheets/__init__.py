"""Sheets: one calculation on a page of its own; now the dwelling's load and its service."""
