"""Rules put together: a whole house from its loads to its service."""
