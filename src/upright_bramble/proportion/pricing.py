"""What candidates cost: steel, fixing, laps, sizes and marks."""

from __future__ import annotations

from collections.abc import Callable

import numpy as np

from upright_bramble.analysis import Forces
from upright_bramble.beam import Beam
from upright_bramble.codes.design_code import DesignCode
from upright_bramble.proportion.candidates import Candidates, Run
from upright_bramble.proportion.curtail import anchorage_of, lap_of, run_limits
from upright_bramble.section.arrays import Array, Mask

SECOND_LENGTH = (0.03, 5.0)  # that a second length has to save: of the face's steel, or kg


LEAN = 0.05  # of what fixing, marks and laps cost, where the least steel is wanted


def cost_of(
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
    for_yield: frozenset[int],
) -> tuple[dict[str, Array], Mask]:
    """Mass, fixing, marks, laps: an estimate, with extra bars as long as they are needed and anchored, for
    their stress or, in some zones, `for_yield`; money by what it is for. And in which zones (c, zones) it is
    cheaper that the extra bars of the first row stop in two steps."""
    rates, per_mm3 = beam.detailing.rates, 7850e-9 * beam.detailing.rates.steel
    x = forces.stations.x[run.where]
    length = run.end - run.start
    pieces = np.maximum(np.ceil(length / beam.detailing.longest_piece), 1.0)
    extra = c.single_extra
    anchored, lapped = (
        by_size(beam, code, run, c.phi_extra, anchorage_of),
        by_size(beam, code, run, c.phi, lap_of),
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

    def reach(local: Array, own: Array, mask: Mask, full: bool, centre: Array) -> tuple[Array, Mask]:
        """Of bars of the area `own` beside `local` (c,), with the anchorage beyond; at the beam's ends no
        farther, but with a leg. And whether they lie over the `centre` of their zone."""
        lacks = needed - local[:, None]
        lacking = (lacks > 1e-6) & mask
        share = 1.0 if full else np.minimum(lacks / np.maximum(own, 1.0)[:, None], 1.0)
        beyond = np.maximum(share * anchored[:, None], unused[:, None])
        first = np.where(lacking, x - beyond, np.inf).min(axis=1)
        last = np.where(lacking, x + beyond, -np.inf).max(axis=1)
        bent = (first < low) * leg + (last > high) * leg
        length = np.where(lacking.any(axis=1), np.minimum(last, high) - np.maximum(first, low) + bent, 0.0)
        return length, np.asarray((first <= centre) & (centre <= last))

    for z, mask in enumerate(masks):
        whole = float(x[mask].max() - x[mask].min())
        full, centre = run.zones[z].index in for_yield, x[mask][needed[:, mask].argmax(axis=1)]
        if run.face == "top":
            support = beam.supports[run.zones[z].index].x
            centre = np.full(len(area), np.clip(support, x[mask].min(), x[mask].max()))
        needed_over, _ = reach(area, total[:, z] * extra, mask, full, centre)
        complete = np.where(carriers[:, z] > 0.0, whole, needed_over)
        steel = steel + total[:, z] * extra * np.where(complete > 0.0, complete, 2.0 * anchored) * per_mm3
        fixing = fixing + total[:, z] * rates.bar
        marks = marks + rates.mark * ((total[:, z] > 0.0) * 1.0 + (n_2[:, z] > 0.0))
        long, short = steps_of(total[:, z] - n_2[:, z])
        less, over = reach(area + long * extra, short * extra, mask, full, centre)
        saved = short * extra * (complete - less) * per_mm3
        face = np.maximum(steel, 1e-9)
        pays = (saved >= SECOND_LENGTH[0] * face) | (saved >= SECOND_LENGTH[1] * rates.steel)
        # two lengths at a place, no more
        split[:, z] = (saved > rates.mark) & (pays | lean) & (n_2[:, z] == 0.0) & (carriers[:, z] == 0.0)
        # where the flange is wider than over the support, its least steel asks for no bars of their own
        split[:, z] &= (beam.detailing.lengths > 1) & over
        steel, marks = steel - saved * split[:, z], marks + rates.mark * split[:, z]
    if lean:  # the rest decides between equals
        fixing, marks, laps = LEAN * fixing, LEAN * marks, LEAN * laps
    return {"steel": steel, "fixing": fixing, "marks": marks, "laps": laps}, split


def by_size(
    beam: Beam, code: DesignCode, run: Run, phi: Array, of: Callable[[Beam, DesignCode, float, str], float]
) -> Array:
    """A length of each candidate's bars (c,), found once a diameter, mm."""
    sizes, where = np.unique(phi, return_inverse=True)
    return np.array([of(beam, code, size, run.face) for size in sizes.tolist()])[where]


def lap_price(beam: Beam, code: DesignCode, c: Candidates) -> Array:
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
