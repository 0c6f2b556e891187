"""Caps of what is kept here: what still opens in two seconds, and shows an edit in one."""

MOST_ON_ONE = 1_000  # circuits and boards that hang on one node
MOST_NODES = 4_000  # of a job; measured by benchmarks/edit_time.py
MOST_JOBS = 200  # of an account, those put away with them
MOST_NODES_OF_ALL = 50_000  # in all jobs of an account
MOST_NOTED = 500  # findings of a job that were noted with a reason
SOLVE_SECONDS = 10.0  # of one core, for one solve
MOST_BYTES = 4_000_000  # of a job file
AT_ONCE_NODES = 400  # a file with more is read by the worker, with its progress shown
MOST_READINGS = 3  # files of one person that wait for the worker
