"""Beams that nobody chose, designed and then judged by formulas that share nothing with the core; and the judge is judged itself."""

from __future__ import annotations

import copy
import json

import numpy as np
import pytest
from hypothesis import Phase, given, settings
from hypothesis import strategies as st

import upright_bramble as ub
from own_judge import Judge
from plain_beams import BS, CSA, EN, IS, SI, beam, dead, live, written
from upright_bramble.errors import BrambleError
from upright_bramble.files.result_data import Origin, result_data, to_json

QUICK = (
    Phase.explicit,
    Phase.reuse,
    Phase.generate,
)  # a design takes a second: a failing beam is not made smaller


def designed(text: str) -> dict:
    return json.loads(to_json(result_data(ub.design(beam(text)), Origin("x", ""))))


@st.composite
def texts(draw, base: dict) -> str:
    """One to four spans, with cantilevers or not; loads on any of them, of one or two variable actions."""
    inner = [{"span": draw(st.integers(30, 75)) / 10, "profile": "p"} for _ in range(draw(st.integers(1, 3)))]
    left, right = draw(st.sampled_from([(0, 0), (0, 0), (0, 1), (1, 1)]))
    free = [
        {"span": draw(st.sampled_from([1.2, 1.6, 2.0])), "profile": "p", "free": True}
        for _ in range(left + right)
    ]
    spans = [*free[:left], *inner, *free[left : left + right]]
    depth, width = draw(st.sampled_from([450, 550, 650])), draw(st.sampled_from([250, 300, 400]))
    categories = {"en": ["B", "E"], "ac": ["occupied", "heavy"]}.get(base["code"][:2], ["general", "storage"])
    second = []
    if draw(st.booleans()):
        on = draw(st.integers(1, len(spans)))
        place = draw(st.sampled_from([0.3, 0.5, 0.7])) * spans[on - 1]["span"]
        second = [
            live(
                {"point": draw(st.integers(10, 60)), "on": on, "at": round(place, 2)}, category=categories[1]
            )
        ]
    first = {"line": draw(st.integers(4, 20))} | (
        {"on": draw(st.integers(1, len(spans)))} if draw(st.booleans()) else {}
    )
    return written(
        {**base, "profiles": {"p": {"shape": "rectangle", "depth": depth, "width": width}}}, spans,
        [dead({"line": draw(st.integers(5, 25))}, weight=True), live(first, category=categories[0]), *second],
    )  # fmt: skip


def judged(text: str) -> None:
    try:
        result = designed(text)
    except BrambleError:  # no bars fit this section: told, nothing to go on with
        return
    judge = Judge(text, result)
    peak = max(float(judge.envelope.high.max()), float(-judge.envelope.low.min()))
    local = np.array(result["stations"]["x_mm"])
    for name, own, sign in (
        ("moment_max_kNm", judge.envelope.high, 1),
        ("moment_min_kNm", judge.envelope.low, -1),
    ):
        tool = np.interp(judge.x, local, np.array(result["stations"]["strength"][name]) * 1e6)
        # between stations lines stand for parabolas
        assert (sign * (own - tool) <= 0.02 * peak).all(), (name, float((sign * (own - tool)).max()) / peak)
    if result["verdict"]["status"] != "fail":
        assert judge.judge() == []


@pytest.mark.slow
@settings(max_examples=8, phases=QUICK)
@given(text=texts(EN))
def test_designs_stand_up_en(text):
    judged(text)


@pytest.mark.slow
@settings(max_examples=6, phases=QUICK)
@given(text=texts(SI))
def test_designs_stand_up_aci(text):
    judged(text)


@pytest.mark.slow
@pytest.mark.parametrize("base", [CSA, IS, BS], ids=lambda base: base["code"])
@settings(max_examples=5, phases=QUICK)
@given(data=st.data())
def test_designs_stand_up_to_other_codes(base, data):
    judged(data.draw(texts(base)))


GOOD = written(EN, [6.0, 5.0], [dead({"line": 18}, weight=True), live({"line": 12})])


@pytest.fixture(scope="module")
def good():
    result = designed(GOOD)
    assert Judge(GOOD, result).judge() == []
    return result


def _without(part: str, pick):
    def damage(r: dict) -> None:
        r[part] = [v for v in r[part] if not pick(v)]

    return damage


def _shorter(face: str, by: float):
    def damage(r: dict) -> None:
        for b in r["bars"]:
            if b["face"] == face and "straight" in b["ends"]:
                b["start_mm"], b["end_mm"] = b["start_mm"] + by, b["end_mm"] - by

    return damage


def _spread(factor: float):
    def damage(r: dict) -> None:
        for z in r["stirrups"]:
            z["spacing_mm"] *= factor
            z["count"] = max(int(z["count"] / factor), 1)

    return damage


def _more(r: dict) -> None:
    for b in r["bars"]:
        b["count"] += 4


@pytest.mark.parametrize(
    ("what", "damage"),
    [
        ("bending bottom", _without("bars", lambda b: b["face"] == "bottom" and b["ends"] == ["straight", "straight"])),
        ("bending top", _without("bars", lambda b: b["face"] == "top" and b["ends"] == ["straight", "straight"])),
        ("bending", _shorter("bottom", 1300.0)),
        ("stirrups", _spread(2.2)),
        ("shear", lambda r: [z.update(diameter_mm=4.0) for z in r["stirrups"]]),
        ("row", _more),
        ("outside", lambda r: r["bars"][0].update(start_mm=-400.0)),
        ("verdict", lambda r: r["checks"][0].update(ratio=1.4)),
    ],
)  # fmt: skip
def test_the_judge_sees(good, what, damage):
    """Sound results, damaged: what is missing is found."""
    result = copy.deepcopy(good)
    damage(result)
    assert any(what in collected for collected in Judge(GOOD, result).judge()), Judge(GOOD, result).judge()
