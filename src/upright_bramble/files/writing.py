"""Files appear whole or not at all: all contents are made first, written aside, then renamed."""

from __future__ import annotations

import contextlib
import os
import signal
import tempfile
import threading
from collections.abc import Iterator, Mapping
from pathlib import Path

from upright_bramble.errors import BrambleError


class CannotWrite(BrambleError):
    """The folder or file cannot be written."""


def write_all(folder: Path, contents: Mapping[str, bytes]) -> None:
    """Write several files of one folder. Nothing changes there unless all could be written aside."""
    aside: list[tuple[str, Path]] = []
    try:
        folder.mkdir(parents=True, exist_ok=True)
        for name, data in contents.items():
            handle, temporary = tempfile.mkstemp(prefix=".aside-", dir=folder)
            aside.append((temporary, folder / name))
            with os.fdopen(handle, "wb") as out:
                out.write(data)
                out.flush()
                os.fsync(out.fileno())
            os.chmod(temporary, 0o666 & ~_umask())
        with _undisturbed():
            while aside:
                temporary, target = aside[0]
                os.replace(temporary, target)
                aside.pop(0)
    except OSError as error:
        raise CannotWrite(f"{folder}: cannot be written: {error.strerror or error}") from None
    finally:
        for temporary, _ in aside:
            with contextlib.suppress(OSError):
                os.unlink(temporary)


def write_one(path: Path, data: bytes) -> None:
    write_all(path.parent, {path.name: data})


@contextlib.contextmanager
def _undisturbed() -> Iterator[None]:
    """An interrupt waits until all files of a set have their names: a folder never holds half of a result."""
    if threading.current_thread() is not threading.main_thread():
        yield
        return
    waiting: list[int] = []
    before = signal.signal(signal.SIGINT, lambda number, _frame: waiting.append(number))
    try:
        yield
    finally:
        signal.signal(signal.SIGINT, before)
    if waiting:
        raise KeyboardInterrupt


def _umask() -> int:
    mask = os.umask(0)
    os.umask(mask)
    return mask
