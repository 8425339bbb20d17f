"""Arrangements of loads over spans that several codes share."""

from __future__ import annotations

Arrangement = tuple[str, tuple[bool, ...]]


def alternate_and_adjacent(spans: int) -> list[Arrangement]:
    """Alternate spans, any two adjacent spans; all and none beside them (EN 1992-1-1, 5.1.3(1); ACI 318-19,
    6.4.2)."""
    every = range(spans)
    rows: list[Arrangement] = [
        ("all spans", tuple(True for _ in every)),
        ("no span", tuple(False for _ in every)),
    ]
    if spans > 1:
        rows.append(("odd spans", tuple(i % 2 == 0 for i in every)))
        rows.append(("even spans", tuple(i % 2 == 1 for i in every)))
    for a in range(spans - 1):
        if spans > 2:
            rows.append((f"spans {a + 1}, {a + 2}", tuple(i in (a, a + 1) for i in every)))
    return rows


def alternate(spans: int) -> list[Arrangement]:
    """All spans and alternate spans; none beside them (BS 8110-1, 3.2.1.2.2)."""
    every = range(spans)
    rows: list[Arrangement] = [
        ("all spans", tuple(True for _ in every)),
        ("no span", tuple(False for _ in every)),
    ]
    if spans > 1:
        rows.append(("odd spans", tuple(i % 2 == 0 for i in every)))
        rows.append(("even spans", tuple(i % 2 == 1 for i in every)))
    return rows
