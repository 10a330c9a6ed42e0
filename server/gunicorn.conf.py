"""Read by the web server's master at its start; the launcher gives the rest as options."""

import ctypes
import os
import signal

from gunicorn.arbiter import Arbiter
from gunicorn.workers.base import Worker

_PR_SET_PDEATHSIG = 1


def post_fork(server: Arbiter, _worker: Worker) -> None:
    """A worker ends with a master that was killed: it would keep the port, and hold callers until it notices."""
    ctypes.CDLL(None).prctl(_PR_SET_PDEATHSIG, signal.SIGKILL)
    if os.getppid() != server.pid:  # the master died before the line above
        os.kill(os.getpid(), signal.SIGKILL)
