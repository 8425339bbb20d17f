"""Sets of forces of a section: from a table, or combined by the code's rules from unfactored ones."""

from __future__ import annotations

import csv
import io
import itertools
import re
from collections.abc import Callable, Sequence
from pathlib import Path
from typing import TypeAlias

from upright_bramble.codes import DesignCode
from upright_bramble.codes.parts import Group
from upright_bramble.core.quantities import UnitSystem, parse
from upright_bramble.errors import CodeError, Fault, UnitError
from upright_bramble.files import section_models as m
from upright_bramble.files.materials import Wrong
from upright_bramble.files.reading import Unreadable, read_bytes, utf8
from upright_bramble.files.yaml_source import nearest
from upright_bramble.text import hidden
from upright_bramble.verify.sections.model import ForceSet, ServiceSet

MAXIMUM_BYTES, MAXIMUM_SETS = 4 * 1024 * 1024, 2000
COLUMNS = {"N": ("axial", "force"), "Mx": ("moment", "moment"), "M": ("moment", "moment"), "My": ("moment_y",
    "moment"),
           "V": ("shear", "force"), "Vy": ("shear_y", "force"), "T": ("torque", "moment")}  # fmt: skip
_HEADER = re.compile(r"^\s*([A-Za-z]+)\s*(?:\[\s*([^\]]+?)\s*\])?\s*$")
Report: TypeAlias = Callable[[int, str, str], None]
"""Notes a fault: line, column, text."""
_FORCES = ("moment", "moment_y", "axial", "shear", "shear_y", "torque")


def read_sets(
    folder: Path, name: str, code: DesignCode, system: UnitSystem
) -> tuple[list[ForceSet], list[ServiceSet], list[Fault]]:
    """Rows of a CSV: name, level (factored, or a service level of the code) and forces, units in the
    header."""
    if Path(name).is_absolute() or ".." in Path(name).parts:
        return (
            [],
            [],
            [Fault("", 0, "", f"'{name[:60]}' leads out of the folder; put the table beside the file")],
        )
    try:
        text = utf8(read_bytes(folder / name, MAXIMUM_BYTES, "table"))
    except Unreadable as error:
        return [], [], [Fault("", 0, "", str(error))]
    rows = [
        (k, row)
        for k, row in enumerate(csv.reader(io.StringIO(text, newline=None)), 1)
        if any(c.strip() for c in row)
    ]
    if len(rows) < 2:
        return [], [], [Fault(name, 1, "", "has no sets: a header and a row a set are needed")]
    faults: list[Fault] = []

    def wrong(line: int, key: str, text: str) -> None:
        if len(faults) < 50:
            faults.append(Fault(name, line, key, text))

    columns = _columns(rows[0][1], wrong)
    forces: list[ForceSet] = []
    service: list[ServiceSet] = []
    levels = code.actions.levels
    for line, row in rows[1 : MAXIMUM_SETS + 1] if not faults else []:
        strange = next(filter(None, map(hidden, row)), None)
        if strange is not None:
            wrong(line, "", f"holds the character {strange}, which is not text; take it out")
            continue
        values = _values(line, row, columns, system, wrong)
        label = row[columns["name"][0]].strip()[:80] or f"row {line}"
        level = (
            row[columns["level"][0]].strip().lower().replace("-", "_")
            if columns["level"][0] < len(row)
            else ""
        )
        if level in ("factored", levels[0]):
            forces.append(ForceSet(label, **values))
        elif level in levels[1:]:
            service.append(
                ServiceSet(label, level, *(values.get(k, 0.0) for k in ("moment", "moment_y", "axial")))
            )
        else:
            known = ", ".join(("factored", *(v.replace("_", "-") for v in levels[1:])))
            wrong(line, "level", f"'{level[:30]}' is not a level of this code (valid: {known})")
    if len(rows) > MAXIMUM_SETS + 1:
        wrong(rows[MAXIMUM_SETS + 1][0], "", f"has more than {MAXIMUM_SETS} sets")
    return forces, service, faults


def _columns(header: Sequence[str], wrong: Report) -> dict[str, tuple[int, str]]:
    """Index and unit by name."""
    result: dict[str, tuple[int, str]] = {}
    for k, cell in enumerate(header):
        match = _HEADER.match(cell)
        key = match.group(1) if match else cell.strip()
        if key not in (*COLUMNS, "name", "level"):
            wrong(1, key[:20], f"is no column of sets of forces{nearest(key, [*COLUMNS, 'name', 'level'])}")
        elif key in COLUMNS and not (match and match.group(2)):
            wrong(1, key, f"needs its unit, such as {key} [kNm]")
        else:
            result[key] = (k, (match.group(2) or "") if match else "")
    for key in ("name", "level"):
        if key not in result:
            wrong(1, key, "is missing: a column 'level' says what each row is, factored or a service level")
    return result


def _values(
    line: int, row: Sequence[str], columns: dict[str, tuple[int, str]], system: UnitSystem, wrong: Report
) -> dict[str, float]:
    result: dict[str, float] = {}
    for key, (k, unit) in columns.items():
        if key not in COLUMNS:
            continue
        name, quantity = COLUMNS[key]
        cell = row[k].strip() if k < len(row) else ""
        if not cell:
            continue
        try:
            result[name] = parse(f"{float(cell.replace(',', '.'))} {unit}", quantity, system)
        except (ValueError, UnitError):
            wrong(line, key, f"'{cell[:20]} {unit[:10]}' is no {quantity}")
    return result


def combined(
    actions: Sequence[m.SectionActionIn], code: DesignCode, wrong: Wrong
) -> tuple[list[ForceSet], list[ServiceSet]]:
    """Every combination of the code's levels, each variable action present, absent, or reversed where it acts
    either way."""
    permanent = [a for a in actions if a.kind == "permanent"]
    keyed: dict[str, list[m.SectionActionIn]] = {}
    groups: dict[str, Group] = {}
    for i, a in enumerate(actions):
        if a.kind == "permanent":
            continue
        key = a.category if a.kind == "imposed" and a.category else a.name
        either = a.either_way if a.either_way is not None else a.kind in ("wind", "earthquake")
        groups[key] = Group(key, a.kind, a.category if a.kind == "imposed" else None, None, True, either)
        keyed.setdefault(key, []).append(a)
        try:
            code.actions.combinations((groups[key],))
        except (CodeError, KeyError) as error:
            wrong(("actions", i), str(error).strip("'\""))
            return [], []
    base = _sum(permanent)
    each = [_sum(own) for own in keyed.values()]
    forces: list[ForceSet] = []
    service: list[ServiceSet] = []
    known: set[tuple[str, tuple[float, ...]]] = set()
    for c in code.actions.combinations(tuple(groups.values())):
        signs = [
            ((1.0, 0.0, -1.0) if g.either_way else (1.0, 0.0)) if f else (0.0,)
            for g, f in zip(groups.values(), c.variable, strict=True)
        ]
        for sense in itertools.product(*signs):
            factors = [s * f for s, f in zip(sense, c.variable, strict=True)]
            values = {
                k: c.permanent * base[k] + sum(f * e[k] for f, e in zip(factors, each, strict=True))
                for k in _FORCES
            }
            seen = (c.level, tuple(round(v, 3) for v in values.values()))
            if seen in known:
                continue
            known.add(seen)
            name = _named(c.permanent, factors, list(groups), bool(permanent))
            if c.level == code.actions.levels[0]:
                forces.append(ForceSet(name, **values))
            else:
                service.append(
                    ServiceSet(
                        f"{name} ({c.level.replace('_', '-')})", c.level, *(values[k] for k in _FORCES[:3])
                    )
                )
    return forces, service


def _named(permanent: float, factors: Sequence[float], names: Sequence[str], any_permanent: bool) -> str:
    parts = [f"{permanent:g} permanent"] if any_permanent else []
    parts += [f"{f:.4g} {n}" for f, n in zip(factors, names, strict=True) if f]
    return " + ".join(parts).replace("+ -", "- ") or "nothing"


def _sum(actions: Sequence[m.SectionActionIn]) -> dict[str, float]:
    return {k: sum(getattr(a, k) for a in actions) for k in _FORCES}
