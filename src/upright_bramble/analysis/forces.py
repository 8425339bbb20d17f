"""Actions put together: one response a group and loaded span, found once; everything else is arithmetic on arrays."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from upright_bramble.analysis.envelope import Envelope, Row, enveloped
from upright_bramble.analysis.given import responses_of, stations_of
from upright_bramble.analysis.line import Responses, diagrams, solve
from upright_bramble.analysis.redistribution import redistribute
from upright_bramble.analysis.stations import Stations, place_stations, support_stations
from upright_bramble.analysis.support_width import Design, design_envelope
from upright_bramble.beam import Action, Beam, Load
from upright_bramble.codes.protocol import Combination, DesignCode, Group
from upright_bramble.section.arrays import Array, Index, Mask

# The analysis is linear on gross sections: the modulus scales deflections and meets springs, not the moments of
# rigid lines.


@dataclass(frozen=True)
class Forces:
    """What the actions do to the line.

    `cases` are the unit responses: all permanent actions first, then each group span by span. `factors[level]`
    (rows, cases) turns them into the level's rows; `rows[level]` says what each row is. `redistributed` is the strength
    envelope after redistribution, where any was asked for; `design` goes on from it. `missing` levels were not given:
    their zeros mean nothing, and what is verified by them is not done.
    """

    stations: Stations
    groups: tuple[Group, ...]
    cases: Cases
    responses: Responses
    rows: dict[str, tuple[Row, ...]]
    factors: dict[str, Array]
    envelopes: dict[str, Envelope]
    design: Design
    redistributed: Envelope | None = None
    missing: tuple[str, ...] = ()

    def moments(self, level: str) -> Array:
        """Moment lines (rows, n) of a level, each in equilibrium."""
        return self.factors[level] @ self.responses.moment

    def elastic_deflection(self, level: str) -> tuple[Array, Array]:
        """Largest and smallest deflection (n,) of the elastic line on gross sections over a level's rows, downward
        positive."""
        lines = self.factors[level] @ self.responses.deflection
        return lines.max(axis=0), lines.min(axis=0)

    def reactions(self, level: str) -> Array:
        return self.factors[level] @ self.responses.reaction


def analyse(beam: Beam, code: DesignCode, modulus: float | None = None) -> Forces:
    """Envelopes of every level of the code.

    Raises UnstableLine when the line is a mechanism.
    """
    if beam.given:
        return _from_tables(beam, code)
    groups, cases = _cases(beam)
    if modulus is None:
        modulus = float(code.stages(beam.concrete, beam.service, [beam.spans[0].profile])["short"].modulus[0])
    solved = solve(beam, cases.loads, modulus, cases.sinking)
    every = combine(beam, code, groups)
    combinations = {level: [c for c in every if c.level == level] for level in code.levels}
    arrangements = code.arrangements(len(beam.spans))
    both = {level: _rows(mine, arrangements, cases) for level, mine in combinations.items()}
    rows, factors = {k: v[0] for k, v in both.items()}, {k: v[1] for k, v in both.items()}
    stations = place_stations(beam)
    peaks = _sagging_peaks(beam, stations, list(factors.values()), diagrams(beam, solved, stations, deflection=False))
    stations = place_stations(beam, peaks)
    responses = diagrams(beam, solved, stations)
    envelopes: dict[str, Envelope] = {}
    for level in code.levels:
        if beam.arrangements == "every":
            envelopes[level] = _worst(level, combinations[level], responses, cases)
        else:
            envelopes[level] = _envelope(level, rows[level], factors[level], responses)
    strength = code.levels[0]
    after = None
    if beam.redistribution.supports:
        after, *hogging = _redistributed(beam, stations, rows[strength], factors[strength], responses)
        design = design_envelope(beam, code, stations, after, hogging[0], hogging[1], envelopes[strength].shear)
    else:
        peaks_ = _peak_rows(beam, stations, combinations[strength], factors[strength], responses, cases)
        design = design_envelope(beam, code, stations, envelopes[strength], *peaks_)
    return Forces(stations, groups, cases, responses, rows, factors, envelopes, design, after)


def _from_tables(beam: Beam, code: DesignCode) -> Forces:
    """Forces given by tables: every line is a case of its own."""
    lines = [line for level in code.levels for line in beam.given.get(level, ())]
    at = stations_of(beam, lines)
    r = responses_of(beam, lines, at)
    rows: dict[str, tuple[Row, ...]] = {}
    factors: dict[str, Array] = {}
    envelopes: dict[str, Envelope] = {}
    start = 0
    for level in code.levels:
        mine = beam.given.get(level, ())
        chosen = np.zeros((max(len(mine), 1), len(lines)))
        chosen[np.arange(len(mine)), start + np.arange(len(mine))] = 1.0
        start += len(mine)
        rows[level] = tuple(Row(Combination(level, line.label, 0.0, ()), "as given") for line in mine) or (
            Row(Combination(level, "not given", 0.0, ()), "as given"),
        )
        factors[level] = chosen
        envelopes[level] = _envelope(level, rows[level], chosen, r)
    strength = code.levels[0]
    moments = factors[strength] @ r.moment
    over = np.stack([moments[:, list(support_stations(beam, at, s))].min(axis=1) for s in range(len(beam.supports))], axis=1)
    design = design_envelope(beam, code, at, envelopes[strength], over, factors[strength] @ r.reaction)
    none = Cases([], np.zeros((0, len(beam.supports))), np.zeros(0, dtype=np.int64), np.zeros(0, dtype=np.int64))
    missing = tuple(level for level in code.levels if level not in beam.given)
    return Forces(at, (), none, r, rows, factors, envelopes, design, None, missing)


@dataclass(frozen=True)
class Cases:
    """Unit cases: all permanent actions first, then each group, span by span or (where it acts whole) as one.

    `sinking` (cases, supports) downward movements; `group` and `span` (cases,) say what each is: -1 for the permanent
    case, and for a case that acts whole.
    """

    loads: list[list[Load]]
    sinking: Array
    group: Index
    span: Index

    def factors(self, combination: Combination, loaded: Array) -> Array:
        """Factors of the cases (arrangements, cases) for spans `loaded` (arrangements, spans)."""
        value = np.concatenate([[combination.permanent], np.array(combination.variable)[self.group[1:]]])
        there = np.where(self.span >= 0, loaded[:, np.maximum(self.span, 0)], 1.0)
        return np.asarray(value * there)


def group_of(action: Action) -> str:
    """Imposed actions of one category count as one; any other action stands for itself."""
    return action.category if action.kind == "imposed" and action.category else action.name


def _cases(beam: Beam) -> tuple[tuple[Group, ...], Cases]:
    permanent = [load for a in beam.actions if a.kind == "permanent" for load in beam.loads(a)]
    keyed: dict[str, list[Load]] = {}
    known: dict[str, Group] = {}
    for action in beam.actions:
        if action.kind == "permanent":
            continue
        key = group_of(action)
        category = action.category if action.kind == "imposed" else None
        known.setdefault(key, Group(key, action.kind, category, action.psi, action.whole))
        keyed.setdefault(key, []).extend(beam.loads(action))
    settled = np.array([s.settles for s in beam.supports])
    if settled.any():
        known["settlement"] = Group("settlement", "settlement", None, None, True)
        keyed["settlement"] = []
    loads, group, span = [permanent], [-1], [-1]
    for number, (key, mine) in enumerate(keyed.items()):
        spans = [-1] if known[key].whole else list(range(len(beam.spans)))
        for index in spans:
            loads.append(mine if index < 0 else [p for p in mine if p.span == index])
            group.append(number)
            span.append(index)
    sinking = np.zeros((len(loads), len(beam.supports)))
    if settled.any():
        sinking[-1] = settled
    return tuple(known.values()), Cases(loads, sinking, np.array(group), np.array(span))


def combine(beam: Beam, code: DesignCode, groups: tuple[Group, ...]) -> list[Combination]:
    """The code's combinations, with those that the user adds or that stand in for a level's."""
    own = []
    keys = [g.key for g in groups]
    for c in beam.combining.added:
        own.append(Combination(c.level, c.name, c.factors.get("permanent", 0.0), tuple(c.factors.get(k, 0.0) for k in keys)))
    replaced = {c.level for c in own} if beam.combining.replace else set()
    return [c for c in code.combinations(groups, beam.combining.rule) if c.level not in replaced] + own


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


def _rows(combinations: list[Combination], arrangements: list[tuple[str, tuple[bool, ...]]], cases: Cases) -> tuple[tuple[Row, ...], Array]:
    """Every combination under every arrangement, each set of factors once."""
    loaded = np.array([where for _, where in arrangements], dtype=float)  # (arrangements, spans)
    flat = np.concatenate([cases.factors(c, loaded) for c in combinations])
    _, first = np.unique(flat, axis=0, return_index=True)
    kept = np.sort(first)
    rows = tuple(Row(combinations[i // len(loaded)], arrangements[i % len(loaded)][0]) for i in kept)
    return rows, flat[kept]


def _envelope(level: str, rows: tuple[Row, ...], factors: Array, r: Responses) -> Envelope:
    effects = (factors @ e for e in (r.moment, r.shear, r.reaction, r.moment_reaction))
    return enveloped(level, rows, *effects)


def _redistributed(beam: Beam, at: Stations, rows: tuple[Row, ...], factors: Array, r: Responses) -> tuple[Envelope, Array, Array]:
    """The strength envelope after redistribution, and by row the hogging moments over supports with their reactions."""
    m, v, reaction = redistribute(beam, at, factors @ r.moment, factors @ r.shear, factors @ r.reaction)
    envelope = enveloped("strength", rows, m, v, reaction, factors @ r.moment_reaction)
    over = [m[:, list(support_stations(beam, at, s))].min(axis=1) for s in range(len(beam.supports))]
    return envelope, np.stack(over, axis=1), reaction


def _worst(level: str, combinations: list[Combination], r: Responses, cases: Cases) -> Envelope:
    """Each variable action present span by span wherever it makes the effect worse, place by place."""
    f = _everywhere(combinations, cases)
    fixed = cases.span < 0  # permanent and whole actions: the combination says whether they are there

    def extreme(effects: Array, sign: float) -> Array:
        return f[:, fixed] @ effects[fixed] + sign * (f[:, ~fixed] @ np.maximum(sign * effects[~fixed], 0.0))

    high, low = ([extreme(a, sign) for a in (r.moment, r.shear, r.reaction, r.moment_reaction)] for sign in (1.0, -1.0))
    top, least = [a.max(axis=0) for a in high], [a.min(axis=0) for a in low]
    return Envelope(
        level,
        tuple(f"{c.name}; worst spans" for c in combinations),
        top[0], least[0], top[1], least[1], top[2], least[2], top[3], least[3],
        high[0].argmax(axis=0), low[0].argmin(axis=0), high[1].argmax(axis=0), low[1].argmin(axis=0),
    )  # fmt: skip


def _everywhere(combinations: list[Combination], cases: Cases) -> Array:
    """Factors (combinations, cases) with every span loaded."""
    loaded = np.ones((1, max(int(cases.span.max()) + 1, 1)))
    return np.concatenate([cases.factors(c, loaded) for c in combinations])


def _peak_rows(
    beam: Beam, at: Stations, combinations: list[Combination], factors: Array, r: Responses, cases: Cases
) -> tuple[Array, Array]:
    """Rows that make the hogging peaks over supports: moment at each support's stations, and the reaction that
    goes with it. (rows, supports): moments left and right as the more hogging, reactions.

    For `every` the worst spans of each support give one more row a combination.
    """
    columns = [support_stations(beam, at, s) for s in range(len(beam.supports))]
    if beam.arrangements != "every":
        m = factors @ r.moment
        moments = np.stack([m[:, list(c)].min(axis=1) for c in columns], axis=1)
        return moments, factors @ r.reaction
    moments_, reactions_ = [], []
    for f in _everywhere(combinations, cases):
        per_support: list[tuple[float, float]] = []
        for s, c in enumerate(columns):
            effect = r.moment[:, c[0]] if len(c) == 1 else np.minimum(r.moment[:, c[0]], r.moment[:, c[1]])
            used: Mask = effect < 0.0
            used |= cases.span < 0
            per_support.append((float((f * used) @ effect), float((f * used) @ r.reaction[:, s])))
        moments_.append([p[0] for p in per_support])
        reactions_.append([p[1] for p in per_support])
    return np.array(moments_), np.array(reactions_)
