"""Unfactored forces of single actions, from an analysis done elsewhere, put together by the code's
combinations."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass

import numpy as np

from upright_bramble.analysis.cases import Cases, Grouped, combine, group_of, senses_of, with_absent
from upright_bramble.analysis.given import line_at
from upright_bramble.analysis.stations import with_jumps
from upright_bramble.beam import Action, Combining, ForceLine, Span
from upright_bramble.codes.design_code import DesignCode
from upright_bramble.codes.parts import Group
from upright_bramble.section.arrays import Array, Index

KINDS = ("moment", "shear", "torsion", "axial")


@dataclass(frozen=True)
class ActionForces:
    """An action with its own forces along the line, unfactored (N, N mm; mm from the left end of each
    span)."""

    action: Action
    line: ForceLine


def grouped_actions(actions: Sequence[Action], arranged: str = "") -> Grouped:
    """Families as the code combines them; every action is a part that may be absent by itself. With permanent
    actions, and a code that names a part of them by span, that part acts on all spans or on none: a table
    does not know the spans apart."""
    families: dict[str, Group] = {}
    parts: list[Group] = []
    family: list[int] = []
    for action in actions:
        if action.kind == "permanent":
            continue
        key = group_of(action)
        category = action.category if action.kind == "imposed" else None
        either = action.either_way or (key in families and families[key].either_way)
        families[key] = Group(key, action.kind, category, action.psi, action.acts_as_one, either)
        parts.append(
            Group(action.name, action.kind, category, action.psi, action.acts_as_one, action.either_way)
        )
        family.append(list(families).index(key))
    if arranged and any(a.kind == "permanent" for a in actions):
        families[arranged] = Group(arranged, "permanent", None)
        parts.append(families[arranged])
        family.append(len(families) - 1)
    return Grouped(tuple(families.values()), tuple(parts), np.array(family, dtype=np.int64))


def combined_lines(
    forces: Sequence[ActionForces], combining: Combining, code: DesignCode, suffix: str = ""
) -> dict[str, tuple[ForceLine, ...]]:
    """The lines of every level of the code, and of the 'permanent' actions, as tables of combinations would
    have them.

    Each line belongs together: one combination, with the variable actions present that make an effect worse
    somewhere (absent or, where they act either way, reversed else). `suffix` names the analysis that they
    came from, where there are several.
    """
    arranged = code.actions.permanent_by_span
    grouped = grouped_actions([f.action for f in forces], arranged)
    places, unit = _unit_cases(forces, arranged)
    count = len(grouped.parts) + 1
    cases = Cases([[] for _ in range(count)], np.zeros((count, 0)), np.arange(count) - 1, np.full(count, -1))
    flat = [np.concatenate(unit[kind], axis=1) for kind in KINDS]
    senses = senses_of(np.ones((1, len(places)), dtype=bool), cases, grouped.parts, flat)
    result: dict[str, tuple[ForceLine, ...]] = {}
    used = [k for k, kind in enumerate(KINDS) if flat[k].any() or kind in ("moment", "shear")]
    for c in with_absent(combine(combining, code, grouped), grouped.parts, senses):
        factors = np.array([c.permanent, *c.variable])
        lines = {KINDS[k]: tuple(factors @ part for part in unit[KINDS[k]]) for k in used}
        line = ForceLine(c.name + suffix, places, together=True, **{"torsion": (), "axial": ()} | lines)
        result[c.level] = (*result.get(c.level, ()), line)
    permanent = {KINDS[k]: tuple(part[0] for part in unit[KINDS[k]]) for k in used}
    if any(f.action.kind == "permanent" for f in forces):
        result["permanent"] = (
            ForceLine(
                "permanent actions" + suffix,
                places,
                together=True,
                **{"torsion": (), "axial": ()} | permanent,
            ),
        )
    return result


def _unit_cases(
    forces: Sequence[ActionForces], arranged: str
) -> tuple[tuple[Array, ...], Mapping[str, list[Array]]]:
    """Places by span, and by kind of force and span the unit cases (cases, n): the permanent actions
    together, then each variable one (and the permanent ones once more where a part of them may be absent)."""
    spans = len(forces[0].line.x)
    places: list[Array] = []
    unit: dict[str, list[Array]] = {kind: [] for kind in KINDS}
    for index in range(spans):
        x, side = _places([f.line.x[index] for f in forces])
        places.append(x)
        for kind in KINDS:
            rows = [np.zeros(len(x))]
            for f in forces:
                values = getattr(f.line, kind)
                row = line_at(x, side, f.line.x[index], values[index]) if values else np.zeros(len(x))
                if f.action.kind == "permanent":
                    rows[0] = rows[0] + row
                else:
                    rows.append(row)
            if arranged and any(f.action.kind == "permanent" for f in forces):
                rows.append(rows[0])
            unit[kind].append(np.array(rows))
    return tuple(places), unit


def _places(given: Sequence[Array]) -> tuple[Array, Index]:
    """Places of all tables along a span in order; one that a table has twice is there twice."""
    rounded = [np.round(x, 3) for x in given]
    every = np.unique(np.concatenate(rounded))
    jumps = {float(v) for x in rounded for v in x[1:][np.diff(x) == 0.0]}
    return with_jumps(every, {j for j in jumps if every[0] < j < every[-1]})


AGREE = 0.10  # of the greatest moment of a span, that shear and moment of a table may differ by
SIZE = 0.02  # of the greatest moment of a line, below which a span says nothing


def cautions_of(forces: Sequence[ActionForces], spans: Sequence[Span]) -> list[str]:
    """What looks like another sign, unit or axis than is meant, and what tables cannot say."""
    result = []
    for f in forces:
        greatest = max(float(np.abs(m).max()) for m in f.line.moment)
        odd = [k for k in range(len(spans)) if _differs(f.line, k, greatest)]
        if odd:
            named = ", ".join(str(k + 1) for k in odd)
            where = f"span{'s' if len(odd) > 1 else ''} {named} of '{f.action.name}'"
            result.append(
                f"{where}: the shear of its table is not the slope of its moment; check signs, units and "
                "axis of both"
            )
    dead = [f for f in forces if f.action.kind == "permanent"]
    for k, span in enumerate(spans):
        if span.cantilever or not dead:
            continue
        x, side = _places([f.line.x[k] for f in dead])
        total = sum((line_at(x, side, f.line.x[k], f.line.moment[k]) for f in dead), np.zeros(len(x)))
        if float(np.interp(0.5 * span.length, x, total)) < 0.5 * float(total[0] + total[-1]):
            result.append(
                f"span {k + 1}: the permanent actions of the tables bend it upwards between its supports; "
                "sagging is positive here"
            )
    between = sum(not s.cantilever for s in spans)
    arranged = [group_of(f.action) for f in forces if f.action.kind == "imposed"]
    few = [key for key in dict.fromkeys(arranged) if arranged.count(key) < between]
    if between > 1 and few:
        result.append(
            f"{', '.join(few)} comes in fewer actions than there are spans: arrangements are those that "
            "these actions make, each there or not; an action for every span covers all of them"
        )
    return result


def _differs(line: ForceLine, k: int, greatest: float) -> bool:
    """Whether the moment of a span is far from the sum of its shear."""
    x, m, v = line.x[k], line.moment[k], line.shear[k]
    size = float(np.abs(m).max())
    if size < SIZE * greatest or greatest == 0.0:
        return False
    summed = m[0] + np.concatenate([[0.0], np.cumsum(0.5 * (v[1:] + v[:-1]) * np.diff(x))])
    return float(np.abs(summed - m).max()) > AGREE * max(size, float(np.ptp(m)))
