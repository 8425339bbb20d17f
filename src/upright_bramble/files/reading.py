"""Files are read whole, up to a size, and only if they are files: no pipe, device, socket or folder is waited
for."""

from __future__ import annotations

import os
import stat
from pathlib import Path

_KINDS = (
    (stat.S_ISDIR, "is a folder"),
    (stat.S_ISFIFO, "is a pipe"),
    (stat.S_ISSOCK, "is a socket"),
    (stat.S_ISCHR, "is a device"),
    (stat.S_ISBLK, "is a device"),
)


class Unreadable(Exception):
    """Why a file cannot be read, as the end of a sentence."""


def read_bytes(path: Path, maximum: int, what: str) -> bytes:
    """The contents of a regular file of at most `maximum` bytes. Raises Unreadable."""
    try:
        handle = os.open(path, os.O_RDONLY | getattr(os, "O_NONBLOCK", 0) | getattr(os, "O_BINARY", 0))
    except FileNotFoundError:
        raise Unreadable("cannot be read: there is no such file") from None
    except IsADirectoryError:
        raise Unreadable(f"is a folder; a {what} is needed") from None
    except (OSError, ValueError) as error:
        raise Unreadable(f"cannot be read: {getattr(error, 'strerror', None) or error}") from None
    kind = os.fstat(handle).st_mode
    words = next((words for of_kind, words in _KINDS if of_kind(kind)), None)
    if words is not None:
        os.close(handle)
        raise Unreadable(f"{words}; a {what} is needed")
    try:
        with os.fdopen(handle, "rb") as file:
            data = file.read(maximum + 1)
    except OSError as error:
        raise Unreadable(f"cannot be read: {error.strerror or error}") from None
    if len(data) > maximum:
        size = f"{maximum // 2**20} MiB" if maximum >= 2**20 else f"{maximum // 1024} KiB"
        raise Unreadable(f"is larger than {size}, which no {what} is")
    return data


def utf8(data: bytes) -> str:
    """Text of a file. Raises Unreadable with the line that is not UTF-8."""
    try:
        return data.decode("utf-8-sig")
    except UnicodeDecodeError as error:
        line = data[: error.start].count(b"\n") + 1
        raise Unreadable(f"is not UTF-8 text (line {line}); save it as UTF-8") from None
