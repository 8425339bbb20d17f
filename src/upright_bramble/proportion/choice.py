"""Which bars: all sensible groups of one run of a face, with what each would cost.

A run is a stretch over which the same corner bars can go through. Extra bars are added zone by zone: spans at
the bottom, supports at the top. `together` takes the cheapest for the whole beam.
"""

from __future__ import annotations

from collections.abc import Hashable
from dataclasses import dataclass, field, fields, is_dataclass
from functools import cached_property
from typing import Any

import numpy as np

from upright_bramble.analysis import Forces
from upright_bramble.analysis.flanges import compressed
from upright_bramble.beam import Beam
from upright_bramble.codes.design_code import DesignCode
from upright_bramble.proportion.candidates import (
    ENDLESS,
    LEGS,
    Candidates,
    Demand,
    Run,
    candidates_of,
    extra_numbers,
    row_capacity,
    rows_up,
    second_share,
)
from upright_bramble.proportion.curtail import end_share, lap_of
from upright_bramble.proportion.needs import NoProposal
from upright_bramble.proportion.pricing import by_size, cost_of, lap_price
from upright_bramble.section.arrays import Array, Mask
from upright_bramble.section.strength import required_steel
from upright_bramble.text import amount

LAPPED = 3.0  # lap lengths that the longest piece has: with fewer no places for laps are found
KEPT = 128  # weighed runs
STAGGERED = 4.8  # lap lengths of a run in which a second lap keeps clear of one in the middle


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

    @cached_property
    def cost(self) -> Array:
        """Without what sizes cost; infinite where it cannot be built."""
        total = sum(self.parts.values()) + 1e-6 * self.candidates.phi_extra
        return np.where(self.feasible, total, np.inf)

    @cached_property
    def sizes(self) -> tuple[frozenset[str], ...]:
        """Designations that each group uses."""
        c = self.candidates
        through, beside = c.number > 0.0, np.asarray((self.total > 0.0).any(axis=1))
        used = zip(c.size, c.extra, through.tolist(), beside.tolist(), strict=True)
        return tuple(frozenset([size] * a + [extra] * b) for size, extra, a, b in used)

    def choice(self, i: int) -> Choice:
        c, second = self.candidates, self.second[i]
        return Choice(
            c.size[i],
            int(c.number[i]),
            c.extra[i],
            tuple(int(v) for v in self.total[i] - second),
            tuple(int(v) for v in second),
            tuple(bool(v) for v in self.two_steps[i]),
            float(self.cost[i]),
        )


@dataclass(frozen=True)
class Weighings:
    """Runs of one beam that were weighed before, by all that changes on the way: a round of a search asks for
    more in few of them."""

    met: dict[Hashable, Weighed] = field(default_factory=dict)

    def of(
        self, beam: Beam, code: DesignCode, forces: Forces, run: Run, demand: Demand, tie: float
    ) -> Weighed:
        """Raises NoProposal when none fits."""
        at, design = forces.stations, forces.design
        key = (repr(beam.detailing), _identity((at.x, design.delta, run, demand)), tie)
        if key not in self.met:
            if len(self.met) >= KEPT:
                self.met.pop(next(iter(self.met)))
            self.met[key] = weigh(beam, code, forces, run, demand, tie)
        return self.met[key]


def _identity(value: Any) -> Hashable:
    """Equal for equal values; arrays by their bytes."""
    if isinstance(value, np.ndarray):
        return value.tobytes()
    if is_dataclass(value):
        return tuple(_identity(getattr(value, f.name)) for f in fields(value))
    return tuple(map(_identity, value)) if isinstance(value, tuple) else value


def weigh(beam: Beam, code: DesignCode, forces: Forces, run: Run, demand: Demand, tie: float) -> Weighed:
    """All groups of bars of a run. Raises NoProposal when none fits."""
    c = candidates_of(beam, code, run, demand, tie)
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
    full = row_capacity(beam, run, c, tie, gap)  # (c, zones)
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
        share_2 = second_share(masks, n_2 * rows_up(n_2, below, upper), total, area, extra, len(moment))
        before, axis = axis, first[:, None] + share_2 * pitch[:, None]
        moved = (axis != before).any(axis=1)  # steel is worked out anew where the rows are others
        if moved.any():
            tension[moved] = required_steel(
                moment[None, :], block, h - axis[moved], np.full((1, 1), other), concrete, steel, limit
            )[0]
        held_area = demand.held[where]
        acting = np.maximum(np.maximum(tension, demand.pulled[where]) - held_area, 0.0) / ends
        # the least steel is there; what acts has to be anchored as well
        needed = np.maximum(acting, demand.least[where] - held_area)
        total, n_2 = extra_numbers(needed, masks, area, extra, c.number, clear_rows, paired, carriers)
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
    parts, two_steps = cost_of(
        beam, code, forces, run, c, total, n_2, area, needed, masks, carriers, demand.anchored
    )
    parts["laps"] = parts["laps"] * lap_price(beam, code, c)
    spans = at.span[run.where]
    return Weighed(
        run=run,
        spans=(int(spans.min()), int(spans.max())),
        candidates=c,
        total=total,
        second=n_2,
        two_steps=two_steps,
        parts=parts,
        feasible=feasible,
    )


def _laps_fit(beam: Beam, code: DesignCode, run: Run, c: Candidates, gap: Array, tie: float) -> Mask:
    """Whether the pieces of bars that run through stand beside each other where they are lapped, (c,): half
    of them at a time where the run is long enough for two places; both of a pair, which would not be
    symmetrical else, but where the user wants them apart."""
    if run.end - run.start <= beam.detailing.longest_piece - LEGS:
        return np.ones(len(c.phi), dtype=bool)
    lap = by_size(beam, code, run, c.phi, lap_of)
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
