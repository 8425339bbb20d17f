"""The program called in the process of the tests: its start costs more than most of its calls."""

from __future__ import annotations

import contextlib
import io
import os
import resource
import sys
import time
import warnings
from dataclasses import dataclass
from pathlib import Path


@dataclass(frozen=True)
class Seen:
    """What a call did, and what it took."""

    status: int
    out: str
    err: str
    seconds: float
    megabytes: float


def run(folder: Path, call: tuple[str, ...]) -> Seen:
    """A call in a folder, with whatever it prints."""
    from upright_bramble.cli import main

    out, err = io.StringIO(), io.StringIO()
    home, maximum, began, status = Path.cwd(), peak(), time.monotonic(), 0
    os.chdir(folder)
    try:
        with contextlib.redirect_stdout(out), contextlib.redirect_stderr(err), warnings.catch_warnings():
            main(list(call), prog_name="bramble")
    except SystemExit as ended:
        status = ended.code if isinstance(ended.code, int) else 0
    finally:
        os.chdir(home)
    return Seen(status, out.getvalue(), err.getvalue(), time.monotonic() - began, peak() - maximum)


def peak() -> float:
    """Largest memory so far, MB."""
    return resource.getrusage(resource.RUSAGE_SELF).ru_maxrss / (
        1024.0 if sys.platform != "darwin" else 1024.0**2
    )
