"""The IEC 60364 family: national profiles as data, one set of rules over them.

`profiles.toml` says which tables, limits and clauses a profile has; `runs` sizes conductors by
Ib ≤ In ≤ Iz; `book` answers the questions of a run.
"""
