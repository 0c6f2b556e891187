"""How the server runs: its processes, what it finishes before it ends, when a process is renewed."""

import os
import threading
from pathlib import Path
from typing import Any

bind = f"{os.environ.get('VOLTAJE_BIND', '127.0.0.1')}:{os.environ.get('VOLTAJE_PORT', '8321')}"
workers = int(os.environ.get("VOLTAJE_WORKERS", "2"))
threads = 4
worker_class = "gthread"
timeout = 60
graceful_timeout = 60  # what is in flight when the server is told to end is finished
keepalive = 5
control_socket_disable = True
accesslog = None  # the application writes a line for each request itself
errorlog = "-"
limit_request_line = 8190

_MOST_MIB = int(os.environ.get("VOLTAJE_WORKER_MIB", "400"))
_PAGE_MIB = os.sysconf("SC_PAGE_SIZE") / 2**20 if hasattr(os, "sysconf") else 0.0


def post_worker_init(worker: Any) -> None:
    """Let a process that begins make its tables and templates while it serves: the first who asks waits for none."""
    from web.workbench.warming import warm  # noqa: PLC0415  (the application is loaded by now)

    threading.Thread(target=warm, daemon=True).start()


def post_request(worker: Any, req: Any, environ: Any, resp: Any) -> None:
    """End a process that has grown too large once it has answered what it holds; the server begins another."""
    try:
        resident = int(Path("/proc/self/statm").read_text("ascii").split()[1]) * _PAGE_MIB
    except (OSError, ValueError, IndexError):
        return  # no such system here: processes are not renewed by size
    if resident > _MOST_MIB and worker.alive:
        worker.log.warning("%.0f MiB: this process ends after what it holds, another begins", resident)
        worker.alive = False
