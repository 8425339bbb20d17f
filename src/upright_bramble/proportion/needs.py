"""What an earlier round of verification asked for, beyond what the forces ask."""

from __future__ import annotations

from copy import deepcopy
from dataclasses import dataclass, field

from upright_bramble.errors import BrambleError


class NoProposal(BrambleError):
    """No allowed bars fit this section; the message says what is in the way, `face` where."""

    def __init__(self, text: str, face: str) -> None:
        super().__init__(text)
        self.face = face


@dataclass
class Needs:
    """Factors on demands.

    `bending[face, zone]`: zone is a span for 'bottom', a support for 'top'. `shear[span]`; `spacing[span]`:
    closer than the code's widest. `through[face]`: area (mm2) that bars running through must have as
    compression steel, beyond what the moments ask. `tied`: spans whose compression bars stirrups must hold.
    `crowded[face, zone]`: bars that the first row must leave room for, lapped ones or those of the next zone;
    `above`: (face, zone) whose longest extra bars lie in the second row, past laps that the first has no room
    beside; `fewer[face]`: bars that run through, at most. These, and upper rows that leave room beside
    hooks, are learnt of a `narrow` beam alone: one that has failed without.
    `relief[face]` below 1 asks for less bending steel than needed: a section that is too small still gets
    bars, and fails by a number. `number[face]`: bars that run through, at least, so that none are too far
    apart. `cut_offs`: by place (x, mm) the shear resistance (N) asked for where a bar stops, `cut_reach` (mm)
    to both sides of it. `legs`: least number of stirrup legs by span. `thinner`: by face the diameter (mm)
    that bars running through stay below, to develop in less length; on `slim` faces all bars do. `staggered`:
    faces whose bars are not all lapped at one place. `onward`: supports whose support bars go on past the
    points of inflection. `anchored`: (face, zone) whose extra bars are anchored for yield past where they
    are needed, not for the stress that each place asks for. `continuous`: bottom bars run through inner
    supports. `long_laps`: faces whose laps count on nothing around them; `across`: by face the spacing (mm)
    of the stirrups that anchorages and laps count on; `full_laps`: laps are for yield, whatever is wanted;
    `bend_legs`: by face the shortest leg (mm). `behind`: by face and side (0: left) how far bars that are
    bent at the end of the beam stay behind those of the other face there (mm), of the `yielding` face;
    `behind_straight`: where straight ends do so as well; `nested`: upper rows are bent behind the first.
    `fewer_marks`: each costs as much as a further size of bar. `failed`: how often a check has failed before;
    `filled`: no more tension steel has room where a span is not stiff enough.
    """

    bending: dict[tuple[str, int], float] = field(default_factory=dict)
    shear: dict[int, float] = field(default_factory=dict)
    spacing: dict[int, float] = field(default_factory=dict)
    through: dict[str, float] = field(default_factory=dict)
    tied: set[int] = field(default_factory=set)
    crowded: dict[tuple[str, int], int] = field(default_factory=dict)
    above: set[tuple[str, int]] = field(default_factory=set)
    fewer: dict[str, int] = field(default_factory=dict)
    narrow: bool = False
    relief: dict[str, float] = field(default_factory=dict)
    number: dict[str, int] = field(default_factory=dict)
    cut_offs: dict[float, float] = field(default_factory=dict)
    cut_reach: float = 300.0
    staggered: set[str] = field(default_factory=set)
    slim: set[str] = field(default_factory=set)
    onward: set[int] = field(default_factory=set)
    long_laps: set[str] = field(default_factory=set)
    across: dict[str, float] = field(default_factory=dict)
    bend_legs: dict[tuple[str, str], float] = field(default_factory=dict)
    behind: dict[tuple[str, int], float] = field(default_factory=dict)
    behind_straight: set[tuple[str, int]] = field(default_factory=set)
    yielding: str = "bottom"
    nested: bool = False
    thinner: dict[str, float] = field(default_factory=dict)
    legs: dict[int, int] = field(default_factory=dict)
    failed: dict[str, int] = field(default_factory=dict)
    filled: bool = False
    continuous: bool = False
    anchored: set[tuple[str, int]] = field(default_factory=set)
    full_laps: bool = False
    fewer_marks: bool = False

    def copy(self) -> Needs:
        return deepcopy(self)

    def between(self, less: Needs) -> Needs:
        """Half way to needs that ask for less bending and compression steel; the rest as here."""
        result = self.copy()
        for key, factor in self.bending.items():
            result.bending[key] = (factor * less.bending.get(key, 1.0)) ** 0.5
        for face, area in self.through.items():
            result.through[face] = 0.5 * (area + less.through.get(face, 0.0))
        return result

    def once_more(self, check: str) -> float:
        """1, and more the more often a check has failed: a small step that did nothing is followed by larger
        ones."""
        times = self.failed.get(check, 0)
        self.failed[check] = times + 1
        return 1.0 + 0.03 * times

    def raise_bending(self, face: str, zone: int, factor: float) -> None:
        self.bending[face, zone] = self.bending.get((face, zone), 1.0) * factor

    def raise_shear(self, span: int, factor: float) -> None:
        self.shear[span] = self.shear.get(span, 1.0) * factor

    def raise_spacing(self, span: int, factor: float) -> None:
        self.spacing[span] = self.spacing.get(span, 1.0) * factor

    def raise_legs(self, face: str, size: str, leg: float) -> None:
        self.bend_legs[face, size] = max(self.bend_legs.get((face, size), 0.0), leg)

    def raise_through(self, face: str, area: float) -> None:
        self.through[face] = self.through.get(face, 0.0) + area
