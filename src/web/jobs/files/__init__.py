"""A job as the open job file and back, read at once or by the worker; nodes of a text hung into one."""
