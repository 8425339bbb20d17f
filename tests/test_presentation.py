"""What people see: numbers, tables, sketches, figures; and the files behind them."""

from __future__ import annotations

import io
import json
import re
from dataclasses import replace

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

import upright_bramble as ub
import yaml_beams
from upright_bramble import suggesting
from upright_bramble.beam import Bar, Layout, StirrupZone
from upright_bramble.codes import get_code
from upright_bramble.files.beam_file import beam_from
from upright_bramble.files.layout_file import layout_text, read_layout
from upright_bramble.files.result_data import Origin, result_data, result_model, to_json
from upright_bramble.files.result_file import ResultFile
from upright_bramble.files.yaml_source import parse_yaml
from upright_bramble.present.checks import against
from upright_bramble.present.diagrams import diagrams
from upright_bramble.present.forces_diagram import forces_diagram
from upright_bramble.present.forces_view import sketch
from upright_bramble.present.numbers import shown_for, significant
from upright_bramble.present.painters import figure, png, svg_file
from upright_bramble.present.palette import BERRY, INK, LEAF, STRAW, THORN
from upright_bramble.present.panels import ground_of, panels_of
from upright_bramble.present.summary import summary, summary_rows
from upright_bramble.present.terminal import make_console, plain
from upright_bramble.verify.quantities import STEEL_DENSITY, bar_item, closed_stirrup

CODE = get_code("en1992-1-1")


@pytest.mark.parametrize(
    ("value", "text"),
    [
        (0.0, "0"),
        (12.345, "12.3"),
        (1234.5, "1235"),
        (19.05, "19.1"),
        (19.049999999999997, "19.1"),
        (0.012345, "0.0123"),
        (-7.0, "-7.00"),
        (99.96, "100.0"),
        (1e-12, "0"),
    ],
)
def test_three_significant_digits(value, text):
    assert significant(value) == text


@given(st.floats(1e-3, 1e6))
def test_significant_is_close_and_never_an_exponent(value):
    text = significant(value)
    assert "e" not in text
    assert float(text) == pytest.approx(value, rel=5.1e-3)


def text_of(result, width: int = 80) -> str:
    from rich.console import Console

    out = io.StringIO()
    console = Console(
        file=out, width=width, no_color=True, color_system=None, markup=False, highlight=False, emoji=False
    )
    summary(console, result_model(result))
    return out.getvalue()


def test_summary_says_the_verdict_first_and_what_governs(deck_design):
    lines = text_of(deck_design).splitlines()
    assert lines[0].startswith("pass  DB3  Boathouse deck, line 3")
    governing = deck_design.governing
    assert any(
        line.startswith("governs") and governing.id in line and f"{governing.ratio:.2f}" in line
        for line in lines
    )
    assert any(governing.clause in line for line in lines)
    assert any("kg/m³" in line and "%" in line for line in lines)
    rows = summary_rows(result_model(deck_design))
    assert [r[0] for r in rows if r[1] == "bottom"] == ["1", "2", "3", "4"]
    assert [r[0] for r in rows if r[1] == "top"] == ["A-B", "B-C", "C-D", "D-tip"]
    assert max(len(line) for line in lines) <= 80


@pytest.mark.slow
def test_summary_of_a_failing_beam(monkeypatch):
    # others cure it too; they are tried elsewhere
    monkeypatch.setattr(suggesting, "WIDTHS", 0)
    monkeypatch.setattr(suggesting, "STRENGTHS", 0)
    beam = beam_from(parse_yaml(yaml_beams.demo("slipway-lintel"), "x"))
    result = ub.design(beam)
    text = text_of(result)
    assert text.startswith("fail")
    assert any(
        "increase the depth of all spans by" in s and "mm (checked: passes)" in s for s in ub.suggest(beam)
    )
    for check in result.failing[:3]:
        assert check.id in text
    assert "!" in "".join("".join(r) for r in summary_rows(result_model(result)))


def test_plain_terminals_get_plain_text():
    class Narrow:
        encoding = "ascii"

    assert plain(Narrow(), "5ø20 × 3 – 12 m³") == "5d20 x 3 - 12 m3"  # type: ignore[arg-type]
    assert plain(Narrow(), "Bootshaus für zwei") == "Bootshaus f?r zwei"  # type: ignore[arg-type]
    assert not make_console(colour=False).is_terminal


def test_sketch_has_the_shape():
    x = np.linspace(0.0, 10.0, 101)
    lines = sketch(x, np.sin(x / 10 * np.pi) * 50.0, np.zeros(101), 60)
    assert len(lines) == 11
    assert lines[0].strip().startswith("50")
    widths = [line.count(":") + line.count("+") for line in lines]
    assert widths == sorted(widths)
    flat = sketch(x, np.zeros(101), np.zeros(101), 60)
    assert all(":" not in line for line in flat)


def test_units_of_the_file_are_the_units_shown(deck_design):
    feet = shown_for(replace(deck_design.beam, units="us"))
    check = next(c for c in result_model(deck_design).checks if c.id == "bending.sagging.1")
    shown = against(check, feet.system)
    assert shown.endswith("kip·ft")
    assert float(shown.split()[0]) == pytest.approx(check.demand * 1e6 / 1355817.9, rel=5e-3)
    assert feet.place(3048.0) == "10.00 ft"


@pytest.mark.slow
def test_sentences_of_a_us_file_are_in_us_units(tmp_path):
    """In the result file too, which drawing and report read: no mm, no kN in any note, reason or message."""
    text = yaml_beams.demo("annex-floor").replace("bars: [5, 6, 7, 8]", "bars: [5]")
    r = result_model(ub.design(beam_from(parse_yaml(text, "x"))))
    said = [
        *(c.note for c in r.checks),
        *(m.text for m in r.messages),
        *(m.where for m in r.messages),
        *(g.reason for g in r.verdict.not_verified),
    ]
    assert any(re.search(r"\d (in|ft|kip)", v) for v in said)
    assert not [v for v in said if re.search(r"\d (mm|kN|MPa|m\b)", v)]


def boxes(scene):
    """Text of a picture with its place on the canvas, as its font sets it."""
    from matplotlib.backends.backend_agg import FigureCanvasAgg
    from matplotlib.text import Text

    painted = figure(scene)
    canvas = FigureCanvasAgg(painted)
    canvas.draw()
    renderer = canvas.get_renderer()
    result = []
    for axis in painted.axes:
        for text in axis.texts:
            if isinstance(text, Text) and text.get_text() and text.get_visible():
                result.append((text.get_text(), text.get_window_extent(renderer)))
    return result, painted.bbox


@pytest.mark.slow
@pytest.mark.parametrize("name", ["boathouse-deck", "hall-transfer", "slipway-lintel"])
def test_labels_of_the_diagrams_stay_apart_and_inside(name):
    result = ub.design(beam_from(parse_yaml(yaml_beams.demo(name), "x")))
    for scene in (diagrams(result_model(result)), forces_diagram(result.beam, result.forces)):
        collected, canvas = boxes(scene)
        assert len(collected) > 5
        for text, box in collected:
            assert box.x0 >= -1, text
            assert box.x1 <= canvas.x1 + 1, text
            assert box.y0 >= -1, text
            assert box.y1 <= canvas.y1 + 1, text
        for i, (one, a) in enumerate(collected):
            for other, b in collected[i + 1 :]:
                wide = min(a.x1, b.x1) - max(a.x0, b.x0)
                high = min(a.y1, b.y1) - max(a.y0, b.y0)
                assert wide <= 1 or high <= 1, (one, other)


@pytest.mark.slow
def test_figures_are_the_same_bytes_again(deck_design):
    """From memory and from the file, again and again."""
    r = result_model(deck_design)
    again = ResultFile.model_validate(json.loads(to_json(result_data(deck_design, Origin("x", "0" * 64)))))
    for painted, head in ((svg_file, b"<?xml"), (png, b"\x89PNG")):
        first, second = (painted(diagrams(v)) for v in (r, again))
        assert first == second
        assert first.startswith(head)
    svg = svg_file(diagrams(r)).decode()
    for word in ("design moment, shifted", "resistance, bars anchored", "long term", "span 2"):
        assert word in svg


def test_a_hole_in_the_resistance_is_drawn(deck_design):
    """Between demand and resistance, where demand is beyond it and nowhere else."""
    weak = tuple(
        replace(b, count=1) if b.face == "bottom" and b.start > 5000 else b for b in deck_design.layout.bars
    )
    broken = ub.check(deck_design.beam, replace(deck_design.layout, bars=weak))
    assert broken.status == "fail"
    for result, holed in ((broken, True), (deck_design, False)):
        r = result_model(result)
        fills = [f for f in panels_of(r)[0].fills if f.colour == "thorn"]
        assert bool(fills) == holed
        c = result.curves
        over = (c.design_moment_max > c.moment_positive * (1.0 + 1e-6)) & (c.design_moment_max > 1e6)
        inside = ground_of(r).judged
        assert (np.isfinite(fills[0].low) == (over & inside)).all() if holed else not (over & inside).any()
        assert (
            THORN.lower() in svg_file(diagrams(r)).decode().lower().replace('stroke="' + THORN.lower(), "")
        ) == holed


def test_hostile_titles_stay_text(deck_design):
    evil = replace(deck_design.beam, title="<script>x</script> $\\frac{1}{2}$ [bold]red")
    result = replace(deck_design, beam=evil)
    svg = svg_file(diagrams(result_model(result))).decode()
    assert "<script>" not in svg
    assert "&lt;script&gt;" in svg
    assert "[bold]red" in text_of(result, 120)


def test_colours_differ_in_black_and_white():
    """The palette's greys stand apart, so that shape and word are not alone."""

    def grey(colour: str) -> float:
        r, g, b = (int(colour[i : i + 2], 16) / 255 for i in (1, 3, 5))
        return 0.2126 * r + 0.7152 * g + 0.0722 * b

    assert abs(grey(INK) - grey(BERRY)) > 0.05
    assert abs(grey(LEAF) - grey(STRAW)) > 0.1


def test_result_file_holds_the_contract(deck_design):
    data = json.loads(to_json(result_data(deck_design, Origin("x", "0" * 64))))
    ResultFile.model_validate(data)
    first = [
        "format",
        "version",
        "tool_version",
        "beam_file",
        "input_sha256",
        "layout_sha256",
        "derived",
        "beam",
    ]
    assert list(data)[:8] == first
    n = len(data["stations"]["x_mm"])
    for part in ("strength", "design", "steel", "resistance", "deflection", "crack"):
        assert all(v is None or len(v) == n for v in data["stations"][part].values()), part
    assert set(data["stations"]["service"]) == {"characteristic", "frequent", "quasi_permanent"}
    ids = [c["id"] for c in data["checks"]]
    assert len(set(ids)) == len(ids)
    assert data["verdict"]["governing"] in ids
    for c in data["checks"]:
        if c["resistance"] > 0.01 and c["ratio"] < 99:
            assert c["ratio"] == pytest.approx(c["demand"] / c["resistance"], rel=0.02, abs=1e-3), c
    assert "NaN" not in to_json(data)
    assert data["beam"]["spans"][3]["clear_end_mm"] == data["beam"]["length_mm"]


bar = st.builds(
    lambda mark, face, layer, count, size, a, length, ends, legs, held: Bar(
        f"{mark:02d}", face, layer, count, size, float(a), float(a + length), ends, tuple(float(v) for v in legs), held
    ),
    st.integers(1, 99), st.sampled_from(["bottom", "top"]), st.integers(1, 2), st.integers(1, 9), st.sampled_from(["12", "16", "25"]),
    st.integers(-120, 15_000), st.integers(200, 7000),
    st.tuples(*[st.sampled_from(["straight", "bend", "hook", "lap"])] * 2), st.tuples(*[st.integers(0, 400)] * 2), st.booleans(),
)  # fmt: skip
zone = st.builds(
    lambda mark, size, legs, a, length, s, held: StirrupZone(f"S{mark}", size, legs, float(a), float(a + length), float(s), held),
    st.integers(1, 99), st.sampled_from(["8", "10"]), st.integers(2, 6), st.integers(0, 15_000), st.integers(100, 5000),
    st.integers(50, 400), st.booleans(),
)  # fmt: skip


@given(
    st.lists(bar, max_size=8, unique_by=lambda b: b.mark),
    st.lists(zone, max_size=5, unique_by=lambda z: z.mark),
    st.sampled_from(["si", "us", "technical"]),
)
def test_layouts_survive_the_round_trip(tmp_path_factory, deck, bars, zones, units):
    beam = replace(deck, units=units)
    layout = Layout(tuple(bars), tuple(zones))
    path = tmp_path_factory.mktemp("layout") / "x.layout.yaml"
    path.write_text(layout_text(beam, layout, "test"), "utf-8")
    assert read_layout(path, beam) == layout


def test_cut_lengths_by_hand():
    """Straight; one bend: A + B - r/2 - phi; two bends: A + B + C - r - 2 phi; rounded up to 10 mm."""
    straight = bar_item(CODE, Bar("1", "bottom", 1, 3, "20", 0.0, 4001.0), 20.0, 10.0)
    assert (straight.shape, straight.cut_length) == ("00", 4010.0)
    assert straight.mass == pytest.approx(3 * 4010 * np.pi * 100 * STEEL_DENSITY, abs=5e-4)
    one = bar_item(
        CODE, Bar("1", "bottom", 1, 1, "20", 0.0, 4000.0, ("bend", "straight"), (300.0, 0.0)), 20.0, 10.0
    )
    assert (one.shape, one.cut_length) == ("11", 4250.0)  # 4000 + 300 - 35 - 20 = 4245
    two = bar_item(
        CODE, Bar("1", "top", 1, 1, "16", 0.0, 4000.0, ("bend", "bend"), (300.0, 200.0)), 16.0, 10.0
    )
    assert (two.shape, two.cut_length) == ("21", 4440.0)  # 4500 - 32 - 32 = 4436
    minimum = bar_item(CODE, Bar("1", "top", 1, 1, "16", 0.0, 4000.0, ("bend", "lap")), 16.0, 10.0)
    assert minimum.cut_length == 4100.0  # leg 32 + 96: 4000 + 128 - 16 - 16 = 4096
    hook = bar_item(CODE, Bar("1", "top", 1, 1, "16", 0.0, 4000.0, ("hook", "straight")), 16.0, 10.0)
    assert hook.shape == "13"
    assert hook.cut_length > 4000.0
    assert closed_stirrup(CODE, 280.0, 540.0, 8.0) == pytest.approx(2 * (280 + 540) + 2 * 160 - 40 - 40)


@pytest.mark.slow
def test_messages_look_after_the_user():
    """Uplift, missing actions, values of one's own, lean and congested sections."""
    lengths = [1500.0, 9000.0, 2000.0]
    beam = yaml_beams.line(lengths, yaml_beams.uniform(3, lengths, 20.0), depth=900.0)
    texts = " | ".join(m.text for m in ub.design(beam).messages)
    assert "pulled up" in texts
    assert "no variable action" in texts
    lengths = [6000.0]
    only_live = yaml_beams.line(
        lengths, [], live=yaml_beams.uniform(1, lengths, 20.0), code_values={"gamma_c": 1.4}
    )
    texts = " | ".join(m.text for m in ub.design(only_live).messages)
    assert "no permanent action" in texts
    assert "gamma_c = 1.4 is yours" in texts
    idle = yaml_beams.line(
        lengths, yaml_beams.uniform(1, lengths, 2.0), live=yaml_beams.uniform(1, lengths, 1.0), depth=900.0
    )
    assert "could be smaller" in " | ".join(m.text for m in ub.design(idle).messages)
    fixed = yaml_beams.line(lengths, yaml_beams.uniform(1, lengths, 20.0), fixed=(0,))
    assert "anchored in what it is fixed to" in " | ".join(m.text for m in ub.design(fixed).messages)


def test_svg_text_names_every_mark(deck_design):
    svg = svg_file(diagrams(result_model(deck_design))).decode()
    for b in deck_design.layout.bars:
        assert re.search(rf">{b.mark}: {b.count}ø{b.size}<", svg), b.mark
