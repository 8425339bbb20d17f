"""The exceptions that the core raises on purpose. Each carries the fact and the cure, in one line."""

from __future__ import annotations

from dataclasses import dataclass

from upright_bramble.text import shown

MAXIMUM_LISTED = 100  # faults of a file


class BrambleError(Exception):
    """Anything the user can mend: the message says what is wrong and what would be right."""


class FromOutside(BrambleError):
    """The work was broken off from outside; what was written is whole, and the message lists it."""


class UnitError(BrambleError):
    """A text that should be a number with a unit and is not."""


class UnstableLine(BrambleError):
    """The line of spans and supports is a mechanism."""


class CodeError(BrambleError):
    """A design code, annex, grade, bar size or code value that is not known."""


class LayoutError(BrambleError):
    """Bars that cannot be judged: they name nothing that the beam has."""


class InternalMismatch(BrambleError):
    """Two ways to the same number differ: a fault of the program, and no verdict is given."""


class KeptLayout(BrambleError):
    """A layout file was edited by hand; it is not overwritten unasked."""


@dataclass(frozen=True)
class Fault:
    """One fault of an input file.

    `line` counts from 1 (0: the whole file), `key` is the path of the entry such as ``line[3].span``.
    """

    file: str
    line: int
    key: str
    text: str

    def __str__(self) -> str:
        place = f"{self.file}:{self.line}" if self.line else self.file
        return shown(f"{place}: {self.key}: {self.text}" if self.key else f"{place}: {self.text}")


class InputFaults(BrambleError):
    """Every fault of an input file, told at once."""

    def __init__(self, faults: list[Fault]) -> None:
        self.faults = sorted(dict.fromkeys(faults), key=lambda f: (f.file, f.line, f.key))
        lines = [str(f) for f in self.faults[:MAXIMUM_LISTED]]
        if len(self.faults) > MAXIMUM_LISTED:
            lines.append(f"and {len(self.faults) - MAXIMUM_LISTED:,} more faults")
        super().__init__("\n".join(lines))

    def __reduce__(self) -> tuple[type[InputFaults], tuple[list[Fault]]]:
        return type(self), (self.faults,)  # goes whole from one process to another
