"""The line in which a person says a load as they would to a helper: `pump 5 hp 230 V 3ph 420 ft`.

`read.py` gives the order of work; `taking.py` finds the quantities, `naming.py` what the words call, `standing.py` on
which poles it stands, `loads.py` and `others.py` what it becomes. The words are data: `words/`, by family and language.
"""
