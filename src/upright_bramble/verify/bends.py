"""Mandrels that bars are bent on: the minimum of the code, or the next former that spares the concrete inside
the bend."""

from __future__ import annotations

import numpy as np

from upright_bramble.beam import CRANKED, Bar, Beam
from upright_bramble.codes.design_code import DesignCode
from upright_bramble.verify.placement import Placed

FORMERS = (
    32.0,
    40.0,
    48.0,
    64.0,
    80.0,
    100.0,
    125.0,
    140.0,
    160.0,
    200.0,
    250.0,
    300.0,
    350.0,
    400.0,
    500.0,
    600.0,
    700.0,
)
"""Diameters that benders have, mm; the minimum of a code's own table is bent on its own."""
ROUNDED = 10.0  # mm that a leg is longer than it needs to be, by rounding


def mandrels_of(beam: Beam, code: DesignCode, placed: Placed) -> tuple[float, ...]:
    """Mandrel diameter of each group of bars, mm; 0 for straight ones. Pieces of one mark have one, and so
    has all of a size whose legs are long enough for the widest of it."""
    own = [_mandrel(beam, code, placed, g) for g in range(len(placed.bars))]
    by_mark: dict[str, float] = {}
    widest: dict[str, float] = {}
    for bar, size in zip(placed.bars, own, strict=True):
        by_mark[bar.mark] = max(by_mark.get(bar.mark, 0.0), size)
        widest[bar.size] = max(widest.get(bar.size, 0.0), size)
    short = {
        b.mark
        for b, phi in zip(placed.bars, placed.diameter, strict=True)
        if not _room_for(code, b, float(phi), widest[b.size])
    }
    return tuple(
        (by_mark[bar.mark] if bar.mark in short else widest[bar.size]) if size else 0.0
        for bar, size in zip(placed.bars, own, strict=True)
    )


def _room_for(code: DesignCode, bar: Bar, phi: float, mandrel: float) -> bool:
    """Whether the legs of a bar go on straight for 5 diameters past bends of this mandrel."""
    legs = [
        max(leg, code.detailing.minimum_leg(phi, kind))
        for leg, kind in zip(bar.legs, bar.ends, strict=True)
        if kind in ("bend", "hook")
    ]
    return all(leg >= 0.5 * mandrel + 6.0 * phi for leg in legs)


def _mandrel(beam: Beam, code: DesignCode, placed: Placed, g: int) -> float:
    """A wider one than the minimum where the anchorage goes on for more than 5 diameters past the bend, and
    where a bar is bent up."""
    bar, phi = placed.bars[g], float(placed.diameter[g])
    if not {"bend", "hook", CRANKED} & set(bar.ends):
        return 0.0
    minimum, required = 2.0 * code.detailing.bend_radius(phi), 0.0
    steel = code.materials.steel_law(beam.bars).yield_stress
    if CRANKED in bar.ends:  # at yield where it is bent: it is counted on up to there
        beside = beam.cover.sides + placed.tie + 0.5 * phi
        force = code.sizes[bar.size].area * steel
        required = code.detailing.mandrel_for_force(beam.concrete, beam.bars, phi, force, beside)
    for side, kind in enumerate(bar.ends):
        if kind not in ("bend", "hook"):
            continue
        radius = 0.5 * minimum
        straight = max(bar.legs[side], code.detailing.minimum_leg(phi, kind)) - radius - phi
        if straight > 5.0 * phi + ROUNDED:
            along = straight + 0.5 * np.pi * (radius + 0.5 * phi)
            force = code.sizes[bar.size].area * steel * min(along / float(placed.ends_in[g, side]), 1.0)
            beside = beam.cover.sides + placed.tie + 0.5 * phi
            required = max(
                required, code.detailing.mandrel_for_force(beam.concrete, beam.bars, phi, force, beside)
            )
    if required <= minimum + 1e-6:
        return minimum
    return next((size for size in FORMERS if size >= required - 1e-6), float(np.ceil(required / 50.0) * 50.0))
