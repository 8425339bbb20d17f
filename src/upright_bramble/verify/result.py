"""What verification returns. N, mm throughout; presentation converts."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, replace
from typing import TYPE_CHECKING

from upright_bramble.analysis import Forces
from upright_bramble.analysis.bar_lines import Stretch
from upright_bramble.beam import Bar, Beam, Layout, StirrupZone
from upright_bramble.codes.rules import CheckKind, Place
from upright_bramble.core.bars import BarSizes
from upright_bramble.core.topics import TOPICS
from upright_bramble.section.arrays import Array

if TYPE_CHECKING:
    from upright_bramble.proportion import Runner
    from upright_bramble.verify.facts import Facts

MAXIMUM_RATIO = 99.0
ACCEPTING = ("bending", "shear", "torsion", "flange", "deflection", "cracking", "anchorage")
"""Topics whose ratios are of forces or of service, which a user may accept a little above 1; never what
cannot be built."""
NO_KIND, NO_PLACE = CheckKind("", "", ""), Place()
_WORKING = ("bending", "shear", "anchorage", "deflection", "cracking")


@dataclass(frozen=True)
class Check:
    """One demand against one resistance.

    `quantity` names the unit ('moment', 'force', 'length', 'area', 'steel per length', 'number', 'crack').
    `severity`: 'must' (a failure fails the beam), 'advice' (a failure is a warning), or 'waived' (the user
    gave a reason why it does not decide). `station` that it is made at; `by`: the set of forces that made the
    demand, where it is known.
    """

    id: str
    topic: str
    span: int
    x: float
    demand: float
    resistance: float
    quantity: str
    ratio: float
    ok: bool
    severity: str
    clause: str
    note: str = ""
    station: int = 0
    by: str = ""
    kind: CheckKind = NO_KIND
    place: Place = NO_PLACE
    level: str = ""
    """Of alike beams the one that the check is worst in."""

    @property
    def accepted(self) -> bool:
        """Whether it passes because the user accepts a ratio a little above 1."""
        return self.ok and self.severity == "must" and self.ratio > 1.0 and self.topic in ACCEPTING

    @property
    def beside(self) -> bool:
        """Whether it is told beside what decides."""
        return self.kind.beside


def accepted(check: Check, limit: float) -> Check:
    """A failing check of strength or service whose ratio the user accepts; any other as it is."""
    if check.ok or check.severity != "must" or check.topic not in ACCEPTING or not 1.0 < check.ratio <= limit:
        return check
    note = f"ratio {check.ratio:.3f} accepted by the user up to {limit:g}"
    return replace(check, ok=True, note=f"{note}; {check.note}" if check.note else note)


@dataclass(frozen=True)
class Unverified:
    """Something that applies to the beam and was not verified: of a `topic`, at a place named by `id` (span
    number and x, mm), the `reason` and the clause that asks for it."""

    id: str
    topic: str
    span: int
    x: float
    reason: str
    clause: str = ""
    kind: CheckKind = NO_KIND
    place: Place = NO_PLACE


@dataclass(frozen=True)
class Message:
    """`severity`: 'note', 'remark' (of a detailer, decides nothing), 'warning' or 'fail'; the `topic` it
    belongs to, where it has one."""

    severity: str
    text: str
    where: str = ""
    topic: str = ""


Judged = list[Check | Unverified | Message]
"""Checks, what could not be verified, and what is said beside them."""


@dataclass(frozen=True)
class BarItem:
    """A bar group with what the schedule needs: bending `dimensions` by letter (outer, mm), where its axis
    lies from its face (`axis`; 0 for side bars), and the diameter of the `mandrel` (0: straight). Of one
    that is not level its `line`; of a bent-up bar where its axis lies at the top (`top_axis`)."""

    bar: Bar
    diameter: float
    shape: str
    cut_length: float
    mass: float
    dimensions: tuple[tuple[str, float], ...] = ()
    axis: float = 0.0
    mandrel: float = 0.0
    line: tuple[Stretch, ...] = ()
    top_axis: float = 0.0


@dataclass(frozen=True)
class StirrupItem:
    """A zone with what the schedule needs: the closed stirrup (in a taper varying, from A to A_last), and in
    each set as many `links` for the inner legs (cut `link_length`); the strut angle (cot theta) that its
    resistance was found with, and how it was, in the words of the code."""

    zone: StirrupZone
    diameter: float
    shape: str
    cut_length: float
    mass: float
    dimensions: tuple[tuple[str, float], ...] = ()
    links: int = 0
    link_length: float = 0.0
    strut: float = 0.0
    model: str = ""
    mandrel: float = 0.0


@dataclass(frozen=True)
class Curves:
    """Everything along the beam, (n,) each; see the result file for names."""

    design_moment_max: Array
    design_moment_min: Array
    design_shear: Array
    top_required: Array
    top_provided: Array
    bottom_required: Array
    bottom_provided: Array
    moment_positive: Array
    moment_negative: Array
    shear_total: Array
    shear_concrete: Array
    shear_stirrups: Array
    strut_cot: Array
    deflection_immediate: Array
    deflection_long_term: Array
    deflection_after_finishes: Array
    crack_top: Array
    crack_bottom: Array
    stress_top: Array
    stress_bottom: Array
    deflection_striking: Array
    top_percent: Array | None = None
    bottom_percent: Array | None = None
    """Steel of a face, as far as it is anchored, in percent of b d of the web."""
    deflection_live: Array | None = None
    deflection_after_partitions: Array | None = None


@dataclass(frozen=True)
class StageItem:
    """What service was judged with: age of the concrete (days), creep coefficient, modulus with creep and
    tensile strength (MPa), shrinkage so far; at the section with the most of it."""

    name: str
    age: float
    creep: float
    modulus: float
    tensile_strength: float
    shrinkage: float


@dataclass(frozen=True)
class Result:
    """A verified beam; the `stages` that service was judged in; the `facts` that its checks were made of; of
    a design also how many arrangements of bars were weighed, and those that came next to the ones taken."""

    beam: Beam
    code_title: str
    forces: Forces
    layout: Layout
    curves: Curves
    checks: tuple[Check, ...]
    messages: tuple[Message, ...]
    bars: tuple[BarItem, ...]
    stirrups: tuple[StirrupItem, ...]
    quantities: Mapping[str, float]
    sizes: BarSizes | None = None
    stages: tuple[StageItem, ...] = ()
    has_strut_angle: bool = True
    """Whether the code turns the struts of shear."""
    facts: Facts | None = None
    weighed: int = 0
    runners: tuple[Runner, ...] = ()
    gaps: tuple[Unverified, ...] = ()
    """All that was not verified, waived or not."""
    out_of_scope: tuple[str, ...] = ()
    """What the program does not cover, in words."""
    parts: tuple[tuple[str, Result], ...] = ()
    """Of alike beams the result of each level, by its name."""

    def label(self, size: str) -> str:
        """Of a bar size, as every output has it."""
        return self.sizes.label(size) if self.sizes is not None else size

    @property
    def governing(self) -> Check:
        """The failing check with the greatest ratio, else the check of strength or service with the greatest
        one.

        Minima, spacings and fits of a passing beam do not govern it: they are met or not.
        """
        failing = [c for c in self.checks if not c.ok and c.severity == "must"]
        working = [c for c in self.checks if c.topic in _WORKING and c.severity != "advice" and not c.beside]
        return max(failing or working or list(self.checks), key=lambda c: c.ratio)

    @property
    def status(self) -> str:
        """'fail'; 'incomplete' where something that applies was neither verified nor waived; 'pass'."""
        if any(not c.ok and c.severity == "must" for c in self.checks):
            return "fail"
        return "incomplete" if self.not_verified else "pass"

    @property
    def not_verified(self) -> tuple[Unverified, ...]:
        """What applies and was neither verified nor waived."""
        return tuple(g for g in self.gaps if g.topic not in self.beam.waive)

    @property
    def waived(self) -> tuple[tuple[str, str], ...]:
        """Topics that the user waived, each with the reason."""
        return tuple(self.beam.waive.items())

    @property
    def verified(self) -> tuple[str, ...]:
        """Topics of which everything that applies was verified, whatever came of it."""
        open_, waived = {g.topic for g in self.gaps}, set(self.beam.waive)
        local = {c.topic for c in self.checks if not c.beside}
        return tuple(t for t in TOPICS if t in local and t not in open_ and t not in waived)

    @property
    def failing(self) -> tuple[Check, ...]:
        own = (c for c in self.checks if not c.ok and not c.beside)
        return tuple(sorted(own, key=lambda c: (c.severity != "must", -c.ratio)))

    def worst(self, topic: str, span: int | None = None) -> Check | None:
        """The highest ratio of a topic ('bending', 'shear', ...), in a span or anywhere."""
        own = [c for c in self.checks if c.topic == topic and (span is None or c.span == span)]
        return max(own, key=lambda c: c.ratio, default=None)
