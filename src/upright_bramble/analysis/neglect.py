"""Small forces that the user has left out: span by span, where they stay below a limit everywhere, and said
so."""

from __future__ import annotations

from dataclasses import replace

import numpy as np

from upright_bramble.analysis.line import Responses
from upright_bramble.analysis.stations import Stations
from upright_bramble.analysis.support_width import Design
from upright_bramble.beam import Beam
from upright_bramble.section.arrays import Array, Mask
from upright_bramble.text import amount

QUANTITY = {"moment": "moment", "torsion": "moment", "axial": "force"}


def without_small(
    beam: Beam, at: Stations, factors: Array, r: Responses
) -> tuple[Responses, tuple[str, ...]]:
    """Responses without torsion, and without axial forces, in spans where the strength level has no more of
    them than the limit.

    `factors` (rows, cases) of the strength level: every set of forces is held against the limit, not their
    sum; where spans are loaded as is worse place by place (`every`), the sum of all cases is.
    """
    notes: list[str] = []
    for kind in ("torsion", "axial"):
        limit, effect = beam.neglect.get(kind, 0.0), getattr(r, kind)
        if limit <= 0.0 or effect is None or not effect.any():
            continue
        sets = np.abs(factors) @ np.abs(effect) if beam.arrangements == "every" else np.abs(factors @ effect)
        small, texts = _small(beam, at, sets.max(axis=0), kind, limit)
        notes += texts
        kept = np.where(small[None, :], 0.0, effect)
        r = (
            replace(r, torsion=kept, twisted=bool(kept.any()))
            if kind == "torsion"
            else replace(r, axial=kept if kept.any() else None)
        )
    return r, tuple(notes)


def without_small_moments(beam: Beam, at: Stations, design: Design) -> tuple[Design, tuple[str, ...]]:
    """Design moments without those of a sense that stay below the limit along a whole span."""
    limit = beam.neglect.get("moment", 0.0)
    if limit <= 0.0:
        return design, ()
    sagging, first = _small(beam, at, np.maximum(design.moment_max, 0.0), "sagging moment", limit)
    hogging, second = _small(beam, at, np.maximum(-design.moment_min, 0.0), "hogging moment", limit)
    high = np.where(sagging, np.minimum(design.moment_max, 0.0), design.moment_max)
    low = np.where(hogging, np.maximum(design.moment_min, 0.0), design.moment_min)
    return replace(design, moment_max=high, moment_min=low), (*first, *second)


def _small(beam: Beam, at: Stations, size: Array, kind: str, limit: float) -> tuple[Mask, list[str]]:
    """Stations (n,) of the spans whose greatest value is small, and what was left out there."""
    small = np.zeros(len(at), dtype=bool)
    notes = []
    quantity = QUANTITY.get(kind, "moment")
    for index, span in enumerate(beam.spans):
        rows = at.of(index)
        most = float(size[rows].max(initial=0.0))
        if 0.0 < most <= limit:
            small[rows] = True
            name = "axial force" if kind == "axial" else kind
            text = (
                f"{name} of span {span.name}, at most {amount(most, quantity)}, is neglected (limit "
                f"{amount(limit, quantity)})"
            )
            notes.append(text)
    return small, notes
