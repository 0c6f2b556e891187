"""The one-line drawing: the supply at the top, each board a bar with rows of what it feeds hanging from it.

`gather.py` says which circuits are told together in one block, `blocks.py` packs what hangs on a board into rows,
`draw.py` draws. Nothing crosses: a row hangs below its bar, and the bars of a board hang on one spine at their left.
"""
