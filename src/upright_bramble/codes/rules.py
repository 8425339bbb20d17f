"""What a check is: its kind, its place, and the rule that makes it. The id follows from kind and place, and
is never read back."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import dataclass
from typing import TYPE_CHECKING, Any

import numpy as np

from upright_bramble.section.arrays import Array, Mask
from upright_bramble.working import clause

if TYPE_CHECKING:
    from upright_bramble.verify.facts import Facts


@dataclass(frozen=True)
class CheckKind:
    """A kind of check: its `id` (topic and subject), the `topic` of the verdict that it counts for, what is
    `sought` in words, the `quantity` of demand and resistance ('' where the code decides), the `face` of the
    beam where the kind is about one.

    `severity`: 'must' or 'advice' (a failure is a warning then). `beside`: told beside what decides, in no
    verdict. `lesson`: what a design learns from a failure ('' nothing), `factor`: by how much more than the
    demand it then aims for.
    """

    id: str
    topic: str
    sought: str
    quantity: str = ""
    face: str = ""
    severity: str = "must"
    beside: bool = False
    lesson: str = ""
    factor: float = 1.0


@dataclass(frozen=True)
class Place:
    """Where a check is made, as far as it has a place of that sort: `span` (from 0), `support` by name, the
    `side` of it or of a bar ('left', 'right'), mark of a `bar` and of the `other` one, `row`, `number` of
    several, another `part` of the beam; the `face`.

    >>> Place(support="B", side="right").text("")
    'B-right'
    >>> Place(span=1, face="top").text("")
    'top-2'
    >>> Place(span=1, face="top").text("top")
    '2'
    """

    span: int | None = None
    support: str = ""
    side: str = ""
    bar: str = ""
    other: str = ""
    row: int | None = None
    part: str = ""
    number: int | None = None
    face: str = ""

    def text(self, face: str) -> str:
        """As the id of a check has it, of a kind that is about a `face` anyway or ('') about none."""
        parts = [
            self.face if not face else "",
            self.support,
            "" if self.span is None else str(self.span + 1),
            self.bar,
            self.other,
            "" if self.row is None else f"row-{self.row}",
            self.side,
            self.part,
            "" if self.number is None else str(self.number),
        ]
        return "-".join(p for p in parts if p)

    def data(self) -> dict[str, Any]:
        """What there is of it, by name; spans counted from 1."""
        result = {k: v for k, v in vars(self).items() if v not in ("", None)}
        return result | ({"span": self.span + 1} if self.span is not None else {})


@clause(
    "", "", "A_s,rqd", "share A_s,max", "mm2", names={"share": ("share", ""), "whole": ("A_s,max", "mm2")}
)
def share_of(share: float, total: float) -> float:
    """Reinforcement that a rule requires as a share of the most there is, mm2.

    >>> share_of(0.25, 1200.0)
    300.0
    """
    return share * total


def worst_of(ratio: Array, where: Mask) -> int | None:
    """The station of the greatest ratio (n,); None where there is none to look at.

    >>> worst_of(np.array([0.2, 0.9, 0.5]), np.array([True, False, True]))
    2
    """
    if not where.any():
        return None
    return int(np.where(where, ratio, -np.inf).argmax())


def if_fails(note: str, fails: bool) -> str:
    """A note on a check that fails."""
    return note if fails else ""


@dataclass(frozen=True)
class Rule:
    """Makes the checks of some kinds from what is at every station. `order`: its turn among all rules."""

    name: str
    order: int
    kinds: tuple[CheckKind, ...]
    evaluate: Callable[[Facts], Sequence[Any]]
