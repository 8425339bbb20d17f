"""The verdict in one line, for outputs that are not the report: what it is, what was not verified, what was waived and why."""

from __future__ import annotations

from upright_bramble.core.quantities import ratio_text
from upright_bramble.files.result_file import VerdictOut


def verdict_line(v: VerdictOut) -> str:
    """Such as 'pass, ratio 0.96 (bending.hogging.C); waived: deflection (stiff partitions ruled out)'."""
    said = [f"{v.status}, ratio {ratio_text(v.ratio)} ({v.governing})"]
    topics = list(dict.fromkeys(g.topic for g in v.not_verified))
    said += [f"not verified: {', '.join(topics)}"] * bool(topics)
    said += [f"waived: {w.topic} ({w.reason})" for w in v.waived]
    return "; ".join(said)
