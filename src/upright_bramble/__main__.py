"""Where the program starts: `bramble`, or `python -m upright_bramble`."""

from __future__ import annotations

import signal
import threading


def start() -> None:
    """An interrupt while modules are still being read ends the program at once and in silence; from then on
    the commands answer it."""
    plain = signal.getsignal(signal.SIGINT) is signal.default_int_handler
    if plain and threading.current_thread() is threading.main_thread():
        signal.signal(signal.SIGINT, signal.SIG_DFL)
    from upright_bramble.cli import main
    from upright_bramble.cli.process import collect_seldom

    collect_seldom()
    main(prog_name="bramble")


if __name__ == "__main__":
    start()
