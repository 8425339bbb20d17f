"""The bars and stirrups of a span in words: '3ø20', '3ø20+2ø16 | 2ø16 | 4ø20', 'ø8, 2 legs: 12×100 |
9×225'."""

from __future__ import annotations

from collections.abc import Sequence

from upright_bramble.core.bars import counted
from upright_bramble.core.quantities import SYSTEMS
from upright_bramble.files.result_file import BarOut, ResultFile, SpanOut, StirrupOut
from upright_bramble.present.along import in_faces


def bottom_bars(r: ResultFile, span: SpanOut) -> str:
    """At midspan."""
    return _bars_at(r, "bottom", 0.5 * (span.clear_start_mm + span.clear_end_mm))


def top_bars(r: ResultFile, span: SpanOut) -> str:
    """From left to right, once where they are the same all along."""
    low, high = span.clear_start_mm, span.clear_end_mm
    result = [_bars_at(r, "top", low + (high - low) * share) for share in (0.02, 0.5, 0.98)]
    return result[0] if len(set(result)) == 1 else " | ".join(result)


def side_bars(r: ResultFile, span: SpanOut) -> str:
    """Of both sides; '' for none."""
    own = [b for b in r.bars if b.face == "side" and b.start_mm < span.end_mm and b.end_mm > span.start_mm]
    return counted(own[0].count, r.beam.label(own[0].size)) if own else ""


def stirrups_of(r: ResultFile, span: SpanOut) -> str:
    """Zone by zone, number × spacing."""
    zones = [
        z
        for z in r.stirrups
        if z.start_mm >= span.clear_start_mm - 1.0 and z.end_mm <= span.clear_end_mm + 1.0
    ]
    if not zones:
        return "none"
    first, unit = zones[0], SYSTEMS[r.beam.units].factor("section")
    alike = all((z.size, z.legs) == (first.size, first.legs) for z in zones)
    head = f"{r.beam.label(first.size)}, {first.legs} legs: " if alike else ""
    return head + " | ".join(f"{z.count}×{z.spacing_mm / unit:.4g}" for z in zones)


def shear_models(stirrups: Sequence[StirrupOut]) -> str:
    """How shear is resisted, over all zones: strut angles, or expressions."""
    result = list(dict.fromkeys(z.shear_model for z in stirrups))
    if not result:
        return "no stirrups"
    low, high = (f(z.strut_cot for z in stirrups) for f in (min, max))
    if len(result) > 1 and high > low:
        return f"{result[0].rsplit(' ', 1)[0]} {low:.2f} to {high:.2f}"
    return ", ".join(result)


def _bars_at(r: ResultFile, face: str, x: float) -> str:
    """Of two lapped pieces one is counted."""
    own = [b for b in in_faces(r.bars) if b.face == face and b.start_mm <= x <= b.end_mm]
    here: dict[str, int] = {}
    for b in own:
        if not any(_lapped(o, b, x) for o in own):
            here[b.size] = here.get(b.size, 0) + b.count
    return "+".join(counted(n, r.beam.label(s)) for s, n in here.items()) or "none"


def _lapped(a: BarOut, b: BarOut, x: float) -> bool:
    return (a.layer, a.size, a.count) == (
        b.layer,
        b.size,
        b.count,
    ) and a.start_mm < b.start_mm <= x <= a.end_mm < b.end_mm
