"""Resistance to shear, and stirrups. Arrays run over stations; N, mm, MPa, days."""

from __future__ import annotations

from abc import abstractmethod
from collections.abc import Callable
from dataclasses import dataclass
from typing import Protocol

import numpy as np

from upright_bramble.beam import Concrete, Steel
from upright_bramble.section.arrays import Array, Floats, Index


@dataclass(frozen=True)
class Web:
    """What resists shear at each station: width `b`, effective depth `d`, tension steel that counts `a_sl`,
    gross area of the section; `axial` force, compression positive; depth `h`. Of codes that go by strain:
    `moment` (N mm) and `shear` (N) there, of one set of forces or the greatest of all, the shear that stands
    for torque beside them (`twisting`), and the yield stress of the bars along the beam (`bar_yield`, MPa; 0:
    that of the stirrups)."""

    b: Array
    d: Array
    a_sl: Array
    gross: Array
    axial: Floats = 0.0
    h: Floats = 0.0
    moment: Floats = 0.0
    shear: Floats = 0.0
    twisting: Floats = 0.0
    bar_yield: float = 0.0


@dataclass(frozen=True)
class ActingSets:
    """Sets of strength forces that act together, (sets, n) each: `moment` (N mm, sagging positive);
    magnitudes of `shear`, as it is verified near supports, and of the shear that stands for torque
    (`twisting`), N; tension steel of the face that the moment pulls (`area`, mm2)."""

    moment: Array
    shear: Array
    twisting: Array
    area: Array


@dataclass(frozen=True)
class FlangeShear:
    """Shear between the web and one side of the flange: stress against its limit (MPa), cross bars through
    the flange that it asks for (mm2/mm; 0 where the flange's own steel is enough)."""

    stress: float
    limit: float
    steel: float


@dataclass(frozen=True)
class ShearState:
    """Shear at each station: lever arm, strut inclination (cot theta) and the resistances, N."""

    z: Array
    cot: Array
    concrete: Array
    stirrups: Array
    crushing: Array
    total: Array


class ShearPart(Protocol):
    """Resistance to shear, and stirrups. An answer given here is that of a code without such a rule."""

    def strut(
        self, concrete: Concrete, b: Array, d: Array, v_ed: Array, reserve: float, axial: Floats = 0.0
    ) -> Array:
        """cot theta; `axial` force, compression positive."""
        return np.ones_like(np.asarray(d, dtype=float))

    @abstractmethod
    def lever(self, d: Floats) -> Array: ...

    @abstractmethod
    def state(self, concrete: Concrete, steel: Steel, web: Web, asw_s: Array, cot: Array) -> ShearState: ...

    def governing(
        self, concrete: Concrete, steel: Steel, web: Web, asw_s: Array, sets: Callable[[], ActingSets | None]
    ) -> tuple[Web, Index | None]:
        """The web with the forces of the set that comes nearest to its resistance at each station, and the
        number of that set; as it is, and None, where a resistance does not depend on forces or no sets are
        known."""
        return web, None

    @abstractmethod
    def model(self, concrete: Concrete, steel: Steel, web: Web, asw_s: Array, cot: Array) -> list[str]:
        """How the resistance at each station was found, in words: the strut's angle, or the expression for
        the concrete."""
        ...

    def near_support_factor(self, a_v: Array, d: float) -> Array:
        """What of forces `a_v` (n,) from the face of a support counts for stirrups, mm; 1: all of it."""
        return np.ones(len(a_v))

    @abstractmethod
    def near_support_resistance(self, steel: Steel, area: float) -> float:
        """Of the stirrups (mm2) in the middle three quarters of a_v, N."""
        ...

    @abstractmethod
    def stirrups_required(
        self, concrete: Concrete, steel: Steel, web: Web, v_ed: Array, cot: Array
    ) -> Array: ...

    @abstractmethod
    def minimum_stirrups(self, concrete: Concrete, steel: Steel, b: Array) -> Array: ...

    @abstractmethod
    def maximum_spacing(self, concrete: Concrete, web: Web, v_ed: Array) -> Array: ...

    @abstractmethod
    def maximum_leg_spacing(self, concrete: Concrete, web: Web, v_ed: Array) -> Array:
        """Across the beam, mm; endless: no such rule."""
        ...

    def shift(self, d: Floats, cot: Floats) -> Array:
        """How far the moment line is shifted, mm; 0: bars go on past where they are needed instead."""
        return np.asarray(0.0 * np.asarray(d) * np.asarray(cot))

    def chord_moment(
        self,
        concrete: Concrete,
        steel: Steel,
        web: Web,
        acting: Callable[[], tuple[Array, Array]],
        signed: Array,
        greatest: Array,
    ) -> Array:
        """Moment (n,) that the bars of a face are proportioned for, N mm, with what shear pulls in them:
        `signed` moment, positive where it pulls the face, the `greatest` of its span, and shear and signed
        moment (sets, n) of the sets that act."""
        return np.maximum(signed, 0.0)

    @property
    @abstractmethod
    def crushes_at_face(self) -> bool:
        """Whether crushing is verified with the shear at the face."""
        ...

    def flange(
        self, concrete: Concrete, steel: Steel, force: float, thickness: float, length: float, pulled: bool
    ) -> FlangeShear | None:
        """For a `force` (N) handed over to one side of a flange, compressed or `pulled`, along `length`;
        None: no such check."""
        return None

    @abstractmethod
    def suspension_steel(self, steel: Steel, reaction: float) -> float:
        """Stirrups that hang a reaction up in the beam that supports it, mm2."""
        ...

    @abstractmethod
    def anchored_beyond(self, anchorage: Array, d: Array) -> Array: ...
