"""Which bars: all sensible groups of one run of a face, with what each would cost.

A run is a stretch over which the same corner bars can go through. Extra bars are added zone by zone: spans at
the bottom, supports at the top. `together` takes the cheapest for the whole beam.
"""

from __future__ import annotations

import math
from collections.abc import Callable
from dataclasses import dataclass

import numpy as np

from upright_bramble.analysis import Forces
from upright_bramble.analysis.flanges import compressed
from upright_bramble.beam import Beam, Span
from upright_bramble.beam.geometry import maximum_in_row
from upright_bramble.codes.design_code import DesignCode
from upright_bramble.proportion.curtail import anchorage_of, develops_at_ends, end_share, lap_of, run_limits
from upright_bramble.proportion.needs import NoProposal
from upright_bramble.section.arrays import Array, Mask
from upright_bramble.section.strength import required_steel
from upright_bramble.text import amount

VIBRATED, WIDE = 4, 400.0  # bars of a top row without a gap for the vibrator; width that one gap serves, mm
MAXIMUM_THROUGH = 6
SECOND_LENGTH = (0.03, 5.0)  # that a second length has to save: of the face's steel, or kg
LAPPED = 3.0  # lap lengths that the longest piece has: with fewer no places for laps are found
STAGGERED = 4.8  # lap lengths of a run in which a second lap keeps clear of one in the middle
LEGS = 1400.0  # of a bar bent at both ends, at most, mm
HANGER = 12.0  # mm: the thinnest bars that run through at the top to hold stirrups
LEAN = 0.05  # of what fixing, marks and laps cost, where the least steel is wanted
ENDLESS = 1e6  # bars of a section that no steel is enough for: more than any row holds


@dataclass(frozen=True)
class Zone:
    """Stations (mask) that one group of extra bars serves; `index` of its span (bottom) or support (top).
    `crowded` bars of others need room in its first row."""

    index: int
    where: Mask
    width: float
    crowded: int = 0


@dataclass(frozen=True)
class Run:
    """A stretch of one face: its stations, zones, limits along x and narrowest width."""

    face: str
    where: Mask
    zones: tuple[Zone, ...]
    start: float
    end: float
    width: float

    def covers(self, span: Span) -> bool:
        """Whether the run goes through a span."""
        return self.start - 1.0 < span.start and span.end < self.end + 1.0


@dataclass(frozen=True)
class Demand:
    """At every station (n,): tension moment of this face (shifted, with reserve), least steel, steel that
    the force at simple ends asks for, steel held by the user; of the bars that run through the least area
    and number, the greatest number (`fewer`), and the diameter that they (and extra bars too: `slim`) stay
    below; of every zone the `legs` of its stirrups, each of which has a bar of the first row along the whole
    zone to hold it (none: all that run through do); whether extra bars are `anchored` for yield past where
    they are needed."""

    moment: Array
    least: Array
    pulled: Array
    held: Array
    held_in_row: Array
    held_through: bool
    least_through: float
    least_number: int = 2
    legs: tuple[int, ...] = ()
    below: float = np.inf
    slim: bool = False
    anchored: bool = False
    fewer: float = np.inf


@dataclass(frozen=True)
class Choice:
    """Bars of one run: `through` bars of `size`, and per zone extra bars of `extra_size` in the first and
    second row; those of a zone's first row may stop in `two_steps`."""

    size: str
    through: int
    extra_size: str
    first_row: tuple[int, ...]
    second_row: tuple[int, ...]
    two_steps: tuple[bool, ...]
    cost: float


@dataclass(frozen=True)
class Candidates:
    """Arrays (c,): through diameter, number and area of one, extra diameter and area of one; and their
    designations."""

    size: list[str]
    extra: list[str]
    phi: Array
    number: Array
    phi_extra: Array
    single: Array
    single_extra: Array

    @property
    def largest(self) -> Array:
        return np.maximum(self.phi, self.phi_extra)


@dataclass(frozen=True)
class Weighed:
    """The groups (c,) of a run: extra bars by zone in all and in the second row (c, zones), whether those of
    a zone's first row stop in `two_steps` (c, zones), what each costs by what it is for (money), and whether
    it can be built."""

    run: Run
    spans: tuple[int, int]
    candidates: Candidates
    total: Array
    second: Array
    two_steps: Mask
    parts: dict[str, Array]
    feasible: Mask

    @property
    def cost(self) -> Array:
        """Without what sizes cost; infinite where it cannot be built."""
        total = sum(self.parts.values()) + 1e-6 * self.candidates.phi_extra
        return np.where(self.feasible, total, np.inf)

    def sizes(self, i: int) -> frozenset[str]:
        """Designations that a group uses."""
        c = self.candidates
        used = [c.size[i]] * bool(c.number[i]) + [c.extra[i]] * bool(self.total[i].any())
        return frozenset(used)

    def choice(self, i: int) -> Choice:
        c, second = self.candidates, self.second[i]
        return Choice(
            c.size[i], int(c.number[i]), c.extra[i], tuple(int(v) for v in self.total[i] - second),
            tuple(int(v) for v in second),
            tuple(bool(v) for v in self.two_steps[i]), float(self.cost[i]),
        )  # fmt: skip


def weigh(beam: Beam, code: DesignCode, forces: Forces, run: Run, demand: Demand, tie: float) -> Weighed:
    """All groups of bars of a run. Raises NoProposal when none fits."""
    c = _candidates(beam, code, run, demand, tie)
    at = forces.stations
    concrete, steel = code.materials.concrete_law(beam.concrete), code.materials.steel_law(beam.bars)
    rise = code.detailing.clear_spacing(c.largest, beam.concrete.aggregate)
    gap = np.maximum(rise, beam.detailing.clear)
    cover = beam.cover.bottom if run.face == "bottom" else beam.cover.top
    other = (beam.cover.top if run.face == "bottom" else beam.cover.bottom) + tie + 8.0
    first = cover + tie + 0.5 * c.largest
    pitch = c.largest + rise
    area, extra = c.number * c.single, c.single_extra
    where = run.where
    moment, h = demand.moment[where], at.depth[where]
    block = compressed(at, run.face).at(where)
    outer = run.start <= 1.0 or run.end >= beam.length - 1.0
    anchored_in_full = np.ones(int(where.sum()))
    shares = {
        p: end_share(beam, code, run.face, p, at.x[where]) if outer else anchored_in_full
        for p in set(c.largest.tolist())
    }
    limit = code.bending.neutral_axis_limit(
        beam.concrete, beam.bars, forces.design.delta[where] if run.face == "top" else 1.0
    )
    full = _row_capacity(beam, run, c, tie, gap)  # (c, zones)
    rows = np.maximum(full - np.array([demand.held_in_row[z.where].max(initial=0.0) for z in run.zones]), 0.0)
    held = np.array(
        [demand.held_in_row[z.where].min(initial=np.inf) for z in run.zones]
    )  # bars that a second row can stand over
    clear_rows = np.maximum(rows - np.array([z.crowded for z in run.zones]), 0.0)
    ends = np.array([shares[p] for p in c.largest])
    n_2 = np.zeros((len(c.phi), len(run.zones)))
    total = np.zeros_like(n_2)
    feasible = np.ones(len(c.phi), dtype=bool)
    needed = np.zeros((len(c.phi), int(where.sum())))
    axis, tension = np.full_like(needed, np.nan), np.zeros_like(needed)
    masks = [z.where[where] for z in run.zones]
    legs = np.where(c.number[:, None] > 0.0, np.array(demand.legs or [0.0] * len(masks)) - held, 0.0)
    carriers = np.maximum(legs - c.number[:, None], 0.0)  # (c, zones); what the user holds is as it is
    upper = max(beam.detailing.layers - 1, 1)  # rows above the first
    lapped = _laps_fit(beam, code, run, c, gap, tie)
    for attempt in range(6):
        paired = attempt < 3
        below = np.minimum(full, c.number[:, None] + held + total - n_2)
        if attempt == 3 and ((n_2 <= upper * below).all(axis=1) & (lapped | ~lapped.any())).any():
            break  # symmetrical rows fit: no others are looked at
        share_2 = _second_share(masks, n_2 * _rows_up(n_2, below, upper), total, area, extra, len(moment))
        before, axis = axis, first[:, None] + share_2 * pitch[:, None]
        moved = (axis != before).any(axis=1)  # steel is worked out anew where the rows are others
        if moved.any():
            tension[moved] = required_steel(
                moment[None, :], block, h - axis[moved], np.full((1, 1), other), concrete, steel, limit
            )[0]
        required = np.maximum(np.maximum(tension, demand.least[where]), demand.pulled[where])
        needed = np.maximum(required - demand.held[where], 0.0) / ends
        total, n_2 = _extra_numbers(needed, masks, area, extra, c.number, clear_rows, paired, carriers)
    feasible &= (c.number[:, None] + total - n_2 >= legs).all(axis=1)
    feasible &= (n_2 <= upper * np.minimum(full, c.number[:, None] + held + total - n_2)).all(axis=1)
    if beam.detailing.cut_off == "none" and (feasible & (total == 0.0).all(axis=1)).any():
        feasible &= (total == 0.0).all(axis=1)
    if beam.detailing.most_bars is not None:
        feasible &= c.number + total.max(axis=1, initial=0.0) <= beam.detailing.most_bars
    feasible &= (n_2 == 0.0).all(axis=1) | (beam.detailing.layers >= 2)
    squeezed = (
        area + demand.held.min(initial=np.inf, where=where) * demand.held_through
        >= demand.least_through - 1e-6
    )
    # where no bars are as many as the compression asks for by the simple way, the most: verification counts
    # what is there
    feasible &= (
        squeezed if (feasible & squeezed).any() else area >= area.max(where=feasible, initial=0.0) - 1e-6
    )
    if run.face == "bottom":  # a share of the span's steel goes into the supports: the bars that run through
        highest = area + (total * extra[:, None]).max(axis=1, initial=0.0)
        feasible &= (
            area >= code.curtailment.bottom_share(_ends_simple(beam, run)) * highest
        ) | demand.held_through
    if (
        run.face == "bottom"
    ):  # of two runs that end in one support the bars lie beside each other where they overlap
        overlap = _overlap(beam, code, run, c)
        ends_inside = run.start > 1.0 or run.end < beam.length - 1.0
        for wish in (
            ~overlap | (2.0 * c.number <= rows.min(axis=1)),
            (c.number % 2.0 == 0.0) | (not ends_inside),
        ):
            feasible = feasible & wish if (feasible & wish).any() else feasible
    for wish in (c.number <= demand.fewer, lapped):
        feasible = feasible & wish if (feasible & wish).any() else feasible
    if not feasible.any():
        raise NoProposal(
            _why_not(beam, run, c.number + total.max(axis=1, initial=0.0), total, n_2, rows), run.face
        )
    parts, two_steps = _cost(
        beam, code, forces, run, c, total, n_2, area, needed, masks, carriers, demand.anchored
    )
    parts["laps"] = parts["laps"] * _lap_price(beam, code, c)
    spans = at.span[run.where]
    return Weighed(run, (int(spans.min()), int(spans.max())), c, total, n_2, two_steps, parts, feasible)


def _laps_fit(beam: Beam, code: DesignCode, run: Run, c: Candidates, gap: Array, tie: float) -> Mask:
    """Whether the pieces of bars that run through stand beside each other where they are lapped, (c,): half
    of them at a time where the run is long enough for two places; both of a pair, which would not be
    symmetrical else, but where the user wants them apart."""
    if run.end - run.start <= beam.detailing.longest_piece - LEGS:
        return np.ones(len(c.phi), dtype=bool)
    lap = _by_size(beam, code, run, c.phi, lap_of)
    apart = run.end - run.start >= STAGGERED * lap
    halved = apart & (beam.detailing.laps != "together")
    if beam.detailing.laps != "staggered":
        halved &= c.number > 2.0
    beside = np.where(halved, np.ceil(0.5 * c.number), c.number)
    wide = np.maximum(code.bond.lap_clear_distance(c.phi, beam.concrete.aggregate) - gap, 0.0)
    taken = (c.number + beside) * c.phi + (c.number - 1.0) * gap + wide * (beside - 1.0)
    short = LAPPED * lap <= beam.detailing.longest_piece
    return np.asarray(short & (taken <= run.width - 2.0 * (beam.cover.sides + tie)))


def _overlap(beam: Beam, code: DesignCode, run: Run, c: Candidates) -> Mask:
    """Whether bars that stop in an inner support go past those of the next run, which come from the other
    side, (c,)."""
    inner = [
        s
        for s in beam.supports
        if min(abs(s.x - run.start), abs(s.x - run.end)) < 1.0 and 1.0 < s.x < beam.length - 1.0
    ]
    into = np.asarray(code.curtailment.into_support(c.phi, False), dtype=float)
    width = min((s.width for s in inner), default=np.inf)
    return np.asarray(2.0 * into > width + 1.0)


def _ends_simple(beam: Beam, run: Run) -> bool:
    """Whether a run of bottom bars ends at a support of the beam's ends that does not restrain rotation."""
    near = [
        s
        for s in (beam.supports[0], beam.supports[-1])
        if min(abs(s.x - run.start), abs(s.x - run.end)) < 1.0
    ]
    return any(not s.restrains_rotation for s in near)


def _candidates(beam: Beam, code: DesignCode, run: Run, demand: Demand, tie: float) -> Candidates:
    sizes = sorted(beam.detailing.sizes(run.face), key=lambda s: code.sizes[s].diameter)
    result: list[tuple[str, int, str]] = []
    numbers = [0] if demand.held_through else []
    cover = min(beam.cover.bottom if run.face == "bottom" else beam.cover.top, beam.cover.sides) + tie
    sizes = [
        s
        for s in sizes
        if float(code.cover.minimum_for_bar(code.sizes[s].diameter, beam.concrete.aggregate)) <= cover + 1e-6
    ]
    fewest = max(2, demand.least_number, _within_centres(beam, run, tie))
    thinnest = next((s for s in sizes if code.sizes[s].diameter >= HANGER), "")
    through = (
        [s for s in sizes if s in beam.detailing.hangers]
        if run.face == "top" and beam.detailing.hangers
        else sizes
    )
    thin = [s for s in sizes if code.sizes[s].diameter < demand.below - 1e-6] or sizes[:1]
    ending = [
        s for s in sizes if develops_at_ends(beam, code, code.sizes[s].diameter, fewest, tie) and s in thin
    ] or thin[:1]
    for i, size in enumerate(sizes):
        phi = code.sizes[size].diameter
        if size not in through:
            continue
        if size not in ending or (
            run.end - run.start > beam.detailing.longest_piece - LEGS and not code.bond.lap_permitted(phi)
        ):
            continue
        # bars that stop short of the supports need not be as thin as those that have to develop in them
        others = sizes[max(i - 1, 0) : i + 2] if len(ending) == len(sizes) else sizes[max(i - 1, 0) :]
        if run.face == "top" and (
            beam.detailing.hangers or size == thinnest
        ):  # hangers may be as thin as they like
            others = [s for s in beam.detailing.sizes(run.face) if s in sizes]
        if demand.slim:
            others = [s for s in others if s in thin]
        gap = max(float(code.detailing.clear_spacing(phi, beam.concrete.aggregate)), beam.detailing.clear)
        maximum = maximum_in_row(run.width, beam.cover.sides, tie, phi, gap)
        most = maximum if beam.detailing.cut_off == "none" else min(maximum, max(MAXIMUM_THROUGH, fewest))
        for number in [*numbers, *range(fewest, most + 1)]:
            if (
                number > fewest
                and not develops_at_ends(beam, code, phi, number, tie)
                and len(ending) < len(sizes)
            ):
                continue
            for extra in [size] if beam.detailing.one_size else others:
                result.append((size, number, extra))
    if not sizes:
        lacking = (
            f"the cover of {amount(cover - tie, 'length')} is too small for the bond of any permitted size "
            "of bar"
        )
        raise NoProposal(lacking, run.face)
    if not result:
        raise NoProposal(
            f"not even two bars fit into a width of {amount(run.width, 'length')} inside the cover", run.face
        )
    return Candidates(
        [f[0] for f in result],
        [f[2] for f in result],
        np.array([code.sizes[f[0]].diameter for f in result]),
        np.array([float(f[1]) for f in result]),
        np.array([code.sizes[f[2]].diameter for f in result]),
        np.array([code.sizes[f[0]].area for f in result]),
        np.array([code.sizes[f[2]].area for f in result]),
    )


def _within_centres(beam: Beam, run: Run, tie: float) -> int:
    """Bars that run through so that their centres are no farther apart than the user wants."""
    if beam.detailing.centres is None:
        return 2
    return (
        math.ceil((run.width - 2.0 * (beam.cover.sides + tie) - HANGER) / beam.detailing.centres - 1e-9) + 1
    )


def _row_capacity(beam: Beam, run: Run, c: Candidates, tie: float, gap: Array) -> Array:
    """Bars of a candidate's thicker size that fit in one row of each zone, (c, zones)."""
    columns = []
    for zone in run.zones:
        gaps = max(math.ceil(zone.width / WIDE - 1e-9), 1) if run.face == "top" else 0
        columns.append(
            [
                _in_row(beam, zone.width, tie, float(phi), float(g), gaps)
                for phi, g in zip(c.largest, gap, strict=True)
            ]
        )
    return np.array(columns).T.reshape(len(c.phi), len(run.zones))


def _in_row(beam: Beam, width: float, tie: float, phi: float, gap: float, gaps: int) -> float:
    """Bars of a row, which leaves room for the vibrator where it has many."""
    kept = gaps * max(beam.detailing.vibrator_gap - gap, 0.0)
    with_gaps = maximum_in_row(width, beam.cover.sides, tie, phi, gap, kept)
    return float(max(with_gaps, min(maximum_in_row(width, beam.cover.sides, tie, phi, gap), VIBRATED)))


def _rows_up(n_2: Array, below: Array, upper: int) -> Array:
    """How far above the first row the mean of the bars above it lies, in rows, where each holds as many as
    the one below: 1.0 for one."""
    each = np.maximum(below, 1.0)
    integer = np.minimum(np.floor(n_2 / each), upper)
    rest = n_2 - integer * each
    with np.errstate(invalid="ignore"):
        mean = (each * integer * (integer + 1.0) / 2.0 + rest * (integer + 1.0)) / n_2
    return np.asarray(np.where(n_2 > 0.0, mean, 1.0))


def _second_share(masks: list[Mask], n_2: Array, total: Array, area: Array, extra: Array, n: int) -> Array:
    """Share of the steel that lies in the second row, (c, stations)."""
    share = np.zeros((len(area), n))
    for z, mask in enumerate(masks):
        amount = area + total[:, z] * extra
        part = np.where(amount > 0.0, n_2[:, z] * extra / np.maximum(amount, 1e-9), 0.0)
        share[:, mask] = part[:, None]
    return share


def _extra_numbers(
    needed: Array,
    masks: list[Mask],
    area: Array,
    extra: Array,
    through: Array,
    rows: Array,
    paired: bool,
    carriers: Array,
) -> tuple[Array, Array]:
    """Extra bars of each zone, as many as `carriers` of stirrup legs at least, and how many of them go to the
    second row: none, or at least two; `paired`: such that every row is symmetrical about the web wherever one
    stops."""
    total, second = [], []
    for z, mask in enumerate(masks):
        required = needed[:, mask].max(axis=1, initial=0.0) - area
        with np.errstate(invalid="ignore"):
            number = np.where(required > 1e-6, np.ceil(required / extra - 1e-9), 0.0)
        number = np.maximum(np.minimum(number, ENDLESS), carriers[:, z])
        odd = (through % 2.0 == 1.0) & paired
        # what stops leaves the row symmetrical about the web: beside an odd number of bars that run through,
        # pairs
        even = np.where(odd, 2.0 * np.ceil(0.5 * number), number)
        room = np.maximum(rows[:, z] - through, 0.0)
        room = np.where(odd, 2.0 * np.floor(0.5 * room), room)
        first = np.minimum(even, room)
        # the second row stands over bars of the first, from the outer places inwards
        over = np.maximum(number - first, 0.0)
        pairs = ((through + first) % 2.0 == 0.0) & paired
        lifted = np.where(pairs, 2.0 * np.ceil(0.5 * over), np.where(over == 1.0, 2.0, over))
        total.append(first + lifted)
        second.append(lifted)
    return np.array(total).T.reshape(len(area), -1), np.array(second).T.reshape(len(area), -1)


def _cost(
    beam: Beam,
    code: DesignCode,
    forces: Forces,
    run: Run,
    c: Candidates,
    total: Array,
    n_2: Array,
    area: Array,
    needed: Array,
    masks: list[Mask],
    carriers: Array,
    for_yield: bool,
) -> tuple[dict[str, Array], Mask]:
    """Mass, fixing, marks, laps: an estimate, with extra bars as long as they are needed and anchored, for
    their stress or `for_yield`; money by what it is for. And in which zones (c, zones) it is cheaper that the
    extra bars of the first row stop in two steps."""
    rates, per_mm3 = beam.detailing.rates, 7850e-9 * beam.detailing.rates.steel
    x = forces.stations.x[run.where]
    length = run.end - run.start
    pieces = np.maximum(np.ceil(length / beam.detailing.longest_piece), 1.0)
    extra = c.single_extra
    anchored, lapped = (
        _by_size(beam, code, run, c.phi_extra, anchorage_of),
        _by_size(beam, code, run, c.phi, lap_of),
    )
    steel = area * (length + (pieces - 1.0) * lapped) * per_mm3
    fixing, laps = c.number * pieces * rates.bar, (pieces - 1.0) * c.number * rates.lap
    marks, split = pieces * rates.mark, np.zeros(total.shape, dtype=bool)

    lean = beam.detailing.lean
    limits = run_limits(beam, run.start, run.end)
    low, high = (
        limits.farthest(side) if limits.kinds[side] == "outer" else (-np.inf, np.inf)[side] for side in (0, 1)
    )
    leg = 12.0 * c.phi_extra

    unused = np.asarray(code.curtailment.unused_end(c.phi_extra, float(forces.stations.depth.max())))

    def reach(local: Array, own: Array, mask: Mask) -> Array:
        """Of bars of the area `own` beside `local` (c,), with the anchorage beyond; at the beam's ends no
        farther, but with a leg."""
        lacks = needed - local[:, None]
        lacking = (lacks > 1e-6) & mask
        share = 1.0 if for_yield else np.minimum(lacks / np.maximum(own, 1.0)[:, None], 1.0)
        beyond = np.maximum(share * anchored[:, None], unused[:, None])
        first = np.where(lacking, x - beyond, np.inf).min(axis=1)
        last = np.where(lacking, x + beyond, -np.inf).max(axis=1)
        bent = (first < low) * leg + (last > high) * leg
        return np.where(lacking.any(axis=1), np.minimum(last, high) - np.maximum(first, low) + bent, 0.0)

    for z, mask in enumerate(masks):
        whole = float(x[mask].max() - x[mask].min())
        complete = np.where(carriers[:, z] > 0.0, whole, reach(area, total[:, z] * extra, mask))
        steel = steel + total[:, z] * extra * np.where(complete > 0.0, complete, 2.0 * anchored) * per_mm3
        fixing = fixing + total[:, z] * rates.bar
        marks = marks + rates.mark * ((total[:, z] > 0.0) * 1.0 + (n_2[:, z] > 0.0))
        long, short = steps_of(total[:, z] - n_2[:, z])
        less = reach(area + long * extra, short * extra, mask)
        saved = short * extra * (complete - less) * per_mm3
        face = np.maximum(steel, 1e-9)
        pays = (saved >= SECOND_LENGTH[0] * face) | (saved >= SECOND_LENGTH[1] * rates.steel)
        # two lengths at a place, no more
        split[:, z] = (saved > rates.mark) & (pays | lean) & (n_2[:, z] == 0.0) & (carriers[:, z] == 0.0)
        split[:, z] &= beam.detailing.lengths > 1
        steel, marks = steel - saved * split[:, z], marks + rates.mark * split[:, z]
    if lean:  # the rest decides between equals
        fixing, marks, laps = LEAN * fixing, LEAN * marks, LEAN * laps
    return {"steel": steel, "fixing": fixing, "marks": marks, "laps": laps}, split


def _by_size(
    beam: Beam, code: DesignCode, run: Run, phi: Array, of: Callable[[Beam, DesignCode, float, str], float]
) -> Array:
    """A length of each candidate's bars (c,), found once a diameter, mm."""
    sizes, where = np.unique(phi, return_inverse=True)
    return np.array([of(beam, code, size, run.face) for size in sizes.tolist()])[where]


def _lap_price(beam: Beam, code: DesignCode, c: Candidates) -> Array:
    """What a lap costs with the stirrups across it, as a multiple of what it costs without."""
    rates, size = beam.detailing.rates, min(beam.detailing.stirrup_bars, key=lambda s: code.sizes[s].diameter)
    around = 2.0 * (beam.spans[0].deepest + beam.spans[0].narrowest)
    each = rates.stirrup + around * code.sizes[size].area * 7850e-9 * rates.steel
    required = np.array([code.bond.lap_stirrups(phi, 1.0) for phi in c.phi.tolist()])
    more = np.where(required > 0.0, np.ceil(required / code.sizes[size].area) * each + rates.mark, 0.0)
    return 1.0 + more / np.maximum(c.number * rates.lap, 1e-9)


def steps_of(number: Array) -> tuple[Array, Array]:
    """Bars that go the whole length, and bars that stop earlier, of a row that stops in two steps: pairs, or
    of an odd number the middle one first."""
    number = np.asarray(number)
    short = np.where(number == 3.0, 1.0, 2.0 * np.floor(0.25 * (number + 1.0)))
    short = np.where(number < 3.0, 0.0, short)
    return number - short, short


def _why_not(beam: Beam, run: Run, number: Array, total: Array, n_2: Array, rows: Array) -> str:
    if not (total < ENDLESS).all(axis=1).any():
        return (
            f"the section is too small for the bending moment at the {run.face} face: compression bars "
            "cannot help enough"
        )
    maximum = beam.detailing.most_bars
    if maximum is not None and (number > maximum).all():
        return f"the {run.face} bars required are more than the {maximum} that 'most_bars' permits"
    fits = n_2 <= rows
    worst = int((~fits).any(axis=0).argmax()) if (~fits).any() else 0
    zone = run.zones[worst] if run.zones else None
    if zone is None:
        return f"no allowed bars suit the {run.face} face"
    place = f"span {zone.index + 1}" if run.face == "bottom" else f"support {beam.supports[zone.index].name}"
    layers = "1 row" if beam.detailing.layers == 1 else f"{beam.detailing.layers} rows"
    return (
        f"the {run.face} bars that {place} requires do not fit into {layers} of "
        f"{amount(zone.width, 'length')}"
    )
