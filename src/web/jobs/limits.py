"""Caps of what is kept here: what still opens in two seconds, and shows an edit in one."""

from voltaje.errors import InputError
from voltaje.message import Message
from web.words.met import note

MOST_ON_ONE = 1_000  # circuits and boards that hang on one node
MOST_NODES = 4_000  # of a job; measured by benchmarks/edit_time.py
MOST_JOBS = 200  # of an account, those put away with them
MOST_NODES_OF_ALL = 50_000  # in all jobs of an account
MOST_NOTED = 500  # findings of a job that were noted with a reason
SOLVE_SECONDS = 10.0  # of one core, for one solve
MOST_BYTES = 4_000_000  # of a job file, and of a job
MOST_VALUES = 200_000  # between the commas of what is read here
MOST_BYTES_OF_ALL = 200_000_000  # of all jobs of an account, with their logs
MOST_EVENTS = 400  # acts of a job that can be taken back; older ones are folded
MOST_LOG_BYTES = 2_000_000  # of a job's log
AT_ONCE_NODES = 400  # a file with more is read by the worker, with its progress shown
MOST_READINGS = 3  # files of one person that wait for the worker


class OverCap(InputError):
    """More than is kept here; counted for whoever runs the server."""


def over(name: str, field: str, message: Message) -> OverCap:
    """Return the refusal at a cap, counted by its name."""
    note(name)
    return OverCap(field, message)
