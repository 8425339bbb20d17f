"""Minimum and maximum reinforcement."""

from __future__ import annotations

import numpy as np

from upright_bramble.analysis.flanges import tension_face
from upright_bramble.codes.rules import Place
from upright_bramble.verify.facts import Facts, worst_of
from upright_bramble.verify.result import Check
from upright_bramble.working import record, shared


def minimum(f: Facts) -> list[Check]:
    """Where the envelope puts a face in tension."""
    result, beam, at = [], f.beam, f.at
    for zone in f.zones:
        provided = f.placed.tension_area(zone.bottom, anchored=False)
        d = f.strength.d_bottom if zone.bottom else f.strength.d_top
        requested = f.required[f"{zone.face}_tension"]
        record("A_s,req", requested, "mm2", "required for the design moment")
        lowest = f.code.bending.minimum_steel(
            beam.concrete, beam.bars, tension_face(beam, f.code, at, zone.face, d), requested
        )
        if beam.detailing.minimum_steel:
            own = beam.detailing.minimum_area(at.width, d)
            record(
                "A_s,own",
                own,
                "mm2",
                f"minimum_steel of the beam file: {beam.detailing.minimum_steel:g} % of b_w d",
            )
            lowest = np.maximum(lowest, own)
        shared()
        i = worst_of(lowest / np.maximum(provided, 1e-6), f.in_tension(zone))
        if i is not None:
            record("A_s", float(provided[i]), "mm2", f.bars_at(i, zone.face))
            result.append(f.check(f"minimum.{zone.face}", zone.place, i, lowest[i], provided[i]))
    return result


def maximum(f: Facts) -> list[Check]:
    """Everywhere, of each face; told where more than half of it is used."""
    result, at = [], f.at
    highest = f.code.bending.maximum_steel(at.sections.strips.gross()[0])
    shared()
    for index in range(len(f.beam.spans)):
        where = f.strength.valid & (at.span == index)
        for face in ("bottom", "top"):
            provided = f.placed.tension_area(face == "bottom", anchored=False)
            i = worst_of(provided / highest, where)
            if i is not None and provided[i] > 0.5 * highest[i]:
                record("A_s", float(provided[i]), "mm2", f.bars_at(i, face))
                place = Place(span=index, face=face)
                result.append(
                    f.check("maximum.steel", place, i, provided[i], highest[i], note=f"{face} face")
                )
    return result
