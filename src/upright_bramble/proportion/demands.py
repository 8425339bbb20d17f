"""What each run of bars must give: moments, least steel, ends, around what the user holds."""

from __future__ import annotations

import numpy as np

from upright_bramble.analysis import Forces
from upright_bramble.analysis.flanges import bar_width, compressed, tension_face, tension_zone
from upright_bramble.analysis.slab import slab_steel
from upright_bramble.beam import (
    KINK,
    Beam,
    Layout,
    Span,
)
from upright_bramble.codes.design_code import DesignCode
from upright_bramble.proportion import curtail
from upright_bramble.proportion.candidates import Demand, Run, Zone
from upright_bramble.proportion.needs import Needs
from upright_bramble.proportion.start import Start, inside_ends, top_zones
from upright_bramble.section.arrays import Array, Mask
from upright_bramble.section.strength import required_steel


def runs_of(beam: Beam, forces: Forces, face: str, needs: Needs) -> list[Run]:
    """Bottom bars stop in every support, past its face by what the code requires; those that have to be
    continuous go through spans of one profile. Top bars go through all of the line, in its narrowest
    width."""
    at = forces.stations
    outside = inside_ends(beam, at.x)
    groups: list[list[int]] = []
    for i, span in enumerate(beam.spans):
        joined = i > 0 and (face == "top" or (needs.continuous and _alike(beam, beam.spans[i - 1], span)))
        if joined:
            groups[-1].append(i)
        else:
            groups.append([i])
    near, wide = top_zones(beam, forces), bar_width(at, face)
    result = []
    for group in groups:
        where = np.isin(at.span, group) & ~outside
        if face == "bottom":
            zones = [
                Zone(i, where & (at.span == i), float(wide[at.of(i)].min()), needs.crowded.get((face, i), 0))
                for i in group
            ]
        else:
            zones = [
                Zone(
                    s,
                    where & (near == s),
                    float(wide[where & (near == s)].min()),
                    needs.crowded.get((face, s), 0),
                )
                for s in range(len(beam.supports))
                if (where & (near == s)).any()
            ]
        width = min(float(wide[at.of(i)].min()) for i in group)
        result.append(
            Run(face, where, tuple(zones), beam.spans[group[0]].start, beam.spans[group[-1]].end, width)
        )
    return result


def _alike(beam: Beam, before: Span, after: Span) -> bool:
    """Whether bottom bars can go on from one span into the next: no step in soffit or width; round a kink of
    it bent, where bars of the perimeter or of the lateral system have to be continuous."""
    a, b = before.length, 0.0
    return bool(
        abs(before.widths(a) - after.widths(b)) < 1.0
        and abs(before.depths(a) - after.depths(b)) < 1.0
        and (abs(before.slope - after.slope) < KINK or beam.on_perimeter or beam.lateral)
    )


def compression_of(
    beam: Beam, code: DesignCode, forces: Forces, start: Start, needs: Needs
) -> dict[str, float]:
    """Compression steel that the other face's moment asks of each face, through the whole run (the simple
    way)."""
    at = forces.stations
    result = {}
    for face, other in (("bottom", "top"), ("top", "bottom")):
        cover = beam.cover.bottom if other == "bottom" else beam.cover.top
        own = beam.cover.bottom if face == "bottom" else beam.cover.top
        d = at.depth - cover - start.tie - 20.0
        d_2 = np.full(len(at), own + start.tie + 12.0)
        _, required, _ = required_steel(
            np.where(inside_ends(beam, at.x), 0.0, start.moments[other]) / code.bending.usual_factor,
            compressed(at, other),
            d,
            d_2,
            code.materials.concrete_law(beam.concrete),
            code.materials.steel_law(beam.bars),
            code.bending.neutral_axis_limit(
                beam.concrete, beam.bars, forces.design.delta if other == "top" else 1.0
            ),
        )
        finite = required[np.isfinite(required)]
        result[face] = float(finite.max(initial=0.0)) + needs.through.get(face, 0.0)
    return result


def demand_of(
    beam: Beam, code: DesignCode, forces: Forces, run: Run, start: Start, kept: Layout, compression: float
) -> Demand:
    at, design = forces.stations, forces.design
    raw = design.moment_max if run.face == "bottom" else -design.moment_min
    cover = (beam.cover.bottom if run.face == "bottom" else beam.cover.top) + start.tie + 5.0
    d = at.depth - cover
    required = curtail.needed_area(
        beam, code, forces, run.face, start.moments[run.face], np.full(len(at), cover + 5.0), 50.0
    )
    minimum = code.bending.minimum_steel(
        beam.concrete, beam.bars, tension_face(beam, code, at, run.face, d), required
    )
    cracks = code.cracking.minimum_steel(beam.concrete, beam.bars, tension_zone(at, run.face), at.depth)
    minimum = np.maximum(np.maximum(minimum, cracks), beam.detailing.minimum_area(at.width, d))
    tension = _with_next(raw > 0.01 * max(float(raw.max()), 1.0)) & run.where
    held, in_row, throughout = _held(beam, code, forces, run, kept)
    # the minimum over a support or in a span is met there: it does not have to run on through the beam
    least_through = compression - float(held[run.where].min())
    slab = slab_steel(beam, code, at, start.tie) if run.face == "top" else None
    return Demand(
        np.where(run.where, start.moments[run.face], 0.0),
        np.where(tension, minimum, 0.0),
        np.where(run.where & (run.face == "bottom"), start.pulled, 0.0),
        held if slab is None else held + slab.anchored,
        in_row,
        throughout,
        least_through,
    )


def _with_next(where: Mask) -> Mask:
    """With the stations next to these, (n,): what is needed at a place is needed up to where that ends, which
    lies between two stations."""
    return np.asarray(where | np.append(where[1:], False) | np.append(False, where[:-1]))


def _held(beam: Beam, code: DesignCode, forces: Forces, run: Run, kept: Layout) -> tuple[Array, Array, bool]:
    """Area of held bars of this face (anchored share), their number in the first row, and whether they run
    through."""
    x = forces.stations.x
    area, row, throughout = np.zeros(len(x)), np.zeros(len(x)), False
    for bar in kept.bars:
        if bar.face != run.face:
            continue
        phi = code.sizes[bar.size].diameter
        anchorage = curtail.anchorage_of(beam, code, phi, run.face)
        share = np.clip(
            np.minimum(
                (x - bar.start) / anchorage + (bar.ends[0] != "straight"),
                (bar.end - x) / anchorage + (bar.ends[1] != "straight"),
            ),
            0.0,
            1.0,
        )
        area += np.where(
            (x >= bar.start) & (x <= bar.end), bar.count * code.sizes[bar.size].area * share, 0.0
        )
        row += np.where((x >= bar.start) & (x <= bar.end) & (bar.layer == 1), bar.count, 0)
    some = [b for b in kept.bars if b.face == run.face and b.layer == 1 and b.count >= 2]
    if some:
        inner = x[run.where]
        covered = np.zeros(len(inner), dtype=bool)
        for bar in some:
            covered |= (inner >= bar.start - 1e-6) & (inner <= bar.end + 1e-6)
        tip = beam.cover.sides + 1.0
        throughout = bool(covered[(inner > beam.ends[0] + tip) & (inner < beam.ends[1] - tip)].all())
    return area, row, throughout
