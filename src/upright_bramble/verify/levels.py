"""One layout under several levels: each level is verified with its own loads, and every check is told of the
level that it is worst in."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import replace

from upright_bramble.verify.result import Check, Message, Result, Unverified


def over_levels(shared: Result, parts: Sequence[tuple[str, Result]]) -> Result:
    """The verdict over all levels: curves and quantities of the `shared` result (the envelope of all), checks
    of the `parts`.

    Of each check the level with the greatest ratio stands, a failing one before any that passes.
    """
    checks: dict[str, Check] = {}
    gaps: dict[str, Unverified] = {}
    for name, part in parts:
        for check in part.checks:
            known = checks.get(check.id)
            if known is None or _rank(check) > _rank(known):
                checks[check.id] = replace(check, level=name)
        for gap in part.gaps:
            gaps.setdefault(gap.id, replace(gap, reason=f"{gap.reason} ({name})"))
    return replace(
        shared,
        checks=tuple(checks.values()),
        gaps=tuple(gaps.values()),
        messages=_messages(parts),
        parts=tuple(parts),
    )


def _rank(check: Check) -> tuple[bool, float]:
    return not check.ok, check.ratio


def _messages(parts: Sequence[tuple[str, Result]]) -> tuple[Message, ...]:
    """Each once, with the levels that it is of where it is not of all."""
    levels_of: dict[Message, list[str]] = {}
    for name, part in parts:
        for message in part.messages:
            levels_of.setdefault(message, []).append(name)
    return tuple(
        message
        if len(names) == len(parts)
        else replace(message, text=f"{', '.join(dict.fromkeys(names))}: {message.text}")
        for message, names in levels_of.items()
    )
