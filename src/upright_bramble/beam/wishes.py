"""What the user wants of forces, service and bars."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, field
from typing import Any


@dataclass(frozen=True)
class Redistribution:
    """Hogging peaks over `supports` (indices) lowered to `delta` times their elastic value; None: the maximum
    permitted, but no further than the `floors` (support, delta) that bars as they are have shown."""

    delta: float | None = 1.0
    supports: tuple[int, ...] = ()
    floors: tuple[tuple[int, float], ...] = ()


@dataclass(frozen=True)
class Service:
    """Service limits: deflection in `total`, `after_finishes` and `after_partitions` (which are built at the
    ages `finishes_at` and `partitions_at`, days), and by `live` load alone, as (divisor of span | None,
    absolute | None); None: no limit.

    `exposure` class that the crack width is limited for where `crack_width` says nothing. `precamber` upwards
    by span (none: none at all), at the middle of a span and at the tip of a cantilever; `cantilever` is the
    reference length of limits by span over a cantilever's own. `total_advised`: the limit of the total is a
    target, not a rule of the code. `stiffness` that service moments are found with: 'gross' or 'cracked'.
    """

    total: tuple[float | None, float | None] | None = (250.0, None)
    after_finishes: tuple[float | None, float | None] | None = (500.0, None)
    finishes_at: float = 60.0
    crack_width: float | None = None
    humidity: float = 50.0
    age_at_loading: float = 28.0
    cement: str = "N"
    precamber: tuple[float, ...] = ()
    cantilever: float = 1.0
    stiffness: str = "gross"
    after_partitions: tuple[float | None, float | None] | None = None
    partitions_at: float = 90.0
    live: tuple[float | None, float | None] | None = None
    exposure: str | None = None
    total_advised: bool = False

    def loaded_before(self, day: float) -> float:
        """Permanent actions that are there from before this age are there when something is built on a `day`:
        none before the striking."""
        return day if day > self.age_at_loading else 0.0


@dataclass(frozen=True)
class Rates:
    """What the choice of bars minimises: money per kg of steel, per bar fixed, per further size used, per
    mark, per lap."""

    steel: float = 1.2
    bar: float = 2.5
    stirrup: float = 1.0
    variety: float = 12.0
    mark: float = 3.0
    lap: float = 4.0
    concrete: float = 160.0
    formwork: float = 45.0


@dataclass(frozen=True)
class Detailing:
    """Wishes for the steel: designations allowed, most layers on a face, the share of resistance kept back,
    the `step` that places and spacings are rounded to; sizes allowed on one face alone, one size throughout a
    face, the least and most bars at a section of a face, and the highest stress of bars in service; whether
    bars that run through are lapped 'together', half of them elsewhere than the rest ('staggered'; of a pair
    where they do not fit together), or of more than two so where they do not fit together ('auto'); `laps_at`
    their middles along the beam, where the user says (none: where the face pulls least). Of stirrups the
    `spacings` to take (none: the usual ones), the most `zones` of a span (None: three, five where heavy point
    loads or laps are) and the fewest legs; the gap (mm) that a top row of more than four bars leaves for the
    vibrator.

    `style` 'plain' (few pieces, symmetrical, alike) or 'lean' (the least steel that can be built). Sizes of
    the `hangers`, the top bars that run through, and of `side_bars`, of which there are at least `side_rows`
    at each side. `end_shape` at the beam's ends: 'straight', 'bend', 'hook', or what 'fits'. `shortest` and
    `longest` piece (mm; None: 40 steps, stock), `lengths` at one place; `cut_off` 'none': every bar goes
    through its whole run. The clear distance of bars of a row that is kept (`clear`, mm) and the distance of
    their centres that is not exceeded (`centres`); `minimum_steel` of a face in tension, percent of b_w d.
    What shortens `anchorage` and laps: the 'concrete' around the bars alone, the 'stirrups' across them as
    well, or the 'pressure' of end supports too; and whether laps are long enough `laps_for` 'yield' or for
    the 'stress' there.
    """

    main_bars: tuple[str, ...] = ()
    stirrup_bars: tuple[str, ...] = ()
    layers: int = 2
    reserve: float = 0.03
    stock_length: float = 12000.0
    step: float = 25.0
    rates: Rates = field(default_factory=Rates)
    face_bars: Mapping[str, tuple[str, ...]] = field(default_factory=dict)
    one_size: bool = False
    least_bars: int = 2
    most_bars: int | None = None
    service_stress: float | None = None
    laps: str = "auto"
    laps_at: tuple[float, ...] = ()
    spacings: tuple[float, ...] = ()
    zones: int | None = None
    stirrup_legs: int = 2
    vibrator_gap: float = 75.0
    style: str = "plain"
    hangers: tuple[str, ...] = ()
    side_bars: tuple[str, ...] = ()
    side_rows: int = 0
    end_shape: str = "fits"
    shortest: float | None = None
    longest: float | None = None
    lengths: int = 2
    cut_off: str = "usual"
    clear: float = 0.0
    centres: float | None = None
    minimum_steel: float = 0.0
    anchorage: str = "concrete"
    laps_for: str = "yield"
    further_rows: int = 0
    """Beyond `layers`, where bars find no room in these: one where the user does not say how many."""

    @property
    def lean(self) -> bool:
        return self.style == "lean"

    @property
    def longest_piece(self) -> float:
        """That is delivered and handled, mm."""
        return self.stock_length if self.longest is None else min(self.longest, self.stock_length)

    @property
    def shortest_piece(self) -> float:
        """Of straight bars, mm: 1.0 m or 40 in when the user says nothing."""
        return 40.0 * self.step if self.shortest is None else self.shortest

    def minimum_area(self, width: Any, d: Any) -> Any:
        """Tension steel that the user wants at least, mm2, for webs `width` wide at effective depths `d` (mm,
        numbers or arrays)."""
        return 0.01 * self.minimum_steel * width * d

    def sizes(self, face: str) -> tuple[str, ...]:
        """Allowed on a face ('bottom' or 'top')."""
        return self.face_bars.get(face) or self.main_bars
