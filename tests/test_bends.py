"""Bends of several rows in one plane: what they need by hand, and how designs keep out of each other's way."""

from __future__ import annotations

from dataclasses import replace

import pytest

import upright_bramble as ub
from plain_beams import EN, SI, check, dead, design, live, named, written

ROOM = 300.0 - 2.0 * (30.0 + 8.0)  # inside stirrups of 8 mm, cover 30
STIRRUPS = "stirrups 8x2 0.2..5.8 150"


def judged(bars: str, base=EN, **more):
    text = written(base, [6.0], [dead({"line": 12}, weight=True), live({"line": 8})], **more)
    return check(text, f"{bars}\n{STIRRUPS}")


def at_ends(bars: str, **more) -> dict[str, tuple[float, float, bool]]:
    """Width taken, room and verdict by end."""
    found = named(judged(bars, **more), "fit.bends")
    return {c.place.side: (round(c.demand, 3), round(c.resistance, 3), c.ok) for c in found}


@pytest.mark.parametrize(("leg", "meet"), [(224, False), (230, True)])
def test_legs_of_both_faces_meet_where_they_are_longer_than_the_depth(leg, meet):
    """500 deep: 424 between the outsides of the bars, 200 of it for the top legs. Five bars and two gaps of 20 + 5 mm."""
    bars = f"bottom 3x20 -0.12..6.12 bend bend {leg}\ntop 2x16 -0.12..6.12 bend bend 200"
    both = (3 * 20.0 + 2 * 16.0 + 2 * 25.0, ROOM, True)
    assert at_ends(bars) == ({"left": both, "right": both} if meet else {})


@pytest.mark.parametrize(("behind", "sides"), [(18, ["left", "right"]), (20, ["right"])])
def test_legs_behind_others_do_not_meet_them(behind, sides):
    bars = f"bottom 5x20 {-0.12 + behind / 1e3}..6.12 bend bend 300\ntop 4x20 -0.12..6.12 bend bend 300"
    taken = 9 * 20.0 + 4 * 25.0
    assert at_ends(bars) == dict.fromkeys(sides, (taken, ROOM, False))


def test_what_fails_names_the_bars():
    result = judged("bottom 5x20 -0.12..6.12 bend straight 300\ntop 4x20 -0.12..6.12 bend straight 300")
    (found,) = named(result, "fit.bends")
    assert found.id == "fit.bends.1-left"
    assert found.x == 0.0
    assert result.status == "fail"
    assert any("bars 01, 02 meet at their bends" in m.text for m in result.messages)


@pytest.mark.parametrize(("number", "passes"), [(4, True), (5, False)])
def test_bars_that_cross_legs_pass_between_them(number, passes):
    """Top legs of 430 come down to the level of straight bottom bars, 48 mm above the soffit: those of a row have their
    gaps already, so that all need no more than their diameters."""
    base = {**EN, "cover": {"top": 30, "bottom": 30, "sides": 29}}
    bars = f"bottom 5x25 -0.12..6.12\ntop {number}x25 -0.12..6.12 bend bend 430"
    both = ((5 + number) * 25.0, ROOM + 2.0, passes)
    assert at_ends(bars, base=base) == {"left": both, "right": both}
    assert (
        at_ends(bars.replace("-0.12..6.12\n", "-0.094..6.094\n"), base=base) == {}
    )  # they stop before the legs
    assert at_ends(bars.replace("430", "400"), base=base) == {}  # the legs stop above them


def test_rows_of_a_face_meet_at_one_place():
    rows = "bottom 3x20 -0.12..6.12 bend straight 150\nbottom-2 2x20 {start}..6.12 bend straight 150\ntop 2x16 -0.12..6.12"
    assert at_ends(rows.format(start=-0.12)) == {"left": (5 * 20.0 + 2 * 25.0, ROOM, True)}
    assert at_ends(rows.format(start=-0.075)) == {}
    # a straight bar of the second row only crosses them
    crossed = rows.format(start=-0.12).replace("6.12 bend straight 150\ntop", "6.12\ntop")
    assert at_ends(crossed) == {"left": (5 * 20.0, ROOM, True)}


def test_hooks_turn_back_in_their_own_diameter():
    """Bars of 20 mm are turned back round 140 mm: 180 outside. Two of these have 262 mm between the bars of 300 mm of depth,
    not 424 as in 500."""
    bars = "bottom 3x20 -0.12..6.12 hook straight\ntop 3x20 -0.12..6.12 hook straight"
    profile = {"p": {"shape": "rectangle", "depth": 300, "width": 300}}
    assert at_ends(bars, base={**EN, "profiles": profile}) == {"left": (6 * 20.0 + 2 * 25.0, ROOM, True)}
    assert at_ends(bars) == {}


def test_a_design_bends_bars_behind_others_where_they_meet():
    """Legs of 360 (22 mm) and 310 mm (19 mm) are longer than 450 mm of depth together, and five of these have no room in
    250 mm: 3 x 22.2 + 2 x 19.1 and two gaps of 33.3 are 171, of 151 inside stirrups of 9.5 at 40."""
    profile = {"p": {"shape": "rectangle", "depth": 450, "width": 250}}
    base = {**SI, "profiles": profile, "detailing": {"end_shape": "bend"}}
    loads = [dead({"line": 15}, weight=True), live({"line": 15}, category="occupied")]
    made = design(written(base, [5.0], loads, width=400))
    assert made.status == "pass"
    starts = {b.face: b.start for b in made.layout.bars if b.ends == ("bend", "bend")}
    ends = {b.face: b.end for b in made.layout.bars if b.ends == ("bend", "bend")}
    assert starts["bottom"] - starts["top"] == ends["top"] - ends["bottom"] == 20.0
    together = ub.check(
        made.beam,
        replace(
            made.layout,
            bars=tuple(
                replace(b, start=starts["top"], end=ends["top"]) if b.ends[0] == "bend" else b
                for b in made.layout.bars
            ),
        ),
    )
    assert [c.kind.id for c in together.checks if not c.ok and c.severity == "must"] == ["fit.bends"] * 2


TEE = {
    "p": {
        "shape": "T",
        "depth": 450,
        "width": 250,
        "flange": {"thickness": 150, "gap_left": 1.25, "gap_right": 1.25},
    }
}


def test_bars_that_cross_legs_may_lie_beside_them_in_a_flange():
    """Legs of 380 reach the top bars, 410 above the soffit: three of them and eight bars have no room in 174 mm, and need
    none there where the flange works. Those of a second row stay in the web, as do legs."""
    base = {**EN, "profiles": TEE}
    bars = "bottom 3x20 -0.12..6.12 bend bend 380\ntop 8x20 -0.12..6.12"
    flanged = at_ends(bars, base=base)
    assert flanged == dict.fromkeys(("left", "right"), (5 * 20.0, 174.0, True))
    many = at_ends(bars.replace("8x20", "40x25"), base=base)  # 1500 - 2 x (30 + 8)
    assert many["left"] == (3 * 20.0 + 40 * 25.0, 1424.0, True)
    rectangle = {"p": {"shape": "rectangle", "depth": 450, "width": 250}}
    assert at_ends(bars, base={**EN, "profiles": rectangle})["left"] == (11 * 20.0, 174.0, False)
    lower = bars.replace("380", "350") + "\ntop-2 6x20 -0.12..6.12"
    assert at_ends(lower, base=base)["left"] == (9 * 20.0, 174.0, False)
    narrow = {
        "p": {**TEE["p"], "width": 184}
    }  # inside the stirrup 108: two legs of 25 and two corner bars of 32 are 114
    thick = "bottom 2x25 -0.12..6.12 bend bend 390\ntop 4x32 -0.12..6.12"
    assert at_ends(thick, base={**EN, "profiles": narrow})["left"] == (114.0, 108.0, False)
    bent = "bottom 3x20 -0.12..6.12 bend bend 380\ntop 5x20 -0.12..6.12 bend bend 200"
    assert at_ends(bent, base=base)["left"] == (8 * 20.0 + 4 * 25.0, 174.0, False)
