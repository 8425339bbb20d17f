"""What an earlier round of verification asked for, beyond what the forces ask."""

from __future__ import annotations

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

    `bending[face, zone]`: zone is a span for 'bottom', a support for 'top'. `shear[span]`. `through[face]`: on the
    least area of the bars that run through. `tied`: spans whose compression bars stirrups must hold. `crowded` zones
    leave room in the first row for lapped bars. `relief[face]` below 1 asks for less bending steel than needed: a
    section that is too small still gets bars, and fails by a number.
    """

    bending: dict[tuple[str, int], float] = field(default_factory=dict)
    shear: dict[int, float] = field(default_factory=dict)
    through: dict[str, float] = field(default_factory=dict)
    tied: set[int] = field(default_factory=set)
    crowded: set[tuple[str, int]] = field(default_factory=set)
    relief: dict[str, float] = field(default_factory=dict)

    def raise_bending(self, face: str, zone: int, factor: float) -> None:
        self.bending[face, zone] = self.bending.get((face, zone), 1.0) * factor

    def raise_shear(self, span: int, factor: float) -> None:
        self.shear[span] = self.shear.get(span, 1.0) * factor

    def raise_through(self, face: str, factor: float) -> None:
        self.through[face] = self.through.get(face, 1.0) * factor
