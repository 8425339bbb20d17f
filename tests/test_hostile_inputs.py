"""Inputs that nobody should write: thousands of mutated ones, those that ask for too much, those that would be more than text."""

from __future__ import annotations

import csv
import io
import os
import re
import subprocess
import sys
import xml.etree.ElementTree as ET
from dataclasses import replace

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

import resource_cases
import yaml_beams
from mutations import SECTION, Workshop
from upright_bramble import suggesting
from upright_bramble.core.quantities import SYSTEMS, worded
from upright_bramble.errors import Fault, InternalMismatch
from upright_bramble.files.beam_file import beam_from
from upright_bramble.files.yaml_source import parse_yaml
from upright_bramble.text import amount, hidden, shown, shown_lines


@pytest.fixture
def shop(tmp_path):
    return Workshop(tmp_path)


@pytest.mark.slow
@pytest.mark.parametrize("seed", range(4))
def test_mutated_inputs_of_every_kind_through_every_command(shop, seed):
    """200 in all; `python tests/mutations.py 100000` tries more. Each ends with a status of the contract, in words, within its budget."""
    wrong, kinds = {}, set()
    for number, case in enumerate(shop.cases(seed, 50)):
        kinds.add(case.kind)
        if result := shop.tried(case):
            wrong[f"{seed}-{number} {' '.join(case.call)}"] = result
    assert not wrong
    assert kinds == {"forces", "design", "check", "section", "table", "result", "call", "shared"}


def test_the_trial_itself_notices(shop, monkeypatch):
    """A program that fails, writes on exit 2 or prints an escape is caught by the trial above."""
    from upright_bramble.cli import work

    case = next(c for c in shop.cases(0, 200) if c.kind == "forces")

    def failing(*args, **kwargs):
        raise ZeroDivisionError("x")

    monkeypatch.setattr(work, "show_forces", failing)
    assert any("internal failure" in w for w in shop.tried(case))

    def writing(*args, **kwargs):
        (shop.folder / "left.txt").write_text("x")
        raise work.Call("no")

    monkeypatch.setattr(work, "show_forces", writing)
    assert any("files have changed" in w for w in shop.tried(case))
    monkeypatch.setattr(work, "show_forces", lambda *a, **k: print("\x1b[2J"))
    assert any("no text" in w for w in shop.tried(case))


REFUSED = {
    "2000 loads on 5 spans": "the loads of all spans are more than 2,500",
    "10000 loads": "more than 30,000 values and lines",
    "45000 unknown keys": "more than 30,000 values and lines",
    "10000 unknown keys": "has 9,900 more faults",
    "a list of 500 KB": "more than 30,000",
    "a list of 20000": "is too long: at most 12 entries",
    "199 other actions": "the independent variable actions are more than 30",
    "a text of 500 KB": "at most 200 characters",
    "nested 1500 deep": "nested too deeply",
    "nested 5000 deep in blocks": "nested too deeply",
    "a million digits": "not a usable number",
    "one field of 900 KB": "field larger than",
    "one line of 900 KB": "is not a valid span",
    "a table of 900 KB": "12,000 of them are given; 4,000 are read",
    "one combination of 30000 stations": "has 30,001 stations of 'a'; 4,000 are read",
    "2000 bars": "has 2,000 entries; 260 are read",
    "a section of 10000 corners": "at most 100 entries",
    "nested JSON": "is no JSON",
}


@pytest.mark.slow
@pytest.mark.parametrize("name", REFUSED)
def test_what_asks_for_too_much_is_refused(shop, name):
    _, call, files = next(c for c in resource_cases.calls() if c[0] == name)
    for file, text in files.items():
        (shop.folder / file).write_text(text, "utf-8")
    seen = shop.run(call)
    assert seen.status == 2
    assert REFUSED[name] in seen.err, seen.err[:500]
    assert len(seen.err.splitlines()) <= 102
    assert seen.megabytes < 500.0


# ---------------------------------------------------------------- text is text


@given(st.text())
def test_what_is_shown_is_one_line_of_text(text):
    assert hidden(shown(text)) is None
    assert shown(text) == text or hidden(text)
    assert shown_lines(text).count("\n") == text.count("\n")
    assert shown(text).isprintable() or all(c.isprintable() or hidden(c) is None for c in shown(text))


STRANGE = [
    r"\e[2J",
    r"\a",
    r"a\nb",
    r"\u202e",
    r"\u200b",
    r"\u2028",
    r"\x9b",
    r"\ufeff",
    r"\ud800",
    r"\ue0f1",
]


@pytest.mark.parametrize("strange", STRANGE)
@pytest.mark.parametrize(
    ("old", "key"),
    [
        ("beam: One span", "beam"),
        ("support: A", "line[0].support"),
        ("name: dead", "actions[0].name"),
        ("mark: S1", "mark"),
    ],
)
def test_characters_that_are_no_text_are_faults_with_their_place(old, key, strange):
    name, _, value = old.partition(": ")
    text = yaml_beams.SIMPLE.replace(old, f'{name}: "{value}{strange}"')
    result = [line for line in yaml_beams.faults(text) if "which is not text" in line]
    assert len(result) == 1
    line = text[: text.index(strange)].count("\n") + 1
    assert result[0].startswith(f"x.beam.yaml:{line}: {key}: holds the character U+"), result
    assert hidden(result[0]) is None


def test_raw_control_characters_have_their_line():
    assert yaml_beams.faults(yaml_beams.SIMPLE.replace("One span", "One\x07span")) == [
        "x.beam.yaml:2: holds the character U+0007, which is not text; take it out"
    ]


def test_lines_in_a_block_are_one_text():
    text = yaml_beams.SIMPLE.replace("beam: One span", "beam: >\n  One\n  span\n")
    assert beam_from(parse_yaml(text, "x")).title == "One span"


def test_a_name_of_a_file_forges_no_line():
    fault = Fault("a\nb.beam.yaml", 3, "k\x1b[31m", "is\u202e wrong")
    assert str(fault) == "a<U+000A>b.beam.yaml:3: k<U+001B>[31m: is<U+202E> wrong"


def test_amounts_cannot_be_written_by_hand():
    assert worded("⟨force|12000⟩", SYSTEMS["si"]) == "⟨force|12000⟩"
    assert worded(f"x {amount(12000.0, 'force')}", SYSTEMS["si"]) == "x 12.0 kN"
    assert worded(amount(float("inf"), "force"), SYSTEMS["si"]) == "no finite amount"


TITLE = (
    r"=HYPERLINK(1) <script>alert(1)</script> {{ 7*7 }} $x^2$ %%c \P \input{x} #set page() 渡し船 & 'q' \"q\""
)


@pytest.mark.slow
def test_a_title_is_text_in_every_output(shop):
    """Markup, formulas and field codes of every format, and letters that no font has: shown as they are."""
    text = yaml_beams.SIMPLE.replace("beam: One span", f'beam: "{TITLE}"').replace(
        "support: A", 'support: "=A&<b>"'
    )
    text = text.replace(r"\P", r"\\P").replace(r"\input", r"\\input")
    (shop.folder / "t.beam.yaml").write_text(text.replace("mark: S1", "mark: T1"), "utf-8")
    seen = shop.run(("design", "t.beam.yaml"))
    assert seen.status == 0, seen.err
    assert "Warning" not in seen.err + seen.out
    title = TITLE.replace(r"\"", '"')
    assert title[:60] in seen.out
    folder = shop.folder / "T1"
    page = (folder / "T1.report.html").read_text("utf-8")
    assert "<script>alert" not in page
    assert "&lt;script&gt;alert(1)&lt;/script&gt; {{ 7*7 }}" in page
    svg = ET.fromstring((folder / "T1.diagrams.svg").read_text("utf-8"))
    assert any("渡し船" in "".join(t.itertext()) for t in svg.iter() if t.tag.endswith("text"))
    assert shop.run(("bars", "T1", "--format", "csv,xlsx,json", "--into", "o", "--quiet")).status == 0
    for row in csv.reader(io.StringIO((shop.folder / "o" / "T1.bars.csv").read_text("utf-8"))):
        assert all(not cell.startswith(("=", "+", "@")) for cell in row)
    from openpyxl import load_workbook

    for sheet in load_workbook(shop.folder / "o" / "T1.bars.xlsx"):
        assert all(cell.data_type != "f" for row in sheet.iter_rows() for cell in row)
    import ezdxf
    from pypdf import PdfReader

    texts = [e.dxf.text for e in ezdxf.readfile(folder / "T1.drawing.dxf").modelspace().query("TEXT")]
    assert any("HYPERLINK" in t for t in texts)
    assert not any("%%c" in t for t in texts)
    words = "".join(page.extract_text() for page in PdfReader(folder / "T1.report.pdf").pages)
    assert "HYPERLINK" in words
    assert "???" in words  # letters that its font lacks
    assert shop.run(("draw", "T1", "--format", "pdf,png,svg", "--into", "o", "--quiet")).status == 0
    assert shop.run(("report", "T1", "--format", "md", "--into", "o", "--quiet")).status == 0


def test_odd_words_of_a_call(shop):
    for call, words in (
        (("forces", "a\x1b[2Jb.beam.yaml"), "is not text"),
        (("forces", "x" * 300), "longer than the name of a file can be"),
        (("report", "S1", "--name", "a\nb"), "is not a valid file name"),
        (("report", "S1", "--name", "n" * 300), "is not a valid file name"),
        (("report", "S1", "--without", "nonsense"), "is not a valid topic"),
        (("forces", "one.beam.yaml", "--combinations", "--csv", "f.csv"), "writes no file"),
        (("forces", "one.beam.yaml", "--extremes"), "needs --csv"),
        (("check", "one.beam.yaml", "S1"), "is a folder"),
        (
            (
                "section",
                "--size",
                "300x500\x07",
                "--concrete",
                "C30/37",
                "--steel",
                "B500B",
                "--cover",
                "30",
                "-M",
                "10",
            ),
            "--size",
        ),
        (
            (
                "section",
                "--size",
                "300x500",
                "--concrete",
                "C30\x07",
                "--steel",
                "B500B",
                "--cover",
                "30",
                "-M",
                "10",
            ),
            "is not text",
        ),
    ):
        seen = shop.run(call)
        assert seen.status == 2, call
        assert words in seen.err, (call, seen.err)
        assert hidden(seen.err.replace("\n", "")) is None
        assert sorted(p.name for p in shop.folder.iterdir()) == ["S1", "one.beam.yaml"]


@pytest.mark.slow
@pytest.mark.skipif(os.name != "posix", reason="needs names that are not UTF-8")
def test_names_that_are_not_utf8(tmp_path):
    name = os.fsdecode(b"caf\xe9.beam.yaml")
    (tmp_path / name).write_text(yaml_beams.SIMPLE, "utf-8")
    for call in (["forces", name], ["design", "."]):
        ran = subprocess.run(
            [sys.executable, "-m", "upright_bramble", *call], cwd=tmp_path, capture_output=True, check=False
        )
        assert ran.returncode == 2
        assert b"U+DCE9" in ran.stderr


# ---------------------------------------------------------------- tables, sections, values


@pytest.mark.slow
@pytest.mark.parametrize(
    ("change", "words"),
    [
        (lambda t: t.replace("\n", "\r"), None),
        (lambda t: t.replace("\n", "\r\n"), None),
        (lambda t: t.replace("a,1,0,", "a\0,1,0,"), "U+0000"),
        (lambda t: t.replace("a,1,0,", '"a\nb",1,0,'), "U+000A"),
        (lambda t: t.replace("a,1,0,", f'"{"a" * 140_000}",1,0,'), "field larger than"),
        (lambda t: t.replace("a,1,0.5,", "a,1,0_5,"), "is not a number"),
        (lambda t: t.replace(",0,0\n", ",nan,0\n"), "not a usable number"),
    ],
)
def test_tables_of_every_line_end_and_none_of_the_odd_ones(shop, change, words):
    (shop.folder / "t.beam.yaml").write_text(yaml_beams.TABLES, "utf-8")
    (shop.folder / "st.csv").write_bytes(change(shop.table).encode())
    seen = shop.run(("forces", "t.beam.yaml"))
    assert seen.status == (0 if words is None else 2)
    assert words is None or words in seen.err


@pytest.mark.skipif(os.name != "posix", reason="needs pipes")
def test_tables_and_layouts_that_are_no_files(shop):
    (shop.folder / "t.beam.yaml").write_text(yaml_beams.TABLES, "utf-8")
    os.mkfifo(shop.folder / "st.csv")
    assert "is a pipe" in shop.run(("forces", "t.beam.yaml")).err
    (shop.folder / "t.beam.yaml").write_text(yaml_beams.TABLES.replace("st.csv", '"nul\\0.csv"'), "utf-8")
    assert "U+0000" in shop.run(("forces", "t.beam.yaml")).err
    (shop.folder / "t.beam.yaml").write_text(
        yaml_beams.TABLES.replace("st.csv", "../../../dev/zero"), "utf-8"
    )
    assert "lies outside" in shop.run(("forces", "t.beam.yaml")).err


@pytest.mark.parametrize(
    ("old", "new", "words"),
    [
        ("cover: 35", "cover: 700", "700 mm is outside|leave no room in a depth of 600 mm"),
        (
            "row: 4, size: 20, depth: 545",
            "row: 60, size: 20, depth: 545",
            "60 bars at one depth are 1200 mm wide side by side, in 264 mm",
        ),
        (
            "depth: 545",
            "depth: 595",
            "at 595 mm these bars are outside cover and stirrup; they fit at 53 mm to 547 mm",
        ),
        ("depth: 545", "depth: 5", "outside cover and stirrup"),
        ("row: 2, size: 16, depth: 51", "row: 12, size: 20, depth: 540", "side by side"),
        ("moment: 310,", "moment: .nan,", "not a usable number"),
        ("shear: 180", "shear: 1e14", "outside the sensible range"),
    ],
)
def test_sections_that_cannot_be(shop, old, new, words):
    (shop.folder / "x.section.yaml").write_text(SECTION.replace(old, new), "utf-8")
    seen = shop.run(("section", "x.section.yaml"))
    assert seen.status == 2
    assert re.search(words, seen.err), seen.err


@pytest.mark.slow
def test_bars_closer_than_the_code_permits_fail(shop):
    (shop.folder / "x.section.yaml").write_text(SECTION.replace("row: 4", "row: 9"), "utf-8")
    seen = shop.run(("section", "x.section.yaml"))
    assert seen.status == 1
    # 9 of 20 mm in 264 mm leave gaps of 10.5 mm; 25 mm (aggregate of 20 mm and 5 mm) are required
    assert re.search(r"fail +clear distance of bars required +25\.0 +10\.5 +mm +2\.38", seen.out), seen.out


def test_numbers_that_are_none_pass_nowhere(deck_design, monkeypatch):
    from upright_bramble.codes.rules import Place
    from upright_bramble.files.result_data import Origin, result_data, to_json

    for demand, resistance in ((np.nan, 1.0), (1.0, np.nan), (0.0, np.nan), (np.inf, 1.0), (1.0, np.inf)):
        with pytest.raises(InternalMismatch, match="no finite number"):
            deck_design.facts.check("bending.sagging", Place(span=0), 0, demand, resistance)
    damaged = replace(deck_design, quantities={**deck_design.quantities, "cost": float("nan")})
    with pytest.raises(ValueError, match="JSON compliant"):
        to_json(result_data(damaged, Origin("x", "", "")))


SENSELESS = [
    (
        "aggregate: 20",
        "concrete: {grade: C30/37}",
        "concrete: {grade: C30/37, aggregate: 1.0e-9}",
        "4 to 150 mm",
    ),
    ("settlement", "support: B, width: 300", "support: B, width: 300, settles: 100 m", "-1000 to 1000 mm"),
    ("age", "detailing", "service: {age_at_loading: 1.0e9}", "0.1 to 1e+05 days"),
    ("crack", "detailing", "service: {crack_width: 1 m}", "0.01 to 2 mm"),
    ("span/", "detailing", "service: {deflection: {total: span/0.001}}", "span/20 to span/10000"),
    ("limit", "detailing", "service: {deflection: {total: 90 m}}", "sensible range"),
    ("factor", "units: si", "code_values: {gamma_c: 1.0e9}", "0.075 to 30 is permitted"),
    ("point", "line: 10", "point: 1.0e12, at: 2", "outside the sensible range"),
    ("stock", "detailing", "detailing: {stock_length: 1 mm}", "1 to 100 m"),
    ("density", "self_weight: true", "self_weight: true, density: 9e9", "0 to 100 kN/m³"),
]


@pytest.mark.parametrize(
    ("old", "new", "words"), [row[1:] for row in SENSELESS], ids=[row[0] for row in SENSELESS]
)
def test_values_that_no_engineer_means(old, new, words):
    text = yaml_beams.SIMPLE.replace(old, new) if old != "detailing" else yaml_beams.SIMPLE + new + "\n"
    assert text != yaml_beams.SIMPLE
    result = yaml_beams.faults(text)
    assert any(words in line for line in result), result


def test_kinds_and_categories_come_with_the_other_faults():
    """One round: the form of entries, a misspelled code, kinds, categories, spans and sizes."""
    text = (
        yaml_beams.SIMPLE.replace("en1992-1-1", "en1992-1")
        .replace("kind: permanent", "kind: dead")
        .replace("category: B", "category: Z")
    )
    text = (
        text.replace("span: 6,", "span: 6 kN,").replace("C30/37", "C30/38")
        + "forces: {strength: {table: x.csv, levle: factored}}\ncolour: red\n"
    )
    result = yaml_beams.faults(text)
    for words in (
        "'en1992-1' is not a valid code", "'dead' is not a valid kind", "'Z' is not a valid category", "is a force; a length is needed", "'C30/38' is not a valid grade",
        "unknown key 'colour'", "unknown key 'levle'; did you mean 'level'?",
    ):  # fmt: skip
        assert any(words in line for line in result), (words, result)
    assert len(set(result)) == len(result)
    assert not any("In]" in line or "list[" in line or "function-" in line for line in result), result


@pytest.mark.parametrize(
    ("text", "known"),
    [
        ("about: {projct: x}", "project"), ("redistribution: {percnt: 10}", "percent"), ("combinations: {ad: []}", "add"),
        ("service: {deflection: {totl: span/250}}", "total"), ("detailing: {rates: {stel: 1}}", "steel"),
        ("combinations: {add: [{level: strength, name: x, factors: {permanent: 1}, fctors: 1}]}", "factors"),
        ("about: {zzzz: x}", "valid: author, date, project, revision"),
    ],
)  # fmt: skip
def test_an_unknown_key_lists_those_of_its_section(text, known):
    result = [line for line in yaml_beams.faults(yaml_beams.SIMPLE + text + "\n") if "unknown key" in line]
    assert len(result) == 1
    assert known in result[0], result


def test_the_core_speaks_in_the_units_of_the_file():
    us = yaml_beams.demo("annex-floor")
    result = yaml_beams.faults(
        us.replace("depth: 26", "depth: 4") if "depth: 26" in us else re.sub(r"depth: \d+", "depth: 4", us)
    )
    assert result
    assert not any(re.search(r"\d m\b|\d mm\b", line) for line in result), result
    assert any(" in leaves no room" in line for line in result), result


def test_what_is_in_the_way_is_named():
    text = yaml_beams.SIMPLE.replace("line: 10", "line: 30") + "detailing: {most_bars: 2, main_bars: [12]}\n"
    from upright_bramble.pipeline import run_design
    from upright_bramble.suggesting import suggest

    beam = beam_from(parse_yaml(text, "x"))
    designed = run_design(beam)
    said = (
        designed.reason + " ".join(m.text for m in designed.result.messages)
        if designed.result
        else designed.reason
    )
    assert "more than the 2 that 'most_bars' permits" in said, said
    quick = suggest(beam, seconds=0.0)
    assert quick.texts == ()
    assert not quick.complete


@pytest.mark.slow
def test_suggestions_come_after_verdict_and_files_or_when_asked(shop, monkeypatch):
    # others cure it too; they are tried elsewhere
    monkeypatch.setattr(suggesting, "WIDTHS", 0)
    monkeypatch.setattr(suggesting, "STRENGTHS", 0)
    (shop.folder / "w.beam.yaml").write_text(yaml_beams.demo("slipway-lintel"), "utf-8")
    seen = shop.run(("design", "w.beam.yaml", "--no-figures"))
    assert seen.status == 1
    assert seen.out.index("written to") < seen.out.index("suggestion")
    first = (shop.folder / "SL1" / "SL1.result.json").read_text("utf-8")
    assert "suggestion" not in first  # what a clock decides is in no file
    seen = shop.run(("design", "w.beam.yaml", "--no-figures", "--suggest"))
    assert "suggestion: increase the depth of all spans by" in (
        shop.folder / "SL1" / "SL1.result.json"
    ).read_text("utf-8")
    assert "(checked: passes)" in seen.out


def test_results_of_another_beam_with_this_mark_are_not_replaced_without_a_word(shop):
    (shop.folder / "other.beam.yaml").write_text(yaml_beams.SIMPLE.replace("line: 12", "line: 11"), "utf-8")
    seen = shop.run(("design", "other.beam.yaml", "one.beam.yaml", "--no-figures"))
    assert seen.status == 2
    assert "both would write" in seen.err
    seen = shop.run(("design", "other.beam.yaml", "--no-figures"))
    assert seen.status == 0
    assert "the mark 'S1' is also that of one.beam.yaml, whose results in S1 are replaced" in seen.err
