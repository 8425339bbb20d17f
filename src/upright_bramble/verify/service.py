"""Deflection and cracking with the bars that are there, cracked where cracked."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, replace

import numpy as np

from upright_bramble.analysis import Forces, Stations
from upright_bramble.beam import Beam
from upright_bramble.codes.design_code import DesignCode
from upright_bramble.codes.parts import CrackState, Deflections, Face, Stage
from upright_bramble.section.arrays import Array, between, compact
from upright_bramble.section.cracked import Elastic, cracked, uncracked
from upright_bramble.verify.compatible import settle, twice
from upright_bramble.verify.placement import Placed
from upright_bramble.verify.strength import both_faces


@dataclass(frozen=True)
class CrackedFace:
    """A face in service, (n,): moments that pull it under the `rare` and under the `lasting` level (N mm, 0
    where they press on it), depth of its outermost bars, the `cracked` section and its ratio of moduli."""

    alpha_e: Array
    rare: Array
    lasting: Array
    depth: Array
    cracked: Elastic


@dataclass(frozen=True)
class Serviced:
    """Deflection lines, (rows, n) downward positive, and cracking (n,)."""

    lines: Deflections
    cracking_bottom: CrackState
    cracking_top: CrackState
    bottom: CrackedFace
    top: CrackedFace
    stages: Mapping[str, Stage]
    ask: Lines

    def elastic(self, bottom: bool) -> CrackedFace:
        """What stresses in service are found with."""
        return self.bottom if bottom else self.top


@dataclass(frozen=True)
class ElasticFaces:
    """Elastic sections of one stage, for sagging and for hogging."""

    stage: Stage
    uncracked: tuple[Elastic, Elastic]
    cracked: tuple[Elastic, Elastic]


def verify_service(beam: Beam, code: DesignCode, forces: Forces, placed: Placed) -> Serviced:
    """Deflections of every row of the levels that the code asks for, and cracking of its envelope."""
    at = forces.stations
    size = notional_size(at)
    stages = code.service.stages(beam.concrete, beam.service, size)
    ask = Lines(beam, code, forces, placed, stages)
    pressed = _lasting_stress(code, forces, ask.faces(code.cracking.stage))
    if code.service.nonlinear_creep(beam.concrete, beam.service, pressed).any():
        stages = code.service.stages(beam.concrete, beam.service, size, pressed)
        ask = Lines(beam, code, forces, placed, stages)
    ratio = compression_ratio(beam, at, placed)
    lines = code.deflection.lines(ask, beam.service, ratio)
    settled = ask.faces(code.cracking.stage)
    cracks = _cracks(beam, code, forces, placed, settled)
    faces = [_cracked_face(code, forces, placed, settled, side) for side in (0, 1)]
    return Serviced(lines, cracks[0], cracks[1], faces[0], faces[1], stages, ask)


def _lasting_stress(code: DesignCode, forces: Forces, f: ElasticFaces) -> Array:
    """Greatest compression of the concrete under the lasting level, found with creep in proportion to it,
    (n,), MPa."""
    lasting, rare = forces.envelopes[code.actions.lasting_level], forces.envelopes[code.actions.rare_level]
    result = np.zeros(len(forces.stations))
    for side, moment, worst in (
        (0, np.maximum(lasting.moment_max, 0.0), np.maximum(rare.moment_max, 0.0)),
        (1, np.maximum(-lasting.moment_min, 0.0), np.maximum(-rare.moment_min, 0.0)),
    ):
        never = code.cracking.uncracked_under(
            worst, f.uncracked[side], forces.stations.depth, forces.beam.concrete
        )
        e, u = f.cracked[side], f.uncracked[side]
        result = np.maximum(result, moment * np.where(never, u.x / u.i, e.x / np.maximum(e.i, 1e-9)))
    return np.minimum(result, forces.beam.concrete.strength)  # beyond it strength has failed


LINES = {  # of each check of deflection
    "total": "long_term",
    "upward": "long_term",
    "live": "live",
    "after-finishes": "after_finishes",
    "after-partitions": "after_partitions",
}


class Lines:
    """Deflection lines of one verification, by level and stage; each is found once."""

    def __init__(
        self, beam: Beam, code: DesignCode, forces: Forces, placed: Placed, stages: Mapping[str, Stage]
    ) -> None:
        self.beam, self.code, self.forces, self.placed, self.stages = beam, code, forces, placed, stages
        self._faces: dict[str, ElasticFaces] = {}
        self._found: dict[tuple[object, ...], Array] = {}
        young = self.faces(code.service.early_stage) if code.service.early_stage else None
        if code.service.cracking_level:
            young, envelope = self.faces("short"), forces.envelopes[code.service.cracking_level]
            first = np.stack([envelope.moment_max, envelope.moment_min])
        else:
            first = forces.permanent(beam.service.age_at_loading + 1e-6)[
                0
            ]  # with which it is struck: cracks of that day stay
        self.cracked_before = _cracked_already(code, forces.stations, young, first)
        """Share of the sections (n,) that the striking, or the level of cracking, has cracked, for sagging
        and for hogging."""

    def faces(self, stage: str) -> ElasticFaces:
        """Elastic sections of a stage."""
        if stage not in self._faces:
            own = self.stages[stage]
            # a section is that of any stage with the same modulus
            like = next(
                (f for f in self._faces.values() if np.array_equal(f.stage.modulus, own.modulus)), None
            )
            result = (
                _faces(self.code, self.forces.stations, self.placed, own)
                if like is None
                else replace(like, stage=own)
            )
            self._faces[stage] = result
        return self._faces[stage]

    def __call__(
        self,
        level: str,
        stage: str,
        *,
        lasting: bool = False,
        before: float = np.inf,
        symbol: str = "",  # noqa: ARG002 - for derivations alone
        averaged: bool = False,
        moments: bool = False,
    ) -> Array:
        """As `Ask` says; `averaged`: with one stiffness a span; `moments`: those that the lines are found
        with instead."""
        key = (level, stage, lasting, before, averaged, moments)
        if key not in self._found:
            self._found[key] = self._line(level, stage, lasting, before, averaged, moments)
        return self._found[key]

    def _line(
        self, level: str, stage: str, lasting: bool, before: float, averaged: bool, moments: bool
    ) -> Array:
        beam, code, at, f = self.beam, self.code, self.forces.stations, self.faces(stage)
        if level == "permanent" and before <= 0.0:  # on its formwork
            return np.zeros((1, len(at)))
        m, r, t = (
            self.forces.permanent(before)
            if level == "permanent"
            else _rows(code, self.forces, level, lasting)
        )
        if beam.service.stiffness == "cracked":
            stiff = np.broadcast_to(f.stage.modulus * f.uncracked[0].i, (len(at),))
            e = float(np.mean(f.stage.modulus))  # columns creep as the beam does
            m = settle(
                beam, at, m, lambda v: _curvature(code, f, v, at, self.cracked_before), stiff, e
            ).moments
        if moments:
            return m
        kappa = _curvature(code, f, m, at, self.cracked_before)
        if averaged:
            kappa = m / _mean_stiffness(beam, at, m, kappa, f)
        result = integrate(beam, at, kappa, r, t, self.stages["short"].short_modulus)
        # what was there before is taken off: of several lines, which tables may give, the least
        return result.min(axis=0, keepdims=True) if level == "permanent" and len(result) > 1 else result


def governing_row(lines: Deflections, which: str, i: int, *, upward: bool) -> int:
    """The row of some lines whose deflection is the greatest at a station, downward or upward."""
    values = getattr(lines, which)[:, i]
    return int(values.argmin() if upward else values.argmax())


def stage_at(stage: Stage, stations: int, i: int) -> Stage:
    """A stage at one station."""
    modulus, shrinkage = (
        np.broadcast_to(v, (stations,))[i : i + 1] for v in (stage.modulus, stage.shrinkage)
    )
    return replace(stage, modulus=modulus, shrinkage=shrinkage)


def _cracked_already(
    code: DesignCode, at: Stations, young: ElasticFaces | None, moment: Array
) -> tuple[Array, Array]:
    """Share of the sections (n,) that has cracked for sagging and for hogging when the line was struck."""
    if young is None:
        return np.zeros(len(at)), np.zeros(len(at))
    low, high = moment.min(axis=0), moment.max(axis=0)
    return (
        code.service.cracked_share(np.maximum(high, 0.0), young.uncracked[0], at.depth, young.stage),
        code.service.cracked_share(np.maximum(-low, 0.0), young.uncracked[1], at.depth, young.stage),
    )


def _mean_stiffness(beam: Beam, at: Stations, moments: Array, curvature: Array, f: ElasticFaces) -> Array:
    """One stiffness (rows, n) for each span: the mean of those at mid-span and over the supports that it goes
    on over (the latter's mean); that over the support for a cantilever (ACI 318-19, 24.2.3.6 and
    24.2.3.7)."""
    gross = np.broadcast_to(f.stage.modulus * f.uncracked[0].i, curvature.shape)
    bent = np.abs(moments) > 1e3
    each = np.where(bent, moments / np.where(bent, curvature, 1.0), gross)
    result = np.empty_like(each)
    for index, span in enumerate(beam.spans):
        rows = at.of(index)
        middle = each[:, rows.start + int(np.abs(at.local[rows] - 0.5 * span.length).argmin())]
        ends = [
            each[:, k]
            for s, k in ((span.left, rows.start), (span.right, rows.stop - 1))
            if s is not None and goes_on(beam, index, s)
        ]
        if span.cantilever:
            one = each[:, rows.start if span.left is not None else rows.stop - 1]
        else:
            one = 0.5 * middle + 0.5 * sum(ends, np.zeros_like(middle)) / len(ends) if ends else middle
        result[:, rows] = one[:, None]
    return result


def goes_on(beam: Beam, index: int, s: int) -> bool:
    """Whether a span is continuous over its support `s`: with a span beyond that is no cantilever, or fixed
    there."""
    support, span = beam.supports[s], beam.spans[index]
    beside = index - 1 if span.left == s else index + 1
    on = 0 <= beside < len(beam.spans) and not support.hinge and not beam.spans[beside].cantilever
    return bool(on or support.fixed)


def _cracked_face(
    code: DesignCode, forces: Forces, placed: Placed, f: ElasticFaces, side: int
) -> CrackedFace:
    rare, lasting = (
        forces.envelopes[level] for level in (code.actions.rare_level, code.actions.lasting_level)
    )
    highest, long = ((v.moment_max, -v.moment_min)[side] for v in (rare, lasting))
    depth = placed.outer_depth(side == 0, forces.stations.depth)
    return CrackedFace(
        f.stage.alpha_e, np.maximum(highest, 0.0), np.maximum(long, 0.0), depth, f.cracked[side]
    )


def _rows(code: DesignCode, forces: Forces, level: str, lasting: bool) -> tuple[Array, Array, Array]:
    """Moments, reactions and moments of reactions of a level's rows, or of the part of each row that
    lasts."""
    f, r = forces.factors[level], forces.responses
    if lasting and forces.beam.given:  # the rows of the lasting level's own tables
        f = forces.factors[code.actions.lasting_level]
    elif lasting:
        share = np.array(code.actions.sustained_shares(forces.groups))
        f = f * np.concatenate([[1.0], share[forces.cases.group[1:]]])
    return f @ r.moment, f @ r.reaction, f @ r.moment_reaction


def compression_ratio(beam: Beam, at: Stations, placed: Placed) -> Array:
    """Compression steel over b d that a span's deflection counts on, (n,): at the middle of a span, at a
    cantilever's support."""
    top, bottom = placed.face_area(False, anchored=True), placed.face_area(True, anchored=True)
    result = np.zeros(len(at))
    for index, span in enumerate(beam.spans):
        rows = at.of(index)
        place = 0.5 * span.length if not span.cantilever else (span.length if span.left is None else 0.0)
        i = rows.start + int(np.abs(at.local[rows] - place).argmin())
        area = bottom[i] if span.cantilever else top[i]
        result[rows] = area / (at.width[i] * 0.9 * at.depth[i])
    return result


def notional_size(at: Stations) -> Array:
    """2 A_c / u of each section, all its faces drying, mm."""
    s = at.sections
    return np.asarray(2.0 * s.strips.gross()[0] / s.around)


def _faces(code: DesignCode, at: Stations, placed: Placed, stage: Stage) -> ElasticFaces:
    strips, both, from_face = both_faces(at, placed)
    alpha = np.tile(stage.alpha_e, 2)
    state_1 = uncracked(strips, 0.0 * both if code.service.gross_uncracked else both, from_face, alpha)
    state_2 = cracked(strips, both, from_face, alpha)
    n = len(at)

    def split(e: Elastic) -> tuple[Elastic, Elastic]:
        return e.at(slice(0, n)), e.at(slice(n, 2 * n))

    return ElasticFaces(stage, split(state_1), split(state_2))


def _curvature(
    code: DesignCode, f: ElasticFaces, moment: Array, at: Stations, before: tuple[Array, Array]
) -> Array:
    """Curvature (rows, n), sagging positive; shares `before` of the sections have cracked already."""
    sag = code.service.curvature(
        np.maximum(moment, 0.0), f.uncracked[0], f.cracked[0], at.depth, f.stage, f.stage.lasting, before[0]
    )
    hog = code.service.curvature(
        np.maximum(-moment, 0.0), f.uncracked[1], f.cracked[1], at.depth, f.stage, f.stage.lasting, before[1]
    )
    return np.where(moment >= 0.0, sag, -hog)


def integrate(
    beam: Beam, at: Stations, curvature: Array, reactions: Array, turning: Array, modulus: float
) -> Array:
    """Deflection lines (rows, n), downward positive, from curvature (rows, n), sagging positive.

    Each span between supports is fitted to them (which move by reaction over spring stiffness); a cantilever
    takes the turn of the span behind its support, or of the support itself. Exact for curvature that is a
    parabola along each span.
    """
    rows = len(curvature)
    moved = np.zeros((rows, len(beam.supports)))
    for s, support in enumerate(beam.supports):
        if support.spring_vertical is not None:
            moved[:, s] = -reactions[:, s] / support.spring_vertical
    upward = np.zeros_like(curvature)
    slopes: dict[int, tuple[Array, Array]] = {}
    for index, span in enumerate(beam.spans):
        if span.left is None or span.right is None:
            continue
        part = at.of(index)
        slope, height = twice(at.local[part], curvature[:, part])
        left, right = moved[:, span.left], moved[:, span.right]
        turn = (right - left - height[:, -1]) / span.length
        upward[:, part] = left[:, None] + turn[:, None] * at.local[part] + height
        slopes[index] = (turn, turn + slope[:, -1])
    for index, span in enumerate(beam.spans):
        if not span.cantilever:
            continue
        part = at.of(index)
        here = span.right if span.left is None else span.left
        assert here is not None
        behind = index + 1 if span.left is None else index - 1
        end = 0 if span.left is None else 1
        turn = slopes[behind][end] if behind in slopes else _support_turn(beam, here, turning, modulus)
        if beam.supports[here].fixed:
            turn = np.zeros(rows)
        local, bent = at.local[part], curvature[:, part]
        if span.left is None:  # integrate from the support outwards
            _, height = twice((span.length - local)[::-1], bent[:, ::-1])
            upward[:, part] = moved[:, [here]] - turn[:, None] * (span.length - local) + height[:, ::-1]
        else:
            _, height = twice(local, bent)
            upward[:, part] = moved[:, [here]] + turn[:, None] * local + height
    return -upward


def _support_turn(beam: Beam, support: int, turning: Array, modulus: float) -> Array:
    """Anticlockwise turn of a support that alone holds a cantilever."""
    stiffness = beam.supports[support].rotational_stiffness(modulus)
    return turning[:, support] / stiffness if stiffness else np.zeros(len(turning))


def _cracks(
    beam: Beam, code: DesignCode, forces: Forces, placed: Placed, f: ElasticFaces
) -> tuple[CrackState, CrackState]:
    """CrackState at bottom and top; nothing is asked for where the section never cracks."""
    at = forces.stations
    acting, rare = forces.envelopes[code.cracking.level], forces.envelopes[code.actions.rare_level]
    result: list[CrackState] = []
    for side, moment, worst in (
        (0, np.maximum(acting.moment_max, 0.0), np.maximum(rare.moment_max, 0.0)),
        (1, np.maximum(-acting.moment_min, 0.0), np.maximum(-rare.moment_min, 0.0)),
    ):
        c = code.cracking.judge(
            moment, f.cracked[side], f.stage, crack_face(beam, at, placed, side == 0), beam.service
        )
        never = code.cracking.uncracked_under(worst, f.uncracked[side], at.depth, beam.concrete)
        if code.actions.rare_level in forces.missing:
            never = np.zeros(len(at), dtype=bool)  # whether it cracks is not known: it does
        idle = never | (moment <= 0.0)
        result.append(
            replace(
                c,
                demand=np.where(idle, 0.0, c.demand),
                width=np.where(idle, 0.0, c.width),
                stress=np.where(never, 0.0, c.stress),
            )
        )
    return result[0], result[1]


def crack_face(beam: Beam, at: Stations, placed: Placed, bottom: bool) -> Face:
    """The bars of one face as cracking sees them."""
    face = placed.bottom == bottom
    own, y, phi = compact(
        placed.effective[:, face],
        placed.y[:, face],
        np.broadcast_to(placed.diameter[face], (len(at), face.sum())),
    )
    area = own.sum(axis=1)
    safe = np.where(area > 1e-6, area, 1.0)
    depth = (own * y).sum(axis=1) / safe
    depth = np.where(area > 1e-6, depth if bottom else at.depth - depth, at.depth)
    per_bar = own / np.maximum(np.pi * phi**2 / 4.0, 1e-9)  # bars counted by the share that is anchored
    n_phi, n_phi2 = (per_bar * phi).sum(axis=1), (per_bar * phi**2).sum(axis=1)
    equivalent = np.where(n_phi > 1e-9, n_phi2 / np.where(n_phi > 1e-9, n_phi, 1.0), 1.0)
    cover = (beam.cover.bottom if bottom else beam.cover.top) + placed.tie
    # beyond the bars they control the concrete as far as bars of a row may be apart (EN 1992-1-1, 7.3.4(3))
    controlled = (
        at.width - 2.0 * (beam.cover.sides + placed.tie + 0.5 * equivalent) + 5.0 * (cover + 0.5 * equivalent)
    )
    wide = np.minimum(_width_at(at, bottom), np.maximum(controlled, at.width))
    depths = y if bottom else at.depth[:, None] - y
    return Face(
        b=wide,
        h=at.depth,
        area=np.maximum(area, 1e-6),
        depth=depth,
        phi=equivalent,
        cover=np.full(len(at), cover),
        spacing=_centres(beam, at, placed, bottom),
        outer=placed.outer_depth(bottom, at.depth),
        areas=own,
        depths=depths,
        strength=np.full(len(at), beam.bars.strength),
    )


def _width_at(at: Stations, bottom: bool) -> Array:
    """Width of the section at a face, flange included."""
    s = at.sections
    own = (s.flange_depth > 0.0) & (s.below if bottom else ~s.below)
    return np.where(own, s.flange_width, s.lower if bottom else s.upper)


def _centres(beam: Beam, at: Stations, placed: Placed, bottom: bool) -> Array:
    """Distance of bar centres in the outermost row, (n,)."""
    own = (placed.bottom == bottom) & (placed.layer == 1.0)
    here = placed.present[:, own] > 0.0
    counts = np.array([b.count for b in placed.bars], dtype=float)[own]
    # lapped pieces stand side by side and control cracks like one bar
    doubled = np.zeros(len(at))
    for lap in placed.laps:
        if own[lap.first]:
            doubled[between(at.x, lap.start, lap.end)] += placed.bars[lap.first].count
    number = (here * counts).sum(axis=1) - doubled
    largest = np.where(here, placed.diameter[own], 0.0).max(axis=1, initial=0.0)
    room = at.width - 2.0 * (beam.cover.sides + placed.tie) - largest
    # bars that do not fit in the web stand beside it in the flange, as near to each other as bars may
    beside = (number - 1.0) * (largest + np.maximum(np.maximum(largest, beam.concrete.aggregate + 5.0), 20.0))
    return np.asarray(np.maximum(room, beside) / np.maximum(number - 1.0, 1.0))


def governing_lines(at: Stations, spans: int, lines: Array) -> Array:
    """In each span the deflection line (of one row, so in itself compatible) that has the greatest deflection
    there."""
    result = np.zeros(len(at))
    for index in range(spans):
        part = lines[:, at.of(index)]
        result[at.of(index)] = part[np.abs(part).max(axis=1).argmax()]
    return result
