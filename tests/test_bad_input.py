"""Hostile and mistaken files: every fault at once, with line, key, fault and cure; nothing written."""

from __future__ import annotations

import os

import pytest
from hypothesis import given
from hypothesis import strategies as st

import yaml_beams
from upright_bramble.core.quantities import SYSTEMS, parse
from upright_bramble.errors import UnitError
from upright_bramble.files.layout_file import edited_by_hand, layout_text
from upright_bramble.files.tables import csv_text

BAD = (
    yaml_beams.SIMPLE.replace("width: 300}\nline", "widht: 300}\nline")
    .replace("span: 6,", "span: 8.1 kN,")
    .replace("C30/37", "C30/38")
)


def test_every_fault_in_one_go(bramble):
    bramble.write("bad.beam.yaml", BAD + "colour: red\n")
    ran = bramble("design", "bad.beam.yaml")
    assert ran.status == 2
    assert ran.out == ""
    assert sorted(os.listdir(bramble.folder)) == ["bad.beam.yaml"]
    lines = ran.err.splitlines()
    for start, words in (
        ("bad.beam.yaml:6: concrete.grade: ", "'C30/38' is not a valid grade"),
        ("bad.beam.yaml:10: profiles.p.widht: ", "did you mean 'width'?"),
        ("bad.beam.yaml:10: profiles.p.width: ", "missing"),
        ("bad.beam.yaml:13: line[1].span: ", "'8.1 kN' is a force; a length is needed, such as '8.1 m'"),
        ("bad.beam.yaml:18: colour: ", "unknown key"),
    ):
        assert any(line.startswith(start) and words in line for line in lines), (start, lines)


@pytest.mark.parametrize(
    ("old", "new", "place", "words"),
    [
        ("line: 12", "line: .nan", "actions[0].loads[0].line", "not a usable number"),
        ("line: 12", "line: 1e400", "actions[0].loads[0].line", "not a usable number"),
        ("line: 10", "point: 10, at: 7.5", "actions[1].loads[0].at", "lies outside span 1"),
        ("line: 10", "line: 10, from: 4, to: 2", "actions[1].loads[0]", "extends beyond span 1"),
        ("line: 10", "line: 10, on: 3", "actions[1].loads[0].on", "'3' is not a valid span"),
        ("line: 10", "line: 10, on: [1, A-B]", "actions[1].loads[0].on", "named twice"),
        ("line: 10", "line: 10, on: []", "actions[1].loads[0].on", "at least 1"),
        ("line: 10", "line: [1, 2, 3]", "actions[1].loads[0].line", "at most 2"),
        ("line: 10", "weight: 10", "actions[1].loads[0]", "needs one of line, area, point, couple"),
        ("category: B", "category: Z", "actions[1].category", "valid: A, B"),
        (", category: B", "", "actions[1].category", "needs a 'category'"),
        ("span: 6,", "span: -6,", "line[1].span", "not above zero"),
        ("span: 6,", "span: 6000,", "line[1].span", "longer than 100 m"),
        ("span: 6,", "span: 0.2,", "line[1].span", "no longer than its supports"),
        ("width: 300}\nline", "width: 90}\nline", "profiles.p.width", "no room for bars"),
        ("profile: p}", "profile: q}", "line[1].profile", "'q' is not a valid profile"),
        ("  - {support: B, width: 300}\n", "", "line[0]", "one plain support"),
        ("support: B", "support: A", "line[2].support", "names two supports"),
        ("  - {span: 6, profile: p}\n", "", "line[1]", "two supports follow each other"),
        ("mark: S1", "mark: ../../up", "mark", "cannot name files"),
        ("mark: S1", "mark: CON", "mark", "cannot name files"),
        ("en1992-1-1", "en1993", "code", "is not a valid"),
        ("units: si", "annex: atlantis", "annex", "is not a valid"),
        ("units: si", "code_values: {gamma_c: 0}", "code_values", "above zero"),
        ("units: si", "code_values: {gamma_z: 1}", "code_values", "'gamma_z' is not a valid code value"),
        (
            "units: si",
            "service: {deflection: {total: soon}}",
            "service.deflection.total",
            "not a valid limit",
        ),
        (
            "units: si",
            "detailing: {main_bars: [17]}",
            "detailing.main_bars[0]",
            "'17' is not a valid bar size",
        ),
        ("units: si", "detailing: {reserve: 2}", "detailing.reserve", "at most 0.5"),
        (
            "{support: A, width: 300}",
            "{support: A, width: 300, framing: sideways}",
            "line[0].framing",
            "is not one of 'direct' or 'indirect'",
        ),
        ("{grade: C30/37}", "{grade: C30/37, strength: 30}", "concrete", "either"),
        ("{bars: B500B}", "{yield: 5 MPa}", "reinforcement.yield", "no yield strength"),
        ("name: live", "name: dead", "actions[1].name", "names two actions"),
        ("beam: One span", "beam: !!python/object:os.system x", "beam", "tag"),
        ("beam: One span", "beam: &a One", "beam", "anchors"),
        ("beam: One span", "beam: One span\nbeam: Two", "beam", "is given twice"),
        ("beam: One span", "beam: [", "", "not YAML"),
        ("beam: One span", "beam: " + "[" * 60 + "]" * 60, "beam", "nested"),
    ],
)
def test_each_fault_has_its_place_and_its_cure(old, new, place, words):
    assert old in yaml_beams.SIMPLE
    result = yaml_beams.faults(yaml_beams.SIMPLE.replace(old, new, 1))
    assert any(
        f" {place}: " in f" {line.split(': ', 1)[1] if ': ' in line else line}: " or place in line
        for line in result
    ), result
    assert any(words in line for line in result), result
    assert all(line.startswith("x.beam.yaml") for line in result)


def test_alias_bombs_and_odd_files(bramble):
    bomb = "a: &a [x, x]\n" + "".join(
        f"{chr(98 + i)}: &{chr(98 + i)} [*{chr(97 + i)}, *{chr(97 + i)}]\n" for i in range(20)
    )
    assert any("anchors" in line for line in yaml_beams.faults(bomb))
    (bramble.folder / "binary.beam.yaml").write_bytes(b"\xff\xfe\x00beam")
    (bramble.folder / "large.beam.yaml").write_bytes(b"# long\n" * 100_000)
    (bramble.folder / "empty.beam.yaml").write_bytes(b"")
    (bramble.folder / "list.beam.yaml").write_bytes(b"- 1\n")
    for name, words in (("binary", "UTF-8"), ("large", "larger"), ("empty", "empty"), ("list", "key: value")):
        ran = bramble("design", f"{name}.beam.yaml")
        assert ran.status == 2
        assert words in ran.err


def test_layout_faults(bramble):
    bramble.write("one.beam.yaml", yaml_beams.SIMPLE)
    assert bramble("design", "one.beam.yaml", "--quiet", "--no-figures").status == 0
    text = (bramble.folder / "S1" / "S1.layout.yaml").read_text("utf-8")
    bad = (
        text.replace("beam: S1", "beam: S9")
        .replace("face: top", "face: lid")
        .replace('size: "8"', 'size: "9"')
    )
    bramble.write("bad.layout.yaml", bad)
    ran = bramble("check", "one.beam.yaml", "bad.layout.yaml")
    assert ran.status == 2
    assert "face" in ran.err
    bramble.write(
        "bad.layout.yaml",
        text.replace("beam: S1", "beam: S9")
        .replace('size: "8"', 'size: "9"')
        .replace('mark: "20"', 'mark: "01"'),
    )
    ran = bramble("check", "one.beam.yaml", "bad.layout.yaml")
    for words in ("not this beam", "'9' is not a valid bar size", "'01' is also a mark under bars"):
        assert words in ran.err
    bramble.write("none.layout.yaml", "bramble_layout: 1\nbeam: S1\n")
    ran = bramble("check", "one.beam.yaml", "none.layout.yaml")
    assert ran.status == 2
    assert "no bars" in ran.err


def test_a_folder_that_cannot_be_written_is_told(bramble):
    bramble.write("one.beam.yaml", yaml_beams.SIMPLE)
    bramble.write("S1", "a file where the folder should be")
    ran = bramble("design", "one.beam.yaml", "--no-figures")
    assert ran.status == 2
    assert "cannot be" in ran.err


def test_spreadsheet_cells_are_never_formulas():
    text = csv_text(["a"], [["=1+1"], ["+x"], ["-x"], ["@x"], [-1.5], ["fine"]])
    assert text.split("\r\n")[1:-1] == ["'=1+1", "'+x", "'-x", "'@x", "-1.5", "fine"]


def test_the_seal_knows_an_edit(deck_design):
    text = layout_text(deck_design.beam, deck_design.layout, "test")
    assert not edited_by_hand(text)
    assert not edited_by_hand(text.replace("\n", "\r\n"))
    assert edited_by_hand(text.replace("count: 2", "count: 3", 1))
    assert edited_by_hand("# hello\n" + text)
    assert edited_by_hand(text.rsplit("#", 1)[0])


@given(st.floats(-1e6, 1e6), st.sampled_from(["m", "mm", "ft", "in", "cm"]))
def test_lengths_carry_their_unit(number, unit):
    size = {"m": 1000.0, "mm": 1.0, "ft": 304.8, "in": 25.4, "cm": 10.0}[unit]
    for system in SYSTEMS.values():
        assert parse(f"{number!r} {unit}", "span", system) == pytest.approx(number * size)


@pytest.mark.parametrize(
    ("text", "quantity", "value"),
    [
        ("22 kN/m", "line load", 22.0),
        ("2.5 kip/ft", "line load", 36.4847),
        ("4000 psi", "stress", 27.579),
        ("12 kN·m", "moment", 12e6),
        ("12 kNm", "moment", 12e6),
        ("12 kN-m", "moment", 12e6),
        ("5 kN/m²", "area load", 0.005),
        ("100 psf", "area load", 4.788e-3),
        ("2 tf·m", "moment", 2 * 9806650.0),
        ("20000 kN.m/rad", "rotational stiffness", 2e10),
        ("60 days", "time", 60.0),
    ],
)
def test_units(text, quantity, value):
    assert parse(text, quantity, SYSTEMS["si"]) == pytest.approx(value, rel=1e-4)


@pytest.mark.slow
@given(
    st.text(max_size=30)
    | st.integers()
    | st.floats()
    | st.none()
    | st.booleans()
    | st.lists(st.integers(), max_size=2)
)
def test_any_value_is_a_number_or_a_unit_error(value):
    try:
        assert abs(parse(value, "span", SYSTEMS["si"])) < 1e20
    except UnitError as error:
        assert "length is needed" in str(error)


@given(st.data())
def test_mutated_files_never_crash(data):
    """Whatever is cut out of, put into or doubled in a good file, it reads or it is refused with faults."""
    text = yaml_beams.demo("boathouse-deck")
    for _ in range(data.draw(st.integers(1, 4))):
        a = data.draw(st.integers(0, len(text)))
        b = min(len(text), a + data.draw(st.integers(0, 40)))
        piece = data.draw(
            st.sampled_from(
                [
                    "",
                    "{",
                    "}",
                    "[",
                    ": ",
                    "- ",
                    "\n",
                    "~",
                    "'",
                    '"',
                    "0",
                    "-1",
                    "1e309",
                    "null",
                    "é\x00",
                    "&a",
                    "*a",
                    "!!int ",
                    "true",
                    "#",
                ]
            )
        )
        text = text[:a] + piece + text[b:]
    yaml_beams.faults(text)


@pytest.mark.parametrize(
    ("cover", "words"),
    [
        ("{exposure: XC9}", "is not a valid exposure class"),
        ("{exposure: XC3, fire: R45}", "is not in the tables"),
        ("{exposure: XC3, fire: R240, top: 40}", "a width of at least"),
        ("{exposure: XC3, bottom: 20}", "is less than"),
        ("{top: 30, bottom: 30}", "give 'sides'"),
        ("{top: 30, bottom: 30, sides: 30, fire: R60}", "give the 'exposure' too"),
        ("{exposure: XC3, fire: soon}", "is no fire resistance"),
        ("{exposure: XC3, structural_class: S9}", "is no structural class"),
    ],
)
def test_covers_that_cannot_be(bramble, cover, words):
    text = yaml_beams.SIMPLE.replace("{top: 30, bottom: 30, sides: 30}", cover)
    bramble.write("c.beam.yaml", text.replace("width: 300}\nline", "width: 200}\nline"))
    ran = bramble("design", "c.beam.yaml")
    assert ran.status == 2
    assert words in ran.err


@pytest.mark.slow
def test_cover_is_worked_out_and_told(bramble):
    """XC3: 25 + 10 mm for stirrups; 32 + 10 less an 8 mm stirrup for main bars; R90 at 300 mm: 40, and 10 more at the
    sides, less half a 12 mm bar and 8 mm."""
    bramble.write(
        "c.beam.yaml",
        yaml_beams.SIMPLE.replace("{top: 30, bottom: 30, sides: 30}", "{exposure: XC3, fire: R90}"),
    )
    result = bramble("design", "c.beam.yaml", "--json", "--no-figures").json
    assert result["beam"]["cover_mm"] == {"top": 35.0, "bottom": 35.0, "sides": 40.0}
    assert any("cover was worked out for XC3, R90" in m["text"] for m in result["messages"])
    us = yaml_beams.demo("annex-floor").replace(
        "cover: {top: 1.5, bottom: 1.5, sides: 1.5}", "cover: {exposure: weather}"
    )
    assert "exposure" in us
    bramble.write("u.beam.yaml", us)
    assert bramble("design", "u.beam.yaml", "--json", "--no-figures").json["beam"]["cover_mm"][
        "top"
    ] == pytest.approx(1.75 * 25.4)


SERVICE_FAULTS = [
    ("service: {deflection: {after_partitions: soon}}", "after_partitions", "is not a valid limit"),
    ("service: {deflection: {live: -5 mm}}", "live", "is not above zero"),
    ("service: {deflection: {live: span/0}}", "live", "not a valid limit"),
    ("service: {deflection: {partitions_at: 3 kN}}", "partitions_at", "is a force"),
    ("service: {deflection: {after_partition: span/500}}", "after_partition", "after_partitions"),
    ("service: {stiffness: soft}", "stiffness", "gross"),
    ("remarks: {bending: [1, 2]}", "remarks.bending", "is not text"),
    ("remarks: [bending]", "remarks", "is not a set of"),
]


@pytest.mark.parametrize(("text", "key", "words"), SERVICE_FAULTS)
def test_faults_of_service_and_notes(bramble, text, key, words):
    """Each with its key and its cure, and nothing is written."""
    bramble.write("x.beam.yaml", yaml_beams.SIMPLE + text + "\n")
    ran = bramble("design", "x.beam.yaml")
    assert ran.status == 2
    assert key in ran.err
    assert words in ran.err, ran.err
    assert not (bramble.folder / "S1").exists()


def test_only_permanent_actions_come_later(bramble):
    text = yaml_beams.SIMPLE.replace("category: B,", "category: B, acts_from: 60 days,").replace(
        "kind: permanent,", "kind: permanent, acts_from: -3 days,"
    )
    bramble.write("x.beam.yaml", text)
    ran = bramble("design", "x.beam.yaml")
    assert ran.status == 2
    assert "acts_from" in ran.err
    assert "Traceback" not in ran.err


REPORT_CALLS = [
    (("report", "nothing-there"), "no such file"),
    (("report", "S1", "--format", "html,docx"), "docx"),
    (("report", "S1", "--without", "bending,beauty"), "beauty"),
    (("report", "S1", "--name", "a/b"), "not a valid file name"),
    (("report", "S1", "--name", ".hidden"), "not a valid file name"),
    (("why", "S1", "beauty"), "is not a valid check"),
    (("why", "S1", "shear"), "begins"),
    (("why", "S1", "--format", "html"), "name a check"),
]


def test_calls_that_cannot_be_used_write_nothing(bramble):
    bramble.write("one.beam.yaml", yaml_beams.SIMPLE)
    assert bramble("design", "one.beam.yaml", "--quiet", "--no-figures").status == 0
    before = sorted(p.name for p in bramble.folder.rglob("*"))
    for call, words in REPORT_CALLS:
        ran = bramble(*call)
        assert ran.status == 2, call
        assert words in ran.err, (call, ran.err)
        assert len(ran.err.splitlines()) == 1, ran.err
    assert sorted(p.name for p in bramble.folder.rglob("*")) == before
