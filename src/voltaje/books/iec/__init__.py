"""The IEC 60364 family: national profiles as data, one set of rules over them.

`profiles/` holds a file for each: its tables, limits and clauses, and what it extends; `runs` sizes conductors by
Ib ≤ In ≤ Iz; `book` answers the questions of a run, `demands` those of loads.
"""
