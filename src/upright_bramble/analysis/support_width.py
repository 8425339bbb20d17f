"""From the envelope on centrelines to what sections are designed for: support width, ends taken as simple."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from upright_bramble.analysis.envelope import Envelope
from upright_bramble.analysis.stations import Stations
from upright_bramble.beam import Beam, ForceLine
from upright_bramble.codes.design_code import DesignCode
from upright_bramble.section.arrays import Array, Mask, window_max_by_span

CHORD = 25.0  # from the cover to the bars' axis, before bars are known, mm


@dataclass(frozen=True)
class Peaks:
    """By row of the strength level: the more hogging moment over each support and its reaction (rows,
    supports); by (span, support) the hogging moments (rows,) that a span would have there with both ends
    fixed."""

    moment: Array
    reaction: Array
    fixed: dict[tuple[int, int], Array]


@dataclass(frozen=True)
class Design:
    """Design moments, not yet shifted, and the magnitudes of shear and torsion at every station.

    `inside` marks stations within a support's width. `end_hogging` is the moment (positive) that a simple end
    is designed for, by support, 0 elsewhere. `delta` (n,) is the ratio of hogging moments after
    redistribution to before. `axial_max` and `axial_min` forces, compression positive.
    """

    moment_max: Array
    moment_min: Array
    shear: Array
    torsion: Array
    inside: Mask
    end_hogging: Array
    delta: Array
    axial_max: Array
    axial_min: Array


def fixed_end_hogging(x: Array, moment: Array, shear: Array) -> tuple[Array, Array]:
    """Hogging moments (rows,) at both ends of a prismatic span held against turning there, from its moment
    line (rows, n): the chord's share is taken off and the free moment's area fixed in."""
    length = x[-1] - x[0]
    slope = (moment[:, -1] - moment[:, 0]) / length
    free, rate = moment - moment[:, :1] - slope[:, None] * x, shear - slope[:, None]
    area, first = _area(x, free, rate), _area(x, x * free, free + x * rate)
    left = 2.0 * (2.0 * length * area - 3.0 * first) / length**2
    right = 2.0 * (3.0 * first - length * area) / length**2
    return left, right


def _area(x: Array, y: Array, rate: Array) -> Array:
    """Integral of y with its derivative known at the stations: exact for cubics."""
    h = np.diff(x)
    return np.asarray(
        (0.5 * h * (y[:, :-1] + y[:, 1:]) + h**2 * (rate[:, :-1] - rate[:, 1:]) / 12.0).sum(axis=1)
    )


def design_envelope(
    beam: Beam,
    code: DesignCode,
    at: Stations,
    envelope: Envelope,
    peaks: Peaks,
    delta: Array,
    elastic: Envelope | None = None,
) -> Design:
    """Round hogging peaks over plain supports, take restrained ones at the face, give simple ends their
    hogging.

    With redistribution the larger of `elastic` and redistributed shear counts, and of moments at least the
    code's share of elastic ones. Nothing is taken off over an indirect support.
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
            if support.restrains_rotation:
                low[rows] = _at_face(code, at.x[rows], part, within, beam, s, index, peaks)
            elif support.direct:
                rounded = peaks.moment[:, s] + code.analysis.peak_reduction(
                    peaks.reaction[:, s], support.width
                )
                lowest = float(np.min(rounded))
                low[rows] = np.where(within & (part < lowest), lowest, part)
    for s, index in _simple_ends(beam):
        rows = at.of(index)
        required = float(code.analysis.end_hogging(np.asarray(max(envelope.moment_max[rows].max(), 0.0))))
        end_hogging[s] = required
        support, face = beam.supports[s], 0.5 * beam.supports[s].width
        near = np.abs(at.x[rows] - support.x) <= face + 1e-6
        low[rows] = np.where(near, np.minimum(low[rows], -required), low[rows])
    shear = _with_inclined_chords(beam, at, envelope)
    high = envelope.moment_max.copy()
    if elastic is not None:
        shear, share = np.maximum(shear, elastic.shear), code.analysis.minimum_elastic_share
        high = np.maximum(high, share * elastic.moment_max)
        low = np.where(inside, low, np.minimum(low, share * elastic.moment_min))
    nearest = np.abs(at.x[:, None] - np.array([s.x for s in beam.supports])).argmin(axis=1)
    return Design(
        high,
        low,
        shear,
        envelope.torsion,
        inside,
        end_hogging,
        delta[nearest],
        *(np.zeros(len(at)) for _ in range(2)),
    )


def _at_face(
    code: DesignCode, x: Array, low: Array, within: Mask, beam: Beam, s: int, index: int, peaks: Peaks
) -> Array:
    """Hogging within the width of a support that restrains the beam: that at its face, or a share of full
    fixity."""
    support, left = beam.supports[s], beam.spans[index].left == s
    centre = float(low[0] if left else low[-1])
    at_face = float(np.interp(support.x + (0.5 if left else -0.5) * support.width, x, low))
    full = float(peaks.fixed[index, s].max()) if (index, s) in peaks.fixed else -centre
    if not np.isfinite(full):  # from extremes: full fixity is not known, and nothing is taken off
        return low
    full = max(full, -centre) if support.fixed else full
    # also where the line gives less: restraint that its stiffness leaves out is there (5.3.2.2(3))
    limit = -float(code.analysis.face_moment(np.asarray(-at_face), np.asarray(max(full, 0.0))))
    return np.where(within, min(limit, 0.0), low)


def _with_inclined_chords(beam: Beam, at: Stations, envelope: Envelope) -> Array:
    """Shear magnitude with what inclined chords of a taper add to it (EN 1992-1-1, 6.2.1(1)); what they take
    off is left."""
    shear = envelope.shear
    if not any(s.tapers for s in beam.spans):
        return shear
    slopes = np.array([((s.becomes or s.profile).depth - s.profile.depth) / s.length for s in beam.spans])
    z = 0.9 * (at.depth - max(beam.cover.top, beam.cover.bottom) - CHORD)
    rate = slopes[at.span] / z  # the force of a chord, M/z, has this much of a component across the beam
    up = np.maximum(np.maximum(-envelope.moment_max * rate, -envelope.moment_min * rate), 0.0)
    down = np.maximum(np.maximum(envelope.moment_max * rate, envelope.moment_min * rate), 0.0)
    return np.asarray(np.maximum(envelope.shear_max + up, -(envelope.shear_min - down)))


def shifted_moments(at: Stations, design: Design, reach: Array) -> tuple[Array, Array]:
    """Sagging and hogging design moments (both >= 0), shifted by `reach` (n,) within each span.

    Inside a support's width sagging is not shifted: bottom bars are anchored from the face there.
    """
    sagging, hogging = np.maximum(design.moment_max, 0.0), np.maximum(-design.moment_min, 0.0)
    moved = window_max_by_span(at.x, at.span, sagging, reach)
    within = design.inside & ~_faces(at, design)
    return np.where(within, sagging, moved), window_max_by_span(at.x, at.span, hogging, reach)


def _faces(at: Stations, design: Design) -> Mask:
    """Stations of a support's width that are its face: the next one in the span is outside."""
    inside, same = design.inside, at.span[1:] == at.span[:-1]
    face = np.zeros(len(at), dtype=bool)
    face[1:] |= inside[1:] & ~inside[:-1] & same
    face[:-1] |= inside[:-1] & ~inside[1:] & same
    return face


def _simple_ends(beam: Beam) -> list[tuple[int, int]]:
    """(support, span) of the ends that turn freely and carry no cantilever."""
    result = []
    for s, index, end in (
        (0, 0, beam.spans[0].left),
        (len(beam.supports) - 1, len(beam.spans) - 1, beam.spans[-1].right),
    ):
        if end is not None and not beam.supports[s].restrains_rotation:
            result.append((s, index))
    return result


def half_span_peak(beam: Beam, at: Stations, shear: Array) -> Array:
    """Largest shear of the half span that a station lies in, between faces: it sets the strut angle there."""
    peak = np.zeros(len(at))
    for index, span in enumerate(beam.spans):
        rows = at.of(index)
        low, high = beam.clear(index)
        clear = (at.x[rows] >= low - 1e-6) & (at.x[rows] <= high + 1e-6)
        left = at.local[rows] <= 0.5 * span.length
        for side in (left, ~left):
            maximum = np.max(np.where(clear & side, shear[rows], 0.0), initial=0.0)
            peak[rows] = np.where(side, maximum, peak[rows])
    return peak


def shear_at_d(beam: Beam, at: Stations, shear: Array, d: Array) -> Array:
    """Shear, (n,) or (sets, n), that stirrups are verified for: no more than at a distance d from the face of
    a support.

    Not reduced where a point load or a couple stands within d, nor where a line load begins or ends there:
    the rule is for loads spread evenly, and a short heavy strip is a point load by another name (EN 1992-1-1,
    6.2.1(8)).
    """
    reduced = shear.copy()
    uneven = _uneven_lines(beam, at, d) if beam.given else _uneven_places(beam)
    for index, span in enumerate(beam.spans):
        rows = at.of(index)
        x = at.x[rows]
        low, high = beam.clear(index)
        for supported, face, sign in ((span.left, low, 1.0), (span.right, high, -1.0)):
            if supported is None or not beam.supports[supported].direct:
                continue
            here = int(np.argmin(np.abs(x - face)))
            place = face + sign * float(d[rows][here])
            if not low < place < high:
                continue
            if any(
                s == index and -1e-6 <= sign * (span.start + a - face) <= abs(place - face) + 1e-6
                for s, a in uneven
            ):
                continue
            limit = _between_stations(place, x, shear[..., rows])
            near = sign * (place - x) >= -1e-6
            reduced[..., rows] = np.where(near, np.minimum(reduced[..., rows], limit), reduced[..., rows])
    return reduced


def _between_stations(place: float, x: Array, values: Array) -> Array:
    """Values (..., 1) at a place between stations x (n,) of one span, of values (..., n) there."""
    j = int(np.clip(np.searchsorted(x, place, side="right"), 1, len(x) - 1))
    share = min(max((place - x[j - 1]) / max(x[j] - x[j - 1], 1e-9), 0.0), 1.0)
    return np.asarray((1.0 - share) * values[..., j - 1 : j] + share * values[..., j : j + 1])


def _uneven_places(beam: Beam) -> list[tuple[int, float]]:
    """Span and place along it (mm) of every force and couple, and of the ends of strips inside a clear
    span."""
    loads = [p for a in beam.actions for p in a.loads if p.first != 0.0 or p.last != 0.0]
    result = [(p.span, p.start) for p in loads if p.shape in ("point", "couple")]
    for p in loads:
        if p.shape == "line":
            low, high = beam.clear(p.span)
            start = beam.spans[p.span].start
            result += [(p.span, a) for a in (p.start, p.end) if low + 1e-6 < start + a < high - 1e-6]
    return result


def _uneven_lines(beam: Beam, at: Stations, d: Array) -> list[tuple[int, float]]:
    """For forces from tables: the faces between which and d the given shear is no straight line, or is not
    known to belong to one set of forces."""
    result = []
    lines = beam.given.get("strength", ())
    for index, span in enumerate(beam.spans):
        low, high = (f - span.start for f in beam.clear(index))
        for face, sign in ((low, 1.0), (high, -1.0)):
            reach = 1.02 * float(np.interp(face, at.local[at.of(index)], d[at.of(index)]))
            if not all(_straight(line, index, face, sign, reach) for line in lines):
                result.append((index, face))
    return result


def _straight(line: ForceLine, index: int, face: float, sign: float, reach: float) -> bool:
    if not line.together:
        return False
    x, v = np.asarray(line.x[index]), np.asarray(line.shear[index])
    low, high = sorted((face, face + sign * reach))
    # the stations within, and the next one at either side
    a, b = (
        max(int(np.searchsorted(x, low, side="right")) - 1, 0),
        min(int(np.searchsorted(x, high, side="left")), len(x) - 1),
    )
    x, v = x[a : b + 1], v[a : b + 1]
    if len(x) < 3 or np.diff(x).min() <= 1e-6:
        return False
    chord = v[0] + (v[-1] - v[0]) * (x - x[0]) / (x[-1] - x[0])
    return bool(np.abs(v - chord).max() <= 1e-3 * max(float(np.abs(v).max()), 1.0))
