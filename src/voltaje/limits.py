"""Caps of what is read, so that no input costs more than seconds. Whoever refuses names the cap."""

MOST_NODES = 25_000
MOST_DEPTH = 40  # boards and transformers between a source and a load
MOST_CIRCUITS_OF_A_LINE = 200
MOST_COUNT = 10_000
MOST_WAYS = 400  # of a board
MOST_ASSUMED = 8  # places of a node
MOST_ITEMS = 60  # of a list inside a dwelling
MOST_AMENDMENTS = 40

# Values between commas of a job file, counted before anything is built of them
MOST_VALUES = 1_000_000

# Amounts: the largest of each quantity that a supply of 1,000 V can have. 6,300 A is the largest standard rating of a
# low-voltage breaker or busbar (R10 series; common practice); the rest is sqrt(3) x 1,000 V x 6,300 A, rounded up.
MOST_VOLTS = 1_000.0
MOST_AMPS = 6_300.0
MOST_VA = 11_000_000.0
MOST_HP = 15_000.0

# Letters
MOST_NAME = 80
MOST_REASON = 200
MOST_LINE = 200
MOST_NUMBER = 60
MOST_TEXT = 4_000  # of any text of a file
MOST_NESTED = 20
