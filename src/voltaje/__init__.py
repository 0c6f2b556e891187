"""Voltaje, the calculation library: electrical supplies sized under code rules, every step shown.

Imports run one way, from the plain words at the bottom to the tools at the top::

    message, errors   what can be said, and what can go wrong
    formula, sheet    arithmetic that is both computed and shown; steps and findings
    quantity, systems what people type; the supplies they have
    books             rule sets with an edition, and their tables with pedigree
    design            rules put together: a whole house, its service
    tools             one calculation each: plain JSON in, JSON out
    cli               the command line

No clock, no database, no web: the same call with the same input gives the same answer.
Units stand in names (`demand_va`, `floor_area_ft2`); inside, numbers are plain floats.
"""

__version__ = "0.1.0"
