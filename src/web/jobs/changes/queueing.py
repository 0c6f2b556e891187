"""Changes of one job wait for each other here, before they ask the database for its lock.

Without it the threads of a process that work for the same job slow down the one that holds the lock, and everyone waits
for that one (benchmarks/load.py: twice as long).
"""

import threading
from contextlib import contextmanager
from typing import Any
from weakref import WeakValueDictionary

_LONGEST_S = 20.0  # then it asks the database all the same: there every change is safe, only slower


class _Turn:
    """Whose turn it is at one job."""

    def __init__(self) -> None:
        self.lock = threading.Lock()


_turns: WeakValueDictionary[Any, _Turn] = WeakValueDictionary()
_making = threading.Lock()


@contextmanager
def turn_at(job_id: Any) -> Any:
    """Wait for one's turn at a job, among the threads of this process."""
    with _making:
        turn = _turns.get(job_id) or _turns.setdefault(job_id, _Turn())
    mine = turn.lock.acquire(timeout=_LONGEST_S)
    try:
        yield
    finally:
        if mine:
            turn.lock.release()
