"""Printing to a reader that may go away (`| head`), be full or be closed: the work must not depend on it, its
exit status tells."""

from __future__ import annotations

import contextlib
import json
import os
import sys
from collections.abc import Callable
from typing import Any

import click

from upright_bramble.errors import BrambleError
from upright_bramble.text import shown_lines

_lost: list[str] = []


def prepare() -> None:
    """Let nothing that is opened later take the place of a closed stream, and know which one was closed."""
    _lost.clear()
    for number in range(3):
        try:
            os.fstat(number)
        except OSError:
            os.open(os.devnull, os.O_RDWR)
    if sys.stdout is None:
        sys.stdout = _Closed()
    if sys.stderr is None:
        sys.stderr = open(os.devnull, "w", encoding="utf-8")  # noqa: SIM115 - as long as the program


def lost() -> str:
    """Why output could not be written; empty where it could, or where its reader went away having read
    enough."""
    return _lost[0] if _lost else ""


def drop_output() -> None:
    """Send the rest nowhere, and let Python not try to write it when it ends."""
    with contextlib.suppress(OSError, ValueError):
        os.dup2(os.open(os.devnull, os.O_WRONLY), sys.stdout.fileno())


def printed(show: Callable[[], None]) -> None:
    """Print; go on where nobody reads, and remember where it cannot be written."""
    try:
        show()
        sys.stdout.flush()
    except BrokenPipeError:
        drop_output()
    except OSError as error:
        _lost.append(error.strerror or str(error))
        drop_output()
        if isinstance(sys.stdout, _Closed):
            sys.stdout = open(os.devnull, "w", encoding="utf-8")  # noqa: SIM115 - as long as the program


def echo(text: str) -> None:
    """A text to stdout, whatever it holds as text only."""
    printed(lambda: click.echo(shown_lines(text)))


def echo_json(data: Any) -> None:
    """Machine output: no number that is none ever reaches it."""
    printed(lambda: click.echo(json.dumps(data, ensure_ascii=False, allow_nan=False)))


def say(text: str) -> None:
    """A text to stderr."""
    with contextlib.suppress(OSError, ValueError):
        click.echo(shown_lines(text), err=True)


class Call(BrambleError):
    """The call cannot be used."""


class _Closed:
    """A stream that was closed before the program began."""

    encoding = "utf-8"

    def write(self, _text: object) -> int:
        raise OSError(9, "it is closed")

    def flush(self) -> None:
        pass

    def isatty(self) -> bool:
        return False

    def fileno(self) -> int:
        raise OSError(9, "it is closed")
