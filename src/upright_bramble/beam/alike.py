"""Beams that can share one design: what must be alike, and the beam that they share."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import replace

from upright_bramble.beam.model import Beam
from upright_bramble.core.quantities import along

TOLERANCE = 10.0  # mm, of spans and supports


def shared(levels: Sequence[tuple[str, Beam]], mark: str, title: str) -> Beam:
    """One beam for several alike ones, each a level with its name. The first gives the geometry; a topic is
    waived where every one waives it."""
    first = levels[0][1]
    waive = {t: reason for t, reason in first.waive.items() if all(t in beam.waive for _, beam in levels)}
    return replace(
        first,
        title=title,
        mark=mark,
        levels=tuple(levels),
        quantity=sum(beam.quantity for _, beam in levels),
        waive=waive,
        cautions=(),
        proposed=(),
        origins={},
        remarks={},
        given={},
        actions=(),
    )


def unable(beam: Beam) -> str:
    """Why a beam cannot share a design; empty where it can."""
    if beam.levels:
        return "it shares a design already"
    if beam.redistribution.supports:
        return "moments are redistributed beam by beam: alike beams share a design without 'redistribution'"
    if beam.arrangements == "every":
        return "alike beams share sets of forces: it needs 'arrangements: code'"
    if any(not line.together for lines in beam.given.values() for line in lines):
        return (
            "extremes are no set of forces: alike beams need tables with a row a combination and station, "
            "or by action"
        )
    return ""


def differences(a: Beam, other: Beam, tolerance: float) -> list[str]:
    """What keeps two beams from sharing a layout, in words with amounts marked."""
    result = []
    for name in (
        "code",
        "annex",
        "code_values",
        "units",
        "concrete",
        "bars",
        "stirrups",
        "cover",
        "detailing",
    ):
        if getattr(a, name) != getattr(other, name):
            result.append(f"has another {name.replace('_', ' ')} than the first; alike beams have one")
    if len(a.spans) != len(other.spans) or len(a.supports) != len(other.supports):
        return [*result, f"has {len(other.spans)} spans where the first has {len(a.spans)}"]
    for k, (s, t) in enumerate(zip(a.spans, other.spans, strict=True)):
        if abs(s.length - t.length) > tolerance:
            result.append(
                f"span {k + 1} is {along(t.length)} long, {along(s.length)} in the first: more than the "
                "tolerance apart"
            )
        if (s.profile, s.becomes) != (t.profile, t.becomes) or s.cantilever != t.cantilever:
            result.append(f"span {k + 1} has another profile than in the first")
        if len(s.hinges) != len(t.hinges) or any(
            abs(x - y) > tolerance for x, y in zip(s.hinges, t.hinges, strict=False)
        ):
            result.append(f"span {k + 1} has its hinges elsewhere than in the first")
    for p, q in zip(a.supports, other.supports, strict=True):
        if abs(p.width - q.width) > tolerance or (p.fixed, p.direct, p.hinge) != (q.fixed, q.direct, q.hinge):
            result.append(f"support {q.name} is another one than {p.name} of the first")
    return result
