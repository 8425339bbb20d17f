"""What structural analysis takes from the code. Arrays run over stations; N, mm, MPa, days."""

from __future__ import annotations

from abc import abstractmethod
from dataclasses import dataclass
from typing import Protocol, TypeAlias

import numpy as np

from upright_bramble.beam import Flange, Steel
from upright_bramble.section.arrays import Array


@dataclass(frozen=True)
class Surroundings:
    """A span between its neighbours: lengths (mm; None: nothing there) and what holds its ends ('free',
    'simple', 'fixed', 'continuous')."""

    length: float
    clear: float
    before: float | None
    after: float | None
    left: str
    right: str


Reaches: TypeAlias = tuple[tuple[float, float], tuple[float, float], tuple[float, float]]


@dataclass(frozen=True)
class ShortSpan:
    """A span as the limits of beam theory see it: `length` between centrelines, `clear` between faces, depth
    `h`, width `b`, whether it is a cantilever; `near` distance from a face of the nearest force that makes up
    most of the shear there (endless: none). mm."""

    length: float
    clear: float
    h: float
    b: float
    cantilever: bool
    near: float


@dataclass(frozen=True)
class Deep:
    """Why sections of a span do not remain plane, with the clause; the `mesh` that is required at each face,
    each way (mm2/mm), and its largest spacing (mm)."""

    reason: str
    clause: str
    mesh: float
    spacing: float


class AnalysisPart(Protocol):
    """What structural analysis takes from the code. An answer given here is that of a code without such a
    rule."""

    def deep_span(self, span: ShortSpan) -> Deep | None:
        """None where sections remain plane."""
        return None

    @abstractmethod
    def bracing_limit(self, b: float, h: float) -> float:
        """Permitted distance of lateral supports of the compressed face, mm."""
        ...

    @abstractmethod
    def arrangements(self, spans: int) -> list[tuple[str, tuple[bool, ...]]]: ...

    @abstractmethod
    def flange_reach(self, flange: Flange, web: float, around: Surroundings) -> Reaches:
        """What works of a flange left and right of the web (mm): over the left support, in the span, over the
        right one."""
        ...

    def peak_reduction(self, reaction: Array, width: float) -> Array:
        """What is taken off a peak over a support that does not restrain rotation, N mm; 0: nothing."""
        return np.zeros_like(np.asarray(reaction))

    @abstractmethod
    def face_moment(self, at_face: Array, full_fixity: Array) -> Array: ...

    def end_hogging(self, span_moment: Array) -> Array:
        """Hogging that an end taken as simple is designed for, N mm; 0: none."""
        return np.zeros_like(np.asarray(span_moment))

    @abstractmethod
    def minimum_delta(self, steel: Steel) -> float:
        """Lowest ratio of redistributed to elastic moment, whatever the section."""
        ...

    @property
    def minimum_elastic_share(self) -> float:
        """Of the elastic moments of a place, that sections resist whatever was redistributed; 0: no such
        rule."""
        return 0.0

    def maximum_span_ratio(self) -> float:
        """Longer over shorter of two adjacent spans, above which moments may not be redistributed
        unchecked."""
        return float("inf")
