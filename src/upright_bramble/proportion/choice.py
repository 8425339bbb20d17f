"""Which bars: all sensible groups of one run of a face, with what each would cost.

A run is a stretch over which the same corner bars can go through. Extra bars are added zone by zone: spans at the
bottom, supports at the top. `together` takes the cheapest for the whole beam.
"""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from upright_bramble.analysis import Forces
from upright_bramble.analysis.flanges import compressed
from upright_bramble.beam import Beam
from upright_bramble.beam.geometry import maximum_in_row
from upright_bramble.codes.design_code import DesignCode
from upright_bramble.proportion.curtail import develops_at_ends, end_share
from upright_bramble.proportion.needs import NoProposal
from upright_bramble.section.arrays import Array, Mask
from upright_bramble.section.strength import required_steel
from upright_bramble.text import amount

VIBRATOR = 60.0  # clear gap left in a full top row, mm
MAXIMUM_THROUGH = 6
LEGS = 1400.0  # of a bar bent at both ends, at most, mm
ENDLESS = 1e6  # bars of a section that no steel is enough for: more than any row holds


@dataclass(frozen=True)
class Zone:
    """Stations (mask) that one group of extra bars serves; `index` of its span (bottom) or support (top). `crowded`
    bars of others need room in its first row."""

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


@dataclass(frozen=True)
class Demand:
    """At every station (n,): tension moment of this face (shifted, with reserve), least steel, steel that the force
    at simple ends asks for, steel held by the user; of the bars that run through the least area and number, and the diameter that they stay
    below."""

    moment: Array
    least: Array
    pulled: Array
    held: Array
    held_in_row: Array
    held_through: bool
    least_through: float
    least_number: int = 2
    below: float = np.inf


@dataclass(frozen=True)
class Choice:
    """Bars of one run: `through` bars of `size`, and per zone extra bars of `extra_size` in the first and second row; those of a zone's
    first row may stop in `two_steps`."""

    size: str
    through: int
    extra_size: str
    first_row: tuple[int, ...]
    second_row: tuple[int, ...]
    two_steps: tuple[bool, ...]
    cost: float


@dataclass(frozen=True)
class Candidates:
    """Arrays (c,): through diameter, number and area of one, extra diameter and area of one; and their designations."""

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
    """The groups (c,) of a run: extra bars by zone in all and in the second row (c, zones), whether those of a zone's first row
    stop in `two_steps` (c, zones), what each costs by what it is for (money), and whether it can be built."""

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
        whole = sum(self.parts.values()) + 1e-6 * self.candidates.phi_extra
        return np.where(self.feasible, whole, np.inf)

    def sizes(self, i: int) -> frozenset[str]:
        """Designations that a group uses."""
        c = self.candidates
        used = [c.size[i]] * bool(c.number[i]) + [c.extra[i]] * bool(self.total[i].any())
        return frozenset(used)

    def choice(self, i: int) -> Choice:
        c, second = self.candidates, self.second[i]
        return Choice(
            c.size[i], int(c.number[i]), c.extra[i], tuple(int(v) for v in self.total[i] - second), tuple(int(v) for v in second),
            tuple(bool(v) for v in self.two_steps[i]), float(self.cost[i]),
        )  # fmt: skip


def weigh(beam: Beam, code: DesignCode, forces: Forces, run: Run, demand: Demand, tie: float) -> Weighed:
    """All groups of bars of a run. Raises NoProposal when none fits."""
    c = _candidates(beam, code, run, demand, tie)
    at = forces.stations
    concrete, steel = code.materials.concrete_law(beam.concrete), code.materials.steel_law(beam.bars)
    gap = code.detailing.clear_spacing(c.largest, beam.concrete.aggregate)
    cover = beam.cover.bottom if run.face == "bottom" else beam.cover.top
    other = (beam.cover.top if run.face == "bottom" else beam.cover.bottom) + tie + 8.0
    first = cover + tie + 0.5 * c.largest
    second = first + c.largest + gap
    area, extra = c.number * c.single, c.single_extra
    where = run.where
    moment, h = demand.moment[where], at.depth[where]
    block = compressed(at, run.face).at(where)
    shares = {p: end_share(beam, code, run.face, p, at.x[where]) for p in set(c.largest.tolist())}
    limit = code.bending.neutral_axis_limit(beam.concrete, beam.bars, forces.design.delta[where] if run.face == "top" else 1.0)
    rows = _row_capacity(beam, run, c, tie, gap, demand)  # (c, zones)
    clear_rows = np.maximum(rows - np.array([z.crowded for z in run.zones]), 0.0)
    ends = np.array([shares[p] for p in c.largest])
    n_2 = np.zeros((len(c.phi), len(run.zones)))
    total = np.zeros_like(n_2)
    feasible = np.ones(len(c.phi), dtype=bool)
    needed = np.zeros((len(c.phi), int(where.sum())))
    masks = [z.where[where] for z in run.zones]
    for _ in range(3):
        share_2 = _second_share(masks, n_2, total, area, extra, len(moment))
        axis = first[:, None] + share_2 * (second - first)[:, None]
        tension, _, _ = required_steel(moment[None, :], block, h[None, :] - axis, np.full((1, 1), other), concrete, steel, limit)
        required = np.maximum(np.maximum(tension, demand.least[where]), demand.pulled[where])
        needed = np.maximum(required - demand.held[where], 0.0) / ends
        total, n_2 = _extra_numbers(needed, masks, area, extra, c.number, clear_rows)
    feasible &= (n_2 <= rows).all(axis=1)
    if beam.detailing.most_bars is not None:
        feasible &= c.number + total.max(axis=1, initial=0.0) <= beam.detailing.most_bars
    feasible &= (n_2 == 0.0).all(axis=1) | (beam.detailing.layers >= 2)
    feasible &= area + demand.held.min(initial=np.inf, where=where) * demand.held_through >= demand.least_through - 1e-6
    if run.face == "bottom":  # a share of the span's steel goes into the supports: the bars that run through
        highest = area + (total * extra[:, None]).max(axis=1, initial=0.0)
        feasible &= (area >= code.curtailment.bottom_share(_ends_simple(beam, run)) * highest) | demand.held_through
    if run.end - run.start > beam.detailing.stock_length - LEGS:
        # bars that run through are lapped somewhere: their pieces stand there in pairs
        beside = c.number if beam.detailing.laps == "together" else np.ceil(0.5 * c.number)
        wide = np.maximum(code.bond.lap_clear_distance(c.phi, beam.concrete.aggregate) - gap, 0.0) * (beside - 1.0)
        lapped = (c.number + beside) * c.phi + (c.number - 1.0) * gap + wide <= run.width - 2.0 * (beam.cover.sides + tie)
        feasible = feasible & lapped if (feasible & lapped).any() else feasible
    if not feasible.any():
        raise NoProposal(_why_not(beam, run, c.number + total.max(axis=1, initial=0.0), total, n_2, rows), run.face)
    parts, two_steps = _cost(beam, forces, run, c, total, n_2, area, needed, masks)
    parts["laps"] = parts["laps"] * _lap_price(beam, code, c)
    spans = at.span[run.where]
    return Weighed(run, (int(spans.min()), int(spans.max())), c, total, n_2, two_steps, parts, feasible)


def _ends_simple(beam: Beam, run: Run) -> bool:
    """Whether a run of bottom bars ends at a support of the beam's ends that does not restrain rotation."""
    near = [s for s in (beam.supports[0], beam.supports[-1]) if min(abs(s.x - run.start), abs(s.x - run.end)) < 1.0]
    return any(not s.restrains_rotation for s in near)


def _candidates(beam: Beam, code: DesignCode, run: Run, demand: Demand, tie: float) -> Candidates:
    sizes = sorted(beam.detailing.sizes(run.face), key=lambda s: code.sizes[s].diameter)
    result: list[tuple[str, int, str]] = []
    numbers = [0] if demand.held_through else []
    cover = min(beam.cover.bottom if run.face == "bottom" else beam.cover.top, beam.cover.sides) + tie
    sizes = [s for s in sizes if float(code.cover.minimum_for_bar(code.sizes[s].diameter, beam.concrete.aggregate)) <= cover + 1e-6]
    fewest = max(2, demand.least_number)
    thin = [s for s in sizes if code.sizes[s].diameter < demand.below - 1e-6] or sizes[:1]
    ending = [s for s in sizes if develops_at_ends(beam, code, code.sizes[s].diameter, fewest, tie) and s in thin] or thin[:1]
    for i, size in enumerate(sizes):
        phi = code.sizes[size].diameter
        if size not in ending or (run.end - run.start > beam.detailing.stock_length - LEGS and not code.bond.lap_permitted(phi)):
            continue
        # bars that stop short of the supports need not be as thin as those that have to develop in them
        others = sizes[max(i - 1, 0) : i + 2] if len(ending) == len(sizes) else sizes[max(i - 1, 0) :]
        gap = float(code.detailing.clear_spacing(phi, beam.concrete.aggregate))
        maximum = maximum_in_row(run.width, beam.cover.sides, tie, phi, gap)
        for number in [*numbers, *range(fewest, min(maximum, max(MAXIMUM_THROUGH, fewest)) + 1)]:
            if number > fewest and not develops_at_ends(beam, code, phi, number, tie) and len(ending) < len(sizes):
                continue
            for extra in [size] if beam.detailing.one_size else others:
                result.append((size, number, extra))
    if not sizes:
        lacking = f"the cover of {amount(cover - tie, 'length')} is too small for the bond of any permitted size of bar"
        raise NoProposal(lacking, run.face)
    if not result:
        raise NoProposal(f"not even two bars fit into a width of {amount(run.width, 'length')} inside the cover", run.face)
    return Candidates(
        [f[0] for f in result],
        [f[2] for f in result],
        np.array([code.sizes[f[0]].diameter for f in result]),
        np.array([float(f[1]) for f in result]),
        np.array([code.sizes[f[2]].diameter for f in result]),
        np.array([code.sizes[f[0]].area for f in result]),
        np.array([code.sizes[f[2]].area for f in result]),
    )


def _row_capacity(beam: Beam, run: Run, c: Candidates, tie: float, gap: Array, demand: Demand) -> Array:
    """Bars of a candidate's thicker size that fit in one row of each zone, less those held there, (c, zones)."""
    columns = []
    for zone in run.zones:
        taken = demand.held_in_row[zone.where].max(initial=0.0)
        kept = VIBRATOR if run.face == "top" else 0.0
        columns.append(
            [
                max(
                    maximum_in_row(zone.width, beam.cover.sides, tie, float(phi), float(g), max(kept - float(g), 0.0)) - taken,
                    0.0,
                )
                for phi, g in zip(c.largest, gap, strict=True)
            ]
        )
    return np.array(columns).T.reshape(len(c.phi), len(run.zones))


def _second_share(masks: list[Mask], n_2: Array, total: Array, area: Array, extra: Array, n: int) -> Array:
    """Share of the steel that lies in the second row, (c, stations)."""
    share = np.zeros((len(area), n))
    for z, mask in enumerate(masks):
        amount = area + total[:, z] * extra
        part = np.where(amount > 0.0, n_2[:, z] * extra / np.maximum(amount, 1e-9), 0.0)
        share[:, mask] = part[:, None]
    return share


def _extra_numbers(needed: Array, masks: list[Mask], area: Array, extra: Array, through: Array, rows: Array) -> tuple[Array, Array]:
    """Extra bars of each zone, and how many of them go to the second row: none, or at least two."""
    total, second = [], []
    for z, mask in enumerate(masks):
        required = needed[:, mask].max(axis=1, initial=0.0) - area
        with np.errstate(invalid="ignore"):
            number = np.where(required > 1e-6, np.ceil(required / extra - 1e-9), 0.0)
        number = np.minimum(number, ENDLESS)
        over = np.maximum(number - np.maximum(rows[:, z] - through, 0.0), 0.0)
        lifted = np.where(over == 1.0, 2.0, over)
        total.append(number + lifted - over)
        second.append(lifted)
    return np.array(total).T.reshape(len(area), -1), np.array(second).T.reshape(len(area), -1)


def _cost(
    beam: Beam,
    forces: Forces,
    run: Run,
    c: Candidates,
    total: Array,
    n_2: Array,
    area: Array,
    needed: Array,
    masks: list[Mask],
) -> tuple[dict[str, Array], Mask]:
    """Mass, fixing, marks, laps: an estimate, with extra bars as long as they are needed and anchored; money by what it is for.
    And in which zones (c, zones) it is cheaper that the extra bars of the first row stop in two steps."""
    rates, per_mm3 = beam.detailing.rates, 7850e-9 * beam.detailing.rates.steel
    x = forces.stations.x[run.where]
    length = run.end - run.start
    pieces = np.maximum(np.ceil(length / beam.detailing.stock_length), 1.0)
    extra = c.single_extra
    steel, fixing, laps = area * length * per_mm3, c.number * pieces * rates.bar, (pieces - 1.0) * c.number * rates.lap
    marks, split = pieces * rates.mark, np.zeros(total.shape, dtype=bool)

    def reach(local: Array, mask: Mask) -> Array:
        lacking = (needed > local[:, None] + 1e-6) & mask
        first, last = np.where(lacking, x, np.inf).min(axis=1), np.where(lacking, x, -np.inf).max(axis=1)
        return np.where(last >= first, last - first, 0.0)

    for z, mask in enumerate(masks):
        whole = reach(area, mask)
        ends = 2.0 * 40.0 * c.phi_extra
        steel = steel + total[:, z] * extra * (whole + ends) * per_mm3
        fixing = fixing + total[:, z] * rates.bar
        marks = marks + rates.mark * ((total[:, z] > 0.0) * 1.0 + (n_2[:, z] > 0.0))
        long, short = steps_of(total[:, z] - n_2[:, z])
        less = reach(area + long * extra, mask)
        saved = short * extra * (whole - less) * per_mm3
        split[:, z] = saved > rates.mark
        steel, marks = steel - saved * split[:, z], marks + rates.mark * split[:, z]
    return {"steel": steel, "fixing": fixing, "marks": marks, "laps": laps}, split


def _lap_price(beam: Beam, code: DesignCode, c: Candidates) -> Array:
    """What a lap costs with the stirrups across it, as a multiple of what it costs without."""
    rates, size = beam.detailing.rates, min(beam.detailing.stirrup_bars, key=lambda s: code.sizes[s].diameter)
    around = 2.0 * (beam.spans[0].deepest + beam.spans[0].narrowest)
    each = rates.stirrup + around * code.sizes[size].area * 7850e-9 * rates.steel
    required = np.array([code.bond.lap_stirrups(phi, 1.0) for phi in c.phi.tolist()])
    more = np.where(required > 0.0, np.ceil(required / code.sizes[size].area) * each + rates.mark, 0.0)
    return 1.0 + more / np.maximum(c.number * rates.lap, 1e-9)


def steps_of(number: Array) -> tuple[Array, Array]:
    """Bars that go the whole length, and bars that stop earlier, of a row that stops in two steps."""
    short = np.floor(0.5 * np.asarray(number))
    return number - short, short


def _why_not(beam: Beam, run: Run, number: Array, total: Array, n_2: Array, rows: Array) -> str:
    if not (total < ENDLESS).all(axis=1).any():
        return f"the section is too small for the bending moment at the {run.face} face: compression bars cannot help enough"
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
    return f"the {run.face} bars that {place} requires do not fit into {layers} of {amount(zone.width, 'length')}"
