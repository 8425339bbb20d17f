"""What several commands take: files, marks, formats, how to print."""

from __future__ import annotations

import os
from pathlib import Path
from typing import Any

import click

from upright_bramble.text import hidden, shown


class _Place(click.Path):
    """A file or folder that a call names: its name is text, and no longer than file systems bear."""

    def convert(self, value: Any, param: click.Parameter | None, ctx: click.Context | None) -> Any:
        path = Path(os.fsdecode(value))
        if (strange := hidden(str(path))) is not None:
            self.fail(
                f"'{shown(str(path)[:80])}' holds the character {strange}, which is not text", param, ctx
            )
        if any(len(os.fsencode(part)) > 255 for part in path.parts) or len(os.fsencode(path)) > 4000:
            self.fail(f"'{str(path)[:40]}...' is longer than the name of a file can be", param, ctx)
        return path


FILE = _Place(path_type=Path)


def common(function: Any) -> Any:
    """--json, --quiet, --no-colour."""
    for option in (
        click.option("--no-colour", is_flag=True, help="No colours (NO_COLOR is honoured too)."),
        click.option("--quiet", is_flag=True, help="Print nothing but faults; the exit status tells."),
        click.option("--json", "as_json", is_flag=True, help="Machine output on stdout, and nothing else."),
    ):
        function = option(function)
    return function


def some(function: Any) -> Any:
    """Which of many results."""
    function = click.option(
        "--only",
        metavar="LIST",
        help="Results with these verdicts: pass, fail, incomplete, with commas between.",
    )(function)
    return click.option(
        "--mark", "pattern", metavar="PATTERN", help="Results whose mark is like this, such as 'DB*'."
    )(function)


AS_WAS = click.option(
    "--as-was", is_flag=True, help="Use the result although its beam file or layout has changed since."
)


def many(function: Any) -> Any:
    """What commands take that work on many beams."""
    for option in (
        click.option(
            "--root",
            type=FILE,
            help=("Files that a beam file names lie inside this folder; the one above it when left out."),
        ),
        click.option(
            "--shard", metavar="k/n", help=("The k-th of n parts of the beams: one a job of an array.")
        ),
        click.option(
            "--cluster",
            metavar="ADDRESS",
            default="",
            help=("Work on a dask scheduler's workers; files are written here."),
        ),
        click.option(
            "--jobs", default=1, show_default=True, type=click.IntRange(1, 64), help="Beams at the same time."
        ),
        click.option("--again", is_flag=True, help="Do anew what is up to date."),
        click.option("--force", is_flag=True, help="Overwrite a summary that exists."),
        click.option(
            "--summary", type=FILE, metavar="FILE", help=("Write the table: .csv, .xlsx, .json or .html.")
        ),
        click.option(
            "--sort",
            type=click.Choice(["file", "mark", "verdict", "ratio", "steel", "cost", "time"]),
            default="file",
            show_default=True,
            help="Order of the table.",
        ),
        click.option(
            "--only",
            metavar="LIST",
            help=("Show these verdicts alone: pass, fail, incomplete, with commas between."),
        ),
        click.option(
            "--mark", "pattern", metavar="PATTERN", help=("Beams whose mark is like this, such as 'DB*'.")
        ),
    ):
        function = option(function)
    return function


def listed(text: str | None, known: tuple[str, ...], what: str) -> tuple[str, ...]:
    """Words with commas between. Raises click.UsageError."""
    words = [w.strip().lower() for w in (text or "").split(",") if w.strip()]
    wrong = [w for w in words if w not in known]
    if wrong or (text is not None and not words):
        raise click.UsageError(
            f"'{(wrong or [str(text)])[0][:20]}' is not a valid {what} (valid: {', '.join(known)})"
        )
    return tuple(dict.fromkeys(words))


VERDICTS = ("pass", "fail", "incomplete")
