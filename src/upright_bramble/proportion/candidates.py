"""Numbers and sizes of bars that may run through and lie beside them, and what of them fits in rows."""

from __future__ import annotations

import math
from collections.abc import Iterable
from dataclasses import dataclass

import numpy as np

from upright_bramble.beam import Beam, Span
from upright_bramble.beam.geometry import maximum_in_row
from upright_bramble.codes.design_code import DesignCode
from upright_bramble.proportion.curtail import develops_at_ends
from upright_bramble.proportion.needs import NoProposal
from upright_bramble.section.arrays import Array, Mask
from upright_bramble.text import amount

VIBRATED, WIDE = 4, 400.0  # bars of a top row without a gap for the vibrator; width that one gap serves, mm
MAXIMUM_THROUGH = 6


LEGS = 1400.0  # of a bar bent at both ends, at most, mm


HANGER = 12.0  # mm: the thinnest bars that run through at the top to hold stirrups


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
    zone to hold it (none: all that run through do); the zones whose extra bars are `anchored` for yield past
    where they are needed."""

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
    anchored: frozenset[int] = frozenset()
    fewer: float = np.inf


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


def candidates_of(beam: Beam, code: DesignCode, run: Run, demand: Demand, tie: float) -> Candidates:
    result: list[tuple[str, int, str]] = []
    numbers = [0] if demand.held_through else []
    cover = min(beam.cover.bottom if run.face == "bottom" else beam.cover.top, beam.cover.sides) + tie
    sizes = _covered(beam, code, beam.detailing.sizes(run.face), cover)
    fewest = max(2, demand.least_number, _within_centres(beam, run, tie))
    thinnest = next((s for s in sizes if code.sizes[s].diameter >= HANGER), "")
    through = sizes
    if run.face == "top" and beam.detailing.hangers:  # whether the others may have that size or not
        through = _covered(beam, code, beam.detailing.hangers, cover)
    every = _covered(beam, code, {*sizes, *through}, cover)
    thin = [s for s in every if code.sizes[s].diameter < demand.below - 1e-6] or every[:1]
    ending = [
        s for s in every if develops_at_ends(beam, code, code.sizes[s].diameter, fewest, tie) and s in thin
    ] or thin[:1]
    for size in through if sizes else ():
        phi = code.sizes[size].diameter
        i = sizes.index(size) if size in sizes else 0
        if size not in ending or (
            run.end - run.start > beam.detailing.longest_piece - LEGS and not code.bond.lap_permitted(phi)
        ):
            continue
        # bars that stop short of the supports need not be as thin as those that have to develop in them
        others = sizes[max(i - 1, 0) : i + 2] if len(ending) == len(every) else sizes[max(i - 1, 0) :]
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
                and len(ending) < len(every)
            ):
                continue
            for extra in [size] if beam.detailing.one_size else others:
                result.append((size, number, extra))
    if not sizes:
        raise NoProposal(_cover_lacking(beam, code, run.face, cover, tie), run.face)
    if not result:
        number = "two bars" if fewest == 2 else f"the {fewest} bars that legs or spacing require"
        raise NoProposal(
            f"not even {number} fit into a width of {amount(run.width, 'length')} inside the cover", run.face
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


def _covered(beam: Beam, code: DesignCode, sizes: Iterable[str], cover: float) -> list[str]:
    """Those that have the cover which their bond asks for, thinnest first."""
    aggregate = beam.concrete.aggregate
    return sorted(
        (s for s in sizes if code.cover.minimum_for_bar(code.sizes[s].diameter, aggregate) <= cover + 1e-6),
        key=lambda s: code.sizes[s].diameter,
    )


def _cover_lacking(beam: Beam, code: DesignCode, face: str, cover: float, tie: float) -> str:
    """That no permitted bar has the cover that its bond asks for, and what the thinnest one would take."""
    thinnest = min(beam.detailing.sizes(face), key=lambda s: code.sizes[s].diameter)
    needed = float(code.cover.minimum_for_bar(code.sizes[thinnest].diameter, beam.concrete.aggregate)) - tie
    return (
        f"the cover of {amount(cover - tie, 'length')} is too small for the bond of any permitted size of "
        f"bar: {code.sizes.label(thinnest)} requires {amount(needed, 'length')}"
    )


def _within_centres(beam: Beam, run: Run, tie: float) -> int:
    """Bars that run through so that their centres are no farther apart than the user wants."""
    if beam.detailing.centres is None:
        return 2
    return (
        math.ceil((run.width - 2.0 * (beam.cover.sides + tie) - HANGER) / beam.detailing.centres - 1e-9) + 1
    )


def row_capacity(beam: Beam, run: Run, c: Candidates, tie: float, gap: Array) -> Array:
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


def rows_up(n_2: Array, below: Array, upper: int) -> Array:
    """How far above the first row the mean of the bars above it lies, in rows, where each holds as many as
    the one below: 1.0 for one."""
    each = np.maximum(below, 1.0)
    integer = np.minimum(np.floor(n_2 / each), upper)
    rest = n_2 - integer * each
    with np.errstate(invalid="ignore"):
        mean = (each * integer * (integer + 1.0) / 2.0 + rest * (integer + 1.0)) / n_2
    return np.asarray(np.where(n_2 > 0.0, mean, 1.0))


def second_share(masks: list[Mask], n_2: Array, total: Array, area: Array, extra: Array, n: int) -> Array:
    """Share of the steel that lies in the second row, (c, stations)."""
    share = np.zeros((len(area), n))
    for z, mask in enumerate(masks):
        amount = area + total[:, z] * extra
        part = np.where(amount > 0.0, n_2[:, z] * extra / np.maximum(amount, 1e-9), 0.0)
        share[:, mask] = part[:, None]
    return share


def extra_numbers(
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
