"""Unfactored forces by action: a table with a row an action and station (long), or with columns for each
action (wide)."""

from __future__ import annotations

import re
from collections.abc import Sequence
from dataclasses import dataclass, field

import numpy as np

from upright_bramble.beam import ForceLine
from upright_bramble.core.quantities import SYSTEMS, along, parse
from upright_bramble.errors import Fault, UnitError
from upright_bramble.files.force_table import HEADER, MAXIMUM_STATIONS, SpanOf
from upright_bramble.files.table_rows import Rows
from upright_bramble.files.yaml_source import nearest
from upright_bramble.text import hidden

QUANTITIES = {"M": "moment", "V": "force", "T": "moment", "N": "force"}
PLACES = ("beam", "action", "span", "x")
WIDE = re.compile(r"^\s*(.+?)\s*[:\s]\s*([MVTN])\s*(?:[\[(]\s*([^\])]+?)\s*[\])])?\s*$")
Column = tuple[int, float]
"""Number of a column, and size of its unit."""


@dataclass
class ActionTable:
    """A table read once for all its actions: `lines` by name of the action."""

    name: str
    lines: dict[str, ForceLine] = field(default_factory=dict)
    faults: list[Fault] = field(default_factory=list)

    def wrong(self, line: int, key: str, text: str) -> None:
        if len(self.faults) < 50:
            self.faults.append(Fault(self.name, line, key, text))


def action_table(table: Rows, spans: SpanOf, mark: str, single: str = "") -> ActionTable:
    """The lines of every action that a table has for the beam with this `mark`; a table that names no action
    has those of `single`."""
    result = ActionTable(table.name)
    if len(table.rows) < 2:
        result.wrong(1, "", "has no numbers: a header and a row a station are needed")
        return result
    places, values = _header(table, result, single)
    if result.faults:
        return result
    stations: dict[str, dict[int, list[dict[str, float]]]] = {}
    for line, row in table.rows[1:]:
        strange = next(filter(None, map(hidden, row)), None)
        if strange is not None:
            result.wrong(line, "", f"holds the character {strange}, which is not text; take it out")
            continue
        if "beam" in places and _cell(row, places["beam"]) != mark:
            continue
        _row(table, line, row, places, values, spans, stations, result)
    if not stations and not result.faults:
        result.wrong(0, "beam", f"has no row of the beam '{mark}'")
    for action, by_span in stations.items():
        _covered(action, by_span, spans, result)
    if not result.faults:
        result.lines = {
            action: _line(action, by_span, len(spans.lengths)) for action, by_span in stations.items()
        }
    return result


def names_actions(table: Rows) -> bool:
    """Whether the rows or columns of a table name actions; else all of it is of one action."""
    return any(_naming(cell) for cell in (table.rows[0][1] if table.rows else ()))


def _naming(cell: str) -> bool:
    narrow = HEADER.match(cell)
    return narrow.group(1) == "action" if narrow else bool(WIDE.match(cell))


def _cell(row: Sequence[str], column: Column) -> str:
    return row[column[0]].strip() if column[0] < len(row) else ""


NO_COLUMN = "is missing: a table by action has action, span, x, M, V, or columns such as 'dead M [kNm]'"
BOTH = "cannot be given beside columns of single actions; have rows by action, or columns by action"


def _header(
    table: Rows, result: ActionTable, single: str
) -> tuple[dict[str, Column], dict[str, dict[str, Column]]]:
    """Columns of the place, and of the forces by action ('' where the rows name it)."""
    line, cells = table.rows[0]
    places: dict[str, Column] = {}
    values: dict[str, dict[str, Column]] = {}
    for number, cell in enumerate(cells):
        if cell.strip():
            _column(result, line, number, cell, places, values)
    for name in ["span", "x", *(["action"] if "" in values and not single else [])]:
        if name not in places:
            result.wrong(line, name, NO_COLUMN)
    if "" in values and len(values) > 1:
        result.wrong(line, "M", BOTH)
    for action, own in values.items():
        for kind in ("M", "V"):
            if kind not in own:
                result.wrong(line, f"{action} {kind}".strip(), "is missing")
    if not values:
        result.wrong(line, "M", NO_COLUMN)
    if "" in values and single and "action" not in places:
        values = {single: values[""]}
    return places, values


def _column(
    result: ActionTable,
    line: int,
    number: int,
    cell: str,
    places: dict[str, Column],
    values: dict[str, dict[str, Column]],
) -> None:
    """What one column has: a place, or a force of an action."""
    narrow, wide = HEADER.match(cell), WIDE.match(cell)
    name = narrow.group(1) if narrow else ""
    if narrow and name in PLACES:
        if name in places:
            result.wrong(line, name, "is given twice")
        places[name] = (number, _size(result, line, "x", narrow.group(2), "span") if name == "x" else 1.0)
        return
    if narrow and name in QUANTITIES:
        action, kind, unit = "", name, narrow.group(2)
    elif wide:
        action, kind, unit = wide.group(1), wide.group(2), wide.group(3)
    else:
        text = "is no column of forces by action" + nearest(name, [*PLACES, *QUANTITIES])
        result.wrong(line, cell.strip()[:30], text)
        return
    own = values.setdefault(action, {})
    if kind in own:
        result.wrong(line, cell.strip()[:30], "is given twice")
    own[kind] = (number, _size(result, line, f"{action} {kind}".strip(), unit, QUANTITIES[kind]))


def _size(result: ActionTable, line: int, name: str, unit: str | None, quantity: str) -> float:
    if unit is None:
        result.wrong(line, name, f"has no unit; such as '{name} [{SYSTEMS['si'].unit(quantity)}]'")
        return 1.0
    try:
        return parse(f"1 {unit}", quantity, SYSTEMS["si"])
    except UnitError as error:
        result.wrong(line, name, str(error))
        return 1.0


def _row(
    table: Rows,
    line: int,
    row: Sequence[str],
    places: dict[str, Column],
    values: dict[str, dict[str, Column]],
    spans: SpanOf,
    stations: dict[str, dict[int, list[dict[str, float]]]],
    result: ActionTable,
) -> None:
    def number(name: str, column: Column) -> float | None:
        try:
            value = table.number(_cell(row, column)) * column[1]
        except ValueError:
            result.wrong(line, name, f"'{_cell(row, column)[:30]}' is not a number")
            return None
        if not np.isfinite(value) or abs(value) > 1e15:
            result.wrong(line, name, f"'{_cell(row, column)[:30]}' is not a usable number")
            return None
        return value

    name = _cell(row, places["span"])
    span = spans.names.get(name)
    if span is None:
        result.wrong(
            line, "span", f"'{name[:30]}' is not a valid span (valid: {', '.join(list(spans.names)[:12])})"
        )
        return
    x = number("x", places["x"])
    if x is None:
        return
    if not -0.5 <= x <= spans.lengths[span] + 0.5:
        result.wrong(
            line, "x", f"{along(x)} lies outside the span, which is {along(spans.lengths[span])} long"
        )
        return
    for action, columns in values.items():
        label = action or _cell(row, places["action"])
        if not label:
            result.wrong(line, "action", "is empty")
            return
        forces = {kind: number(f"{action} {kind}".strip(), column) for kind, column in columns.items()}
        own = stations.setdefault(label, {}).setdefault(span, [])
        if own and x < own[-1]["x"] - 1e-6:
            result.wrong(
                line,
                "x",
                f"jumps back from {along(own[-1]['x'])} to {along(x)}; list each span of an action from left "
                "to right",
            )
        own.append({"x": x, **{kind: v for kind, v in forces.items() if v is not None}})


def _covered(
    action: str, by_span: dict[int, list[dict[str, float]]], spans: SpanOf, result: ActionTable
) -> None:
    for k, length in enumerate(spans.lengths):
        own = by_span.get(k, [])
        if len(own) > MAXIMUM_STATIONS:
            result.wrong(
                0,
                f"span {k + 1}",
                f"has {len(own):,} stations of '{action[:40]}'; {MAXIMUM_STATIONS:,} are read",
            )
        elif len(own) < 3 or own[0]["x"] > 1.0 or own[-1]["x"] < length - 1.0:
            covered = f"{along(own[0]['x'])} to {along(own[-1]['x'])}" if own else "nothing"
            text = f"{covered} of '{action[:40]}' is given; stations from 0 to {along(length)} are needed"
            result.wrong(0, f"span {k + 1}", text)


def _line(action: str, by_span: dict[int, list[dict[str, float]]], count: int) -> ForceLine:
    def column(kind: str) -> tuple[np.ndarray, ...]:
        return tuple(np.array([s[kind] for s in by_span[k]]) for k in range(count))

    has = set(by_span[0][0])
    return ForceLine(
        action,
        column("x"),
        column("M"),
        column("V"),
        True,
        column("T") if "T" in has else (),
        column("N") if "N" in has else (),
    )
