"""What takes long: solved within a budget, asked of the worker, waited for in words, cleared away."""
