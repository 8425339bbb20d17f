"""From the envelope on centrelines to what sections are designed for: support width, ends taken as simple."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from upright_bramble.analysis.envelope import Envelope
from upright_bramble.analysis.redistribution import delta_of_supports
from upright_bramble.analysis.stations import Stations
from upright_bramble.beam import Beam
from upright_bramble.codes.protocol import DesignCode
from upright_bramble.section.arrays import Array, Mask, window_max_by_span


@dataclass(frozen=True)
class Design:
    """Design moments, not yet shifted, and the shear magnitude at every station.

    `inside` marks stations within a support's width. `end_hogging` is the moment (positive) that a simple end is
    designed for, by support, 0 elsewhere. `delta` (n,) is the ratio of hogging moments after redistribution to before.
    """

    moment_max: Array
    moment_min: Array
    shear: Array
    inside: Mask
    end_hogging: Array
    delta: Array


def design_envelope(
    beam: Beam,
    code: DesignCode,
    at: Stations,
    envelope: Envelope,
    peak_moment: Array,
    peak_reaction: Array,
    elastic_shear: Array | None = None,
) -> Design:
    """Round hogging peaks over plain supports, take fixed ones at the face, give simple ends their hogging.

    `peak_moment`, `peak_reaction` (rows, supports) belong together row by row. With redistribution the larger of elastic
    and redistributed shear counts.
    """
    low = envelope.moment_min.copy()
    inside = np.zeros(len(at), dtype=bool)
    end_hogging = np.zeros(len(beam.supports))
    for s, support in enumerate(beam.supports):
        half = 0.5 * support.width
        for index, span in enumerate(beam.spans):
            if s not in (span.left, span.right):
                continue
            rows = at.of(index)
            within = np.abs(at.x[rows] - support.x) <= half + 1e-6
            inside[rows] |= within
            part = low[rows]
            if support.fixed:
                at_face = np.interp(support.x + (half if span.left == s else -half), at.x[rows], part)
                centre = part[0] if span.left == s else part[-1]
                limit = -float(code.face_moment(np.asarray(-at_face), np.asarray(-centre)))
                # the face value holds within the width; a larger floor holds there too
                low[rows] = np.where(within, np.where(centre < 0.0, limit, part), part)
            elif not support.restrains_rotation:
                rounded = peak_moment[:, s] + code.rounding(peak_reaction[:, s], support.width)
                least = float(np.min(rounded))
                low[rows] = np.where(within & (part < least), least, part)
    for s, index in _simple_ends(beam):
        rows = at.of(index)
        asked = float(code.end_hogging(np.asarray(max(envelope.moment_max[rows].max(), 0.0))))
        end_hogging[s] = asked
        support, face = beam.supports[s], 0.5 * beam.supports[s].width
        near = np.abs(at.x[rows] - support.x) <= face + 1e-6
        low[rows] = np.where(near, np.minimum(low[rows], -asked), low[rows])
    shear = envelope.shear if elastic_shear is None else np.maximum(envelope.shear, elastic_shear)
    nearest = np.abs(at.x[:, None] - np.array([s.x for s in beam.supports])).argmin(axis=1)
    delta = delta_of_supports(beam)[nearest]
    return Design(envelope.moment_max.copy(), low, shear, inside, end_hogging, delta)


def shifted_moments(at: Stations, design: Design, reach: Array) -> tuple[Array, Array]:
    """Sagging and hogging design moments (both >= 0), shifted by `reach` (n,) within each span.

    Inside a support's width sagging is not shifted: bottom bars are anchored from the face there.
    """
    sagging, hogging = np.maximum(design.moment_max, 0.0), np.maximum(-design.moment_min, 0.0)
    moved = window_max_by_span(at.x, at.span, sagging, reach)
    within = design.inside & ~_at_face(at, design)
    return np.where(within, sagging, moved), window_max_by_span(at.x, at.span, hogging, reach)


def _at_face(at: Stations, design: Design) -> Mask:
    """Stations of a support's width that are its face: the next one in the span is outside."""
    inside, same = design.inside, at.span[1:] == at.span[:-1]
    face = np.zeros(len(at), dtype=bool)
    face[1:] |= inside[1:] & ~inside[:-1] & same
    face[:-1] |= inside[:-1] & ~inside[1:] & same
    return face


def _simple_ends(beam: Beam) -> list[tuple[int, int]]:
    """(support, span) of the ends that turn freely and carry no cantilever."""
    found = []
    for s, index, end in ((0, 0, beam.spans[0].left), (len(beam.supports) - 1, len(beam.spans) - 1, beam.spans[-1].right)):
        if end is not None and not beam.supports[s].restrains_rotation:
            found.append((s, index))
    return found


def half_span_peak(beam: Beam, at: Stations, shear: Array) -> Array:
    """Largest shear of the half span that a station lies in, between faces: it sets the strut angle there."""
    peak = np.zeros(len(at))
    for index, span in enumerate(beam.spans):
        rows = at.of(index)
        low, high = beam.clear(index)
        clear = (at.x[rows] >= low - 1e-6) & (at.x[rows] <= high + 1e-6)
        left = at.local[rows] <= 0.5 * span.length
        for side in (left, ~left):
            most = np.max(np.where(clear & side, shear[rows], 0.0), initial=0.0)
            peak[rows] = np.where(side, most, peak[rows])
    return peak


def shear_at_d(beam: Beam, at: Stations, shear: Array, d: Array) -> Array:
    """Shear that stirrups are verified for: no more than at a distance d from the face of a support.

    Not reduced where a point load or a couple stands within d, nor where a line load begins or ends there: the
    rule is for loads spread evenly, and a short heavy strip is a point load by another name (EN 1992-1-1, 6.2.1(8)).
    """
    if beam.given:
        return shear.copy()  # where loads stand is not known
    reduced = shear.copy()
    uneven = _uneven_places(beam)
    for index, span in enumerate(beam.spans):
        rows = at.of(index)
        x = at.x[rows]
        low, high = beam.clear(index)
        for supported, face, sign in ((span.left, low, 1.0), (span.right, high, -1.0)):
            if supported is None:
                continue
            here = int(np.argmin(np.abs(x - face)))
            place = face + sign * float(d[rows][here])
            if not low < place < high:
                continue
            if any(s == index and -1e-6 <= sign * (span.start + a - face) <= abs(place - face) + 1e-6 for s, a in uneven):
                continue
            limit = float(np.interp(place, x, shear[rows]))
            near = sign * (place - x) >= -1e-6
            reduced[rows] = np.where(near, np.minimum(reduced[rows], limit), reduced[rows])
    return reduced


def _uneven_places(beam: Beam) -> list[tuple[int, float]]:
    """Span and place along it (mm) of every force and couple, and of the ends of strips inside a clear span."""
    loads = [p for a in beam.actions for p in a.loads if p.first != 0.0 or p.last != 0.0]
    found = [(p.span, p.start) for p in loads if p.shape != "line"]
    for p in loads:
        if p.shape == "line":
            low, high = beam.clear(p.span)
            start = beam.spans[p.span].start
            found += [(p.span, a) for a in (p.start, p.end) if low + 1e-6 < start + a < high - 1e-6]
    return found
