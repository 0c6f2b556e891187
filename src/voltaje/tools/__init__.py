"""Tools: one calculation each, plain JSON in, JSON out; `registry.TOOLS` lists them."""
