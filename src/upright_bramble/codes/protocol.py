"""What a design code must answer. Nothing outside `codes` asks which code it is.

Arrays run over stations; N, mm, MPa, days. Every method gives the clause it stands on through `clauses`.
"""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from typing import Protocol, TypeAlias

from upright_bramble.beam import Concrete, Flange, Service, Steel
from upright_bramble.section.arrays import Array, Floats, Mask
from upright_bramble.section.cracked import Elastic
from upright_bramble.section.strength import ConcreteLaw, SteelLaw


@dataclass(frozen=True)
class Group:
    """Variable actions that lead, accompany and stay away together; `whole` ones act on all spans or on none."""

    key: str
    kind: str
    category: str | None
    psi: tuple[float, float, float] | None = None
    whole: bool = False


@dataclass(frozen=True)
class Combination:
    """Factors of one combination: on all permanent actions, and on each group in turn."""

    level: str
    name: str
    permanent: float
    variable: tuple[float, ...]


@dataclass(frozen=True)
class Surroundings:
    """A span between its neighbours: lengths (mm; None: nothing there) and what holds its ends ('free', 'simple', 'fixed',
    'continuous')."""

    length: float
    clear: float
    before: float | None
    after: float | None
    left: str
    right: str


Reaches: TypeAlias = tuple[tuple[float, float], tuple[float, float], tuple[float, float]]


@dataclass(frozen=True)
class Value:
    """A national or code value in force, with its clause; `changed` when the user overrode it."""

    value: float
    clause: str
    changed: bool = False


@dataclass(frozen=True)
class ShearState:
    """Shear at each station: lever arm, strut inclination (cot theta) and the resistances, N."""

    z: Array
    cot: Array
    concrete: Array
    stirrups: Array
    crushing: Array
    total: Array


@dataclass(frozen=True)
class Stage:
    """Properties of concrete for one service stage: modulus with creep, modulus without, tensile strength, shrinkage
    so far, and whether the loading lasts."""

    modulus: Array
    short_modulus: float
    tensile_strength: float
    shrinkage: Array
    lasting: bool


class DesignCode(Protocol):
    """A design code with its values in force."""

    @property
    def name(self) -> str: ...
    @property
    def title(self) -> str: ...
    @property
    def annex(self) -> str | None: ...
    @property
    def values(self) -> Mapping[str, Value]: ...
    @property
    def clauses(self) -> Mapping[str, str]:
        """Clause by topic of a check."""
        ...

    # materials and bars
    def concrete_strength(self, grade: str) -> float: ...
    def strength_range(self) -> tuple[float, float]: ...
    def steel(self, grade: str) -> Steel: ...
    @property
    def catalogue(self) -> Mapping[str, float]:
        """Diameter by designation, mm."""
        ...

    @property
    def usual_main_bars(self) -> tuple[str, ...]: ...
    @property
    def usual_stirrup_bars(self) -> tuple[str, ...]: ...
    def concrete_law(self, concrete: Concrete) -> ConcreteLaw: ...
    def steel_law(self, steel: Steel) -> SteelLaw: ...

    # actions
    @property
    def levels(self) -> tuple[str, ...]:
        """'strength' first, then the service levels."""
        ...

    @property
    def lasting_level(self) -> str:
        """The service level of long-term deflection and cracking."""
        ...

    @property
    def rare_level(self) -> str:
        """The service level that says whether a section ever cracks."""
        ...

    @property
    def categories(self) -> Sequence[str]: ...
    @property
    def kinds(self) -> Sequence[str]:
        """Kinds of action beside 'permanent' and 'settlement'."""
        ...

    def accompanying(self) -> Mapping[str, tuple[float, float, float]]:
        """Factors psi_0, psi_1, psi_2 by category of imposed actions and by kind of others."""
        ...

    @property
    def annexes(self) -> Sequence[str]: ...
    @property
    def rules(self) -> Sequence[str]:
        """Rules of combination, the usual one first."""
        ...

    def combinations(self, groups: Sequence[Group], rule: str = "") -> list[Combination]: ...
    def arrangements(self, spans: int) -> list[tuple[str, tuple[bool, ...]]]: ...

    # flanges
    def flange_reach(self, flange: Flange, web: float, around: Surroundings) -> Reaches:
        """What works of a flange left and right of the web (mm): over the left support, in the span, over the right one."""
        ...

    # support width
    def rounding(self, reaction: Array, width: float) -> Array: ...
    def face_moment(self, at_face: Array, at_centre: Array) -> Array: ...
    def end_hogging(self, span_moment: Array) -> Array: ...

    # bending
    def neutral_axis_limit(self, concrete: Concrete, delta: Floats = 1.0) -> Array: ...
    def least_delta(self, steel: Steel) -> float:
        """Lowest ratio of redistributed to elastic moment, whatever the section."""
        ...

    def widest_span_ratio(self) -> float:
        """Longer over shorter of two adjacent spans, above which moments may not be redistributed unchecked."""
        ...

    def least_tension_steel(self, concrete: Concrete, steel: Steel, b: Array, d: Array) -> Array: ...
    def most_steel(self, gross_area: Array) -> Array: ...

    # shear
    def strut(self, concrete: Concrete, b: Array, d: Array, v_ed: Array, reserve: float) -> Array: ...
    def lever(self, d: Floats) -> Array: ...
    def shear(self, concrete: Concrete, steel: Steel, b: Array, d: Array, a_sl: Array, asw_s: Array, cot: Array) -> ShearState: ...
    def stirrups_required(self, steel: Steel, v_ed: Array, d: Array, cot: Array) -> Array: ...
    def least_stirrups(self, concrete: Concrete, steel: Steel, b: Array) -> Array: ...
    def widest_spacing(self, d: Floats) -> Array: ...
    def widest_leg_spacing(self, d: Floats) -> Array: ...
    def compressed_bar_spacing(self, phi: Floats) -> Array: ...
    def shift(self, d: Floats, cot: Floats) -> Array: ...
    def end_anchorage_force(self, v_ed: Floats, d: Floats, cot: Floats) -> Array: ...
    @property
    def bottom_share_at_supports(self) -> float: ...
    def least_cover(self, phi: Floats) -> Array: ...
    def into_inner_support(self, phi: Floats) -> Array: ...

    # bars
    def anchorage(self, concrete: Concrete, steel: Steel, phi: Floats, height: Floats, h: Floats) -> Array: ...
    def least_anchorage(self, anchorage: Floats, phi: Floats) -> Array: ...
    def lap(self, concrete: Concrete, steel: Steel, phi: Floats, height: Floats, h: Floats) -> Array: ...
    def anchored_beyond_for_shear(self, anchorage: Array, d: Array) -> Array: ...
    def clear_spacing(self, phi: Floats, aggregate: float) -> Array: ...
    def bend_radius(self, phi: float) -> float: ...
    def least_leg(self, phi: float, kind: str) -> float: ...

    # service
    def stages(self, concrete: Concrete, service: Service, h_0: Array) -> Mapping[str, Stage]:
        """Stages by name, arrays over notional sizes `h_0` (mm)."""
        ...

    def curvature(self, moment: Array, uncracked: Elastic, cracked: Elastic, h: Array, stage: Stage, lasting: bool) -> Array: ...
    def alpha_e(self, stage: Stage) -> Array: ...
    def crack_width(
        self,
        moment: Array,
        cracked: Elastic,
        stage: Stage,
        *,
        b: Array,
        h: Array,
        area: Array,
        depth: Array,
        phi: Array,
        cover: Array,
        spacing: Array,
    ) -> Array: ...
    def crack_limit(self, service: Service) -> float: ...
    def uncracked_under(self, moment: Array, uncracked: Elastic, h: Array, concrete: Concrete) -> Mask: ...
