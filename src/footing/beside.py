"""Run a command of Footing that ends with the process which started it: ``-m footing.beside PID …``

The kernel is asked for that before anything else is imported: a process that is still on its way
when the server is killed would keep the server's port from one that starts again.
"""

import ctypes
import os
import signal
import sys

_PR_SET_PDEATHSIG = 1  # prctl(2)


def main() -> None:
    """Bind this process's life to its parent's, also where that is killed, and run the rest."""
    parent = int(sys.argv.pop(1))
    # at once, without a leave to take: what was acknowledged is in the database
    ctypes.CDLL(None).prctl(_PR_SET_PDEATHSIG, signal.SIGKILL)
    if os.getppid() != parent:  # gone already
        sys.exit(0)
    from footing.cli import main as run

    run()


if __name__ == "__main__":
    main()
