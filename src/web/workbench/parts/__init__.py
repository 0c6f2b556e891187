"""What the page is made of: the rows of the path, a chain, a schedule, fields; each by itself."""
