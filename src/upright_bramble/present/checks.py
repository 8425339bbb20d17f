"""Checks and verdicts in words, in the units of the beam: the same on terminal, in report and derivation."""

from __future__ import annotations

from collections.abc import Sequence

from upright_bramble.core.quantities import OF_KEY, QUANTITIES, UnitSystem, ratio_text, significant
from upright_bramble.files.result_file import CheckOut, ResultFile, UnverifiedOut, VerdictOut

BOUNDLESS = 1e5  # mm: a limit beyond is none


def amounts(check: CheckOut, system: UnitSystem) -> tuple[str, str, str]:
    """Demand, resistance and their unit, as every output prints them."""
    quantity = OF_KEY[check.unit] if not check.quantity else QUANTITIES[check.quantity]
    factor, unit = system.factor(quantity.name) / quantity.size, system.unit(quantity.name)
    limit = (
        "no limit"
        if check.unit == "mm" and check.resistance > BOUNDLESS
        else significant(check.resistance / factor)
    )
    return significant(check.demand / factor), limit, unit


def against(check: CheckOut, system: UnitSystem) -> str:
    """'demand against resistance', with their unit."""
    demand, resistance, unit = amounts(check, system)
    return (
        f"{demand} {unit}, no limit"
        if resistance == "no limit"
        else f"{demand} against {resistance} {unit}".strip()
    )


def place(check: CheckOut, system: UnitSystem) -> str:
    return f"{check.x_mm / system.factor('span'):.2f} {system.unit('span')}"


def word_of(check: CheckOut) -> str:
    """'pass', 'warning', 'waived' or 'fail'."""
    return "pass" if check.ok else {"must": "fail", "waived": "waived"}.get(check.severity, "warning")


def governing(r: ResultFile) -> CheckOut:
    return next(c for c in r.checks if c.id == r.verdict.governing)


def failing(r: ResultFile) -> list[CheckOut]:
    """What fails or is warned of, failures first, then by ratio."""
    own = (c for c in r.checks if not c.ok and not c.beside)
    return sorted(own, key=lambda c: (c.severity != "must", -c.ratio))


def verdict_line(v: VerdictOut) -> str:
    """Such as 'pass, ratio 0.96 (bending.hogging.C); waived: deflection (stiff partitions ruled out)'."""
    parts = [f"{v.status}, ratio {ratio_text(v.ratio)} ({v.governing})"]
    topics = list(dict.fromkeys(g.topic for g in v.not_verified))
    parts += [f"not verified: {', '.join(topics)}"] * bool(topics)
    parts += [f"waived: {w.topic} ({w.reason})" for w in v.waived]
    return "; ".join(parts)


def grouped_gaps(gaps: Sequence[UnverifiedOut]) -> list[tuple[str, str, str]]:
    """Reason, topic and places with their clause, the places of one reason together."""
    groups: dict[tuple[str, str], list[UnverifiedOut]] = {}
    for gap in gaps:
        groups.setdefault((gap.reason, gap.topic), []).append(gap)
    result = []
    for (reason, topic), own in groups.items():
        spans = sorted({g.span for g in own})
        clauses = ", ".join(dict.fromkeys(g.clause for g in own if g.clause))
        where = "span " + str(spans[0]) if len(spans) == 1 else "spans " + ", ".join(str(s) for s in spans)
        result.append((reason, topic, where + (f"; {clauses}" if clauses else "")))
    return result
