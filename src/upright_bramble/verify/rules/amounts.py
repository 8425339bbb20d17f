"""Minimum and maximum reinforcement."""

from __future__ import annotations

import numpy as np

from upright_bramble.analysis.flanges import minimum_width, tension_width
from upright_bramble.codes.rules import Place
from upright_bramble.verify.facts import Facts, worst_of
from upright_bramble.verify.result import Check
from upright_bramble.working import shared, tell


def minimum(f: Facts) -> list[Check]:
    """Where the envelope puts a face in tension."""
    found, beam, at = [], f.beam, f.at
    for zone in f.zones:
        provided = f.placed.face_area(zone.bottom, anchored=False)
        d = f.strength.d_bottom if zone.bottom else f.strength.d_top
        wide, mean = minimum_width(beam, f.code, at, zone.face), tension_width(at, zone.face)
        asked = f.required[f"{zone.face}_tension"]
        tell("A_s,req", asked, "mm2", "required for the design moment")
        least = f.code.bending.minimum_steel(beam.concrete, beam.bars, wide, mean, d, asked)
        shared()
        i = worst_of(least / np.maximum(provided, 1e-6), f.in_tension(zone))
        if i is not None:
            tell("A_s", float(provided[i]), "mm2", f.bars_at(i, zone.face))
            found.append(f.check(f"minimum.{zone.face}", zone.place, i, least[i], provided[i]))
    return found


def maximum(f: Facts) -> list[Check]:
    """Everywhere, of each face; told where more than half of it is used."""
    found, at = [], f.at
    most = f.code.bending.maximum_steel(at.sections.strips.gross()[0])
    shared()
    for index in range(len(f.beam.spans)):
        where = f.strength.valid & (at.span == index)
        for face in ("bottom", "top"):
            provided = f.placed.face_area(face == "bottom", anchored=False)
            i = worst_of(provided / most, where)
            if i is not None and provided[i] > 0.5 * most[i]:
                tell("A_s", float(provided[i]), "mm2", f.bars_at(i, face))
                place = Place(span=index, face=face)
                found.append(f.check("maximum.steel", place, i, provided[i], most[i], note=f"{face} face"))
    return found
