"""Rules of CSA A23.3 that other codes do not have, or have with other numbers: the force of both chords,
development at points of inflection, top bars past them, ties of bars in compression."""

from __future__ import annotations

from collections.abc import Mapping
from typing import TYPE_CHECKING

import numpy as np

from upright_bramble.codes.csa_a23.curtailment import beyond_inflection, development_limit
from upright_bramble.codes.csa_a23.shear import (
    chord_force,
    effective_shear_depth,
    limited_chord_force,
    with_forces,
)
from upright_bramble.codes.csa_a23.symbols import CSA
from upright_bramble.codes.parts import ActingSets
from upright_bramble.codes.rules import CheckKind, Place, Rule, if_fails, worst_of
from upright_bramble.codes.shared_rules import (
    INFLECTION,
    LEGS,
    TOP_GOES_ON,
    compression_legs,
    inflection,
    top_past_inflection,
)
from upright_bramble.section.arrays import Array, Mask, greatest_by_group
from upright_bramble.working import clause, record, recording, shared

if TYPE_CHECKING:
    from upright_bramble.verify.facts import Facts
    from upright_bramble.verify.result import Check

SLIGHT = 0.02  # of the greatest force of a cantilever, that its tip needs no bars for
CHORDS = tuple(
    CheckKind(
        f"chord-force.{face}",
        "anchorage",
        f"force of the {face} bars with what shear pulls",
        "force",
        face,
        lesson="bending",
    )
    for face in ("bottom", "top")
)


def own_rules(v: Mapping[str, float]) -> tuple[Rule, ...]:
    """In the order of the rules."""
    return (
        Rule("chord forces", 62, CHORDS, lambda f: chord_forces(f, v)),
        Rule("legs for compression bars", 101, (LEGS,), lambda f: compression_legs(f, held_bars)),
        Rule("past inflection", 121, (TOP_GOES_ON,), lambda f: top_past_inflection(f, beyond_inflection)),
        Rule("inflection", 122, (INFLECTION,), lambda f: inflection(f, development_limit)),
    )


@clause(CSA, "7.6.5.5", "legs", "corner bars and every other one between them", "")
def held_bars(number: Array) -> Array:
    """Bars of a row in compression that ties hold at a corner: those in the corners and every other one
    between them."""
    return np.asarray(np.floor(0.5 * np.asarray(number, dtype=float)) + 1.0)


def _away(f: Facts, index: int, d_v: Array) -> Mask:
    """Stations of a span no nearer to the faces of its direct supports than d_v."""
    span, x = f.beam.spans[index], f.at.x
    low, high = f.beam.clear(index)
    result = np.ones(len(x), dtype=bool)
    for s, distance in ((span.left, x - low), (span.right, high - x)):
        if s is not None and f.beam.supports[s].direct:
            result &= distance >= d_v - 1e-6
    return result


def _at_tip(f: Facts, index: int, d_v: Array, force: Array) -> Mask:
    """Where a cut at theta leaves the beam through its free end face, and next to nothing pulls: the last
    millimetres of the bars."""
    span, x, ends = f.beam.spans[index], f.at.x, f.beam.ends
    result = np.zeros(len(x), dtype=bool)
    for support, distance in ((span.left, x - ends[0]), (span.right, ends[1] - x)):
        if support is None:
            result |= distance < 0.5 * d_v
    return result & (force < SLIGHT * greatest_by_group(force, f.at.span))


def _governing_chord(f: Facts, signed: Array, sign: float, d_v: Array, pull: Array) -> ActingSets:
    """Of every station the set of forces that pulls a face most (n,); the extremes of all where sets are not
    known."""
    s, acting = f.strength, f.acting_sets
    if acting is None:
        return ActingSets(signed, s.shear_demand, np.asarray(s.web.twisting), s.web.a_sl)
    with recording():  # of many sets: what is told is told of the governing ones
        own = f.code.shear.state(
            f.beam.concrete, f.beam.stirrups, with_forces(s.web, acting), s.spare, s.shear.cot
        )
        force = chord_force(
            np.minimum(sign * acting.moment, signed), d_v, pull, acting.shear, own.stirrups, own.cot
        )
    worst, columns = force.argmax(axis=0), np.arange(force.shape[1])
    m, v, t, area = (getattr(acting, k)[worst, columns] for k in ("moment", "shear", "twisting", "area"))
    return ActingSets(np.minimum(sign * m, signed), v, t, area)


def chord_forces(f: Facts, v: Mapping[str, float]) -> list[Check]:
    """11.3.9: by span and face, the bars as far as they are developed against M_f/d_v and what shear
    pulls."""
    result: list[Check] = []
    s, design, at = f.strength, f.forces.design, f.at
    d_v = effective_shear_depth(s.d_shear, at.depth)
    pull = -design.axial_min
    for bottom, signed in ((True, design.moment_max), (False, -design.moment_min)):
        face = "bottom" if bottom else "top"
        acting = _governing_chord(f, signed, 1.0 if bottom else -1.0, d_v, pull)
        own = f.code.shear.state(
            f.beam.concrete, f.beam.stirrups, with_forces(s.web, acting), s.spare, s.shear.cot
        )
        force = chord_force(acting.moment, d_v, pull, acting.shear, own.stirrups, own.cot)
        greatest = greatest_by_group(signed, at.span)
        # a force beside a direct support needs no more than where the moment of the span is greatest
        # (11.3.9.4)
        limited = np.where(greatest > 1e3, limited_chord_force(force, greatest, d_v, pull), 0.0)
        provided = f.placed.face_area(bottom, anchored=True) * v["phi_s"] * f.beam.bars.strength
        shared()
        for index in range(len(f.beam.spans)):
            where = f.clear_span(index) & s.valid & (limited > 1e3) & ~_at_tip(f, index, d_v, limited)
            if not bottom:  # nearer to a support than d_v sections are as at d_v (11.3.2)
                where &= _away(f, index, d_v)
            i = worst_of(limited / np.maximum(provided, 1.0), where)
            if i is None:
                continue
            record(
                "F_r",
                float(provided[i]),
                "N",
                "factored resistance of the bars as they are developed at this place",
            )
            note = if_fails("more bars that go on further, or more stirrups", bool(limited[i] > provided[i]))
            place = Place(span=index, face=face)
            result.append(
                f.check(f"chord-force.{face}", place, i, float(limited[i]), float(provided[i]), note=note)
            )
    return result
