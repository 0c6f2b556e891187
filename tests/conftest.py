"""Shared by all tests."""
