"""What a design code must answer. Nothing outside `codes` asks which code it is.

Arrays run over stations; N, mm, MPa, days. Every method gives the clause it stands on through `clauses`.
"""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, fields
from typing import Protocol, TypeAlias

import numpy as np

from upright_bramble.beam import Concrete, Cover, Flange, Service, Steel
from upright_bramble.section.arrays import Array, Floats, Mask
from upright_bramble.section.cracked import Elastic
from upright_bramble.section.strength import ConcreteLaw, SteelLaw
from upright_bramble.working import Units


@dataclass(frozen=True)
class Group:
    """Variable actions that lead and accompany together; `whole` ones act on all spans or on none, those that act `either_way` also
    with the opposite sign."""

    key: str
    kind: str
    category: str | None
    psi: tuple[float, float, float] | None = None
    whole: bool = False
    either_way: bool = False


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
class Web:
    """What resists shear at each station: width `b`, effective depth `d`, tension steel that counts `a_sl`, gross area of the
    section; `axial` force, compression positive."""

    b: Array
    d: Array
    a_sl: Array
    gross: Array
    axial: Floats = 0.0


@dataclass(frozen=True)
class Tube:
    """The web as it resists torque: `b`, `h`; distances from its faces to the axis of the closed stirrup (`tie_axis`) and of the
    bars in its corners (`bar_axis`); thickness of its flange and what stands out of it at each side (`left`, `right`), (n,) each."""

    b: Array
    h: Array
    tie_axis: Array
    bar_axis: Array
    flange: Array
    left: Array
    right: Array


@dataclass(frozen=True)
class Twist:
    """What torque asks for at each station: one leg of the closed stirrups `leg` (mm2/mm), longitudinal bars `bars` (mm2) around a
    perimeter `around` whose sides are `side` high, stirrups no further apart than `spacing`, bars than `bar_spacing`.

    `crushing` is the share of the section used up by shear and torque together. All 0 where torque may be neglected.
    """

    leg: Array
    bars: Array
    around: Array
    side: Array
    crushing: Array
    spacing: Array
    bar_spacing: float


@dataclass(frozen=True)
class FlangeShear:
    """Shear between the web and one side of the flange: stress against its limit (MPa), cross bars through the flange that it
    asks for (mm2/mm; 0 where the flange's own steel is enough)."""

    stress: float
    limit: float
    steel: float


@dataclass(frozen=True)
class EndFacts:
    """A simple end, `direct` where its reaction compresses the bars: shear and effective depth at the face, strut inclination, tension
    along the beam and that of the bottom bars for torsion (N); force of the bottom bars as they are anchored there; development of the
    bars in full, moment with all of them at yield, how far they go on beyond the centreline, and whether they are bent there."""

    shear: float
    d: float
    cot: float
    axial_tension: float
    torsion: float
    force: float
    development: float
    nominal_moment: float
    beyond_centre: float
    hooked: bool
    direct: bool = True


@dataclass(frozen=True)
class CoverWish:
    """What cover is worked out from: class of exposure, minutes of fire (None: none asked for), structural class (None: by the
    strength), allowance for deviation (None: the usual one); least and largest diameter of main bars, of stirrups; least width at the
    level of the steel; whether the beam is continuous; strength and aggregate of the concrete."""

    exposure: str
    fire: int | None
    structural_class: int | None
    deviation: float | None
    bars: tuple[float, float]
    ties: tuple[float, float]
    width: float
    continuous: bool
    strength: float = 0.0
    aggregate: float = 20.0


@dataclass(frozen=True)
class Slender:
    """A span as its quick check sees it: `length`, effective depth `d`, depth `h`; how its ends go on ('simple', 'end', 'interior',
    'cantilever'); tension steel asked for and compression steel there, over b d; tension steel there over what is asked; the
    compressed width over the web's."""

    length: float
    d: float
    h: float
    ends: str
    rho: float
    rho_compression: float
    provided: float
    wide: float


@dataclass(frozen=True)
class TensionZone:
    """Concrete in tension just before it cracks, (n,): area of the `web` and of a `flange` in tension (mm2), and the mean stress of the
    flange over that of its outer face."""

    web: Array
    flange: Array
    share: Array


@dataclass(frozen=True)
class Face:
    """Bars of a tension face at each station: widths and depths of the section, area, mean depth, equivalent diameter, cover
    to their surface, distance of their centres, depth of the outermost row; area and depth of each group (n, g)."""

    b: Array
    h: Array
    area: Array
    depth: Array
    phi: Array
    cover: Array
    spacing: Array
    outer: Array
    areas: Array
    depths: Array

    def at(self, rows: slice) -> Face:
        """At some stations."""
        return Face(*(np.asarray(getattr(self, f.name)[rows]) for f in fields(self)))


@dataclass(frozen=True)
class Cracking:
    """What cracking is judged by: demand and limit (n,) of a quantity, crack widths (0 where none is found), the service
    stress of the bars, and the depth of the bars that it is found at."""

    demand: Array
    limit: Array
    quantity: str
    width: Array
    stress: Array
    depth: Array


@dataclass(frozen=True)
class ShortSpan:
    """A span as the limits of beam theory see it: `length` between centrelines, `clear` between faces, depth `h`, width `b`, whether it is
    a cantilever; `near` distance from a face of the nearest force that makes up most of the shear there (endless: none). mm."""

    length: float
    clear: float
    h: float
    b: float
    cantilever: bool
    near: float


@dataclass(frozen=True)
class Deep:
    """Why sections of a span do not remain plane, with the clause; the `mesh` that is required at each face, each way (mm2/mm), and its
    largest spacing (mm)."""

    reason: str
    clause: str
    mesh: float
    spacing: float


class Ask(Protocol):
    """Deflection lines (rows, n) of a level in a stage; `lasting`: the part of each row's load that lasts. Of the level 'permanent':
    the permanent actions that are there before an age (days)."""

    def __call__(self, level: str, stage: str, *, lasting: bool = False, before: float = ...) -> Array: ...


@dataclass(frozen=True)
class Deflections:
    """Lines (rows, n), downward positive: at `striking`, under permanent actions; `immediate` under the load that the code judges long
    term; `long_term`; what comes after the finishes; by the variable actions alone (`live`) and after the partitions, where these are
    limited."""

    striking: Array
    immediate: Array
    long_term: Array
    after_finishes: Array
    live: Array | None = None
    after_partitions: Array | None = None


@dataclass(frozen=True)
class TableControl:
    """Cracks controlled without calculation, (n,): bar diameter and distance, each with what the service stress allows; either will do."""

    phi: Array
    most_phi: Array
    spacing: Array
    most_spacing: Array


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
    so far, whether the loading lasts, and the modulus of the bars; the `age` of the concrete (days) and its creep coefficient."""

    modulus: Array
    short_modulus: float
    tensile_strength: float
    shrinkage: Array
    lasting: bool
    steel_modulus: float = 200_000.0
    age: float = float("inf")
    creep: float = 0.0

    @property
    def alpha_e(self) -> Array:
        """Ratio of moduli."""
        return self.steel_modulus / self.modulus


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

    # the code's own symbols
    @property
    def moment_symbol(self) -> str: ...
    @property
    def concrete_shear_symbol(self) -> str: ...
    @property
    def crushing_symbol(self) -> str: ...
    @property
    def shear_symbol(self) -> str: ...

    @property
    def symbols(self) -> Mapping[str, str]:
        """Its own, where they differ from those of EN 1992-1-1."""
        ...

    # limits of what is covered
    @property
    def out_of_scope(self) -> Sequence[str]:
        """What is not verified for any beam, in words."""
        ...

    @property
    def seismic_clause(self) -> str:
        """Of the detailing of members that resist earthquakes, which is not covered; '': none."""
        ...

    def short_span(self, span: ShortSpan) -> Deep | None:
        """None where sections remain plane."""
        ...

    def bracing_limit(self, b: float, h: float) -> float:
        """Permitted distance of lateral supports of the compressed face, mm."""
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
    def bar_sign(self) -> str:
        """What stands before a designation."""
        ...

    @property
    def areas(self) -> Mapping[str, float]:
        """Area by designation, mm2."""
        ...

    @property
    def usual_main_bars(self) -> tuple[str, ...]: ...
    @property
    def usual_stirrup_bars(self) -> tuple[str, ...]: ...
    @property
    def diagrams(self) -> Sequence[str]:
        """Stress diagrams of concrete, the usual one first."""
        ...

    def concrete_law(self, concrete: Concrete) -> ConcreteLaw: ...
    def narrowing_factor(self, concrete: Concrete) -> float:
        """On the concrete's stress where the section becomes narrower towards its compressed edge."""
        ...

    def steel_law(self, steel: Steel) -> SteelLaw: ...
    def modulus(self, concrete: Concrete) -> float:
        """Of concrete under short loads, MPa."""
        ...

    def resistance_factor(self, strain: Array, steel: Steel) -> Array:
        """Factor on the moment of resistance for the strain of the extreme tension bars (1 where strengths carry it)."""
        ...

    @property
    def flexure_factor(self) -> float:
        """The factor that beams are proportioned for."""
        ...

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
    def starter(self) -> Mapping[str, str]:
        """Entries of a beam file to begin with that are the code's own."""
        ...

    def default_category(self) -> str | None:
        """For imposed actions that name none; None: they must."""
        ...

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
    def sustained_share(self, groups: Sequence[Group]) -> tuple[float, ...]:
        """What of each group's full service load lasts."""
        ...

    def arrangements(self, spans: int) -> list[tuple[str, tuple[bool, ...]]]: ...

    # flanges
    def flange_reach(self, flange: Flange, web: float, around: Surroundings) -> Reaches:
        """What works of a flange left and right of the web (mm): over the left support, in the span, over the right one."""
        ...

    # support width
    def rounding(self, reaction: Array, width: float) -> Array: ...
    def face_moment(self, at_face: Array, full_fixity: Array) -> Array: ...
    def end_hogging(self, span_moment: Array) -> Array: ...

    # bending
    def neutral_axis_share(self, x: Floats, d: Floats, outer: Floats) -> Array:
        """Depth of the neutral axis over what its limit refers to: `d`, or the depth of the outermost bars."""
        ...

    def neutral_axis_limit(self, concrete: Concrete, steel: Steel, delta: Floats = 1.0) -> Array: ...
    def least_delta(self, steel: Steel) -> float:
        """Lowest ratio of redistributed to elastic moment, whatever the section."""
        ...

    def widest_span_ratio(self) -> float:
        """Longer over shorter of two adjacent spans, above which moments may not be redistributed unchecked."""
        ...

    def minimum_steel_width(self, b_w: Array, b_f: Array, determinate: Mask) -> Array:
        """Width of web that the minimum steel of a flange in tension is found with; `determinate` where moments cannot go elsewhere."""
        ...

    def least_tension_steel(self, concrete: Concrete, steel: Steel, b_w: Array, b_t: Array, d: Array, asked: Array) -> Array:
        """Minimum steel for the web's width, the mean width of the tension zone, and what the moment asks for."""
        ...

    def most_steel(self, gross_area: Array) -> Array: ...

    # shear
    def strut(self, concrete: Concrete, b: Array, d: Array, v_ed: Array, reserve: float, axial: Floats = 0.0) -> Array:
        """cot theta; `axial` force, compression positive."""
        ...

    def lever(self, d: Floats) -> Array: ...
    def shear(self, concrete: Concrete, steel: Steel, web: Web, asw_s: Array, cot: Array) -> ShearState: ...
    @property
    def turns_struts(self) -> bool:
        """Whether the angle of the struts is chosen."""
        ...

    def shear_model(self, concrete: Concrete, steel: Steel, web: Web, asw_s: Array, cot: Array) -> list[str]:
        """How the resistance at each station was found, in words: the strut's angle, or the expression for the concrete."""
        ...

    def near_support_share(self, a_v: Array, d: float) -> Array:
        """What of forces `a_v` (n,) from the face of a support counts for stirrups, mm; 1: all of it."""
        ...

    def near_support_resistance(self, steel: Steel, area: float) -> float:
        """Of the stirrups (mm2) in the middle three quarters of a_v, N."""
        ...

    def stirrups_required(self, concrete: Concrete, steel: Steel, web: Web, v_ed: Array, cot: Array) -> Array: ...
    def least_stirrups(self, concrete: Concrete, steel: Steel, b: Array) -> Array: ...
    def widest_spacing(self, concrete: Concrete, web: Web, v_ed: Array) -> Array: ...
    def widest_leg_spacing(self, concrete: Concrete, web: Web, v_ed: Array) -> Array: ...
    def compressed_bar_spacing(self, phi: Floats, tie: float, least: Floats) -> Array:
        """Of stirrups along bars in compression of diameter `phi`; `tie` diameter of the stirrups, `least` dimension of the section."""
        ...

    def shift(self, d: Floats, cot: Floats) -> Array: ...
    def unused_end(self, phi: Floats, d: Floats) -> Array:
        """Length at the end of a bar that stops inside a span which may not be counted on, mm."""
        ...

    @property
    def cut_off_share(self) -> float:
        """Share of the shear resistance that may be used where a bar stops in a tension zone; 0: no such rule."""
        ...

    def end_anchorage_force(self, v_ed: Floats, d: Floats, cot: Floats) -> Array: ...
    def end_anchorage(self, end: EndFacts) -> tuple[float, float, str]:
        """Demand, resistance and quantity of the anchorage at a simple end."""
        ...

    def bottom_share(self, simple: bool) -> float:
        """Of a span's bottom steel that goes into a support."""
        ...

    @property
    def develops_torsion_bars(self) -> bool:
        """Whether bars for torsion are developed in full wherever they are required, whatever their stress."""
        ...

    @property
    def perimeter_share(self) -> float:
        """Of the top steel over a support of a perimeter beam that is continuous and anchored at its ends; 0: no such rule."""
        ...

    @property
    def checks_inflection(self) -> bool:
        """Whether bottom bars are limited by their development at points of inflection."""
        ...

    def tie_legs(self, number: Floats) -> Array:
        """Legs of stirrups that hold this number of bars of a row in compression; 0: no such rule."""
        ...

    @property
    def crushes_at_face(self) -> bool:
        """Whether crushing is verified with the shear at the face."""
        ...

    @property
    def limits_crack_width(self) -> bool:
        """Whether a width of cracks given by the user decides."""
        ...

    @property
    def integrity(self) -> tuple[float, int]:
        """Share of a span's bottom steel, and number of bars, that go through from end to end; 0: no such rule."""
        ...

    @property
    def top_share(self) -> float:
        """Of the top steel over a support that goes on past the point of inflection; 0: no such rule."""
        ...

    def beyond_inflection(self, phi: float, d: float, clear: float) -> float:
        """By how much, mm."""
        ...

    def least_cover(self, phi: Floats, aggregate: float) -> Array: ...
    def least_strength(self, exposure: str) -> float:
        """Of concrete in a class of exposure, MPa; 0: none."""
        ...

    def cover_unverified(self) -> str:
        """Why cover that is worked out from exposure is not verified; '': it is."""
        ...

    def cover_for(self, wish: CoverWish) -> Cover:
        """Nominal cover to the stirrup. Raises CodeError with what is not possible."""
        ...

    def into_support(self, phi: Floats, simple: bool) -> Array:
        """How far past a support's face bottom bars go, mm."""
        ...

    def flange_shear(
        self, concrete: Concrete, steel: Steel, force: float, thickness: float, length: float, pulled: bool
    ) -> FlangeShear | None:
        """For a `force` (N) handed over to one side of a flange, compressed or `pulled`, along `length`; None: no such check."""
        ...

    def hanging_steel(self, steel: Steel, reaction: float) -> float:
        """Stirrups that hang a reaction up in the beam that supports it, mm2."""
        ...

    # torsion
    def torsion_reach(self, b_t: Floats, d: Floats) -> Array:
        """How far reinforcement for torsion goes on beyond where it is required, mm."""
        ...

    def torsion_bar_diameter(self, spacing: Floats) -> Array:
        """Least diameter of bars for torsion between stirrups so far apart, mm; 0: no such rule."""
        ...

    def torque_as_shear(self, tube: Tube, d: Array, torque: Array) -> Array:
        """Shear that uses the struts up as much as a torque does, N."""
        ...

    def twist(
        self,
        concrete: Concrete,
        steels: tuple[Steel, Steel],
        web: Web,
        tube: Tube,
        shear: Array,
        torque: Array,
        cot: Array,
        compatible: bool,
    ) -> Twist:
        """What torque (n,) beside `shear` asks for, of bars and stirrups of `steels`; `compatible`: it comes from
        compatibility alone and may fall as the code lets it."""
        ...

    # bars
    def anchorage(self, concrete: Concrete, steel: Steel, phi: Floats, height: Floats, h: Floats) -> Array: ...
    def least_anchorage(self, anchorage: Floats, phi: Floats) -> Array: ...
    def hooked(
        self, concrete: Concrete, steel: Steel, phi: Floats, apart: Floats = 0.0, cover: Floats = 0.0, core: Floats = False
    ) -> Array | None:
        """Length to the outer face of a bent end for full yield, mm; `apart` distance of the hooked bars' centres, their side `cover`,
        whether they end in the core of a column. None: the bend counts by its length."""
        ...

    def lap(self, concrete: Concrete, steel: Steel, phi: Floats, height: Floats, h: Floats, share: float = 1.0) -> Array:
        """Length of laps where this `share` of a face's bars is lapped at one place, mm."""
        ...

    def skin(self, concrete: Concrete, steel: Steel, b: float, h: float, cover: float, wanted: Service) -> tuple[float, float]:
        """Side bars of a deep web: widest distance (mm; endless where the web is not deep) and area of both sides' bars in the tension
        half (mm2)."""
        ...

    def lap_cross_steel(self, phi: float, share: float) -> float:
        """Of stirrups across lapped bars, half of it in each outer third of the lap, mm2; 0: what there is anyway will do."""
        ...

    def may_lap(self, phi: float) -> bool:
        """Whether bars of a diameter may be lapped."""
        ...

    def confinement(
        self, steel: Steel, phi: float, spacing: float, tie_area: float, tie_spacing: float, number: float
    ) -> tuple[float, float]:
        """What stirrups across `number` bars in a row `spacing` apart must give where these develop or are lapped, and what they give;
        (0, 0): nothing is required."""
        ...

    def confining_spacing(self, steel: Steel, phi: float, tie_area: float, number: float) -> float:
        """Spacing of stirrups that gives this, mm; endless where nothing is required."""
        ...

    def lap_cross_spacing(self, phi: float, share: float) -> float:
        """Largest spacing of stirrups over the outer thirds of a lap, mm; endless: no such rule."""
        ...

    def lap_share_limit(self, rows: int, tension: bool) -> float:
        """Of a face's bars that may be lapped at one place; `rows` of bars there."""
        ...

    def lap_clear(self, phi: Floats, aggregate: float) -> Array:
        """Clear distance of adjacent laps, mm."""
        ...

    def anchored_beyond_for_shear(self, anchorage: Array, d: Array) -> Array: ...
    def clear_spacing(self, phi: Floats, aggregate: float) -> Array: ...
    def bend_radius(self, phi: float) -> float: ...
    def wider_mandrel(self, concrete: Concrete, steel: Steel, phi: float, force: float, beside: float) -> float:
        """Diameter that a bend needs for the `force` (N) of a bar at its start, `beside` the bar half the distance to the next one or
        the distance to the face, mm; 0: the least ones will do."""
        ...

    def tie_radius(self, phi: float) -> float:
        """Of the bends of stirrups, mm."""
        ...

    def tie_tail(self, phi: float) -> float:
        """Length of the anchored end of a stirrup beyond its corner, mm."""
        ...

    def least_leg(self, phi: float, kind: str) -> float: ...

    @property
    def units(self) -> Units:
        """What derivations put numbers in with."""
        ...

    # service
    @property
    def gross_uncracked(self) -> bool:
        """Whether the uncracked section is that of the concrete alone."""
        ...

    def usual_limits(self, kinds: frozenset[str]) -> Mapping[str, float]:
        """Divisors of the span for 'total', 'after_finishes', 'live', as far as the code has them for variable actions of these kinds."""
        ...

    @property
    def total_is_advice(self) -> bool:
        """Whether the usual limit of the total deflection is a target and no rule."""
        ...

    def span_depth(self, concrete: Concrete, steel: Steel, span: Slender) -> tuple[float, float, str]:
        """Demand, limit and quantity of the quick check of a span beside its calculated deflection."""
        ...

    def stress_limits(self, concrete: Concrete, steel: Steel, exposure: str | None) -> tuple[float, float, float]:
        """Of concrete under the lasting level, of bars and of concrete under the rare one, MPa; endless where the code has none."""
        ...

    def least_crack_steel(self, concrete: Concrete, steel: Steel, zone: TensionZone, h: Array) -> Array:
        """Of a tension zone, so that its cracks stay fine, mm2; 0: the code has no such minimum."""
        ...

    def stages(self, concrete: Concrete, service: Service, h_0: Array, stress: Floats = 0.0) -> Mapping[str, Stage]:
        """Stages by name, arrays over notional sizes `h_0` (mm); creep beyond proportion where the lasting `stress` of the concrete (MPa)
        makes it so."""
        ...

    def creeps_beyond(self, concrete: Concrete, service: Service, stress: Array) -> Mask:
        """Where creep under a lasting stress of the concrete (MPa) is more than in proportion to it."""
        ...

    def curvature(
        self, moment: Array, uncracked: Elastic, cracked: Elastic, h: Array, stage: Stage, lasting: bool, before: Floats = 0.0
    ) -> Array:
        """For `moment` >= 0; a share of at least `before` has cracked already."""
        ...

    @property
    def early_stage(self) -> str | None:
        """The stage whose cracks stay for good; None: every moment finds its own."""
        ...

    def cracked_share(self, moment: Array, uncracked: Elastic, h: Array, stage: Stage) -> Array:
        """Of a section that curvature is found with, for `moment` >= 0."""
        ...

    def deflections(self, ask: Ask, wanted: Service, rho_compression: Array) -> Deflections:
        """Lines (rows, n), from lines asked for by level and stage.

        `rho_compression` (n,) is the ratio of compression steel that each span's deflection counts on.
        """
        ...

    @property
    def averages_stiffness(self) -> bool:
        """Whether the code lets one stiffness stand for a span: the mean of those of its critical sections."""
        ...

    def crack_table(self, stress: Array, face: Face, concrete: Concrete, wanted: Service) -> TableControl | None:
        """For the service stress of the bars; None: the code has no such tables."""
        ...

    def tension_flange(self, flange: float, clear: float) -> float:
        """Width of a flange in tension that bars must be spread over, mm; `flange` its effective width, `clear` the clear span; 0: the code
        asks for none."""
        ...

    @property
    def crack_level(self) -> str:
        """Level and stage that cracking is judged at."""
        ...

    @property
    def crack_stage(self) -> str: ...
    def cracking(self, moment: Array, cracked: Elastic, stage: Stage, face: Face, wanted: Service) -> Cracking: ...
    def uncracked_under(self, moment: Array, uncracked: Elastic, h: Array, concrete: Concrete) -> Mask: ...
