"""Actions put together: one response a group and loaded span, found once; everything else is arithmetic on arrays."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from upright_bramble.analysis.line import Responses, diagrams, solve
from upright_bramble.analysis.stations import Stations, place_stations
from upright_bramble.analysis.support_width import Design, design_envelope
from upright_bramble.beam import Beam, Load
from upright_bramble.codes.protocol import Combination, DesignCode, Group
from upright_bramble.section.arrays import Array, Index, Mask

# The analysis is linear on gross sections: the modulus scales deflections and meets springs, not the moments of
# rigid lines.


@dataclass(frozen=True)
class Row:
    """One set of forces in equilibrium: a combination under one arrangement."""

    combination: Combination
    arrangement: str


@dataclass(frozen=True)
class Envelope:
    """Largest and smallest of each effect over the rows of one level, and the row (or combination) that makes it.

    Deflections are those of the elastic line on gross sections, downward positive.
    """

    level: str
    labels: tuple[str, ...]
    moment_max: Array
    moment_min: Array
    shear_max: Array
    shear_min: Array
    reaction_max: Array
    reaction_min: Array
    moment_reaction_max: Array
    moment_reaction_min: Array
    moment_max_by: Index
    moment_min_by: Index
    shear_max_by: Index
    shear_min_by: Index
    deflection_max: Array
    deflection_min: Array

    @property
    def shear(self) -> Array:
        """Largest magnitude."""
        return np.maximum(self.shear_max, -self.shear_min)


@dataclass(frozen=True)
class Forces:
    """What the actions do to the line.

    `cases` are the unit responses: all permanent actions first, then each group span by span. `factors[level]`
    (rows, cases) turns them into the level's rows; `rows[level]` says what each row is.
    """

    stations: Stations
    groups: tuple[Group, ...]
    responses: Responses
    rows: dict[str, tuple[Row, ...]]
    factors: dict[str, Array]
    envelopes: dict[str, Envelope]
    design: Design

    def moments(self, level: str) -> Array:
        """Moment lines (rows, n) of a level, each in equilibrium."""
        return self.factors[level] @ self.responses.moment

    def reactions(self, level: str) -> Array:
        return self.factors[level] @ self.responses.reaction


def analyse(beam: Beam, code: DesignCode, modulus: float | None = None) -> Forces:
    """Envelopes of every level of the code.

    Raises UnstableLine when the line is a mechanism.
    """
    groups, cases = _cases(beam)
    if modulus is None:
        modulus = float(code.stages(beam.concrete, beam.service, [beam.spans[0].profile])["short"].modulus[0])
    solved = solve(beam, cases, modulus)
    every = code.combinations(groups)
    combinations = {level: [c for c in every if c.level == level] for level in code.levels}
    arrangements = code.arrangements(len(beam.spans))
    both = {level: _rows(mine, arrangements) for level, mine in combinations.items()}
    rows, factors = {k: v[0] for k, v in both.items()}, {k: v[1] for k, v in both.items()}
    stations = place_stations(beam)
    peaks = _sagging_peaks(beam, stations, list(factors.values()), diagrams(beam, solved, stations))
    stations = place_stations(beam, peaks)
    responses = diagrams(beam, solved, stations)
    envelopes: dict[str, Envelope] = {}
    for level in code.levels:
        if beam.arrangements == "every":
            envelopes[level] = _worst(level, combinations[level], responses, len(beam.spans))
        else:
            envelopes[level] = _envelope(level, rows[level], factors[level], responses)
    strength = code.levels[0]
    hogging = _peak_rows(beam, stations, combinations[strength], factors[strength], responses)
    design = design_envelope(beam, code, stations, envelopes[strength], *hogging)
    return Forces(stations, groups, responses, rows, factors, envelopes, design)


def _cases(beam: Beam) -> tuple[tuple[Group, ...], list[list[Load]]]:
    """All permanent loads as one case; each category of variable action as one group, span by span."""
    permanent = [load for a in beam.actions if a.kind == "permanent" for load in beam.loads(a)]
    keyed: dict[str, list[Load]] = {}
    known: dict[str, Group] = {}
    for action in beam.actions:
        if action.kind == "permanent":
            continue
        key = action.category or action.name
        known.setdefault(key, Group(key, action.kind, action.category))
        keyed.setdefault(key, []).extend(beam.loads(action))
    cases = [permanent]
    for loads in keyed.values():
        cases += [[p for p in loads if p.span == s] for s in range(len(beam.spans))]
    return tuple(known.values()), cases


def _sagging_peaks(beam: Beam, at: Stations, factors: list[Array], r: Responses) -> dict[int, list[float]]:
    """Places of the greatest sagging moment of each span and level, where shear passes zero between stations."""
    found: dict[int, list[float]] = {}
    for f in factors:
        m, v = f @ r.moment, f @ r.shear
        for index in range(len(beam.spans)):
            rows = at.of(index)
            row, column = np.unravel_index(int(m[:, rows].argmax()), m[:, rows].shape)
            shear, x = v[row, rows], at.local[rows]
            for a in (int(column) - 1, int(column)):
                if 0 <= a < len(x) - 1 and shear[a] > 0.0 > shear[a + 1] and x[a + 1] - x[a] > 1e-3:
                    found.setdefault(index, []).append(float(x[a] + (x[a + 1] - x[a]) * shear[a] / (shear[a] - shear[a + 1])))
    return found


def _rows(combinations: list[Combination], arrangements: list[tuple[str, tuple[bool, ...]]]) -> tuple[tuple[Row, ...], Array]:
    """Every combination under every arrangement, each set of factors once."""
    loaded = np.array([where for _, where in arrangements], dtype=float)  # (arrangements, spans)
    groups = len(combinations[0].variable)
    variable = np.array([c.variable for c in combinations], dtype=float).reshape(len(combinations), 1, groups, 1)
    factors = np.empty((len(combinations), len(loaded), 1 + groups * loaded.shape[1]))
    factors[:, :, 0] = np.array([c.permanent for c in combinations])[:, None]
    factors[:, :, 1:] = (variable * loaded[None, :, None, :]).reshape(len(combinations), len(loaded), -1)
    flat = factors.reshape(-1, factors.shape[2])
    _, first = np.unique(flat, axis=0, return_index=True)
    kept = np.sort(first)
    rows = tuple(Row(combinations[i // len(loaded)], arrangements[i % len(loaded)][0]) for i in kept)
    return rows, flat[kept]


def _envelope(level: str, rows: tuple[Row, ...], factors: Array, r: Responses) -> Envelope:
    m, v, w = factors @ r.moment, factors @ r.shear, factors @ r.deflection
    reaction, turning = factors @ r.reaction, factors @ r.moment_reaction
    return Envelope(
        level,
        tuple(f"{row.combination.name}; {row.arrangement}" for row in rows),
        m.max(axis=0), m.min(axis=0), v.max(axis=0), v.min(axis=0),
        reaction.max(axis=0), reaction.min(axis=0), turning.max(axis=0), turning.min(axis=0),
        m.argmax(axis=0), m.argmin(axis=0), v.argmax(axis=0), v.argmin(axis=0), w.max(axis=0), w.min(axis=0),
    )  # fmt: skip


def _case_factors(combination: Combination, spans: int) -> Array:
    return np.concatenate([[combination.permanent], *[np.full(spans, f) for f in combination.variable]])


def _worst(level: str, combinations: list[Combination], r: Responses, spans: int) -> Envelope:
    """Each variable action present span by span wherever it makes the effect worse, place by place."""
    f = np.array([_case_factors(c, spans) for c in combinations])

    def extreme(cases: Array, sign: float) -> Array:
        return f[:, :1] * cases[:1] + sign * (f[:, 1:] @ np.maximum(sign * cases[1:], 0.0))

    high, low = ([extreme(a, sign) for a in (r.moment, r.shear, r.reaction, r.moment_reaction, r.deflection)] for sign in (1.0, -1.0))
    top, least = [a.max(axis=0) for a in high], [a.min(axis=0) for a in low]
    return Envelope(
        level,
        tuple(f"{c.name}; worst spans" for c in combinations),
        top[0], least[0], top[1], least[1], top[2], least[2], top[3], least[3],
        high[0].argmax(axis=0), low[0].argmin(axis=0), high[1].argmax(axis=0), low[1].argmin(axis=0),
        top[4], least[4],
    )  # fmt: skip


def _peak_rows(beam: Beam, at: Stations, combinations: list[Combination], factors: Array, r: Responses) -> tuple[Array, Array]:
    """Rows that make the hogging peaks over supports: moment at each support's stations, and the reaction that
    goes with it. (rows, supports): moments left and right as the more hogging, reactions.

    For `every` the worst spans of each support give one more row a combination.
    """
    columns = [support_stations(beam, at, s) for s in range(len(beam.supports))]
    spans = len(beam.spans)
    if beam.arrangements != "every":
        m = factors @ r.moment
        moments = np.stack([m[:, list(c)].min(axis=1) for c in columns], axis=1)
        return moments, factors @ r.reaction
    moments_, reactions_ = [], []
    for combination in combinations:
        f = _case_factors(combination, spans)
        per_support: list[tuple[float, float]] = []
        for s, c in enumerate(columns):
            effect = r.moment[:, c[0]] if len(c) == 1 else np.minimum(r.moment[:, c[0]], r.moment[:, c[1]])
            used: Mask = effect < 0.0
            used[0] = True
            per_support.append((float((f * used) @ effect), float((f * used) @ r.reaction[:, s])))
        moments_.append([p[0] for p in per_support])
        reactions_.append([p[1] for p in per_support])
    return np.array(moments_), np.array(reactions_)


def support_stations(beam: Beam, at: Stations, support: int) -> tuple[int, ...]:
    """Stations on a support's centreline: of the span to its left, of the span to its right."""
    found = []
    for index, span in enumerate(beam.spans):
        if span.right == support:
            found.append(int(at.first[index + 1]) - 1)
        if span.left == support:
            found.append(int(at.first[index]))
    return tuple(found)
