"""The tools, one a file: each declares what it asks, its example and its answer in `TOOL`."""
