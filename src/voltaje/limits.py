"""Caps of what is read, so that no input costs more than seconds. Whoever refuses names the cap."""

MOST_NODES = 25_000
MOST_DEPTH = 40  # boards and transformers between a source and a load
MOST_CIRCUITS_OF_A_LINE = 200
MOST_COUNT = 10_000
MOST_WAYS = 400  # of a board
MOST_ASSUMED = 8  # places of a node
MOST_ITEMS = 60  # of a list inside a dwelling
MOST_AMENDMENTS = 40

# Letters
MOST_NAME = 80
MOST_REASON = 200
MOST_LINE = 200
MOST_NUMBER = 60
MOST_TEXT = 4_000  # of any text of a file
MOST_NESTED = 20
