"""Files appear whole or not at all: all contents are made first, written aside, then renamed."""

from __future__ import annotations

import contextlib
import os
import tempfile
from collections.abc import Mapping
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


def _umask() -> int:
    mask = os.umask(0)
    os.umask(mask)
    return mask
