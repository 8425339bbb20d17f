"""The verdict that checks and gaps add up to."""

from __future__ import annotations

from dataclasses import replace

import pytest

from upright_bramble.verify.levels import over_levels
from upright_bramble.verify.result import Check, Message, Unverified


@pytest.fixture
def verdict(deck_design):
    """The deck's result with other checks and gaps: each as id, topic, ratio, and what else it is."""

    def made(*checks, gaps=(), waive=None):
        judged = tuple(
            replace(
                deck_design.checks[0],
                **{
                    "id": name,
                    "topic": topic,
                    "ratio": ratio,
                    "ok": ratio <= 1.0,
                    "severity": "must",
                    **more,
                },
            )
            for name, topic, ratio, more in checks
        )
        open_ = tuple(Unverified(name, topic, 1, 0.0, "why") for name, topic in gaps)
        beam = replace(deck_design.beam, waive=waive or {})
        return replace(deck_design, checks=judged, gaps=open_, beam=beam)

    return made


def beside(deck_design) -> dict:
    return {"kind": replace(deck_design.checks[0].kind, beside=True)}


def ids(checks: tuple[Check, ...]) -> list[str]:
    return [c.id for c in checks]


def test_what_must_hold_comes_first_and_the_worst_of_it(verdict):
    result = verdict(
        ("a", "bending", 1.2, {}), ("b", "deflection", 3.0, {"severity": "advice"}), ("c", "shear", 1.4, {}),
        ("d", "shear", 0.9, {}),
    )  # fmt: skip
    assert result.status == "fail"
    assert ids(result.failing) == ["c", "a", "b"]
    assert result.governing.id == "c"
    assert result.worst("shear").id == "c"
    assert result.worst("cracking") is None


def test_the_worst_of_a_span(verdict):
    result = verdict(
        ("a", "shear", 0.5, {"span": 1}), ("b", "shear", 0.8, {"span": 2}), ("c", "shear", 0.6, {"span": 1})
    )
    assert result.worst("shear").id == "b"
    assert result.worst("shear", 1).id == "c"


def test_what_is_told_beside_decides_nothing(verdict, deck_design):
    own = beside(deck_design)
    result = verdict(("a", "bending", 0.9, {}), ("b", "cracking", 1.5, {"severity": "advice", **own}))
    assert result.status == "pass"
    assert result.failing == ()
    assert result.verified == ("bending",)
    assert result.governing.id == "a"


def test_advice_fails_nothing(verdict):
    result = verdict(("a", "bending", 0.7, {}), ("b", "deflection", 1.3, {"severity": "advice"}))
    assert result.status == "pass"
    assert ids(result.failing) == ["b"]


def test_what_was_not_verified_leaves_a_verdict_open_unless_it_is_waived(verdict):
    checks = (("a", "bending", 0.9, {}), ("b", "torsion", 0.4, {}), ("c", "shear", 0.5, {}))
    result = verdict(*checks, gaps=[("g", "torsion")])
    assert result.status == "incomplete"
    assert result.verified == ("bending", "shear")
    assert [g.id for g in result.not_verified] == ["g"]
    waived = verdict(*checks, gaps=[("g", "torsion")], waive={"torsion": "by others"})
    assert waived.status == "pass"
    assert waived.not_verified == ()
    assert waived.verified == ("bending", "shear")
    assert waived.waived == (("torsion", "by others"),)
    worse = verdict(("a", "bending", 1.01, {}), gaps=[("g", "torsion")])
    assert worse.status == "fail"


def test_of_levels_each_check_is_that_of_the_level_it_is_worst_in(verdict):
    first = verdict(
        ("a", "bending", 0.8, {}),
        ("b", "shear", 1.2, {}),
        ("c", "shear", 0.9, {"ok": False}),
        gaps=[("g", "torsion")],
    )
    second = verdict(
        ("a", "bending", 0.9, {}),
        ("b", "shear", 1.1, {}),
        ("c", "shear", 0.95, {}),
        ("d", "cracking", 0.5, {}),
    )
    every, some = Message("note", "of every one"), Message("warning", "of one")
    first, second = replace(first, messages=(every,)), replace(second, messages=(every, some))
    result = over_levels(second, [("low", first), ("high", second)])
    told = {c.id: (c.level, c.ratio) for c in result.checks}
    # one that fails stands before any that passes, whatever its ratio
    assert told == {"a": ("high", 0.9), "b": ("low", 1.2), "c": ("low", 0.9), "d": ("high", 0.5)}
    assert result.status == "fail"
    assert [(g.id, g.reason) for g in result.gaps] == [("g", "why (low)")]
    assert [m.text for m in result.messages] == ["of every one", "high: of one"]
