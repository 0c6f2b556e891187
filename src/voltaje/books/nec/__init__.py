"""The NEC family: loads, devices, conductors and grounding by edition.

`editions/` holds a file for each: clauses by topic, what is of substance, and what it extends. Every rule takes an
edition as argument, writes what it does on a Sheet and returns plain values; tables lie in `tables/`. `book` answers
the questions of a run; `demands`, `motors` and `dwelling` are capabilities of their own.
"""
