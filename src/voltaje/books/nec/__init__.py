"""The NEC family: dwelling loads, devices, conductors and grounding by edition.

`edition` gives clauses, tables and what differs between editions; every rule takes one as argument.
Rules write what they do on a Sheet and return plain values; tables lie in `tables/`.
"""
