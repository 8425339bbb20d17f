"""What derivations tell, worked out again from the numbers that they put in."""

from __future__ import annotations

from upright_bramble.working import Line
from upright_bramble.working import formula as notation

ALONE = {"N": 1e3, "N mm": 1e6, "lb": 1e3, "lb in": 12e3}
"""Forces and moments alone are put in as kN and kNm (kip, kip ft)."""


def comes_out(line: Line) -> bool | None:
    """Whether the numbers put into a formula, of four digits each, give its value; None where none are, or where nothing can be
    worked out. Differences of such numbers lose some digits."""
    if not line.numbers or line.value is None:
        return None
    try:
        value = notation.evaluate(notation.parse(line.numbers), {})
    except (KeyError, ZeroDivisionError):
        return None
    meant = (line.value, line.value / ALONE.get(line.unit, 1.0))
    return any(abs(value - v) <= 0.02 * max(abs(v), 1e-9) + 1e-6 for v in meant)
