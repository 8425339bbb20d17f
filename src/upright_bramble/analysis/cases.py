"""Unit cases, and the rows made of them: every combination under every arrangement."""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from dataclasses import dataclass, replace

import numpy as np

from upright_bramble.analysis.envelope import Extremes, Row, nothing
from upright_bramble.analysis.stations import Stations
from upright_bramble.beam import Action, Beam, Combining, Load
from upright_bramble.codes.design_code import DesignCode
from upright_bramble.codes.parts import Combination, Group
from upright_bramble.section.arrays import Array, Index, Mask

Arrangement = tuple[str, tuple[bool, ...]]
AT_A_TIME = 400  # stations enveloped at a time: what far spans do is then left out


@dataclass(frozen=True)
class Cases:
    """Unit cases: all permanent actions first, then each group, span by span or (where it acts whole) as one.

    `sinking` (cases, supports) downward movements; `group` and `span` (cases,) say what each is: -1 for the
    permanent case, and for a case that acts whole.
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
        result = np.zeros(spans, dtype=bool)
        for load, span in zip(self.loads, self.span, strict=True):
            if span >= 0 and load:
                result[span] = True
        return result


@dataclass(frozen=True)
class Grouped:
    """Variable actions as the code combines them (`families`), and as they may stay away by themselves
    (`parts`): a family whose loads stand on both sides of the web has a part a side. `family` (parts,) is the
    family of each part."""

    families: tuple[Group, ...]
    parts: tuple[Group, ...]
    family: Index


def group_of(action: Action) -> str:
    """Imposed actions of one category count as one; any other action stands for itself."""
    return action.category if action.kind == "imposed" and action.category else action.name


SIDES = {-1: "left of the web", 0: "over the web", 1: "right of the web"}


def cases_of(beam: Beam, arranged: str = "") -> tuple[Grouped, Cases]:
    """Unit cases of a beam's actions; permanent ones once more span by span where the code names a part of
    them so (`arranged`)."""
    permanent = [load for a in beam.actions if a.kind == "permanent" for load in beam.loads(a)]
    keyed: dict[str, list[Load]] = {}
    known: dict[str, Group] = {}
    for action in beam.actions:
        if action.kind == "permanent":
            continue
        key = group_of(action)
        category = action.category if action.kind == "imposed" else None
        either = action.either_way or (key in known and known[key].either_way)
        known[key] = Group(key, action.kind, category, action.psi, action.acts_as_one, either)
        keyed.setdefault(key, []).extend(beam.loads(action))
    if arranged and permanent:
        known[arranged] = Group(arranged, "permanent", None)
        keyed[arranged] = list(permanent)
    settled = np.array([s.settles for s in beam.supports])
    if settled.any():
        known["settlement"] = Group("settlement", "settlement", None, None, True)
        keyed["settlement"] = []
    parts: list[Group] = []
    loads, group, span, family = [permanent], [-1], [-1], []
    for number, (key, own) in enumerate(keyed.items()):
        for part, of_part in _parts(known[key], own):
            by_span: list[list[Load]] = [[] for _ in beam.spans]
            for load in of_part:
                by_span[load.span].append(load)
            for index, local in [(-1, of_part)] if part.acts_as_one else enumerate(by_span):
                loads.append(local)
                group.append(len(parts))
                span.append(index)
            parts.append(part)
            family.append(number)
    sinking = np.zeros((len(loads), len(beam.supports)))
    if settled.any():
        sinking[-1] = settled
    return Grouped(tuple(known.values()), tuple(parts), np.array(family, dtype=np.int64)), Cases(
        loads, sinking, np.array(group), np.array(span)
    )


def _parts(group: Group, loads: list[Load]) -> list[tuple[Group, list[Load]]]:
    """One part; a part for each side of the web where loads stand on both."""
    sides = {load.side for load in loads}
    if group.acts_as_one or not {-1, 1} <= sides:
        return [(group, loads)]
    return [
        (replace(group, key=f"{group.key}, {SIDES[s]}"), [p for p in loads if p.side == s])
        for s in sorted(sides)
    ]


def permanent_by_age(beam: Beam) -> list[tuple[float, list[Load]]]:
    """Loads of the permanent actions by the age of the concrete from which they are there, the first ones
    first."""
    result: dict[float, list[Load]] = {}
    for action in beam.actions:
        if action.kind == "permanent":
            result.setdefault(action.acts_from, []).extend(beam.loads(action))
    return sorted(result.items(), key=lambda item: item[0])


def combine(combining: Combining, code: DesignCode, grouped: Grouped) -> list[Combination]:
    """The code's combinations, with those that the user adds or that stand in for a level's; factors
    (parts,)."""
    own = []
    families = grouped.families
    for c in combining.added:
        factors = tuple(c.factors.get(g.key, 0.0) for g in families)
        own.append(Combination(c.level, c.name, c.factors.get("permanent", 0.0), factors))
    replaced = {c.level for c in own} if combining.replace else set()
    every = [c for c in code.actions.combinations(families, combining.rule) if c.level not in replaced] + own
    return [replace(c, variable=tuple(c.variable[k] for k in grouped.family)) for c in every]


def with_absent(
    combinations: Sequence[Combination], parts: Sequence[Group], senses: Index
) -> list[Combination]:
    """Every combination with the variable actions present that make something worse somewhere.

    `senses` (s, parts): 1 where a part is present, -1 where its opposite would be worse: then it is absent
    (EN 1990, Table A1.2(B): gamma_Q,fav = 0), or reversed where it acts either way. What another combination
    has more of, all else alike, is left out.
    """
    movable = np.array([g.kind != "settlement" for g in parts], dtype=bool)
    either = np.array([g.either_way for g in parts], dtype=bool)
    present = np.where(senses > 0, 1.0, np.where(either, -1.0, 0.0))
    result: list[Combination] = []
    known: set[tuple[str, float, tuple[float, ...]]] = set()
    for alike in _by_permanent(combinations, movable):
        table = np.array([c.variable for c in alike]).reshape(len(alike), len(parts))
        for sense in present:
            kept = table * np.where(movable, sense, 1.0)
            size = np.abs(kept)
            dominated = [
                any(
                    j != i and (size[j] >= size[i]).all() and ((size[j] > size[i]).any() or j < i)
                    for j in range(len(alike))
                )
                for i in range(len(alike))
            ]
            for c, values, drop in zip(alike, kept, dominated, strict=True):
                variable = tuple(float(v) + 0.0 for v in values)
                key = (c.level, c.permanent, variable)
                if drop or key in known:
                    continue
                known.add(key)
                result.append(
                    c
                    if variable == c.variable
                    else replace(c, variable=variable, name=_name(c, variable, parts))
                )
    return result


def _by_permanent(combinations: Sequence[Combination], movable: Mask) -> list[list[Combination]]:
    """Those of one level that are alike in what is always there: permanent actions and settlement."""
    groups: dict[tuple[str, float, tuple[float, ...]], list[Combination]] = {}
    for c in combinations:
        fixed = tuple(v for v, m in zip(c.variable, movable, strict=True) if not m)
        groups.setdefault((c.level, c.permanent, fixed), []).append(c)
    return list(groups.values())


def _name(c: Combination, variable: tuple[float, ...], parts: Sequence[Group]) -> str:
    """Said with what is absent or reversed."""
    changed = [(g.key, v) for g, v, was in zip(parts, variable, c.variable, strict=True) if v != was]
    absent, reversed_ = [k for k, v in changed if v == 0.0], [k for k, v in changed if v != 0.0]
    words = [f"without {', '.join(absent)}"] * bool(absent) + [f"{', '.join(reversed_)} reversed"] * bool(
        reversed_
    )
    return f"{c.name}, {', '.join(words)}" if words else c.name


def senses_of(patterns: Mask, cases: Cases, parts: Sequence[Group], effects: Sequence[Array]) -> Index:
    """The different sets of parts (s, parts) that make an effect greatest, or least, at some place under some
    arrangement: 1 for those that add to it (or do nothing there), -1 for those that take from it; the set of
    all first."""
    count = len(parts)
    result = [np.ones((1, count), dtype=np.int64)]
    if count:
        columns = [np.flatnonzero(cases.group == g) for g in range(count)]
        for effect in effects:
            tiny = 1e-9 * float(np.abs(effect).max(initial=0.0))
            if tiny == 0.0:
                continue
            sums = np.empty((count, len(patterns), effect.shape[1]))
            for g, which in enumerate(columns):
                loaded = np.where(
                    cases.span[which] >= 0, patterns[:, np.maximum(cases.span[which], 0)], True
                ).astype(float)
                sums[g] = loaded @ effect[which]
            flat = sums.reshape(count, -1).T
            for sign in (1.0, -1.0):
                worse: Mask = sign * flat >= -tiny
                result.append(np.where(worse[first_of_each(worse)], 1, -1))
    every = np.concatenate(result)
    _, first = np.unique(every, axis=0, return_index=True)
    return np.asarray(every[np.sort(first)])


@dataclass(frozen=True)
class RowSet:
    """The rows of a level: which combination and which arrangement each is, and its factors (rows, cases).

    `chosen` (combinations, cases) factors with every span loaded, `variable` (combinations, groups) the same
    by group; `arranged` marks combinations that differ by arrangement.
    """

    rows: tuple[Row, ...]
    factors: Array
    chosen: Array
    variable: Array
    arranged: Mask
    number: Index
    """(combinations, arrangements): the number of the row."""


def distinct(arrangements: Sequence[Arrangement], loaded: Mask) -> tuple[list[str], Mask]:
    """Names and patterns (arrangements, spans) of the arrangements that differ on loaded spans."""
    patterns = np.array([where for _, where in arrangements], dtype=bool)
    first = first_of_each(patterns[:, loaded])
    return [arrangements[int(i)][0] for i in first], patterns[first]


def first_of_each(patterns: Mask) -> Index:
    """Rows (in order) that repeat no earlier one."""
    if not patterns.shape[1]:
        return np.zeros(1, dtype=np.int64)
    bits = patterns.shape[1]
    if bits <= 62:  # as one number a row
        _, first = np.unique(patterns @ (1 << np.arange(bits, dtype=np.int64)), return_index=True)
    else:
        _, first = np.unique(np.packbits(patterns, axis=1), axis=0, return_index=True)
    return np.sort(first)


def row_set(
    combinations: Sequence[Combination], names: Sequence[str], patterns: Mask, cases: Cases
) -> RowSet:
    """Every combination under every arrangement that makes a difference to it."""
    used = np.array([bool(load) for load in cases.loads])
    own = (cases.span >= 0) & used
    local = np.where(cases.span >= 0, patterns[:, np.maximum(cases.span, 0)], True)  # (arrangements, cases)
    chosen = np.array([np.where(used | (cases.span < 0), cases.factors(c), 0.0) for c in combinations])
    arranged = ((chosen != 0.0) & own).any(axis=1)
    number = np.zeros((len(chosen), len(names)), dtype=np.int64)
    rows: list[Row] = []
    factors: list[Array] = []
    known: dict[bytes, int] = {}
    for k in sorted(range(len(chosen)), key=lambda i: bool(arranged[i])):
        for a in range(len(names)) if arranged[k] else [0]:
            line = chosen[k] * np.where(own, local[a], True) + 0.0
            key = line.tobytes()
            if key not in known:
                known[key] = len(rows)
                rows.append(Row(combinations[k], names[a]))
                factors.append(line)
            number[k, a] = known[key]
        if not arranged[k]:
            number[k] = number[k, 0]
    variable = np.array([c.variable for c in combinations]).reshape(len(combinations), -1)
    return RowSet(tuple(rows), np.array(factors), chosen, variable, arranged, number)


def row_extremes(
    at: Stations, sets: dict[str, RowSet], patterns: Mask, cases: Cases, felt: Mask, effects: Sequence[Array]
) -> dict[str, list[Extremes]]:
    """Extremes of each effect (cases, n) over the rows of every level.

    Some spans at a time: of the arrangements only what is felt there counts, so that few differ, and the time
    of a long line grows with its length.
    """
    n = len(at)
    result = {level: [nothing(n) for _ in effects] for level in sets}
    groups = sorted(set(cases.group[cases.span >= 0].tolist()))
    of_the_line = np.flatnonzero(cases.span < 0)
    loaded = np.array([bool(load) for load in cases.loads])
    for low, high in _stretches(at):
        places = slice(int(at.first[low]), int(at.first[high]))
        near = felt[:, low:high].any(axis=1) & loaded
        columns = [np.flatnonzero(near & (cases.group == g) & (cases.span >= 0)) for g in groups]
        spans = (
            np.unique(np.concatenate([cases.span[c] for c in columns]))
            if columns
            else np.zeros(0, dtype=np.int64)
        )
        which = first_of_each(patterns[:, spans])
        for position, effect in enumerate(effects):
            here = effect[:, places]
            sums = np.array([patterns[which][:, cases.span[c]].astype(float) @ here[c] for c in columns])
            for level, rows in sets.items():
                _fill(
                    result[level][position],
                    places,
                    rows,
                    which,
                    groups,
                    sums,
                    rows.chosen[:, of_the_line] @ here[of_the_line],
                )
    return result


def _fill(
    target: Extremes, places: slice, rows: RowSet, which: Index, groups: list[int], sums: Array, base: Array
) -> None:
    """Extremes at some stations: `sums` (groups, arrangements, n) of each group, `base` (combinations, n) of
    what is whole."""
    k = np.flatnonzero(rows.arranged)
    values, labels = (
        [base[~rows.arranged]],
        [np.stack([np.flatnonzero(~rows.arranged), np.zeros((~rows.arranged).sum(), dtype=int)])],
    )
    if len(k):
        lines = np.tensordot(rows.variable[k][:, groups], sums, axes=1) + base[k][:, None, :]
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
