"""Steel that sections require for the design moments."""

from __future__ import annotations

import numpy as np

from upright_bramble.analysis import Forces
from upright_bramble.analysis.flanges import compressed, tension_face
from upright_bramble.beam import Beam
from upright_bramble.codes.design_code import DesignCode
from upright_bramble.section.arrays import Array
from upright_bramble.section.strength import required_steel
from upright_bramble.verify.strength import Strength


def required_areas(beam: Beam, code: DesignCode, forces: Forces, strength: Strength) -> dict[str, Array]:
    """Tension steel at both faces for the shifted moments, and compression steel required of the other face,
    mm2."""
    at = forces.stations
    concrete, steel = code.materials.concrete_law(beam.concrete), code.materials.steel_law(beam.bars)
    result: dict[str, Array] = {}
    for face, other, moment, d, d_other, delta in (
        (
            "bottom",
            "top",
            strength.moment_max,
            strength.d_bottom,
            at.depth - strength.d_top,
            np.ones(len(at)),
        ),
        (
            "top",
            "bottom",
            strength.moment_min,
            strength.d_top,
            at.depth - strength.d_bottom,
            forces.design.delta,
        ),
    ):
        limit = code.bending.neutral_axis_limit(beam.concrete, beam.bars, delta)
        tension, compression, _ = required_steel(
            moment / code.bending.usual_factor, compressed(at, face), d, d_other, concrete, steel, limit
        )
        raw = forces.design.moment_max if face == "bottom" else -forces.design.moment_min
        minimum = code.bending.minimum_steel(
            beam.concrete, beam.bars, tension_face(beam, code, at, face, d), tension
        )
        minimum = np.maximum(minimum, beam.detailing.minimum_area(at.width, d))
        result[f"{face}_tension"] = tension
        result[face] = np.where(
            raw > 0.01 * max(float(raw.max()), 1.0), np.maximum(tension, minimum), tension
        )
        result[f"{other}_compression"] = compression
    return result
