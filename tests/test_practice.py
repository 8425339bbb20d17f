"""Bars that a fixer can build: marks by piece, symmetrical rows, ends and legs, stirrups set out; and what is said of bars of one's own."""

from __future__ import annotations

import itertools
import json
import math
import re
from dataclasses import replace

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

import upright_bramble as ub
from plain_beams import CSA, EN, IS, SI, US, beam, check, dead, design, live, named, written
from upright_bramble import suggesting
from upright_bramble.beam import Action, Bar, Beam, Layout, Load, StirrupZone, lapped_pairs
from upright_bramble.core.quantities import SYSTEMS, worded
from upright_bramble.files.layout_file import layout_text, read_layout
from upright_bramble.files.result_data import result_model
from upright_bramble.mending import changes, run_mend
from upright_bramble.pipeline import code_of, run_design
from upright_bramble.present.schedule import schedule_csv, schedule_of
from upright_bramble.proportion.marks import marked
from upright_bramble.proportion.pieces import (
    alike,
    clear_over_supports,
    ends_apart,
    laps_alike,
    symmetrical,
    tidy,
)
from upright_bramble.suggesting import suggest
from yaml_beams import SIMPLE, demo, line, uniform

HAUNCH = written(
    EN,
    [9.0, 4.0],
    [
        {"kind": "permanent", "self_weight": True, "loads": [{"line": 12}]},
        {"kind": "imposed", "category": "C", "loads": [{"line": 15}]},
    ],
)


def practice_notes(result) -> list[str]:
    return [
        f"{m.where}: {m.text}" for m in result.messages if m.topic == "practice" and m.severity == "remark"
    ]


lengths_ = st.lists(st.sampled_from([4200.0, 5000.0, 6300.0, 7400.0]), min_size=1, max_size=4)


@pytest.mark.slow
@settings(max_examples=12)
@given(lengths_, st.floats(12.0, 45.0), st.sampled_from([250.0, 300.0, 450.0]))
def test_what_is_designed_has_nothing_to_remark(lengths, load, width):
    n = len(lengths)
    described = line(
        lengths,
        uniform(n, lengths, 0.6 * load),
        live=uniform(n, lengths, 0.4 * load),
        depth=600.0,
        width=width,
    )
    result = ub.design(described)
    if result.status == "fail":
        return
    # laps stay together where they fit, even where that is worth a remark: staggered ones cost marks
    assert not [v for v in practice_notes(result) if "lapped in one place" not in v]
    for span in range(n):
        low, high = described.clear(span)
        places = sorted(
            z.start + k * z.spacing for z in result.layout.stirrups if z.start >= low and z.end <= high for k in range(z.count)
        )  # fmt: skip
        assert places[0] - low == pytest.approx(50.0, abs=1.0)
        assert high - places[-1] == pytest.approx(50.0, abs=1.0)
        assert np.diff(places).min() >= 50.0


def test_alike_pieces_have_one_mark_and_one_line():
    """Three equal spans: the bars of the outer spans are one piece turned end for end."""
    lengths = [6000.0, 6000.0, 6000.0]
    result = ub.design(line(lengths, uniform(3, lengths, 20.0), live=uniform(3, lengths, 15.0)))
    r = result_model(result)
    pieces: dict[tuple, set[str]] = {}
    for b in r.bars:
        pieces.setdefault((b.size, b.shape_code, tuple(sorted(b.dimensions_mm.items()))), set()).add(b.mark)
    assert all(len(marks) == 1 for marks in pieces.values())
    assert len({m for marks in pieces.values() for m in marks}) == len(pieces)
    assert len({z.mark for z in r.stirrups}) == 1
    schedule = schedule_of(r)
    assert sorted({v.mark for v in schedule.lines}) == sorted(v.mark for v in schedule.lines)
    assert sum(v.number for v in schedule.lines if v.what != "stirrup") == sum(b.count for b in r.bars)
    assert schedule.total == pytest.approx(r.quantities["steel_kg"], abs=0.01)
    ids = [c.id for c in result.checks]
    assert len(set(ids)) == len(ids)
    assert any("/2" in i for i in ids)


def test_a_mark_may_be_given_several_times(bramble):
    bramble.write("one.beam.yaml", SIMPLE)
    assert bramble("design", "one.beam.yaml", "--quiet", "--no-figures").status == 0
    file = bramble.folder / "S1" / "S1.layout.yaml"
    entry = next(v for v in file.read_text("utf-8").splitlines() if "face: bottom" in v)
    twice = file.read_text("utf-8").replace(entry, entry + "\n" + entry)
    bramble.write("twice.layout.yaml", twice)
    ran = bramble("check", "one.beam.yaml", "twice.layout.yaml")
    assert ran.status == 2
    assert "is given twice at the same place" in ran.err
    moved = (
        re.sub(r"from: \S+ m", "from: 0.5 m", entry).replace("bend", "straight").replace("lap", "straight")
    )
    bramble.write("moved.layout.yaml", file.read_text("utf-8").replace(entry, entry + "\n" + moved))
    found = bramble("check", "one.beam.yaml", "moved.layout.yaml", "--json")
    assert found.status in (0, 1), found.err
    said = [m["text"] for m in json.loads(found.out)["messages"] if m["topic"] == "practice"]
    assert any("different pieces" in v for v in said)


def test_layouts_keep_shared_marks(tmp_path, deck, deck_design):
    path = tmp_path / "x.layout.yaml"
    path.write_text(layout_text(deck, deck_design.layout, "test"), "utf-8")
    assert read_layout(path, deck) == deck_design.layout
    assert len({e.mark for e in deck_design.layout.entries}) < len(deck_design.layout.entries)


def remarked(change) -> list[str]:
    described = line([6000.0], uniform(1, [6000.0], 20.0), depth=600.0, width=400.0)
    bars = [
        Bar("01", "bottom", 1, 4, "20", -120.0, 6120.0, ("bend", "bend")),
        Bar("02", "top", 1, 4, "16", -120.0, 6120.0, ("bend", "bend")),
    ]
    zones = [StirrupZone("20", "8", 2, 200.0, 5800.0, 200.0)]
    change(bars, zones)
    return practice_notes(ub.check(described, Layout(tuple(bars), tuple(zones))))


@pytest.mark.parametrize(
    ("what", "change"),
    [
        ("", lambda b, z: None),
        ("alike", lambda b, z: b.append(replace(b[1], mark="03", face="bottom", layer=2))),
        ("a piece of 600 mm", lambda b, z: b.append(Bar("03", "bottom", 1, 2, "16", 2700.0, 3300.0))),
        ("end 60.0 mm", lambda b, z: b.extend([Bar("03", "bottom", 2, 2, "16", 1000.0, 5000.0), Bar("04", "bottom", 2, 2, "16", 1060.0, 5300.0)])),
        ("symmetrical", lambda b, z: b.extend([Bar("03", "top", 1, 1, "16", 500.0, 4000.0), Bar("04", "top", 1, 1, "16", 2000.0, 5500.0)])),
        ("more bars", lambda b, z: b.append(Bar("03", "bottom", 2, 6, "16", 1000.0, 5000.0))),
        ("a zone of 2 stirrups", lambda b, z: z.__setitem__(slice(None), [
            StirrupZone("20", "8", 2, 200.0, 5400.0, 200.0), StirrupZone("20", "8", 2, 5550.0, 5700.0, 150.0)])),
        ("zones of stirrups", lambda b, z: z.__setitem__(slice(None), [
            StirrupZone("20", "8", 2, 200.0 + 1400.0 * k, 1400.0 + 1400.0 * k, 200.0) for k in range(4)])),
        ("6 legs", lambda b, z: z.__setitem__(0, replace(z[0], legs=6))),
        ("support", lambda b, z: b.extend([Bar(f"0{k}", "top", 1, 2, "16", -100.0, 1500.0 + 500.0 * k) for k in (3, 4, 5)])),
        ("3 sizes", lambda b, z: b.extend([Bar("03", "top", 1, 2, "12", 500.0, 4000.0), Bar("04", "top", 1, 2, "20", 500.0, 5500.0)])),
    ],
)  # fmt: skip
def test_each_habit_is_remarked(what, change):
    said = remarked(change)
    assert any(what in v for v in said) if what else not said, said


def test_bars_stop_at_whole_steps(deck, deck_design):
    """25 mm along the beam, where straight bars end inside the clear spans; such as were made longer to be no shorter than others."""
    inside = [deck.clear(k) for k in range(len(deck.spans))]
    ends = [
        x
        for b in deck_design.layout.bars
        for x, kind in zip((b.start, b.end), b.ends, strict=True)
        if kind == "straight" and any(low < x < high - 100.0 for low, high in inside)
    ]
    assert len(ends) > 10
    assert [x for x in ends if abs(x / 25.0 - round(x / 25.0)) > 1e-6] == []


def test_a_bar_along_a_slight_slope_is_cut_like_its_like_on_the_level():
    """3000 mm rise 37.5 mm: 0.2 mm longer along the soffit, one mark, one cut length."""
    described = haunched(0.9)
    alike_ = [Bar("01", "bottom", 1, 2, "16", x, x + 3000.0) for x in (3000.0, 9500.0)]
    others = [Bar("t", "top", 1, 2, "16", -100.0, 13_100.0)]
    result = ub.check(
        described, Layout((*alike_, *others), (StirrupZone("20", "8", 2, 200.0, 8800.0, 150.0),))
    )
    assert abs(described.spans[1].slope) > 0.01
    assert {i.cut_length for i in result.bars if i.bar.mark == "01"} == {3000.0}


def haunched(deeper: float) -> Beam:
    """A level span, and one beside it whose depth becomes so many times as great."""
    described = beam(HAUNCH)
    spans = described.spans
    tip = replace(spans[1].profile, depth=deeper * spans[1].profile.depth, name="tip")
    return replace(described, spans=(spans[0], replace(spans[1], becomes=tip)))


@pytest.mark.slow
def test_bars_stop_at_a_kink_or_are_bent_there():
    """A haunch beside a level span: a design's bars stop at the kink; one piece past it is scheduled with its bend and the length
    along the soffit, and goes straight on where it ends near the kink."""
    described = haunched(0.5)
    assert described.spans[1].slope < -0.02
    result = ub.design(described)
    assert not [c for c in result.checks if c.id.startswith("fit.kinks")]
    over = Bar("k", "bottom", 1, 2, "16", 6000.0, 12_000.0)
    checked = ub.check(described, replace(result.layout, bars=(*result.layout.bars, over)))
    item = next(i for i in checked.bars if i.bar.mark == "k")
    slope = -described.spans[1].slope
    inclined = 3000.0 * math.hypot(1.0, slope)
    assert item.shape == "15"
    assert [round(v, 1) for _, v in item.dimensions] == [
        round(inclined, 1),
        3000.0,
        round(3000.0 * math.sin(math.atan(slope)), 1),
    ]
    assert item.cut_length == 25.0 * math.ceil((3000.0 + inclined) / 25.0)
    assert item.mandrel > 0.0
    near = replace(over, end=9000.0 + 600.0)
    straight = ub.check(described, replace(result.layout, bars=(*result.layout.bars, near)))
    item = next(i for i in straight.bars if i.bar.mark == "k")
    assert (item.shape, item.cut_length, item.mandrel) == ("00", 3600.0, 0.0)
    alone = replace(over, start=9200.0)
    sloping = ub.check(described, replace(result.layout, bars=(*result.layout.bars, alone)))
    item = next(i for i in sloping.bars if i.bar.mark == "k")
    assert (item.shape, item.cut_length) == ("00", 25.0 * math.ceil(2800.0 * math.hypot(1.0, slope) / 25.0))


@pytest.mark.parametrize(("beyond", "shape"), [(795.0, "00"), (830.0, "15")])
@pytest.mark.parametrize("level", [True, False], ids=["from the level span", "from the haunch"])
def test_bars_go_straight_over_half_the_support_at_a_kink(level, beyond, shape):
    """40 diameters of 16 mm are 640 mm; half of the support at the kink is 800 mm, of the others 150 mm."""
    described = haunched(0.5)
    wide = replace(described.supports[1], width=1600.0)
    described = replace(described, supports=(described.supports[0], wide, *described.supports[2:]))
    bar = Bar(
        "k", "bottom", 1, 2, "16", *((6000.0, 9000.0 + beyond) if level else (9000.0 - beyond, 12_000.0))
    )
    others = [Bar(f, f, 1, 2, "20", -100.0, 13_100.0) for f in ("top",)]
    result = ub.check(described, Layout((bar, *others), (StirrupZone("20", "8", 2, 200.0, 8800.0, 150.0),)))
    item = next(i for i in result.bars if i.bar.mark == "k")
    assert item.shape == shape


def test_bars_in_tension_do_not_turn_down_with_the_soffit():
    """Where the soffit turns downwards and uplift pulls the bottom over the support, a bent bar would pull out."""
    described = haunched(1.6)
    assert described.spans[1].slope > 0.02
    uplift = Action(
        "uplift",
        "wind",
        None,
        (Load("line", 0, -60.0, -60.0, 0.0, 9000.0), Load("line", 1, -60.0, -60.0, 0.0, 4000.0)),
    )
    pulled = replace(described, actions=(*described.actions, uplift))
    bars = [
        Bar("a", "bottom", 1, 2, "20", -100.0, 9200.0),
        Bar("b", "bottom", 1, 2, "20", 8800.0, 13_100.0),
        Bar("t", "top", 1, 4, "20", -100.0, 13_100.0),
    ]
    zones = (
        StirrupZone("20", "8", 2, 200.0, 8800.0, 150.0),
        StirrupZone("21", "8", 2, 9200.0, 12_800.0, 150.0),
    )
    over = Bar("k", "bottom", 1, 2, "16", 6000.0, 12_000.0)

    def failing(described: Beam, *more: Bar) -> list[str]:
        checks = ub.check(described, Layout((*bars, *more), zones)).checks
        return [c.place.bar for c in checks if c.id.startswith("fit.kinks") and not c.ok]

    assert failing(pulled, over) == ["k"]
    assert failing(pulled) == []
    assert failing(described, over) == []  # it is compressed there


@pytest.mark.slow
def test_stirrups_of_a_haunch_vary():
    result = ub.design(haunched(0.5))
    varying = [i for i in result_model(result).stirrups if "A_last" in i.dimensions_mm]
    assert varying
    assert all(i.start_mm >= 9000.0 for i in varying)
    assert " to " in schedule_csv(schedule_of(result_model(result)))
    first, last = (varying[0].dimensions_mm[k] for k in ("A", "A_last"))
    assert first > last


def test_bars_of_a_face_end_together_or_apart():
    described = line([9000.0], uniform(1, [9000.0], 10.0))
    a, b = Bar("a", "bottom", 1, 2, "16", 1000.0, 6000.0), Bar("b", "bottom", 2, 2, "16", 1060.0, 6040.0)
    made = ends_apart(described, [a, b])
    assert (made[0].start, made[1].start) == (1000.0, 1000.0)
    assert (made[0].end, made[1].end) == (6040.0, 6040.0)
    short = Bar("s", "top", 1, 2, "16", 4000.0, 4600.0)
    (longer,) = tidy(described, [short], 0.0, 9000.0)
    assert (longer.start, longer.end) == (3800.0, 4800.0)
    alike = tidy(
        described,
        [replace(a, end=5950.0, layer=1), replace(a, mark="c", start=2000.0, end=7010.0)],
        0.0,
        9000.0,
    )
    lengths = [v.end - v.start for v in alike]
    assert lengths[0] == pytest.approx(lengths[1], abs=1.0)
    for before, after in itertools.chain(zip([a, b], made, strict=True)):
        assert after.start <= before.start
        assert after.end >= before.end


@pytest.mark.slow
@pytest.mark.parametrize("base", [EN, SI, US], ids=["en", "si", "us"])
def test_wishes_for_stirrups_are_kept(base):
    loads = [{"kind": "permanent", "self_weight": True, "loads": [{"line": 2.0 if base is US else 30}]}]
    spans = ["20 ft", "18 ft"] if base is US else [6.0, 5.5]
    spacings = [4, 8] if base is US else [120, 240]
    unit = 25.4 if base is US else 1.0
    text = written(
        base,
        spans,
        loads,
        width="12 in" if base is US else 300,
        detailing={"spacings": spacings, "zones": 1, "stirrup_legs": 4},
    )
    result = ub.design(beam(text))
    assert {round(z.spacing / unit, 3) for z in result.layout.stirrups} <= {float(s) for s in spacings}
    assert {z.legs for z in result.layout.stirrups} == {4}
    for k in range(2):
        low, high = result.beam.clear(k)
        assert len({z.spacing for z in result.layout.stirrups if z.start >= low and z.end <= high}) == 1
    for face in ("bottom", "top"):  # a bar for every leg
        first = [b for b in result.layout.bars if b.face == face and b.layer == 1]
        for z in result.layout.stirrups:
            for x in (z.start, z.end):
                assert sum(b.count for b in first if b.start <= x <= b.end) >= 4


@pytest.mark.parametrize("perimeter", [False, True])
def test_a_kink_does_not_free_perimeter_beams_of_continuity(perimeter):
    """ACI 318-19, 9.7.7.2(b) lets closed stirrups stand for bars that cannot go on; 9.7.7.1 does not."""
    loads = [{"kind": "permanent", "self_weight": True, "loads": [{"line": 12}]}]
    described = beam(written(SI, [6.0, 6.0], loads, integrity="perimeter" if perimeter else "interior"))
    spans = described.spans
    deep = replace(spans[1].profile, depth=spans[1].profile.depth + 250.0, name="deep")
    described = replace(described, spans=(spans[0], replace(spans[1], becomes=deep)))
    bars = tuple(
        Bar(mark, face, 1, 3, "19", start, end)
        for mark, face, start, end in (
            ("1", "bottom", -110.0, 6000.0),
            ("2", "bottom", 6000.0, 12_110.0),
            ("3", "top", -110.0, 12_110.0),
        )
    )
    judged = ub.check(
        described,
        Layout(
            bars,
            (
                StirrupZone("20", "10", 2, 200.0, 5800.0, 150.0),
                StirrupZone("21", "10", 2, 6200.0, 11_800.0, 150.0),
            ),
        ),
    )
    through = [c for c in judged.checks if c.id.startswith("integrity.through")]
    assert bool(through) == perimeter
    assert not any(c.ok for c in through)


def test_pieces_of_nearly_one_length_get_one_mark():
    """Support bars of 3.6, 3.8 and 5.0 m: the first two are made alike, for 0.95 kg; the third would take more steel than a mark is worth."""
    made = line([6000.0] * 4, uniform(4, [6000.0] * 4, 20.0))
    bars = [
        Bar("", "top", 1, 3, "16", x - 0.5 * n, x + 0.5 * n)
        for x, n in ((6000.0, 3600.0), (12_000.0, 3800.0), (18_000.0, 5000.0))
    ]
    sizes = code_of(made).sizes
    lengths = [b.end - b.start for b in alike(made, sizes, bars)]
    assert lengths == [3800.0, 3800.0, 5000.0]
    assert [0.5 * (b.start + b.end) for b in alike(made, sizes, bars)] == pytest.approx(
        [6000.0, 12_000.0, 18_000.0], abs=12.5
    )
    thick = [replace(b, count=8, size="32") for b in bars]  # 10 kg: not worth a mark
    assert alike(made, sizes, thick) == thick


def test_no_piece_grows_towards_another_until_they_nearly_meet():
    made = line([5000.0, 5000.0], uniform(2, [5000.0] * 2, 20.0))
    near = [Bar("", "top", 1, 2, "12", 500.0, 2400.0), Bar("", "top", 1, 2, "12", 2600.0, 4700.0)]
    a, b = alike(made, code_of(made).sizes, near)
    assert b.start - a.end >= 100.0
    meeting = [replace(near[0], end=2600.0), near[1], Bar("", "top", 1, 2, "12", 6000.0, 8250.0)]
    a, b, _ = alike(made, code_of(made).sizes, meeting)
    assert a.end == b.start or b.start - a.end >= 100.0


@pytest.mark.parametrize(
    ("depth", "width", "ends"),
    [
        (500, 400, (5975.0, 6025.0)),  # a step of 25 mm short of the axis each
        (502, 400, (6000.0, 6000.0)),  # past a step of the soffit they are no rows of one level
        (480, 400, (6000.0, 6000.0)),
        (500, 300, (6000.0, 6000.0)),  # 10 diameters past the face are needed: 160 of 150 - 25 mm
    ],
)
def test_bars_that_would_meet_end_to_end_stop_short_of_the_axis(depth, width, ends):
    profiles = {n: {"shape": "rectangle", "depth": d, "width": 300} for n, d in (("p", 500), ("q", depth))}
    spans = [{"span": 6.0, "profile": "p"}, {"span": 6.0, "profile": "q"}]
    made = beam(written({**EN, "profiles": profiles}, spans, [dead({"line": 20})], width=width))
    bars = [Bar("", "bottom", 1, 2, "16", -100.0, 6000.0), Bar("", "bottom", 1, 2, "16", 6000.0, 12_100.0)]
    left, right = clear_over_supports(made, code_of(made), bars)
    assert (left.end, right.start) == ends
    assert (left.start, right.end) == (-100.0, 12_100.0)


def test_a_piece_grows_by_all_the_room_that_there_is():
    """200 mm: 100 up to 100 mm from the next end at each side; 10 mm less of room, and it stays as it was."""
    made = line([5000.0, 5000.0], uniform(2, [5000.0] * 2, 20.0))
    sizes, first = code_of(made).sizes, Bar("", "top", 1, 1, "16", 500.0, 2400.0)
    others = [
        Bar("", "top", 1, 2, "25", 200.0, 300.0),
        Bar("", "top", 1, 2, "25", 2600.0, 2700.0),
        Bar("", "top", 1, 1, "16", 6000.0, 8100.0),
    ]
    grown = alike(made, sizes, [first, *others])
    assert (grown[0].start, grown[0].end) == (400.0, 2500.0)
    others[0] = replace(others[0], end=310.0)
    assert alike(made, sizes, [first, *others])[0] == first


@pytest.mark.slow
@pytest.mark.parametrize(
    ("wishes", "most"),
    [({"stock_length": "6 m"}, 560.0), ({"stock_length": "7 m", "main_bars": [16, 20]}, 520.0)],
)
def test_stock_shorter_than_a_span_takes_more_rows_rather_than_long_laps(wishes, most):
    """Spans of 9.5 and 8 m: in two rows there is room for bars of 32 mm alone, whose laps fill the beam with stirrups at 50 mm and which
    ran through in one piece at the top; or for none."""
    profile = {"p": {"shape": "rectangle", "depth": 750, "width": 300}}
    cover = {"top": 50, "bottom": 35, "sides": 40}
    text = written(
        {**EN, "profiles": profile, "cover": cover, "detailing": wishes}, [9.5, 8.0],
        [dead({"line": 24}, weight=True), live({"line": 20})],
    )  # fmt: skip
    made = design(text)
    assert made.status == "pass"
    assert max(b.end - b.start for b in made.layout.bars) <= 1000.0 * float(wishes["stock_length"][0])
    assert min(z.spacing for z in made.layout.stirrups) >= 100.0
    assert made.quantities["steel_kg"] < most


@pytest.mark.parametrize(("other", "grown"), [(2520.0, (480.0, 2400.0)), (2700.0, (500.0, 2420.0))])
def test_less_than_a_step_is_grown_at_one_end(other, grown):
    """20 mm: at the right end where there is room for it, at the left one where a bar lies 120 mm from the right one."""
    made = line([5000.0, 5000.0], uniform(2, [5000.0] * 2, 20.0))
    bars = [
        Bar("", "top", 1, 1, "16", 500.0, 2400.0),
        Bar("", "top", 1, 2, "25", other - (100.0 if other > 2600.0 else 5.0), 3000.0),
        Bar("", "top", 1, 1, "16", 6000.0, 7920.0),
    ]
    after = alike(made, code_of(made).sizes, bars)
    assert (after[0].start, after[0].end) == grown


@settings(max_examples=120)
@given(
    st.lists(
        st.tuples(
            st.sampled_from(["top", "bottom"]), st.integers(2, 4), st.sampled_from(["12", "16"]),
            st.floats(200.0, 15_000.0), st.floats(400.0, 6000.0), st.sampled_from([0, 1, 2]),
        ),
        min_size=2,
        max_size=7,
    )
)  # fmt: skip
def test_a_piece_grows_only_where_there_is_room_and_where_a_mark_is_saved(drawn):
    """Never shorter, never out of the clear span an end lies in, nor nearer to another end of its face than 100 mm unless it was; bent
    ends stay; and the steel of each mark less costs less than the mark."""
    made = line([5000.0] * 3, uniform(3, [5000.0] * 3, 20.0))
    sizes, rates = code_of(made).sizes, made.detailing.rates
    bars = []
    for face, count, size, start, length, bent in drawn:
        ends = ("straight", "straight") if bent < 2 else ("bend", "straight")
        legs = (200.0, 0.0) if bent == 2 else (0.0, 0.0)
        bars.append(
            Bar(
                "",
                face,
                1,
                count,
                size,
                25.0 * round(start / 25.0),
                25.0 * round((start + length) / 25.0),
                ends,
                legs,
            )
        )
    after = alike(made, sizes, bars)
    spans = [made.clear(i) for i in range(3)]

    def inside(x):
        return next((c for c in spans if c[0] + 1.0 < x < c[1] - 1.0), None)

    kinds = [len({(b.size, b.ends, round(b.end - b.start)) for b in v}) for v in (bars, after)]
    steel = 7850e-9 * sum(
        b.count * sizes[b.size].area * (b.end - b.start - a.end + a.start)
        for a, b in zip(bars, after, strict=True)
    )
    assert kinds[1] <= kinds[0]
    assert steel * rates.steel <= rates.mark * (kinds[0] - kinds[1]) + 1e-6
    for k, (old, new) in enumerate(zip(bars, after, strict=True)):
        assert (new.face, new.count, new.size, new.ends, new.legs) == (
            old.face,
            old.count,
            old.size,
            old.ends,
            old.legs,
        )
        assert new.end - new.start + sum(new.legs) <= max(
            made.detailing.longest_piece, old.end - old.start + sum(old.legs)
        )
        for x, y, outwards in ((old.start, new.start, -1.0), (old.end, new.end, 1.0)):
            assert (y - x) * outwards >= -1e-6
            if abs(y - x) > 1e-6:
                assert inside(x) is not None
                assert inside(y) == inside(x)
                others = [
                    e for j, b in enumerate(after) if j != k and b.face == new.face for e in (b.start, b.end)
                ]
                assert all(abs(e - y) >= 100.0 - 1e-6 or abs(e - x) < 100.0 for e in others)
    assert (kinds[1] == kinds[0]) == (after == bars)


def test_one_mandrel_for_bends_of_a_size():
    """The widest of a size, but where a leg is too short to go on straight for 5 diameters past it."""
    made = line([6000.0], uniform(1, [6000.0], 25.0))
    bars = tuple(
        Bar(mark, face, 1, 2, "16", -120.0, 6120.0, ("bend", "bend"), (leg, leg))
        for mark, face, leg in (("1", "bottom", 400.0), ("2", "top", 260.0), ("3", "top", 130.0))
    )
    long, middle, short = (
        i.mandrel
        for i in ub.check(made, Layout(bars, (StirrupZone("20", "8", 2, 200.0, 5800.0, 200.0),))).bars
    )
    assert long == middle > short
    assert 0.5 * middle + 6 * 16.0 <= 260.0
    assert 0.5 * middle + 6 * 16.0 > 130.0


@pytest.mark.slow
def test_remarks_stand_beside_the_checks_and_can_be_left_out(bramble):
    bramble.write("one.beam.yaml", SIMPLE)
    assert bramble("design", "one.beam.yaml", "--quiet", "--no-figures").status == 0
    text = (bramble.folder / "S1" / "S1.layout.yaml").read_text("utf-8")
    entry = next(v for v in text.splitlines() if "face: bottom" in v)
    stray = re.sub(
        r'mark: "\d+"',
        'mark: "77"',
        re.sub(r"from: \S+ m", "from: 2.7 m", re.sub(r"to: \S+ m", "to: 3.3 m", entry)),
    )
    stray = re.sub(r"ends: \[[^]]*\]", "ends: [straight, straight]", re.sub(r", legs: \[[^]]*\]", "", stray))
    bramble.write("stray.layout.yaml", text.replace(entry, entry + "\n" + stray))
    told = bramble("check", "one.beam.yaml", "stray.layout.yaml")
    assert re.search(r"remark +a piece of 600 mm.*\[mark 77\]", told.out), told.out
    assert bramble("check", "one.beam.yaml", "stray.layout.yaml", "--into", "judged").status in (0, 1)
    found = next((bramble.folder / "judged").rglob("*.result.json"))
    for without, there in ((), True), (("--without", "practice"), False):
        assert (
            bramble(
                "report",
                str(found.relative_to(bramble.folder)),
                "--format",
                "md",
                "--name",
                f"r{there}",
                *without,
            ).status
            == 0
        )
        report = next(bramble.folder.rglob(f"r{there}*.md")).read_text("utf-8")
        assert ("a piece of 600 mm" in report) == there


def test_remarks_cannot_be_waived(bramble):
    bramble.write("one.beam.yaml", SIMPLE + "waive: {practice: not wanted}\n")
    ran = bramble("design", "one.beam.yaml")
    assert ran.status == 2
    assert "--without practice" in ran.err


@pytest.mark.parametrize("side", [0, 1])
def test_a_held_lap_is_carried_on(side):
    """Of two pieces that are lapped one is held: the design gives it what carries it on, in its own row and number."""
    lengths = [6000.0, 7000.0]
    described = line(lengths, uniform(2, lengths, 18.0), live=uniform(2, lengths, 15.0))
    whole = ub.design(described).layout
    pair = next((i, j) for i, j in lapped_pairs(whole.bars))
    held = Layout((replace(whole.bars[pair[side]], held=True),), ())
    result = ub.design(described, held=held)
    assert result.status == "pass", [c.id for c in result.failing]
    assert held.bars[0] in result.layout.bars
    assert all(
        b.ends[0] != "lap" or any(j == k for _, j in lapped_pairs(result.layout.bars))
        for k, b in enumerate(result.layout.bars)
    )


@pytest.mark.slow
def test_the_held_entry_that_is_in_the_way_is_named():
    described = line([6000.0], uniform(1, [6000.0], 30.0), width=250.0)
    fat = Bar("07", "bottom", 1, 6, "25", -120.0, 6120.0, ("bend", "bend"), (300.0, 300.0), True)
    fine = Bar("08", "top", 1, 2, "16", -120.0, 6120.0, ("bend", "bend"), (300.0, 300.0), True)
    held = Layout((fat, fine), ())
    assert ub.design(described, held=held).status == "fail"
    found = suggest(described, held).texts
    assert any("held entry 07" in v for v in found)
    assert not any("held entry 08" in v for v in found)


@pytest.mark.parametrize(
    ("end", "style", "other", "lapped"),
    [
        (17050.0, "plain", 12000.0, 9050.0),
        (17100.0, "plain", 12000.0, 9000.0),  # 100 mm more is another length
        (17040.0, "plain", 12000.0, 9000.0),  # positions stay whole steps
        (17050.0, "lean", 12000.0, 9000.0),
        (17050.0, "plain", 9100.0, 9000.0),  # too near to the end of another bar
    ],
)
def test_lapped_pieces_of_nearly_one_length_are_made_alike(end, style, other, lapped):
    described = line([6000.0, 6000.0, 6000.0], uniform(3, [6000.0] * 3, 10.0))
    described = replace(described, detailing=replace(described.detailing, style=style))
    bars = [
        Bar("", "top", 1, 2, "16", 0.0, 9000.0, ("straight", "lap")),
        Bar("", "top", 1, 2, "16", 8000.0, end, ("lap", "straight")),
        Bar("", "top", 1, 2, "20", 11000.0, other + 2000.0, ("straight", "straight"))
        if other > 10000.0
        else Bar("", "top", 1, 2, "20", 7000.0, other, ("straight", "straight")),
    ]
    assert laps_alike(described, bars) == [replace(bars[0], end=lapped), *bars[1:]]


@pytest.mark.parametrize("face", [None, "bottom"])
def test_thinner_bars_are_suggested_where_the_cover_is_too_small_for_all_permitted(monkeypatch, face):
    """25 mm to 8 mm stirrups: 33 mm to the bars, where those of 32 need 10 more than their diameter, those of 20 three less."""
    for measure in ("DEPTHS", "WIDTHS", "STRENGTHS"):
        monkeypatch.setattr(suggesting, measure, 0)
    sizes = {"bottom_bars": [32, 40], "main_bars": [20, 25]} if face else {"main_bars": [32, 40]}
    detailing = {**sizes, "stirrup_bars": [8]}
    cover = {"top": 25, "bottom": 25, "sides": 25}
    actions = [dead({"line": 20}), live({"line": 8})]
    described = beam(written({**EN, "cover": cover, "detailing": detailing}, [6], actions))
    failed = run_design(described)
    assert failed.result is None
    assert "ø32 requires 34.0 mm" in worded(failed.reason, SYSTEMS["si"])
    assert [worded(s, SYSTEMS["si"]) for s in suggest(described).texts] == [
        "permit main bars of ø25, ø20 as well (checked: passes)"
    ]


@pytest.mark.slow
@pytest.mark.parametrize("name", ["annex-floor", "boathouse-deck"])
def test_a_fifth_more_load_changes_few_entries(name):
    described = beam(demo(name))
    before = ub.design(described).layout
    loads = {
        a.name: tuple(replace(v, first=1.2 * v.first, last=1.2 * v.last) for v in a.loads)
        for a in described.actions
    }
    heavier = replace(described, actions=tuple(replace(a, loads=loads[a.name]) for a in described.actions))
    mended = run_mend(heavier, before).result
    assert mended.status == "pass"
    kept = changes(before, mended.layout)
    assert len(kept.kept) >= 0.7 * len(before.entries), kept.words
    bars = [b for b in before.bars if b not in mended.layout.bars]
    assert len(bars) <= 2, bars


@pytest.mark.slow
def test_pieces_shorter_than_their_laps_end_a_design_all_the_same():
    described = line([6000.0, 6000.0], uniform(2, [6000.0] * 2, 20.0))
    described = replace(described, detailing=replace(described.detailing, longest=1000.0))
    held = Layout((Bar("07", "top", 1, 2, "25", -120.0, 3000.0, ("bend", "lap"), (200.0, 0.0), True),), ())
    result = ub.design(described, held=held)
    assert {b.face for b in result.layout.bars} == {"bottom", "top"}
    assert max(i.cut_length for i in result.bars) <= described.detailing.stock_length


@pytest.mark.parametrize("face", ["bottom", "top"])
def test_all_bars_lapped_where_they_pull_is_remarked(face):
    """At midspan every bottom bar works near its most; the top bars are idle there."""
    lapped = f"""
        {face} 3x20 -0.1..3.6 bend lap 200
        {face} 3x20 2.4..6.1 lap bend 200
    """
    whole = f"{'top' if face == 'bottom' else 'bottom'} 3x20 -0.1..6.1 bend bend 200"
    bars = f"{lapped}{whole}\nstirrups 8x2 0.2..5.8 100"
    result = check(written(EN, [6.0], [dead({"line": 12}, weight=True), live({"line": 12})]), bars)
    remarks = [m for m in result.messages if m.topic == "practice" and "lapped in one place" in m.text]
    assert [m.where for m in remarks] == (["span 1"] if face == "bottom" else [])


L_BEAM = {"shape": "L", "depth": 26, "width": 14, "flange": {"thickness": 6, "gap_left": "19.5 ft"}}


def test_top_bars_run_through_where_integrity_lacks_them():
    """A perimeter beam: a sixth of the top steel over its supports runs through; more bottom bars are no cure."""
    loads = [dead({"line": 0.8}, weight=True), live({"line": 1.3}, category="heavy")]
    text = written(
        {**US, "concrete": {"strength": "5000 psi", "aggregate": "0.75 in"}, "profiles": {"p": L_BEAM}},
        [25, 27],
        loads,
        width=16,
    )
    result = ub.design(beam(text))
    assert result.status == "pass"
    assert any(c.id.startswith("integrity.top") for c in result.checks)


@pytest.mark.slow
def test_bars_of_the_lateral_system_develop_at_their_supports():
    loads = [dead({"line": 1.2}, weight=True), live({"line": 1.0}, category="occupied")]
    result = ub.design(beam(written(US, [20, 24], loads, width=16, lateral=True, integrity="interior")))
    assert result.status == "pass"
    assert max(c.ratio for c in result.checks if c.id.startswith("lateral.bottom")) <= 1.0


@pytest.mark.parametrize("turned", [False, True])
def test_a_short_span_that_hogs_past_its_middle_has_the_bars_of_its_inner_support(turned):
    """What hogs beyond the middle belongs to the support that it hogs for: the outer one's bars stay short."""
    profile = {
        "shape": "T",
        "depth": 600,
        "width": 250,
        "flange": {"thickness": 200, "gap_left": "2.6 m", "gap_right": "2.6 m"},
    }
    spans = [6.9, 5.2] if turned else [5.2, 6.9]
    loads = [dead({"line": 23.4}, weight=True), live({"line": 15.3})]
    result = ub.design(beam(written({**EN, "profiles": {"p": profile}}, spans, loads, width=250)))
    assert result.status == "pass"
    outer = [
        b
        for b in result.layout.bars
        if b.face == "top" and "lap" not in b.ends and min(b.start, 12_100.0 - b.end) < 300.0
    ]
    assert len(outer) == 2
    assert max(b.end - b.start for b in outer) < 1800.0


def test_slightly_more_tension_steel_rather_than_held_compression_bars():
    """A US beam that counted on compression bars for a few percent of its moment, and had four legs in a web of 300 mm for them: two
    legs, no bar counted in compression, and less steel."""
    base = {**US, "profiles": {"p": {"shape": "rectangle", "depth": "550 mm", "width": "300 mm"}}}
    loads = [dead({"line": "10.9 kN/m"}, weight=True), live({"line": "11.1 kN/m"}, category="occupied")]
    result = ub.design(beam(written(base, ["6.5 m", "7.4 m"], loads, width="400 mm")))
    assert result.status == "pass"
    assert {z.legs for z in result.layout.stirrups} == {2}
    assert not np.isfinite(result.facts.thinnest_counted).any()


def test_bottom_bars_of_two_spans_do_not_meet_end_to_end():
    """Over a support wide enough for what goes past its faces they stop a step short of its axis; where it is not, they pass each
    other."""
    loads = [dead({"line": 8}, weight=True), live({"line": 6})]
    for width in (300, 200):
        result = ub.design(beam(written(EN, [4.5, 4.0], loads, width=width)))
        assert result.status == "pass"
        left = max(b.end for b in result.layout.bars if b.face == "bottom" and b.end < 6000.0)
        right = min(b.start for b in result.layout.bars if b.face == "bottom" and b.start > 3000.0)
        assert (right - left == 50.0) if width == 300 else (left >= right), width


@pytest.mark.slow
def test_support_bars_that_go_on_past_inflection_stay_in_the_concrete():
    """An ACI perimeter beam whose shorter span is short beside its neighbour: a third of the top bars past the inflection would reach
    the end of the beam, and did so past its cover."""
    profile = {
        "shape": "L",
        "depth": 1050,
        "width": 450,
        "flange": {"thickness": 150, "width": "auto", "gap_left": "4.35 m"},
    }
    points = [{"point": 222, "on": 2, "at": 7.3}, {"point": 60, "on": 2, "at": 8.2}]
    loads = [
        dead({"line": 12.4, "eccentricity": 75}, weight=True),
        live({"line": 20.4}, *points, category="assembly"),
    ]
    base = {**SI, "concrete": {"strength": 28}, "profiles": {"p": profile}}
    base.pop("bracing", None)
    result = ub.design(beam(written(base, [8.95, 11.4], loads, width=400)))
    low, high = result.beam.ends
    assert min(b.start for b in result.layout.bars) >= low + 40.0 - 1.0
    assert max(b.end for b in result.layout.bars) <= high - 40.0 + 1.0
    assert not [c for c in result.checks if c.id.startswith("inside.bars") and not c.ok]


@pytest.mark.slow
def test_a_mark_beyond_four_a_span_costs_as_much_as_a_further_size():
    """Two unlike spans had nine marks, for one bar of 6.6 m beside others; where the least steel is wanted they still have."""
    base = {**EN, "profiles": {"p": {"shape": "rectangle", "depth": 750, "width": 400}}}
    loads = [dead({"line": 17.9}, weight=True), live({"line": 6.2})]
    described = beam(written(base, [8.0, 8.7], loads, width=250))
    plain = ub.design(described)
    lean = ub.design(replace(described, detailing=replace(described.detailing, style="lean")))
    marks = [len({b.mark for b in r.layout.bars}) for r in (plain, lean)]
    assert plain.status == lean.status == "pass"
    assert marks[0] <= 8 < marks[1]
    assert plain.quantities["steel_cost"] < 1.05 * lean.quantities["steel_cost"]


@pytest.mark.slow
def test_a_target_of_deflection_is_met_with_no_more_steel_than_that_takes():
    """No clause limits the total deflection here: bars for it are brought down again until they only just meet it."""
    base = {**US, "profiles": {"p": {"shape": "rectangle", "depth": "450 mm", "width": "300 mm"}}}
    loads = [dead({"line": "14.5 kN/m"}, weight=True), live({"line": "5.5 kN/m"}, category="occupied")]
    result = ub.design(beam(written(base, ["5.9 m"], loads, width="250 mm")))
    (total,) = named(result, "deflection.total.1")
    assert result.status == "pass"
    assert total.severity == "advice"
    assert 0.9 < total.ratio <= 1.0


def test_bars_of_one_span_hold_the_inner_legs_of_its_stirrups():
    """Four legs in the middle span of three, whose web of 250 mm has no room for laps of four bars: two run through, two more go from
    face to face of that span, and every leg has its bar."""
    profile = {
        "shape": "T",
        "depth": 400,
        "width": 250,
        "flange": {"thickness": 150, "gap_left": "2.4 m", "gap_right": "2.4 m"},
    }
    loads = [
        dead({"line": 15.1}, {"point": 61, "at": 1.8, "on": 2}, weight=True),
        live({"line": 17.7}, category="occupied"),
    ]
    result = ub.design(beam(written({**SI, "profiles": {"p": profile}}, [4.7, 4.8, 4.7], loads, width=400)))
    assert result.status == "pass"
    layout, (low, high) = result.layout, result.beam.clear(1)
    assert {z.legs for z in layout.stirrups if low < z.start < high} == {4}
    for zone, x in ((z, x) for z in layout.stirrups for x in (z.start, z.end)):
        for face in ("bottom", "top"):
            row = [b for b in layout.bars if b.face == face and b.layer == 1 and b.start <= x <= b.end]
            assert sum(b.count for b in row) >= zone.legs, (face, x)
    through = [b for b in layout.bars if b.face == "bottom" and "lap" in b.ends]
    assert {b.count for b in through} == {2}


def test_top_bars_for_the_cracks_of_a_flange_are_there_from_the_start():
    """Where 7.3.2 requires more of a wide flange in tension than 9.2.1.1: simple ends whose hogging is small."""
    flange = {"thickness": 200, "gap_left": "2.6 m", "gap_right": "2.6 m"}
    base = {**EN, "profiles": {"p": {"shape": "T", "depth": 450, "width": 250, "flange": flange}}}
    loads = [dead({"line": 12}, weight=True), live({"line": 8})]
    result = ub.design(beam(written(base, [5.0, 5.0], loads, width=300)))
    assert result.status == "pass"
    cracks, strength = (
        max(named(result, f"minimum.{kind}"), key=lambda c: c.demand) for kind in ("cracks-top", "top")
    )
    assert cracks.demand > strength.demand


@pytest.mark.slow
def test_fewer_thicker_bars_where_many_have_no_room():
    """A web of 250 mm, strongly bent over its inner support: of ø 3/4 in bars eight were too many for two rows and for two legs, and
    the design failed by a thousandth. Thicker ones pass with two legs; a section that is too small still fails by its number."""
    base = {**US, "profiles": {"p": {"shape": "rectangle", "depth": "550 mm", "width": "250 mm"}}}

    def designed(line_load: str):
        loads = [
            dead({"line": line_load}, {"point": "36 kN", "at": "2.6 m", "on": 1}, weight=True),
            live({"line": "18.8 kN/m"}, category="occupied"),
        ]
        return ub.design(beam(written(base, ["6.5 m", "5.8 m"], loads, width="250 mm")))

    result = designed("19.7 kN/m")
    assert result.status == "pass"
    assert {z.legs for z in result.layout.stirrups} == {2}
    assert max(b.layer for b in result.layout.bars) == 2
    small = designed("60 kN/m")
    assert small.status == "fail"
    assert small.layout.bars


@pytest.mark.slow
def test_two_targets_missed_narrowly_are_better_than_one_by_far():
    """A line whose last span is too slender for its total deflection: the design that missed its target by a third was the cheapest of
    those that missed one; there are some that miss it by less than half of that."""
    base = {
        **SI,
        "concrete": {"strength": 42},
        "profiles": {"p": {"shape": "rectangle", "depth": 600, "width": 300}},
    }
    base.pop("bracing")
    loads = [dead({"line": 22}, weight=True), live({"line": 24}, category="heavy")]
    result = ub.design(beam(written(base, [6.75, 6.6, 8.55], loads, width=350)))
    totals = [c.ratio for c in result.checks if c.kind.id == "deflection.total"]
    assert result.status == "pass"
    assert max(totals) < 1.15


def test_a_pair_of_bars_is_lapped_together_where_any_size_allows_it():
    """In a web of 220 mm two thick bars have no room for both laps in one place; thinner ones have, and thick ones stand over the
    supports alone: no row of two single bars, and a fifth cheaper."""
    base = {
        **EN,
        "profiles": {"p": {"shape": "rectangle", "depth": 600, "width": 220}},
        "detailing": {"stock_length": "12 m"},
    }
    text = written(base, [6.5, 7.0, 6.5], [dead({"line": 10}, weight=True), live({"line": 30})])
    result = ub.design(beam(text))
    assert result.status == "pass"
    assert {b.count for b in result.layout.bars if "lap" in b.ends} == {2}


@pytest.mark.slow
def test_a_pair_is_lapped_at_places_of_their_own_only_where_that_is_asked_for(monkeypatch):
    """Where not even thin bars leave room for it the design fails for its rows, and what cures it is said."""
    base = {**EN, "profiles": {"p": {"shape": "rectangle", "depth": 600, "width": 180}}}
    loads = [dead({"line": 14}, weight=True), live({"line": 34})]
    described = beam(written(base, [6.5, 7.0, 6.5], loads))
    result = ub.design(described)
    assert result.status == "fail"
    assert {b.count for b in result.layout.bars if "lap" in b.ends} == {2}
    # others cure it too; they are slow, and tried elsewhere
    for measure in ("DEPTHS", "WIDTHS", "STRENGTHS"):
        monkeypatch.setattr(suggesting, measure, 0)
    assert "laps: staggered" in suggest(described).texts[0]
    apart = ub.design(replace(described, detailing=replace(described.detailing, laps="staggered")))
    assert apart.status == "pass"
    assert 1 in {b.count for b in apart.layout.bars if "lap" in b.ends}


def test_odd_bars_of_two_spans_do_not_pass_each_other_over_a_support():
    """The shorter of two groups of one bar each, which lie in one row where they pass each other, gets a bar more."""
    left, right, far = (
        Bar("", "bottom", 1, 1, "20", start, end, ("straight", "straight"), (0.0, 0.0))
        for start, end in ((0.0, 6300.0), (5700.0, 11_000.0), (11_500.0, 16_000.0))
    )
    assert [b.count for b in symmetrical([left, right, far])] == [1, 2, 1]


@pytest.mark.slow
def test_legs_of_side_bars_count_against_stock():
    """Bent into both ends a beam of 11.6 m would take pieces of 11.79 m and two legs of 0.28: more than the 12 m of stock, so two
    pieces lapped."""
    base = {**EN, "profiles": {"p": {"shape": "rectangle", "depth": 900, "width": 400}}}
    text = written(
        base, [11.6], [dead({"line": 10}, {"torque": 14}, weight=True), live({"line": 6})], width=250
    )
    result = ub.design(beam(text))
    assert result.status == "pass"
    assert [s.ends for s in result.layout.sides] == [("bend", "straight"), ("straight", "bend")]
    assert max(s.end - s.start + sum(s.legs) for s in result.layout.sides) <= 12_000.0
    assert result.layout.sides[-1].end - result.layout.sides[0].start + 2 * 280.0 > 12_000.0


def test_ends_near_a_support_stand_apart_too():
    """A bar that stops 25 mm past the beginning of the next span's bar, and 25 mm before the face, goes on into the support; at the
    beam's last support it stays."""
    described = line([6000.0, 5000.0], uniform(2, [6000.0, 5000.0], 10.0))  # faces at 5850 and 6150
    first = Bar("", "bottom", 2, 2, "16", 3000.0, 5825.0)
    second = Bar("", "bottom", 2, 4, "16", 5800.0, 9000.0)
    assert [b.end for b in ends_apart(described, [first, second])] == [5900.0, 9000.0]
    last = [replace(b, start=b.start + 5000.0, end=b.end + 5000.0) for b in (first, second)]  # face at 10 850
    assert [b.end for b in ends_apart(described, last)] == [10_825.0, 14_000.0]


@pytest.mark.parametrize("base", [US, SI])
def test_bottom_bars_of_unlike_depths_pass_each_other_over_their_support(base):
    """Where the soffit steps, straight bars cannot be continuous: those of each span go at least to the middle of the support, at
    levels of their own, and are judged from face to face."""
    profiles = {
        name: {"shape": "rectangle", "depth": f"{depth} mm", "width": "300 mm"}
        for name, depth in (("p", 600), ("q", 700))
    }
    loads = [
        dead({"line": "12 kN/m"}, weight=True),
        live({"line": "10 kN/m"}, category="occupied"),
    ]
    items = [{"span": "6 m", "profile": "p"}, {"span": "7 m", "profile": "q"}]
    result = ub.design(beam(written({**base, "profiles": profiles}, items, loads, width="350 mm")))
    assert result.status == "pass"
    for c in named(result, "integrity.bottom.1") + named(result, "integrity.bottom.2"):
        low, high = result.beam.clear(c.span - 1)
        assert low - 1.0 <= c.x <= high + 1.0
    reach = [(b.start, b.end) for b in result.layout.bars if b.face == "bottom"]
    assert max(end for start, end in reach if start < 3000.0) >= 6000.0
    assert min(start for start, end in reach if end > 9000.0) <= 6000.0


def test_thicker_stirrups_give_thick_bars_the_cover_of_their_bond():
    """25 mm to the stirrups, bars of 25 mm alone: 4.4.1.2(3) and 10 mm of deviation ask for 35 mm, which stirrups of 10 mm leave and
    those of 8 mm do not."""
    base = {
        **EN,
        "cover": {"top": 25, "bottom": 25, "sides": 25},
        "detailing": {"main_bars": [25], "stirrup_bars": [8, 10]},
    }
    text = written(base, [6.0, 5.0], [dead({"line": 15}, weight=True), live({"line": 10})])
    result = ub.design(beam(text))
    assert result.status == "pass"
    assert {z.size for z in result.layout.stirrups} == {"10"}


@pytest.mark.slow
def test_a_target_of_deflection_is_approached_as_far_as_there_is_room():
    """The steel that the target asks for has a second row whose bent legs are longer than the beam is deep: what lies between that and
    the design that missed by a quarter is tried."""
    profile = {
        "shape": "T",
        "depth": 16,
        "width": 12,
        "flange": {"thickness": 5, "gap_left": "12.5 ft", "gap_right": "12.5 ft"},
    }
    base = {**US, "concrete": {"strength": "5000 psi", "aggregate": "0.75 in"}, "profiles": {"p": profile}}
    base.pop("bracing")
    loads = [dead({"line": 0.7}, weight=True), live({"line": 1.35}, category="heavy")]
    result = ub.design(beam(written(base, [18.5], loads, width=10)))
    (total,) = named(result, "deflection.total.1")
    assert result.status == "pass"
    assert total.ratio < 1.1


@pytest.mark.slow
def test_bars_whose_legs_are_longer_than_the_beam_is_deep_are_thinner():
    """Bars of 25 mm and more: the second row of 32 mm cannot be bent in a beam of 650 mm."""
    base = {
        **SI,
        "profiles": {"p": {"shape": "rectangle", "depth": 650, "width": 350}},
        "detailing": {"main_bars": [25, 29, 32, 36]},
    }
    points = [{"point": 123, "at": 2.1, "on": 1}, {"point": 46, "at": 1.6, "on": 1}]
    loads = [dead({"line": 17}, *points, weight=True), live({"line": 9.5}, category="occupied")]
    result = ub.design(beam(written(base, [8.85], loads, width=400)))
    (total,) = named(result, "deflection.total.1")
    assert result.status == "pass"
    assert total.ratio < 1.25


def test_bars_bent_up_where_the_soffit_steps_have_legs_of_their_own_span():
    """A span of 1250 mm beside one of 650 whose web is wider, over a narrow support: the bars of either stop in it, bent up within the
    depth of their own span."""
    flange = {"thickness": 160, "width": 2100}
    profiles = {
        "deep": {"shape": "T", "depth": 1250, "width": 300, "flange": flange},
        "p": {"shape": "T", "depth": 650, "width": 400, "flange": flange},
    }
    base = {**EN, "profiles": profiles, "detailing": {"main_bars": [25, 32]}}
    items = [{"span": 7.8, "profile": "deep"}, {"span": 6.5, "profile": "p"}]
    loads = [dead({"line": 12}, weight=True), live({"line": 9})]
    result = ub.design(beam(written(base, items, loads, width=250)))
    assert result.status == "pass"
    bent = [b for b in result.layout.bars if b.face == "bottom" and b.start > 7000.0 and b.ends[0] == "bend"]
    assert bent
    assert max(b.legs[0] for b in bent) <= 650.0 - 60.0


@pytest.mark.parametrize("spans", [[8.0], [10.0, 9.0]])
def test_long_laps_of_short_pieces_find_their_places(spans):
    """Laps of 2.16 m leave pieces of 5.5 m a window of 20 cm to be lapped in: less than stations are apart. Top bars ran in one
    piece of up to 19 m."""
    profile = {"p": {"shape": "rectangle", "depth": 900, "width": 500}}
    wishes = {"main_bars": [25, 32], "stock_length": "5.5 m"}
    base = {**EN, "concrete": {"grade": "C25/30", "aggregate": 20}, "profiles": profile, "detailing": wishes}
    made = design(written(base, spans, [dead({"line": 20}, weight=True), live({"line": 15})], width=350))
    assert made.status == "pass"
    assert max(item.cut_length for item in made.bars) <= 5500.0
    assert not [c for c in named(made, "stock") if not c.ok]


@pytest.mark.slow
def test_no_bar_of_a_design_is_longer_than_stock_while_there_is_another():
    """Laps of 32 mm bars of Grade 690 are so long that three pieces of 12 m leave no place for them: thinner bars run through, not one
    piece of 29 m."""
    base = {
        **SI,
        "concrete": {"strength": 35},
        "reinforcement": {"yield": 690},
        "profiles": {"p": {"shape": "rectangle", "depth": 750, "width": 400}},
    }
    base.pop("bracing")
    loads = [dead({"line": 18}, weight=True), live({"line": 19}, category="heavy")]
    text = written(base, [8.85, 8.65, 10.4], loads, width=250, redistribution={"percent": 10})
    result = ub.design(beam(text))
    assert result.status == "pass"
    assert max(i.cut_length for i in result.bars) <= 12_000.0


def test_bars_that_a_step_stops_short_of_their_anchorage_are_bent_up_before_it():
    """Torque pulls the bottom bars over the support of a cantilever 50 mm less deep: they cannot go on into it, and straight ends 95 mm
    past the axis held 30 % of them."""
    flange = {"thickness": 150, "width": 1700}
    profiles = {
        name: {"shape": "T", "depth": depth, "width": 250, "flange": flange}
        for name, depth in (("p", 400), ("q", 350))
    }
    base = {**EN, "concrete": {"grade": "C35/45"}, "profiles": profiles}
    items = [4.35, 4.2, 4.7, {"span": 1.05, "profile": "q", "free": True}]
    torque = {"kind": "permanent", "self_weight": True, "loads": [{"line": 11.5}, {"torque": 3}]}
    loads = [torque, live({"line": 9}, {"line": 10, "on": 3, "from": 1.25, "to": 4.25}, category="C")]
    result = ub.design(beam(written(base, items, loads, width=250)))
    assert result.status == "pass"
    reaching = [b for b in result.layout.bars if b.face == "bottom" and 13_125.0 < b.end < 13_400.0]
    assert "bend" in {b.ends[1] for b in reaching}


def test_legs_too_far_apart_for_the_depth_that_the_bars_leave():
    """The deeper of two spans, over the support where the bars of the other hang lower from the top: 0.75 d is 2 mm less than the
    distance of two legs, so it has four."""
    profiles = {
        name: {"shape": "rectangle", "depth": depth, "width": 300} for name, depth in (("p", 400), ("q", 300))
    }
    base = {**EN, "annex": "uk", "concrete": {"grade": "C50/60"}, "profiles": profiles}
    items = [{"span": 4.1, "profile": "p"}, {"span": 3.7, "profile": "q"}]
    wind = {"kind": "wind", "loads": [{"line": -8}]}
    snow = {"kind": "snow", "loads": [{"line": 2}]}
    loads = [dead({"line": 7}, weight=True), live({"line": 13.5}, category="E"), wind, snow]
    service = {"deflection": {"total": "span/250"}, "crack_width": 0.3}
    result = ub.design(beam(written(base, items, loads, width=200, service=service)))
    assert result.status == "pass"
    assert max(z.legs for z in result.layout.stirrups if z.start < 4000.0) == 4


@pytest.mark.slow
@pytest.mark.parametrize("spans", [[7.0], [7.0, 7.0]])
def test_extra_bars_are_as_long_as_their_stress_asks_for_and_no_longer(spans):
    """Cut by 350 mm at either end, a bar that stops in a span fails for its own end; none is anchored for yield past
    where the others suffice."""
    base = {**EN, "profiles": {"p": {"shape": "rectangle", "depth": 600, "width": 350}}}
    described = beam(written(base, spans, [dead({"line": 20}, weight=True), live({"line": 20})]))
    designed = ub.design(described)
    assert designed.status == "pass"
    bars = designed.layout.bars
    shortened = 0
    for k, bar in enumerate(bars):
        for side in (0, 1):
            if bar.ends != ("straight", "straight"):
                continue
            less = replace(bar, start=bar.start + 350.0) if side == 0 else replace(bar, end=bar.end - 350.0)
            again = ub.check(described, replace(designed.layout, bars=(*bars[:k], less, *bars[k + 1 :])))
            failing = {c.kind.id.split(".")[0] for c in again.checks if not c.ok and c.severity == "must"}
            assert failing & {"curtailment", "anchorage"}
            shortened += 1
    assert shortened >= 2 * len(spans)


@pytest.mark.slow
@pytest.mark.parametrize("code", [EN, {**SI, "bracing": "continuous"}])
def test_laps_for_their_stress_are_shorter_where_bars_are_idle(code):
    """Over supports bottom bars do little; top bars in the middle of spans only where these hog there."""
    base = {**code, "profiles": {"p": {"shape": "rectangle", "depth": 600, "width": 350}}}
    loads = [dead({"line": 20}, weight=True), live({"line": 15}, category="B" if code is EN else "occupied")]
    for_yield, for_stress = (
        ub.design(beam(written({**base, "detailing": {"laps_for": wish}}, [6.5, 7.0, 6.0], loads)))
        for wish in ("yield", "stress")
    )
    assert for_yield.status == for_stress.status == "pass"
    laps = [sum(c.resistance for c in named(r, "lap.")) for r in (for_yield, for_stress)]
    assert laps[0] > 0.0
    if code is EN:
        assert laps[1] < 0.95 * laps[0]
    assert for_stress.quantities["steel_kg"] <= for_yield.quantities["steel_kg"] + 1e-6


def test_closer_stirrups_at_the_end_of_a_bar_go_on_past_it():
    """Stirrups of 125 mm, asked for within 300 mm of the cut, changed to wider ones before the next place that 9.7.3.5
    looks at; the design failed by an eighth however often it was tried."""
    tee = {
        "shape": "T", "depth": 750, "width": 450,
        "flange": {"thickness": 130, "width": "auto", "gap_left": "5.05 m", "gap_right": "5.05 m"},
    }  # fmt: skip
    base = {
        **SI,
        "concrete": {"strength": "35 MPa"},
        "reinforcement": {"yield": "420 MPa"},
        "profiles": {"p": tee},
        "detailing": {},
    }
    loads = [dead({"line": 20.5}, weight=True), live({"line": 26.5}, category="assembly")]
    result = ub.design(beam(written(base, [8.35, 8.7], loads, width=400)))
    assert [c.id for c in result.checks if not c.ok and c.kind.lesson == "cut-off"] == []


def test_stirrups_that_begin_alike_and_end_at_other_depths_have_marks_of_their_own():
    """Two zones of a tapering span, of five stirrups each, from one place on: one reaches where it is 100 mm deeper."""
    shape = {"shape": "rectangle", "width": 300}
    base = {**EN, "profiles": {"low": {**shape, "depth": 500}, "high": {**shape, "depth": 900}}}
    taper = {"span": 8.0, "profile": {"from": "low", "to": "high"}}
    described = beam(written(base, [taper], [dead({"line": 10})]))
    zones = [StirrupZone("", "8", 2, 1000.0, 1000.0 + 4.0 * s, s) for s in (100.0, 200.0, 100.0)]
    layout = marked(described, code_of(described).sizes, [], zones, Layout((), ()), [])
    assert len({z.mark for z in layout.stirrups}) == 2
    even = beam(written(base, [{"span": 8.0, "profile": "low"}], [dead({"line": 10})]))
    layout = marked(even, code_of(even).sizes, [], zones, Layout((), ()), [])
    assert len({z.mark for z in layout.stirrups}) == 1


def test_side_bars_are_bent_round_the_former_of_the_other_bars_of_their_size():
    """The canopy's bars of 12 mm need 80 mm for their long legs; its side bars would do with 48 mm, and have room."""
    from upright_bramble.files.beam_file import beam_from
    from upright_bramble.files.yaml_source import parse_yaml

    result = ub.design(beam_from(parse_yaml(demo("canopy-edge"), "canopy")))
    bent = [b for b in result_model(result).bars if b.mandrel_mm]
    assert {b.face for b in bent} == {"bottom", "side", "top"}
    assert {b.mandrel_mm for b in bent} == {80.0}


def heavy(base: dict, spans: list[float], dead_line: float, live_line: float, **more) -> str:
    """A strongly bent beam of 350 by 800 mm to CSA A23.3, whose bars have little room."""
    profile = {"p": {"shape": "rectangle", "depth": 800, "width": 350, **more.pop("profile", {})}}
    loads = [dead({"line": dead_line}), live({"line": live_line}, category="general")]
    return written({**base, "profiles": profile}, spans, loads, **{"width": 350, **more})


@pytest.mark.slow
def test_where_laps_leave_no_room_beside_them_bars_of_the_second_row_go_on():
    """Four bars fit in a row, and the middle span hogs throughout: bars that run through are lapped in it, the first row's
    extra bars stop before the laps and two of the second stand over those that run through."""
    result = design(heavy(CSA, [7.0, 7.0, 7.0], 50, 60))
    assert result.status == "pass", [c.id for c in result.failing]
    top = [b for b in result.layout.bars if b.face == "top"]
    laps = [(top[j].start, top[i].end) for i, j in lapped_pairs(top)]
    extra = [b for b in top if b.layer == 1 and "lap" not in b.ends]
    assert laps
    assert extra
    assert not any(b.start < high and b.end > low for b in extra for low, high in laps)
    second = [b for b in top if b.layer == 2]
    for b in extra:
        assert any(v.start < b.start - 500.0 and v.end > b.end + 500.0 for v in second)
    for support in (7000.0, 14_000.0):
        over = {round(b.end - b.start) for b in top if b.start < support < b.end and "lap" not in b.ends}
        assert len(over) <= 2


@pytest.mark.slow
@pytest.mark.parametrize("rows", [None, 2])
def test_a_third_row_is_tried_before_failure_where_the_user_says_nothing_of_rows(rows):
    """A web of 225 mm that holds two bars a row."""
    wishes = {"layers": rows} if rows else {}
    text = heavy(CSA, [8.75, 10.25, 8.25], 19.1, 15.8, profile={"width": 225}, detailing=wishes, width=250)
    result = design(text)
    assert (result.status == "pass") == (rows is None)
    assert any(b.layer == 3 for b in result.layout.bars) == (rows is None)


def test_compressed_bars_past_a_step_of_the_soffit_are_anchored_in_the_deeper_section():
    """A cantilever of 450 mm beside a span of 650 mm: what its bottom bars carry in compression at the face they have got
    over their length beyond it."""
    profiles = {
        "p": {"shape": "rectangle", "depth": 650, "width": 300},
        "q": {"shape": "rectangle", "depth": 450, "width": 300},
    }
    text = written(
        {**EN, "profiles": profiles},
        [7.0, {"span": 2.0, "profile": "q", "free": True}],
        [dead({"line": 20}, {"point": 110, "on": 2, "at": 1.9}), live({"line": 10})],
        service={"deflection": {"total": "none", "after_finishes": "none"}},
    )
    result = design(text)
    assert result.status == "pass", [c.id for c in result.failing]
    placed = result.facts.placed
    face = int(np.abs(result.forces.stations.x - 7150.0).argmin())
    own = [g for g, b in enumerate(placed.bars) if b.face == "bottom" and b.end > 8500.0]
    assert own
    assert all(placed.effective[face, g] == pytest.approx(placed.area[g]) for g in own)
    short = [
        replace(b, start=6900.0) if b.face == "bottom" and b.end > 8500.0 else b for b in result.layout.bars
    ]
    again = ub.check(beam(text), replace(result.layout, bars=tuple(short)))
    assert "ductility.hogging.S1" in {c.id for c in again.failing}


PERIMETER = """
bramble: 1
beam: edge beam of the annex
mark: T1
code: aci318-19
units: us
concrete: {strength: 4000 psi}
reinforcement: {yield: 60 ksi}
cover: {top: 1.5, bottom: 1.5, sides: 1.5}
profiles:
  main: {shape: L, depth: 26 in, width: 20, flange: {thickness: 6, width: 54}}
line:
- {support: A, width: 14}
- {span: 20.0, profile: main}
- {support: B, width: 12, column: {below: {height: 11 ft, size: [12, 12], far_end: fixed}}}
actions:
- {name: floor, kind: permanent, self_weight: true, loads: [{line: 1.2}]}
- {name: people, kind: imposed, loads: [{line: 1.2}]}
detailing: {reserve: 0}
"""


def test_hooks_in_a_narrow_column_have_their_distance():
    """25.4.3.2: hooks of 12 in columns develop where they stand 6 d_b apart; others of the first row within 40 d_b count as beside
    them."""
    result = design(PERIMETER)
    assert result.status == "pass", [c.id for c in result.failing]
    assert named(result, "integrity.end-bottom.B-left")[0].ok
    hooked = [b for b in result.layout.bars if b.face == "bottom" and b.ends[1] in ("bend", "hook")]
    assert sum(b.count for b in hooked) >= 2


@pytest.mark.parametrize(("base", "category"), [(EN, "B"), (SI, "occupied")])
@pytest.mark.parametrize("support", [200, 300])
def test_legs_of_side_bars_lie_in_the_web(base, category, support):
    """Torsion at narrow ends: thin bars in more rows, not one of 32 mm whose leg of 304 mm sticks out of a web of 300."""
    loads = [dead({"line": 15}, {"torque": 6}), live({"line": 8}, category=category)]
    profile = {"p": {"shape": "rectangle", "depth": 600, "width": 300}}
    text = written({**base, "profiles": profile}, [6.0], loads, width=support)
    result = design(text)
    assert result.status == "pass", [c.id for c in result.failing]
    sides = result.layout.sides
    assert sides
    cover = base["cover"]["sides"]
    assert all(max(s.legs) <= 300.0 - 2.0 * cover - 8.0 for s in sides)
    assert all(s.size not in ("25", "32") for s in sides)
    longer = [replace(s, ends=("bend", "bend"), legs=(304.0, 304.0)) for s in sides]
    again = ub.check(beam(text), replace(result.layout, sides=tuple(longer)))
    assert {c.kind.id for c in again.failing} >= {"fit.sides"}


def test_a_second_length_lies_over_its_support():
    """The flange of a floor beam is wider past the hogging over a support, and its least steel greater: 1 m pieces lay there alone."""
    tee = {
        "shape": "T", "depth": 850, "width": 500,
        "flange": {"thickness": 180, "gap_left": "2.6 m", "gap_right": "2.6 m"},
    }  # fmt: skip
    loads = [dead({"line": 19.9}, weight=True), live({"line": 7.7})]
    result = ub.design(beam(written({**EN, "profiles": {"p": tee}}, [7.3, 7.5, 9.5], loads, width=400)))
    assert result.status == "pass"
    short = [b for b in result.layout.bars if b.face == "top" and "lap" not in b.ends]
    assert len(short) >= 4
    for bar in short:
        assert any(bar.start < s.x + 1.0 and bar.end > s.x - 1.0 for s in result.beam.supports)
        assert bar.end - bar.start > 1100.0


@pytest.mark.slow
def test_legs_of_wide_beams_where_the_code_sets_no_limit():
    """IS 456 has no rule across the beam: two legs of 12 mm 830 mm apart were taken. Layouts like that have a remark."""
    base = {**IS, "profiles": {"p": {"shape": "rectangle", "depth": 450, "width": 900}}}
    loads = [dead({"line": 30}, weight=True), live({"line": 25}, category="general")]
    described = beam(written(base, [6.0, 7.2, 6.0], loads, width=400))
    result = ub.design(described)
    assert result.status == "pass"
    assert {z.legs for z in result.layout.stirrups} == {4}
    said = "apart across the beam"
    assert not [m for m in result.messages if said in m.text]
    two = tuple(replace(z, legs=2, size="12") for z in result.layout.stirrups)
    assert [m for m in ub.check(described, replace(result.layout, stirrups=two)).messages if said in m.text]


def test_distances_in_a_row_are_reckoned_by_its_thickest_bar():
    """300 wide, cover 30, stirrups 8: axes of two 25 and two 16 mm bars (300 - 76 - 25)/3 = 66.3 mm apart, 41.3 mm clear where 45 are
    wished for; by the thinner ones it would be 53.3."""
    base = {**EN, "detailing": {"bar_spacing": {"clear": 45}}}
    text = written(base, [6.0], [dead({"line": 12}, weight=True)])
    bars = "bottom 2x25 -0.12..6.12\nbottom 2x16 -0.12..6.12\ntop 2x16 -0.12..6.12\nstirrups 8x2 0.2..5.8 150"
    remarks = [m.text for m in check(text, bars).messages if "between bars where" in m.text]
    assert len(remarks) == 1
    assert "41" in remarks[0]
