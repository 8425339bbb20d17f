"""What reports are put together from: inputs said back, diagrams, mathematics that can be set."""

from __future__ import annotations

import importlib
import inspect
import itertools
import json
import pkgutil
import re
import xml.etree.ElementTree as ET

import numpy as np
import pytest
import typst

from upright_bramble import design, read
from upright_bramble.files.echo import echo
from upright_bramble.files.result_data import Origin, result_data
from upright_bramble.files.result_file import ResultFile
from upright_bramble.present import mathematics as maths
from upright_bramble.present.along import depth_at, level_of, line_of, minimum_depth
from upright_bramble.present.diagrams import LEFT, RIGHT, chart
from upright_bramble.present.painters import COLOURS, svg
from upright_bramble.present.panels import panels_of
from upright_bramble.present.report.content import DEPTHS, report_of
from upright_bramble.present.scene import NAMES, Outline
from upright_bramble.working import formula as notation
from yaml_beams import SIMPLE, demo

STEP = """
bramble: 1
beam: Gangway
mark: GW1
code: en1992-1-1
concrete: {grade: C30/37}
reinforcement: {bars: B500B, stirrups: B500B}
cover: {top: 30, bottom: 30, sides: 30}
profiles:
  deep: {shape: rectangle, depth: 600, width: 300}
  flat: {shape: rectangle, depth: 350, width: 300}
bracing: continuous
line:
  - {support: A, width: 300}
  - {span: 5.0, profile: {from: flat, to: deep}}
  - {support: B, width: 300}
  - {span: 5.5, profile: deep}
  - {support: C, width: 300}
  - {span: 1.4, profile: flat}
actions:
  - {name: dead, kind: permanent, self_weight: true, loads: [{line: 12}]}
  - {name: live, kind: imposed, category: B, loads: [{line: 9}]}
"""
SVG = "{http://www.w3.org/2000/svg}"


def told(path, text) -> dict[tuple[str, str], str]:
    path.write_text(text, "utf-8")
    return {(topic, name): value + (" *" if usual else "") for topic, name, value, usual in echo(read(path))}


def issued(tmp_path, text) -> ResultFile:
    path = tmp_path / "x.beam.yaml"
    path.write_text(text, "utf-8")
    return ResultFile.model_validate(json.loads(json.dumps(result_data(design(read(path)), Origin("x", "")))))


# ------------------------------------------------------------------ inputs said back


def test_rules_and_wishes_are_said_back(tmp_path):
    text = SIMPLE.replace(
        "bramble: 1", "bramble: 1\nannex: uk\ncode_values: {gamma_c: 1.4}\narrangements: every"
    ) + (
        "combinations: {rule: 6.10ab, add: [{level: strength, name: flood, factors: {permanent: 1.0, B: 1.2}}]}\n"
        "service: {deflection: {total: 20 mm, after_finishes: none, after_partitions: span/400, partitions_at: 90 days, live: span/360,\n"
        "                       precamber: 6}, crack_width: 0.2, humidity: 80, cement: R, stiffness: cracked}\n"
        "detailing: {main_bars: [16, 20], layers: 1, most_bars: 6, service_stress: 240 MPa, laps: together, rates: {steel: 2}}\n"
    )
    result = told(tmp_path / "x.beam.yaml", text)
    assert result["rules", "gamma_c"] == "1.4 (yours, not the code's)"
    assert result["rules", "combinations"] == "6.10ab"
    assert result["rules", "combination of one's own, strength"] == "flood: 1 permanent, 1.2 B"
    assert result["rules", "arrangements"] == "every"
    assert result["service", "total deflection"] == "20 mm"
    assert result["service", "deflection after the finishes"] == "none, built at 60 days"
    assert result["service", "deflection after the partitions"] == "span/400, built at 90 days"
    assert result["service", "deflection by variable actions"] == "span/360"
    assert result["service", "precamber"] == "6 mm"
    assert result["service", "stiffness of the line"] == "cracked"
    assert result["service", "humidity"] == "80 %"
    assert result["service", "age at first loading"] == "28 days *"
    assert result["steel wanted", "maximum number of bars at a section"] == "6"
    assert result["steel wanted", "highest stress in service"] == "240 MPa"
    assert result["steel wanted", "layers"] == "1"
    assert result["rates", "steel"] == "2"
    assert result["rates", "bar"] == "2.5 *"


LINE = """line:
  - {support: A, width: 300, fixed: true}
  - {span: 5, profile: p}
  - {support: B, width: 300, framing: indirect, settles: 5 mm}
  - {span: 6, profile: {from: p, to: q}}
  - {support: C, width: 300, column: {below: {height: 3 m, size: [300, 300], far_end: pinned}}}
  - {span: 4, profile: t}
  - {support: D, width: 300, spring: {vertical: 50000 kN/m, rotation: 2000 kN.m/rad}}
  - {span: 1.2, profile: t}
"""


def test_a_line_of_everything_is_said_back(tmp_path):
    start, rest = SIMPLE.split("line:\n")
    profiles = "  q: {shape: rectangle, depth: 600, width: 300}\n  t: {shape: T, depth: 500, width: 300, flange: {thickness: 120, gap_left: 2 m, gap_right: 1 m}}\n"
    actions = """actions:
  - {name: dead, kind: permanent, self_weight: web, acts_from: 40 days, loads: [{line: 12}, {couple: 8, on: 2, at: 1}]}
  - {name: live, kind: imposed, category: B, loads: [{line: [2, 10], on: [1, 3], from: 1, to: 3}, {point: 20, on: 2, at: 2, hung: true}]}
  - {name: twist, kind: imposed, category: C, loads: [{torque: 3, on: 1}, {torque: 5, on: 2, at: 2}]}
"""
    result = told(tmp_path / "x.beam.yaml", start + profiles + LINE + actions)
    assert rest
    assert (
        result["line", "profile t"]
        == "300 mm wide, 500 mm deep, flange 120 mm thick, 1000 mm left and 500 mm right of the web"
    )
    assert result["line", "support A"] == "300 mm wide, fixed"
    assert result["line", "support B"] == "300 mm wide, indirect, settles 5 mm"
    assert result["line", "span 2"] == "6 m p to q"
    assert result["line", "support C"] == "300 mm wide, column 3 m high, I 675000000 mm⁴, far end pinned"
    assert result["line", "support D"] == "300 mm wide, spring 50000 kN/m, turning spring 2000 kN·m/rad"
    assert result["line", "span 4"] == "1.2 m t, a cantilever"
    assert result["actions", "dead"] == (
        "permanent; there from day 40 on; self weight of the web below the flange, 25 kN/m³; 12 kN/m on spans 1 to 4; 8 kN·m couple at 1 m on span 2"
    )
    assert (
        result["actions", "live"]
        == "imposed, category B; 2 kN/m to 10 kN/m from 1 m to 3 m on spans 1, 3; 20 kN at 2 m hung on span 2"
    )
    assert (
        result["actions", "twist"]
        == "imposed, category C; 3 kN·m/m torque on span 1; 5 kN·m torque at 2 m on span 2"
    )


def test_inches_are_said_back_in_inches(tmp_path):
    result = told(tmp_path / "x.beam.yaml", demo("annex-floor"))
    assert result["materials", "concrete"].endswith("psi")
    assert " in" in result["materials", "cover to the stirrup"]
    assert result["line", "span 1"].split()[1] == "ft"


# ------------------------------------------------------------------ diagrams


@pytest.mark.slow
@pytest.mark.parametrize("name", ["boathouse-deck", "annex-floor", "canopy-edge", "slipway-lintel"])
@pytest.mark.parametrize("width", [740.0, 1040.0])
def test_every_text_of_a_diagram_is_inside_it_and_clear_of_the_others(tmp_path, name, width):
    root = ET.fromstring(svg(chart(issued(tmp_path, demo(name)), width=width)))
    _, _, right, low = (float(v) for v in root.get("viewBox").split())
    boxes = []
    for text in root.iter(f"{SVG}text"):
        size = float(text.get("font-size") or 12.0)
        wide = 0.55 * size * len(text.text)
        x, y = float(text.get("x")), float(text.get("y"))
        left = x - {"start": 0.0, "middle": 0.5, "end": 1.0}[text.get("text-anchor")] * wide
        assert left >= -8.0, text.text
        assert left + wide <= right + 8.0, text.text
        assert 0.0 < y < low
        boxes.append((left, y - 0.8 * size, left + wide, y, text.text))
    for a, b in itertools.combinations(boxes, 2):
        apart = a[2] <= b[0] or b[2] <= a[0] or a[3] <= b[1] or b[3] <= a[1]
        assert apart, (a[4], b[4])


@pytest.mark.slow
def test_a_hole_in_the_resistance_is_filled(tmp_path):
    whole, holed = (issued(tmp_path, demo(n)) for n in ("boathouse-deck", "slipway-lintel"))
    assert COLOURS["thorn"] not in svg(chart(whole, few=True))
    short = holed.model_copy(deep=True)
    short.stations.resistance.moment_positive_kNm = [
        0.6 * v for v in short.stations.resistance.moment_positive_kNm
    ]
    assert f'fill="{COLOURS["thorn"]}"' in svg(chart(short, few=True))


def test_curves_are_those_of_the_result(tmp_path):
    """The moment line of the diagram, read back from its path, is the design moment of the result."""
    r = issued(tmp_path, demo("boathouse-deck"))
    panel = next(p for p in panels_of(r) if p.key == "moment")
    values, judged = np.array(r.stations.design.moment_max_kNm), np.isfinite(panel.curves[0].values)
    assert np.allclose(panel.curves[0].values[judged], values[judged])
    assert np.allclose(panel.readings[0].values, values)
    places = np.array(r.stations.x_mm)
    assert (
        places[~judged] < r.beam.spans[0].clear_start_mm
    ).any()  # only inside the end support and at the tip
    assert judged[
        (places > r.beam.spans[0].clear_start_mm) & (places < r.beam.spans[-1].clear_end_mm - 40.0)
    ].all()
    values, places = values[judged], places[judged]
    root = ET.fromstring(svg(chart(r)))
    lines = [p.get("d") for p in root.iter(f"{SVG}path") if p.get("stroke") == COLOURS["ink"]]
    every = [
        np.array([[float(v) for v in pair.split(",")] for pair in line[1:].split(" L")])
        for line in lines
        if " M" not in line and "Z" not in line
    ]
    points = max(
        (p for p in every if len(p) == len(values)), key=lambda p: np.corrcoef(values, p[:, 1])[0, 1]
    )
    slope = np.polyfit(values, points[:, 1], 1)
    assert slope[0] > 0.0  # sagging below the axis
    assert np.abs(np.polyval(slope, values) - points[:, 1]).max() < 0.1
    low, high = r.beam.ends_mm
    x = LEFT + (places - low) * (1040.0 - LEFT - RIGHT) / (high - low)
    assert np.abs(points[:, 0] - x).max() < 0.1


def test_colours_of_a_page_are_all_named(tmp_path):
    text = svg(
        chart(issued(tmp_path, SIMPLE)), {name: f"var(--{name})" for name in NAMES}, alone=False, cursor=True
    )
    assert set(re.findall(r"var\(--(\w+)\)", text)) <= set(NAMES)
    assert "None" not in text
    assert "nan" not in text


# ------------------------------------------------------------------ content


@pytest.mark.slow
@pytest.mark.parametrize("depth", DEPTHS)
def test_every_check_stands_in_the_report_once(tmp_path, depth):
    r = issued(tmp_path, demo("annex-floor"))
    beam = report_of([r], depth)["beams"][0]
    if depth == "brief":
        assert "topics" not in beam
        return
    ids = [row["id"] for t in beam["topics"] for row in t["rows"]]
    assert sorted(ids) == sorted(c.id for c in r.checks)
    assert sum(beam["counts"].values()) == len(
        [row for t in beam["topics"] for row in t["rows"] if not row["beside"]]
    )
    if depth == "full":
        derived = [w["check"] for w in beam["workings"]]
        assert r.verdict.governing in derived
        kinds = {".".join(c.split(".")[:2]) for c in derived}
        # of what carries the beam every place
        assert {c.id for c in r.checks if c.id.startswith(("bending.", "shear.stirrups"))} <= set(derived)
        # a line that is left out stands in the same words before
        lines = {w.check: w.lines for w in r.workings}
        said = set()
        for w in beam["workings"]:
            own = lines[w["check"]]
            left = [own[k] for k in range(len(own)) if k not in w["show"]]
            assert {(v.symbol, v.numbers or v.text, v.value) for v in left} <= said
            said |= {(v.symbol, v.numbers or v.text, v.value) for v in own}
        assert {
            "bending.sagging",
            "bending.hogging",
            "shear.stirrups",
            "deflection.total",
            "cracking.bottom",
        } <= kinds


def test_what_lies_along_the_beam_is_what_is_there(tmp_path):
    r = issued(tmp_path, demo("boathouse-deck"))
    for along, span in zip(report_of([r], "brief")["beams"][0]["along"], r.beam.spans, strict=True):
        middle = 0.5 * (span.clear_start_mm + span.clear_end_mm)
        number = sum(int(v) for v in re.findall(r"(\d+)ø", along["bottom"]))
        area = sum(int(n) * np.pi * float(d) ** 2 / 4 for n, d in re.findall(r"(\d+)ø(\d+)", along["bottom"]))
        assert number >= 2
        place = int(np.abs(np.array(r.stations.x_mm) - middle).argmin())
        assert r.stations.steel.bottom_provided_mm2[place] <= area * 1.001


# ------------------------------------------------------------------ mathematics


def every_formula() -> list[str]:
    result = []
    for package in ("en1992", "aci318"):
        folder = importlib.import_module(f"upright_bramble.codes.{package}").__path__
        modules = [
            importlib.import_module(f"upright_bramble.codes.{package}.{m.name}")
            for m in pkgutil.iter_modules(folder)
        ]
        for f in (f for module in modules for f in vars(module).values()):
            if inspect.isfunction(f) and hasattr(f, "clause"):
                texts = [f.clause.formula, *f.clause.where.values()]
                result += [
                    t for text in texts for t in ([text] if isinstance(text, str) else [b for _, b in text])
                ]
    return [t for t in dict.fromkeys(result) if "{" not in t and maths.is_formula(t)]


def test_every_formula_of_both_codes_can_be_typeset():
    formulas = every_formula()
    assert len(formulas) > 100
    source = "\n\n".join(f"$ {maths.typst_math(t)} $" for t in formulas)
    assert typst.compile(source.encode(), format="pdf", ignore_system_fonts=True).startswith(b"%PDF")


def test_every_formula_of_both_codes_is_sound_markup():
    for text in every_formula():
        ET.fromstring(f"<math>{maths.mathml(text)}</math>")
        assert maths.latex(text).count("\\left") == maths.latex(text).count("\\right")


@pytest.mark.parametrize(
    ("text", "plain", "latex"),
    [
        ("a/b c", "a/b · c", r"\frac{a}{b} \cdot c"),
        ("a/(b c)", "a/(b · c)", r"\frac{a}{b \cdot c}"),
        ("(a + b) c", "(a + b) · c", r"\left(a + b\right) \cdot c"),
        ("cot_theta^2", "(cot θ)²", r"\left(\cot\theta\right)^{2}"),
        ("3e-7 x", "3·10⁻⁷ · x", r"3\cdot 10^{-7} \cdot x"),
        ("a/3e9", "a/(3·10⁹)", r"\frac{a}{3\cdot 10^{9}}"),
        ("sqrt(f'c)", "√(f'c)", r"\sqrt{\mathrm{f'c}}"),
    ],
)
def test_forms_of_a_formula(text, plain, latex):
    assert maths.plain_formula(text) == plain
    assert maths.latex(text) == latex


def test_a_division_ends_with_the_next_factor():
    values = {"a": 12.0, "b": 2.0, "c": 3.0}
    assert notation.evaluate(notation.parse("a/b c"), values) == 18.0
    assert notation.evaluate(notation.parse("a/(b c)"), values) == 2.0
    assert notation.evaluate(notation.parse("a/b/c"), values) == 2.0
    assert notation.evaluate(notation.parse("-a + b^2 c"), values) == 0.0


# ------------------------------------------------------------------ one place, and plain terminals


def test_a_place_tells_struts_and_stresses(bramble):
    """`at` reads what the result has there: strut angle, stress of the bars in service, crack width, every deflection line that is limited."""
    text = SIMPLE + "service: {deflection: {live: span/300, after_partitions: span/400}}\n"
    bramble.write("s.beam.yaml", text)
    assert bramble("design", "s.beam.yaml", "--quiet", "--no-figures").status == 0
    (place,) = bramble("at", "S1", "1:0.5", "--json").json
    result = {(v["heading"], v["what"]): v for v in place["values"]}
    r = json.loads((bramble.folder / "S1" / "S1.result.json").read_text("utf-8"))["stations"]
    k = int(np.abs(np.array(r["x_mm"]) - 3000.0).argmin())
    for heading, what, part, key in (
        ("struts, cot theta", "strut", "shear", "strut_cot"),
        ("stress of bars in service", "bottom", "stress", "bottom_MPa"),
        ("crack width", "bottom", "crack", "bottom_mm"),
        ("deflection", "live", "deflection", "live_mm"),
        ("deflection", "after partitions", "deflection", "after_partitions_mm"),
        ("deflection", "striking", "deflection", "striking_mm"),
    ):
        assert result[heading, what]["value"] == pytest.approx(r[part][key][k], rel=1e-3), what
    assert result["stress of bars in service", "bottom"]["quantity"] == "stress"


def test_what_is_not_limited_is_not_told(bramble):
    bramble.write("s.beam.yaml", SIMPLE)
    assert bramble("design", "s.beam.yaml", "--quiet", "--no-figures").status == 0
    (place,) = bramble("at", "S1", "1:0.5", "--json").json
    told = {v["what"] for v in place["values"]}
    assert "long term" in told
    assert not {"live", "after partitions"} & told


@pytest.mark.slow
def test_derivations_on_a_plain_terminal(bramble):
    """Without Greek letters the same lines, aligned, with powers of ten in one piece."""
    bramble.write("s.beam.yaml", SIMPLE)
    assert bramble("design", "s.beam.yaml", "--quiet", "--no-figures").status == 0
    said = bramble("why", "S1", "deflection.total.1", env={"PYTHONIOENCODING": "ascii"}).out
    assert said.isascii()
    assert "^-^" not in said
    assert re.search(r"\.10\^-?\d+", said)
    assert "alpha_e" in said or "eps_cs" in said
    signs = {row.index(" = ") for row in said.splitlines() if re.match(r"  \S+ += ", row)}
    assert len(signs) == 1  # one column


# ------------------------------------------------------------------ bars along the beam


def test_bars_of_the_pages_follow_the_soffit_of_their_span(tmp_path):
    """Past a step a bottom bar goes straight on; in a taper it follows the soffit, and turns where the taper ends."""
    r = issued(tmp_path, STEP)
    spans = r.beam.spans
    depths = {
        (k, x): d
        for k, x, d in (
            (0, 0.0, 350.0),
            (0, 5000.0, 600.0),
            (1, 5000.0, 600.0),
            (1, 10500.0, 600.0),
            (2, 10500.0, 350.0),
        )
    }
    for (k, x), depth in depths.items():
        assert depth_at(spans, x, spans[k]) == depth
    assert minimum_depth(spans, 10500.0) == 350.0
    bars = [b for b in r.bars if b.face == "bottom"]
    home = {
        b.mark: next(k for k, s in enumerate(spans) if 0.5 * (b.start_mm + b.end_mm) <= s.end_mm)
        for b in bars
    }
    into_the_step = [b for b in bars if home[b.mark] == 1 and b.end_mm >= 10400.0]
    assert into_the_step
    for b in into_the_step:
        for x in (b.end_mm, 10600.0):
            assert level_of(spans, b, x) == pytest.approx(600.0 - b.axis_mm)
    for b in bars:
        corners = line_of(spans, b, b.start_mm, b.end_mm)
        assert [x for x, _ in corners[1:-1]] == [
            s.end_mm for s in spans[:-1] if b.start_mm + 1.0 < s.end_mm < b.end_mm - 1.0
        ]
        if home[b.mark] == 0:
            x = max(b.start_mm, 0.0)
            assert level_of(spans, b, x) == pytest.approx(350.0 + 0.05 * x - b.axis_mm)


def test_bars_are_drawn_out_where_they_lie(tmp_path):
    """Below the elevation, bottom bars first; each from its start to its end, none over another on its line."""
    r = issued(tmp_path, STEP)
    scene = chart(r)
    low, high = r.beam.ends_mm
    k = (scene.width - LEFT - RIGHT) / (high - low)
    thick = [
        i.pieces[0] for i in scene.items if isinstance(i, Outline) and i.stroke == "ink" and i.width == 2.2
    ]
    result = sorted((float(p[0, 0]), float(p[1, 0])) for p in thick if p[0, 1] == p[1, 1])
    wanted = sorted((LEFT + (b.start_mm - low) * k, LEFT + (b.end_mm - low) * k) for b in r.bars)
    assert np.allclose(result, wanted)
    for a, b in itertools.combinations((p for p in thick if p[0, 1] == p[1, 1]), 2):
        assert a[0, 1] != b[0, 1] or a[1, 0] < b[0, 0] or b[1, 0] < a[0, 0]
    texts = {w.text: w.y for w in scene.texts()}
    assert texts["bottom"] < texts["top"] < texts[f"moment {'kN·m'}"]
