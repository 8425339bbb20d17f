"""Unit cases, and the rows made of them: every combination under every arrangement."""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from dataclasses import dataclass

import numpy as np

from upright_bramble.analysis.envelope import Extremes, Row, nothing
from upright_bramble.analysis.stations import Stations
from upright_bramble.beam import Action, Beam, Load
from upright_bramble.codes.protocol import Combination, DesignCode, Group
from upright_bramble.section.arrays import Array, Index, Mask

Arrangement = tuple[str, tuple[bool, ...]]
AT_A_TIME = 400  # stations enveloped at a time: what far spans do is then left out


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

    def factors(self, combination: Combination) -> Array:
        """Factors (cases,) with every span loaded."""
        return np.concatenate([[combination.permanent], np.array(combination.variable)[self.group[1:]]])

    def loaded(self, spans: int) -> Mask:
        """(spans,) that any arranged case loads."""
        found = np.zeros(spans, dtype=bool)
        for load, span in zip(self.loads, self.span, strict=True):
            if span >= 0 and load:
                found[span] = True
        return found


def group_of(action: Action) -> str:
    """Imposed actions of one category count as one; any other action stands for itself."""
    return action.category if action.kind == "imposed" and action.category else action.name


def cases_of(beam: Beam) -> tuple[tuple[Group, ...], Cases]:
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
        by_span: list[list[Load]] = [[] for _ in beam.spans]
        for load in mine:
            by_span[load.span].append(load)
        for index, there in [(-1, mine)] if known[key].whole else enumerate(by_span):
            loads.append(there)
            group.append(number)
            span.append(index)
    sinking = np.zeros((len(loads), len(beam.supports)))
    if settled.any():
        sinking[-1] = settled
    return tuple(known.values()), Cases(loads, sinking, np.array(group), np.array(span))


def permanent_by_age(beam: Beam) -> list[tuple[float, list[Load]]]:
    """Loads of the permanent actions by the age of the concrete from which they are there, the first ones first."""
    found: dict[float, list[Load]] = {}
    for action in beam.actions:
        if action.kind == "permanent":
            found.setdefault(action.acts_from, []).extend(beam.loads(action))
    return sorted(found.items(), key=lambda item: item[0])


def combine(beam: Beam, code: DesignCode, groups: tuple[Group, ...]) -> list[Combination]:
    """The code's combinations, with those that the user adds or that stand in for a level's."""
    own = []
    keys = [g.key for g in groups]
    for c in beam.combining.added:
        own.append(Combination(c.level, c.name, c.factors.get("permanent", 0.0), tuple(c.factors.get(k, 0.0) for k in keys)))
    replaced = {c.level for c in own} if beam.combining.replace else set()
    return [c for c in code.combinations(groups, beam.combining.rule) if c.level not in replaced] + own


@dataclass(frozen=True)
class RowSet:
    """The rows of a level: which combination and which arrangement each is, and its factors (rows, cases).

    `chosen` (combinations, cases) factors with every span loaded; `arranged` marks combinations that differ by arrangement.
    """

    rows: tuple[Row, ...]
    factors: Array
    chosen: Array
    arranged: Mask
    number: Index
    """(combinations, arrangements): the number of the row."""


def distinct(arrangements: Sequence[Arrangement], loaded: Mask) -> tuple[list[str], Mask]:
    """Names and patterns (arrangements, spans) of the arrangements that differ on loaded spans."""
    patterns = np.array([where for _, where in arrangements], dtype=bool)
    first = _first_of_each(patterns[:, loaded])
    return [arrangements[int(i)][0] for i in first], patterns[first]


def _first_of_each(patterns: Mask) -> Index:
    """Rows (in order) that repeat no earlier one."""
    if not patterns.shape[1]:
        return np.zeros(1, dtype=np.int64)
    _, first = np.unique(np.packbits(patterns, axis=1), axis=0, return_index=True)
    return np.sort(first)


def row_set(combinations: Sequence[Combination], names: Sequence[str], patterns: Mask, cases: Cases) -> RowSet:
    """Every combination under every arrangement that makes a difference to it."""
    used = np.array([bool(load) for load in cases.loads])
    mine = (cases.span >= 0) & used
    there = np.where(cases.span >= 0, patterns[:, np.maximum(cases.span, 0)], True)  # (arrangements, cases)
    empty: Mask = np.logical_not(there[:, mine].any(axis=1))
    chosen = np.array([np.where(used | (cases.span < 0), cases.factors(c), 0.0) for c in combinations])
    arranged = ((chosen != 0.0) & mine).any(axis=1)
    bare = {np.where(mine, 0.0, chosen[k]).tobytes(): -1 for k in range(len(chosen))}
    number = np.zeros((len(chosen), len(names)), dtype=np.int64)
    rows: list[Row] = []
    picked: list[tuple[int, int]] = []
    for k in sorted(range(len(chosen)), key=lambda i: bool(arranged[i])):
        base = np.where(mine, 0.0, chosen[k]).tobytes()
        for a in range(len(names)) if arranged[k] else [0]:
            alone = bool(empty[a]) or not arranged[k]
            if alone and bare[base] >= 0:
                number[k, a] = bare[base]
                continue
            number[k, a] = len(rows)
            bare[base] = len(rows) if alone else bare[base]
            rows.append(Row(combinations[k], names[a]))
            picked.append((k, a))
        if not arranged[k]:
            number[k] = number[k, 0]
    which = np.array(picked)
    return RowSet(tuple(rows), chosen[which[:, 0]] * np.where(mine, there[which[:, 1]], True), chosen, arranged, number)


def row_extremes(
    at: Stations, sets: dict[str, RowSet], patterns: Mask, cases: Cases, felt: Mask, effects: Sequence[Array]
) -> dict[str, list[Extremes]]:
    """Extremes of each effect (cases, n) over the rows of every level.

    Some spans at a time: of the arrangements only what is felt there counts, so that few differ, and the time of a long line
    grows with its length.
    """
    n = len(at)
    found = {level: [nothing(n) for _ in effects] for level in sets}
    groups = sorted(set(cases.group[cases.span >= 0].tolist()))
    whole = np.flatnonzero(cases.span < 0)
    loaded = np.array([bool(load) for load in cases.loads])
    for low, high in _stretches(at):
        places = slice(int(at.first[low]), int(at.first[high]))
        near = felt[:, low:high].any(axis=1) & loaded
        columns = [np.flatnonzero(near & (cases.group == g) & (cases.span >= 0)) for g in groups]
        spans = np.unique(np.concatenate([cases.span[c] for c in columns])) if columns else np.zeros(0, dtype=np.int64)
        which = _first_of_each(patterns[:, spans])
        for position, effect in enumerate(effects):
            here = effect[:, places]
            sums = np.array([patterns[which][:, cases.span[c]].astype(float) @ here[c] for c in columns])
            for level, rows in sets.items():
                _fill(found[level][position], places, rows, which, groups, cases, sums, rows.chosen[:, whole] @ here[whole])
    return found


def _fill(target: Extremes, places: slice, rows: RowSet, which: Index, groups: list[int], cases: Cases, sums: Array, base: Array) -> None:
    """Extremes at some stations: `sums` (groups, arrangements, n) of each group, `base` (combinations, n) of what is whole."""
    first = np.array([np.flatnonzero((cases.group == g) & (cases.span >= 0))[0] for g in groups], dtype=np.int64)
    k = np.flatnonzero(rows.arranged)
    values, labels = [base[~rows.arranged]], [np.stack([np.flatnonzero(~rows.arranged), np.zeros((~rows.arranged).sum(), dtype=int)])]
    if len(k):
        lines = np.tensordot(rows.chosen[np.ix_(k, first)], sums, axes=1) + base[k][:, None, :]
        values.append(lines.reshape(-1, lines.shape[2]))
        labels.append(np.stack([np.repeat(k, len(which)), np.tile(which, len(k))]))
    flat, name = np.concatenate(values), np.concatenate(labels, axis=1)
    number = rows.number[name[0], name[1]]
    top, bottom = flat.argmax(axis=0), flat.argmin(axis=0)
    columns = np.arange(flat.shape[1])
    target.high[places], target.low[places] = flat[top, columns], flat[bottom, columns]
    target.high_by[places], target.low_by[places] = number[top], number[bottom]


def _stretches(at: Stations) -> Iterator[tuple[int, int]]:
    """Spans taken together: (first, last + 1)."""
    low = 0
    for index in range(len(at.first) - 1):
        if at.first[index + 1] - at.first[low] >= AT_A_TIME or index == len(at.first) - 2:
            yield low, index + 1
            low = index + 1
