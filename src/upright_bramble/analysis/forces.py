"""Actions put together: one response a group and loaded span, found once; everything else is arithmetic on
arrays."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field, replace

import numpy as np

from upright_bramble.analysis.alike import under_all_levels
from upright_bramble.analysis.cases import (
    Cases,
    RowSet,
    cases_of,
    combine,
    distinct,
    permanent_by_age,
    row_extremes,
    row_set,
    senses_of,
    with_absent,
)
from upright_bramble.analysis.envelope import Envelope, Extremes, Row, enveloped, extremes, nothing
from upright_bramble.analysis.flanges import with_flanges
from upright_bramble.analysis.given import responses_of, stations_of
from upright_bramble.analysis.line import Responses, Solved, diagrams, solve
from upright_bramble.analysis.neglect import without_small, without_small_moments
from upright_bramble.analysis.redistribution import deltas_of, redistribute
from upright_bramble.analysis.stations import Stations, by_span, place_stations, support_stations
from upright_bramble.analysis.support_width import Design, Peaks, design_envelope, fixed_end_hogging
from upright_bramble.beam import Beam, Load
from upright_bramble.codes.design_code import DesignCode
from upright_bramble.codes.parts import Combination, Group
from upright_bramble.errors import InternalMismatch
from upright_bramble.section.arrays import Array, Mask

# The analysis is linear on gross sections: the modulus scales deflections and meets springs, not the moments
# of rigid lines.


@dataclass(frozen=True)
class Phase:
    """Permanent actions that are there from one age of the concrete on (days): moments (n,), reactions and
    moments of reactions (supports,)."""

    acts_from: float
    moment: Array
    reaction: Array
    moment_reaction: Array


@dataclass(frozen=True)
class Forces:
    """What the actions do to the line.

    `cases` are the unit responses: all permanent actions first, then each group span by span.
    `factors[level]` (rows, cases) turns them into the level's rows; `rows[level]` says what each row is;
    beside the levels both know the 'permanent' actions alone, where these are known. `redistributed` is the
    strength envelope after redistribution, where any was asked for, and `delta` (supports,) how far; `design`
    goes on from it. `missing` levels were not given: their zeros mean nothing, and what is verified by them
    is not done.
    """

    beam: Beam
    stations: Stations
    groups: tuple[Group, ...]
    cases: Cases
    responses: Responses
    rows: dict[str, tuple[Row, ...]]
    factors: dict[str, Array]
    envelopes: dict[str, Envelope]
    design: Design
    delta: Array
    redistributed: Envelope | None = None
    missing: tuple[str, ...] = ()
    solved: Solved | None = None
    phases: tuple[Phase, ...] = ()
    """The permanent actions one after another, where they do not all act from the first."""
    neglected: tuple[str, ...] = ()
    """What was left out because the user neglects forces so small, in words."""
    alone: dict[object, Array] = field(default_factory=dict, compare=False, repr=False)
    """Shear of single loads by themselves, found when it is first needed."""
    priced: dict[object, float] = field(default_factory=dict, compare=False, repr=False)
    """What stirrups cost that were tried for these forces, by what they were tried with."""
    basis: Basis | None = field(default=None, compare=False, repr=False)
    """None where forces are given by tables."""

    def permanent(self, before: float = np.inf) -> tuple[Array, Array, Array]:
        """Moments (1, n), reactions and moments of reactions (1, supports) of the permanent actions that are
        there before an age (days); nothing where they are not known."""
        r = self.responses
        if self.phases:
            local = [p for p in self.phases if p.acts_from < before]
            return (
                sum((p.moment[None] for p in local), np.zeros_like(r.moment[:1])),
                sum((p.reaction[None] for p in local), np.zeros_like(r.reaction[:1])),
                sum((p.moment_reaction[None] for p in local), np.zeros_like(r.moment_reaction[:1])),
            )
        if "permanent" not in self.factors:
            return (
                np.zeros((1, len(self.stations))),
                np.zeros_like(r.reaction[:1]),
                np.zeros_like(r.moment_reaction[:1]),
            )
        f = self.factors["permanent"]
        return f @ r.moment, f @ r.reaction, f @ r.moment_reaction

    def moments(self, level: str) -> Array:
        """Moment lines (rows, n) of a level, each in equilibrium."""
        return self.factors[level] @ self.responses.moment

    @property
    def acting_together(self) -> tuple[Array, Array, Array] | None:
        """Moment, shear and torsion (rows, n) of the strength sets, each in equilibrium, in the order of the
        envelope's labels. None where the envelope is no longer theirs alone: redistributed, of extremes, of a
        tapering line, or with axial forces."""
        beam, r = self.beam, self.responses
        level = next(iter(self.envelopes))
        extremes = any(not line.together for line in beam.given.get(level, ()))
        if self.redistributed is not None or beam.arrangements == "every" or extremes:
            return None
        if r.axial is not None or any(s.tapers for s in beam.spans):
            return None
        f = self.factors[level]
        return f @ r.moment, f @ r.shear, f @ r.torsion

    def elastic_deflection(self, level: str) -> tuple[Array, Array]:
        """Largest and smallest deflection (n,) of the elastic line on gross sections over a level's rows,
        downward positive; zeros where forces were given."""
        lines = self.factors[level] @ self.elastic_lines()
        return lines.max(axis=0), lines.min(axis=0)

    def elastic_lines(self) -> Array:
        """Deflection (cases, n) of the elastic line under each unit case: found when it is asked for."""
        if self.solved is None:
            return np.zeros_like(self.responses.moment)
        return diagrams(self.solved, self.stations).deflection

    def reactions(self, level: str) -> Array:
        return self.factors[level] @ self.responses.reaction


@dataclass(frozen=True)
class Basis:
    """What an analysis rests on wherever the line is looked at: the solved cases, the combinations and the
    rows of every level, and by span the places of the greatest sagging moments (mm)."""

    groups: tuple[Group, ...]
    cases: Cases
    modulus: float
    solved: Solved
    patterns: Mask
    combinations: dict[str, list[Combination]]
    sets: dict[str, RowSet]
    peaks: dict[int, list[float]]


def analyse(beam: Beam, code: DesignCode, modulus: float | None = None) -> Forces:
    """Envelopes of every level of the code.

    Raises UnstableLine when the line is a mechanism.
    """
    return _analysed(_described(beam, code), code, modulus, ())


def at_places(forces: Forces, beam: Beam, code: DesignCode, places: Sequence[float]) -> Forces:
    """The forces at further `places` along the beam too (mm); of a `beam` that differs from theirs in its
    redistribution alone."""
    if forces.basis is None:
        return _analysed(beam, code, None, places)
    return _looked_at(beam, code, forces.basis, places)


def _described(beam: Beam, code: DesignCode) -> Beam:
    """With what works of its flanges; alike beams under the forces of all their levels, of which the shared
    beam has none itself."""
    beam = with_flanges(beam, code)
    if beam.levels and not beam.given:
        beam = under_all_levels(beam, lambda level: analyse(level, code))
    return beam


def _analysed(beam: Beam, code: DesignCode, modulus: float | None, places: Sequence[float]) -> Forces:
    if beam.given:
        return _from_tables(beam, code, by_span(beam, places))
    return _looked_at(beam, code, _basis(beam, code, modulus), places)


def _basis(beam: Beam, code: DesignCode, modulus: float | None) -> Basis:
    grouped, cases = cases_of(beam, code.actions.permanent_by_span)
    if modulus is None:
        modulus = code.materials.modulus(beam.concrete)
    solved = solve(beam, cases.loads, modulus, cases.sinking)
    names, patterns = distinct(code.analysis.arrangements(len(beam.spans)), cases.loaded(len(beam.spans)))
    stations = place_stations(beam)
    first = diagrams(solved, stations, deflection=False)
    effects = [first.moment, first.shear, first.torsion, first.reaction, first.moment_reaction]
    senses = senses_of(patterns, cases, grouped.parts, effects)
    every = with_absent(combine(beam.combining, code, grouped), grouped.parts, senses)
    combinations = {level: [c for c in every if c.level == level] for level in code.actions.levels}
    sets = {level: row_set(own, names, patterns, cases) for level, own in combinations.items()}
    result = row_extremes(stations, sets, patterns, cases, first.felt, [first.moment])
    moments = {level: found[0] for level, found in result.items()}
    peaks = _sagging_peaks(beam, stations, sets, moments, first)
    return Basis(grouped.parts, cases, modulus, solved, patterns, combinations, sets, peaks)


def _looked_at(beam: Beam, code: DesignCode, basis: Basis, places: Sequence[float]) -> Forces:
    """The analysis at its usual stations and at further places."""
    extra, sets, cases = by_span(beam, places), basis.sets, basis.cases
    for index, own in basis.peaks.items():
        extra.setdefault(index, []).extend(own)
    stations = place_stations(beam, extra)
    r = diagrams(basis.solved, stations, deflection=False)
    r, neglected = without_small(beam, stations, sets[code.actions.levels[0]].factors, r)
    if beam.arrangements == "every":
        envelopes = {level: _worst(level, own, r, cases) for level, own in basis.combinations.items()}
    else:
        envelopes = _envelopes(stations, sets, basis.patterns, cases, r)
    over = loads_over_supports(beam, cases.loads)
    hold_together(beam, stations, {level: rows.factors for level, rows in sets.items()}, envelopes, r, over)
    strength = code.actions.levels[0]
    peaks = _peaks(beam, stations, sets[strength].factors, r)
    delta, after = np.ones(len(beam.supports)), None
    if beam.redistribution.supports:
        delta = deltas_of(beam, code, stations, envelopes[strength])
        after, peaks = _redistributed(beam, stations, sets[strength], r, delta)
        design = design_envelope(beam, code, stations, after, peaks, delta, envelopes[strength])
    else:
        if beam.arrangements == "every":
            peaks = _worst_peaks(beam, stations, basis.combinations[strength], r, cases, peaks)
        design = design_envelope(beam, code, stations, envelopes[strength], peaks, delta)
    design, more = without_small_moments(beam, stations, design)
    rows, factors = {k: s.rows for k, s in sets.items()}, {k: s.factors for k, s in sets.items()}
    rows["permanent"] = (Row(Combination("permanent", "permanent actions", 1.0, ()), "all spans"),)
    factors["permanent"] = np.eye(1, len(cases.loads))
    return Forces(
        beam=beam,
        stations=stations,
        groups=basis.groups,
        cases=cases,
        responses=r,
        rows=rows,
        factors=factors,
        envelopes=envelopes,
        design=design,
        delta=delta,
        redistributed=after,
        missing=(),
        solved=basis.solved,
        phases=_phases(beam, stations, basis.modulus),
        neglected=(*neglected, *more),
        basis=basis,
    )


SAMPLED = 60  # stations at which envelopes are held against their rows


def loads_over_supports(beam: Beam, cases: Sequence[Sequence[Load]]) -> Array:
    """Point loads (cases, supports) that stand on a support's centreline, N: it takes them, and no span
    does."""
    result = np.zeros((len(cases), len(beam.supports)))
    for k, loads in enumerate(cases):
        for p in loads:
            span = beam.spans[p.span]
            for support, x in ((span.left, 0.0), (span.right, span.length)):
                if p.shape == "point" and support is not None and abs(p.start - x) < 2e-6:
                    result[k, support] += p.first
    return result


def hold_together(
    beam: Beam,
    at: Stations,
    factors: dict[str, Array],
    envelopes: dict[str, Envelope],
    r: Responses,
    over: Array,
) -> None:
    """Hold the envelopes of every level against its rows multiplied out, reactions against loads and against
    the jumps of shear.

    `over`: loads on the supports' centrelines. Raises InternalMismatch: an action that is lost on one of
    these ways is found on another.
    """
    size = max(float(np.abs(r.load).max(initial=0.0)), float(np.abs(r.reaction).max(initial=0.0)), 1.0)
    if float(np.abs(r.reaction.sum(axis=1) - r.load).max(initial=0.0)) > 1e-6 * size:
        raise InternalMismatch(
            "internal check failed: reactions do not add up to the loads; no verdict is given"
        )
    for s, support in enumerate(beam.supports):
        left, right = (
            [i for i in support_stations(beam, at, s) if (at.local[i] == 0.0) == begins]
            for begins in (False, True)
        )
        jump = sum((r.shear[:, i] for i in right), np.zeros(len(r.load))) - sum(
            (r.shear[:, i] for i in left), np.zeros(len(r.load))
        )
        if float(np.abs(jump + over[:, s] - r.reaction[:, s]).max(initial=0.0)) > 1e-6 * size:
            raise InternalMismatch(
                f"internal check failed: shear and reaction differ at support {support.name}; no verdict is "
                "given"
            )
    places = np.unique(np.linspace(0, len(at) - 1, min(len(at), SAMPLED)).astype(int))
    for level, f in factors.items():
        e = envelopes[level]
        for name, effect, kept in (
            ("moment", r.moment, e.moment),
            ("shear", r.shear, e.shear_),
            ("torsion", r.torsion, e.torsion_),
        ):
            lines = f @ effect[:, places]
            tiny = 1e-6 * max(float(np.abs(lines).max(initial=0.0)), 1.0)
            if (lines.max(axis=0) > kept.high[places] + tiny).any() or (
                lines.min(axis=0) < kept.low[places] - tiny
            ).any():
                raise InternalMismatch(
                    f"internal check failed: a set of forces leaves the {level} envelope of {name}; no "
                    "verdict is given"
                )


def _phases(beam: Beam, at: Stations, modulus: float) -> tuple[Phase, ...]:
    """None where the permanent actions all act from the first: then they are the first unit case."""
    ages = permanent_by_age(beam)
    if all(age == 0.0 for age, _ in ages):
        return ()
    r = diagrams(
        solve(beam, [loads for _, loads in ages], modulus, np.zeros((len(ages), len(beam.supports)))),
        at,
        deflection=False,
    )
    return tuple(
        Phase(age, r.moment[k], r.reaction[k], r.moment_reaction[k]) for k, (age, _) in enumerate(ages)
    )


def _from_tables(beam: Beam, code: DesignCode, extra: Mapping[int, Sequence[float]]) -> Forces:
    """Forces given by tables: every line is a case of its own; with `extra` stations."""
    levels = [
        level
        for level in (*code.actions.levels, "permanent")
        if level in code.actions.levels or level in beam.given
    ]
    lines = [line for level in levels for line in beam.given.get(level, ())]
    at = stations_of(beam, lines, extra)
    r = responses_of(beam, lines, at)
    strength = code.actions.levels[0]
    first = len(beam.given.get(strength, ()))
    r, neglected = without_small(
        beam, at, np.eye(max(first, 1), len(lines)), r
    )  # the lines of the strength level come first
    rows: dict[str, tuple[Row, ...]] = {}
    factors: dict[str, Array] = {}
    envelopes: dict[str, Envelope] = {}
    start = 0
    for level in levels:
        own = beam.given.get(level, ())
        chosen = np.zeros((max(len(own), 1), len(lines)))
        chosen[np.arange(len(own)), start + np.arange(len(own))] = 1.0
        start += len(own)
        # by action, and of alike beams, lines are combinations that say all
        arrangement = "" if beam.levels or any(a.tables for a in beam.actions) else "as given"
        rows[level] = tuple(Row(Combination(level, line.label, 0.0, ()), arrangement) for line in own) or (
            Row(Combination(level, "not given", 0.0, ()), "as given"),
        )
        factors[level] = chosen
        effects = (chosen @ e for e in (r.moment, r.shear, r.torsion, r.reaction, r.moment_reaction))
        envelopes[level] = enveloped(level, tuple(row.label for row in rows[level]), *effects)
    peaks = _peaks(beam, at, factors[strength], r)
    if not all(line.together for line in beam.given.get(strength, ())):
        # extremes are no set of forces: full fixity is not known, and nothing is taken off where it is asked
        # for
        peaks = replace(peaks, fixed={key: np.full_like(v, np.inf) for key, v in peaks.fixed.items()})
    delta, after = np.ones(len(beam.supports)), None
    envelope = envelopes[strength]
    if beam.redistribution.supports:
        delta = deltas_of(beam, code, at, envelope)
        given = RowSet(
            rows[strength],
            factors[strength],
            factors[strength],
            np.zeros((0, 0)),
            np.zeros(0, dtype=bool),
            np.zeros((0, 0), dtype=np.int64),
        )
        after, peaks = _redistributed(beam, at, given, r, delta)
    design = design_envelope(beam, code, at, after or envelope, peaks, delta, envelope if after else None)
    if r.axial is not None:
        acting = factors[strength] @ r.axial
        design = replace(design, axial_max=acting.max(axis=0), axial_min=acting.min(axis=0))
    design, more = without_small_moments(beam, at, design)
    none = Cases(
        [], np.zeros((0, len(beam.supports))), np.zeros(0, dtype=np.int64), np.zeros(0, dtype=np.int64)
    )
    missing = tuple(level for level in code.actions.levels if level not in beam.given)
    kept = {level: envelopes[level] for level in code.actions.levels}
    return Forces(
        beam=beam,
        stations=at,
        groups=(),
        cases=none,
        responses=r,
        rows=rows,
        factors=factors,
        envelopes=kept,
        design=design,
        delta=delta,
        redistributed=after,
        missing=missing,
        neglected=(*neglected, *more),
    )


def _sagging_peaks(
    beam: Beam, at: Stations, sets: dict[str, RowSet], moments: dict[str, Extremes], r: Responses
) -> dict[int, list[float]]:
    """Places of the greatest sagging moment of each span and level, where shear passes zero between
    stations."""
    result: dict[int, list[float]] = {}
    for level, rows in sets.items():
        for index in range(len(beam.spans)):
            part = at.of(index)
            column = int(moments[level].high[part].argmax())
            row = int(moments[level].high_by[part][column])
            x, here = at.local[part], slice(max(column - 1, 0), column + 2)
            near = np.flatnonzero(r.felt[:, index])
            shear = rows.factors[row, near] @ r.shear[np.ix_(near, np.arange(part.start, part.stop)[here])]
            place = x[here]
            for a in range(len(place) - 1):
                if shear[a] > 0.0 > shear[a + 1] and place[a + 1] - place[a] > 1e-3:
                    peak = place[a] + (place[a + 1] - place[a]) * shear[a] / (shear[a] - shear[a + 1])
                    result.setdefault(index, []).append(float(peak))
    return result


def _envelopes(
    at: Stations, sets: dict[str, RowSet], patterns: Mask, cases: Cases, r: Responses
) -> dict[str, Envelope]:
    effects = [r.moment, r.shear, r.torsion] if r.twisted else [r.moment, r.shear]
    result = row_extremes(at, sets, patterns, cases, r.felt, effects)
    envelopes = {}
    for level, rows in sets.items():
        torsion = result[level][2] if r.twisted else nothing(len(at))
        reaction, turning = rows.factors @ r.reaction, rows.factors @ r.moment_reaction
        envelopes[level] = Envelope(
            level=level,
            labels=tuple(row.label for row in rows.rows),
            moment=result[level][0],
            shear_=result[level][1],
            torsion_=torsion,
            reaction_max=reaction.max(axis=0),
            reaction_min=reaction.min(axis=0),
            moment_reaction_max=turning.max(axis=0),
            moment_reaction_min=turning.min(axis=0),
        )
    return envelopes


def _peaks(beam: Beam, at: Stations, factors: Array, r: Responses) -> Peaks:
    """By row: the more hogging moment over each support and the reaction that goes with it; what the span
    ends would have if they were fixed, where a support restrains them."""
    columns = [support_stations(beam, at, s) for s in range(len(beam.supports))]
    flat = [c for pair in columns for c in (pair[0], pair[-1])]
    m = factors @ r.moment[:, flat]
    fixed: dict[tuple[int, int], Array] = {}
    for index, span in enumerate(beam.spans):
        ends = [s for s in (span.left, span.right) if s is not None and beam.supports[s].restrains_rotation]
        if not ends or span.cantilever:
            continue
        part = at.of(index)
        both = fixed_end_hogging(at.local[part], factors @ r.moment[:, part], factors @ r.shear[:, part])
        fixed |= {(index, s): both[0 if s == span.left else 1] for s in ends}
    return Peaks(np.minimum(m[:, 0::2], m[:, 1::2]), factors @ r.reaction, fixed)


def _redistributed(
    beam: Beam, at: Stations, rows: RowSet, r: Responses, delta: Array
) -> tuple[Envelope, Peaks]:
    """The strength envelope after redistribution, and by row the hogging moments over supports with their
    reactions."""
    f = rows.factors
    m, v, reaction, turning = redistribute(
        beam, at, delta, f @ r.moment, f @ r.shear, f @ r.reaction, f @ r.moment_reaction
    )
    envelope = enveloped(
        "strength", tuple(row.label for row in rows.rows), m, v, f @ r.torsion, reaction, turning
    )
    over = [m[:, list(support_stations(beam, at, s))].min(axis=1) for s in range(len(beam.supports))]
    return envelope, Peaks(np.stack(over, axis=1), reaction, _peaks(beam, at, f, r).fixed)


def _worst(level: str, combinations: list[Combination], r: Responses, cases: Cases) -> Envelope:
    """Each variable action present span by span wherever it makes the effect worse, place by place."""
    f = np.array([cases.factors(c) for c in combinations])
    fixed = cases.span < 0  # permanent and whole actions: the combination says whether they are there

    def worst(effects: Array) -> Extremes:
        if not effects.any():
            return nothing(effects.shape[1])
        fixed_part = f[:, fixed] @ effects[fixed]
        high, low = (
            fixed_part + sign * (f[:, ~fixed] @ np.maximum(sign * effects[~fixed], 0.0))
            for sign in (1.0, -1.0)
        )
        top, bottom = extremes(high), extremes(low)
        return Extremes(top.high, bottom.low, top.high_by, bottom.low_by)

    m, v, t, reaction, turning = (
        worst(e) for e in (r.moment, r.shear, r.torsion, r.reaction, r.moment_reaction)
    )
    labels = tuple(f"{c.name}; worst spans" for c in combinations)
    return Envelope(
        level=level,
        labels=labels,
        moment=m,
        shear_=v,
        torsion_=t,
        reaction_max=reaction.high,
        reaction_min=reaction.low,
        moment_reaction_max=turning.high,
        moment_reaction_min=turning.low,
    )


def _worst_peaks(
    beam: Beam, at: Stations, combinations: list[Combination], r: Responses, cases: Cases, peaks: Peaks
) -> Peaks:
    """For `every`: the worst spans of each support give one row a combination."""
    moments, reactions = [], []
    for c in combinations:
        f = cases.factors(c)
        per_support: list[tuple[float, float]] = []
        for s in range(len(beam.supports)):
            effect = r.moment[:, list(support_stations(beam, at, s))].min(axis=1)
            used = (effect < 0.0) | (cases.span < 0)
            per_support.append((float((f * used) @ effect), float((f * used) @ r.reaction[:, s])))
        moments.append([p[0] for p in per_support])
        reactions.append([p[1] for p in per_support])
    return Peaks(np.array(moments), np.array(reactions), peaks.fixed)
