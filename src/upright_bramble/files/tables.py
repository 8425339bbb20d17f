"""CSV for spreadsheets and for other programs; text cells are never live formulas."""

from __future__ import annotations

import csv
import io
from collections.abc import Iterable, Sequence

import numpy as np

from upright_bramble.analysis import Forces


def csv_text(header: Sequence[str], rows: Iterable[Sequence[object]]) -> str:
    out = io.StringIO()
    writer = csv.writer(out, lineterminator="\r\n")
    writer.writerow(header)
    writer.writerows([_cell(v) for v in row] for row in rows)
    return out.getvalue()


def _cell(value: object) -> object:
    """A text that a spreadsheet would take for a formula gets an apostrophe."""
    if isinstance(value, str) and value[:1] in ("=", "+", "-", "@", "\t", "\r"):
        return "'" + value
    return value


MAXIMUM_ROWS = 400_000  # of a table of sets of forces: what a table may have to be read back


def forces_csv(forces: Forces, level: str) -> str:
    """Envelope by station: span, x, M, V and (where there is any) T, in m, kNm, kN. x runs from each span's
    left end."""
    e, at = forces.envelopes[level], forces.stations
    header = ["span", "x [m]", "M_max [kNm]", "M_min [kNm]", "V_max [kN]", "V_min [kN]"]
    columns = [at.local / 1e3, e.moment_max / 1e6, e.moment_min / 1e6, e.shear_max / 1e3, e.shear_min / 1e3]
    if forces.responses.twisted:
        header, columns = [*header, "T [kNm]"], [*columns, e.torsion / 1e6]
    numbers = np.round(np.array(columns).T, 6) + 0.0
    return csv_text(header, ([int(s) + 1, *map(float, row)] for s, row in zip(at.span, numbers, strict=True)))


def sets_csv(forces: Forces, level: str) -> str:
    """Every set of forces of a level by station: what is designed from it is what the actions themselves
    give."""
    at, r, f = forces.stations, forces.responses, forces.factors[level]
    header = ["combination", "span", "x [m]", "M [kNm]", "V [kN]"]
    lines = [f @ r.moment / 1e6, f @ r.shear / 1e3]
    if r.twisted:
        header, lines = [*header, "T [kNm]"], [*lines, f @ r.torsion / 1e6]
    spans, x = (at.span + 1).tolist(), np.round(at.local / 1e3, 9).tolist()
    rows: list[tuple[object, ...]] = []
    names: dict[str, int] = {}
    for number, row in enumerate(forces.rows[level]):
        names[row.label] = names.get(row.label, 0) + 1
        label = row.label if names[row.label] == 1 else f"{row.label} ({names[row.label]})"
        columns = [(np.round(line[number], 7) + 0.0).tolist() for line in lines]
        rows += list(zip([label] * len(x), spans, x, *columns, strict=True))
    return csv_text(header, rows)


def has_sets(forces: Forces, level: str) -> bool:
    """Whether the sets of forces can be written: they make the envelope, and are not too many."""
    return (
        forces.beam.arrangements != "every" and len(forces.rows[level]) * len(forces.stations) <= MAXIMUM_ROWS
    )
