"""The verdict on a layout, with moments redistributed as far as its bars allow."""

from __future__ import annotations

from dataclasses import replace

from upright_bramble.analysis import Forces, at_places
from upright_bramble.analysis.redistribution import delta_for
from upright_bramble.beam import Beam, Layout
from upright_bramble.codes import DesignCode
from upright_bramble.verify import Check, Result, verify
from upright_bramble.verify.stops import stops

FURTHER = 12  # times that a redistribution may be taken back


def judged(beam: Beam, code: DesignCode, forces: Forces, layout: Layout) -> tuple[Forces, Result]:
    """The verdict on a layout, and the forces without the stations where its bars stop. Where moments are
    redistributed as far as allowed, that is as far as these bars allow."""
    result = _at_its_stops(code, forces, layout)
    if beam.redistribution.delta is not None or not beam.redistribution.supports:
        return forces, result
    floors: dict[int, float] = {}
    for _ in range(FURTHER):
        raised = {}
        for check in result.checks:
            s = _support_of(beam, check)
            if (
                check.kind.id == "ductility.hogging"
                and not check.ok
                and s in beam.redistribution.supports
                and forces.delta[s] < 1.0
            ):
                raised[s] = max(delta_for(beam, code, check.demand), float(forces.delta[s]) + 0.01)
        if not raised:
            break
        floors |= {s: min(v, 1.0) for s, v in raised.items()}
        wish = replace(beam.redistribution, floors=tuple(sorted(floors.items())))
        described = replace(forces.beam, redistribution=wish)
        forces = replace(at_places(forces, described, code, ()), beam=forces.beam)
        result = _at_its_stops(code, forces, layout)
    return forces, result


def _at_its_stops(code: DesignCode, forces: Forces, layout: Layout) -> Result:
    """The verdict with stations where bars of the layout count no longer as well: moments are greater there
    than at the next station of the grid."""
    beam = forces.beam
    places = stops(beam, code, layout)
    if places:
        own = beam.redistribution
        known = tuple((s, float(forces.delta[s])) for s in own.supports) if own.delta is None else ()
        described = replace(beam, redistribution=replace(own, floors=known))
        forces = replace(at_places(forces, described, code, places), beam=beam)
    return verify(beam, code, forces, layout)


def _support_of(beam: Beam, check: Check) -> int:
    """Index of the support that a hogging check is about, by its place in the line."""
    names = [s.name for s in beam.supports]
    return names.index(check.place.support) if check.place.support in names else -1
