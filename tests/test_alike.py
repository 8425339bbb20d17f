"""Alike beams that share one design: each level verified with its own loads, the worst of each check told, and never less than alone."""

from __future__ import annotations

import json

import pytest

import yaml_beams
from upright_bramble import read
from upright_bramble.analysis import analyse
from upright_bramble.beam.alike import differences
from upright_bramble.errors import InputFaults
from upright_bramble.files.beam_file import read_beam
from upright_bramble.pipeline import code_of, run_check, run_design
from upright_bramble.standardising import groups, peaks, spread
from upright_bramble.verify import workings

TWO = yaml_beams.SIMPLE.replace(
    "  - {support: B, width: 300}\n",
    "  - {support: B, width: 300}\n  - {span: 5, profile: p}\n  - {support: C, width: 300}\n",
)
SHARED = (
    "bramble: 1\nbeam: Loft floors\nmark: LF\nenvelope_of: [one.beam.yaml, two.beam.yaml, three.beam.yaml]\n"
)


def level(mark: str, first: float, second: float) -> str:
    loads = f"loads: [{{line: {first}, on: 1}}, {{line: {second}, on: 2}}, {{point: 15, on: 1, at: 0.9}}]"
    return TWO.replace("mark: S1", f"mark: {mark}").replace("loads: [{line: 10}]", loads)


@pytest.fixture
def loft(bramble):
    """Three levels: one heavy on the left, one on the right, one light."""
    for name, text in (
        ("one", level("L1", 22.0, 4.0)),
        ("two", level("L2", 6.0, 24.0)),
        ("three", level("L3", 5.0, 5.0)),
    ):
        bramble.write(f"{name}.beam.yaml", text)
    bramble.write("loft.beam.yaml", SHARED)
    return bramble


@pytest.mark.slow
def test_every_level_is_verified_with_its_own_loads(loft):
    beam = read_beam(loft.folder / "loft.beam.yaml")
    result = run_design(beam).result
    assert result.status == "pass"
    alone = {name: run_check(own, result.layout) for name, own in beam.levels}
    for check in result.checks:
        own = {name: next((c for c in r.checks if c.id == check.id), None) for name, r in alone.items()}
        known = {name: c for name, c in own.items() if c is not None}
        assert check.ratio == max(c.ratio for c in known.values())
        assert known[check.level].demand == check.demand
        assert known[check.level].resistance == check.resistance
    assert {c.id for r in alone.values() for c in r.checks} == {c.id for c in result.checks}
    worst = {c.id: c.level for c in result.checks}
    assert (worst["bending.sagging.1"], worst["bending.sagging.2"]) == ("one", "two")


def test_the_envelope_is_that_of_all_levels(loft):
    beam = read_beam(loft.folder / "loft.beam.yaml")
    code = code_of(beam)
    shared = analyse(beam, code).envelopes["strength"]
    each = [analyse(own, code).envelopes["strength"] for _, own in beam.levels]
    assert shared.moment_max.max() == pytest.approx(max(e.moment_max.max() for e in each), rel=1e-3)
    assert shared.moment_min.min() == pytest.approx(min(e.moment_min.min() for e in each), rel=1e-6)
    assert shared.shear.max() == pytest.approx(max(e.shear.max() for e in each), rel=1e-6)
    assert shared.labels[int(shared.moment.low_by[shared.moment_min.argmin()])].split("; ")[2] in (
        "one",
        "two",
    )


@pytest.mark.slow
def test_derivations_are_of_the_level_that_governs(loft):
    result = run_design(read_beam(loft.folder / "loft.beam.yaml")).result
    made = {w.check: w for w in workings(result)}
    assert set(made) == {c.id for c in result.checks}
    check = next(c for c in result.checks if c.id == "bending.sagging.2")
    own = next(w for w in workings(dict(result.parts)["two"]) if w.check == check.id)
    assert made[check.id] == own


@pytest.mark.slow
def test_result_schedule_and_report_say_levels_and_number(loft):
    ran = loft("design", ".", "--json", "--no-figures")
    assert ran.status == 0, ran.err
    data = ran.json  # the levels share this design: they are not designed by themselves
    assert data["beam"]["mark"] == "LF"
    assert [v["name"] for v in data["levels"]] == ["one", "two", "three"]
    for v in data["levels"]:
        assert v["ratios"]["bending"] <= max(c["ratio"] for c in data["checks"] if c["topic"] == "bending")
    assert data["beam"]["quantity"] == 3
    bars = loft("bars", "LF", "--json").json
    assert bars["total_kg"] == pytest.approx(3 * data["quantities"]["steel_kg"], abs=0.01)
    shown = loft("design", "loft.beam.yaml", "--no-figures").out
    assert all(name in shown for name in ("level", "one", "two", "three"))
    assert loft("report", "LF", "--format", "md", "--quiet").status == 0
    report = (loft.folder / "LF/LF.report.md").read_text()
    assert "Alike beams" in report
    assert "(3 beams)" in report
    checked = loft("check", "loft.beam.yaml", "LF/LF.layout.yaml", "--json").json
    assert checked["checks"] == data["checks"]
    loft.write("two.beam.yaml", level("L2", 6.0, 40.0))  # a level changes: the result is of other inputs
    assert loft("bars", "LF").status == 2
    assert loft("check", "loft.beam.yaml").status == 1


@pytest.mark.parametrize(
    ("change", "words"),
    [
        (lambda t: t.replace("depth: 500", "depth: 550"), "span 1 has another profile"),
        (lambda t: t.replace("span: 5,", "span: 5.02,"), "more than the tolerance apart"),
        (lambda t: t.replace("C30/37", "C25/30"), "another concrete"),
        (lambda t: t.replace("cover: {top: 30", "cover: {top: 35"), "another cover"),
        (lambda t: t + "redistribution: {percent: 10}\n", "without 'redistribution'"),
        (lambda t: t + "arrangements: every\n", "arrangements: code"),
        (lambda t: t.replace("depth: 500", "depth: 500 kN"), "two.beam.yaml:10"),
        (
            lambda t: t[: t.index("  - {span: 5")] + t[t.index("actions:") :].replace(", on: 2", ", on: 1"),
            "1 spans where the first has 2",
        ),
    ],
)
def test_beams_that_are_not_alike_are_refused(loft, change, words):
    loft.write("two.beam.yaml", change(level("L2", 6.0, 24.0)))
    with pytest.raises(InputFaults) as told:
        read_beam(loft.folder / "loft.beam.yaml")
    assert words in str(told.value)


@pytest.mark.slow
def test_a_level_counts_whatever_its_file_is_called(loft):
    (loft.folder / "two.beam.yaml").rename(loft.folder / "two.txt")
    loft.write("loft.beam.yaml", SHARED.replace("two.beam.yaml", "two.txt"))
    assert loft("design", "loft.beam.yaml", "--no-figures", "--quiet").status == 0
    loft.write("two.txt", level("L2", 6.0, 40.0))
    assert "up to date" not in loft("design", "loft.beam.yaml", "--no-figures").out


def test_spans_within_the_tolerance_share_a_design(loft):
    loft.write("two.beam.yaml", level("L2", 6.0, 24.0).replace("span: 5,", "span: 5.008,"))
    assert run_design(read_beam(loft.folder / "loft.beam.yaml")).result.status == "pass"
    loft.write("loft.beam.yaml", SHARED + "tolerance: 2\n")
    with pytest.raises(InputFaults, match="tolerance"):
        read_beam(loft.folder / "loft.beam.yaml")


@pytest.mark.parametrize(
    ("text", "words"),
    [
        (SHARED.replace("three.beam.yaml", "four.beam.yaml"), "four.beam.yaml"),
        (SHARED.replace("one.beam.yaml", "../../one.beam.yaml"), "lies outside"),
        (SHARED.replace("three.beam.yaml", "one.beam.yaml"), "is called 'one' already"),
        (SHARED.replace("three.beam.yaml", "loft.beam.yaml"), "shares a design itself"),
        (SHARED + "line: []\n", "unknown key 'line'"),
        (SHARED + "waive: {shear: no}\n", "reason"),
    ],
)
def test_faults_of_the_file_that_shares(loft, text, words):
    loft.write("loft.beam.yaml", text)
    ran = loft("design", "loft.beam.yaml")
    assert ran.status == 2
    assert words in ran.err


def test_tables_by_action_share_a_design_too(loft):
    """A shared beam has the forces of all its levels, not those of its first."""
    for name, mark, size in (("one", "L1", 60.0), ("two", "L2", 120.0)):
        rows = ["action,span,x [m],M [kNm],V [kN]"]
        for span, length in ((1, 6.0), (2, 5.0)):
            for k in range(21):
                x = length * k / 20
                rows += [f"{a},{span},{x},{s * 4 * x * (length - x) / length**2},{s * 4 * (length - 2 * x) / length**2}"
                         for a, s in (("dead", size), ("live", 0.5 * size))]  # fmt: skip
        head, *body = rows
        loft.write(
            f"{name}.csv",
            "\n".join([head, *sorted(body, key=lambda r: (r.split(",")[0], int(r.split(",")[1])))]),
        )
        text = TWO.replace("mark: S1", f"mark: {mark}")
        actions = f"actions:\n  - {{name: dead, kind: permanent, table: {name}.csv}}\n"
        actions += f"  - {{name: live, kind: imposed, category: B, table: {name}.csv}}\n"
        loft.write(f"{name}.beam.yaml", text[: text.index("actions:")] + actions)
    loft.write("loft.beam.yaml", SHARED.replace(", three.beam.yaml", ""))
    beam = read_beam(loft.folder / "loft.beam.yaml")
    greatest = analyse(beam, code_of(beam)).envelopes["strength"].moment_max.max() / 1e6
    assert greatest == pytest.approx(1.35 * 120 + 1.5 * 60, rel=1e-3)


@pytest.mark.slow
def test_beams_that_could_share_are_proposed_with_what_it_costs(loft):
    loft.write("loft.beam.yaml", "bramble: 1\n")
    (loft.folder / "loft.beam.yaml").unlink()
    loft.write("four.beam.yaml", level("L4", 21.0, 4.0))
    loft.write("five.beam.yaml", level("L5", 21.0, 4.0).replace("depth: 500", "depth: 550"))
    data = loft("alike", ".", "--within", "10", "--json").json
    assert [g["beams"] for g in data["groups"]] == [["L4", "L1"]]
    assert data["alone"] == ["L5", "L3", "L2"]
    group = data["groups"][0]
    alone = [
        run_design(read_beam(loft.folder / f"{n}.beam.yaml")).result.quantities["steel_kg"]
        for n in ("one", "four")
    ]
    assert group["own"]["steel_kg"] == pytest.approx(sum(alone), abs=0.01)
    assert group["extra_kg"] == pytest.approx(
        group["together"]["steel_kg"] - group["own"]["steel_kg"], abs=0.02
    )
    ran = loft("alike", ".", "--within", "10", "--write", "typical")
    assert ran.status == 0
    assert "2 beams in 1 design:" in ran.out
    made = loft("design", "typical", "--json", "--no-figures").json
    assert made["verdict"]["status"] == "pass"
    assert made["quantities"]["steel_kg"] * 2 == pytest.approx(group["together"]["steel_kg"], abs=0.05)
    files = ("four.beam.yaml", "one.beam.yaml")
    assert loft("alike", *files, "--within", "10", "--write", "typical").status == 2  # nothing is overwritten
    assert loft("alike", "one.beam.yaml").status == 1


def test_spread_and_groups():
    beams = [read_text(level(f"L{k}", size, size)) for k, size in enumerate((20.0, 19.0, 12.0))]
    strengths = [peaks(b) for b in beams]
    assert spread(strengths[:1]) == 0.0
    assert spread(strengths[:2]) < 0.05 < spread(strengths)
    assert groups(beams, strengths, 0.05) == [[0, 1]]
    assert groups(beams, strengths, 0.9) == [[0, 1, 2]]
    assert groups(beams, strengths, 0.0) == []
    assert differences(beams[0], beams[1], 0.0) == []


def read_text(text: str):
    from upright_bramble.files.beam_file import beam_from
    from upright_bramble.files.yaml_source import parse_yaml

    return beam_from(parse_yaml(text, "x.beam.yaml"))


@pytest.mark.slow
def test_the_demo_job_runs_in_one_call(bramble):
    """A part of it: a level of the job, with shared rules and a frame's table."""
    from upright_bramble.demo.job import job_files

    files = job_files()
    assert sum(name.endswith(".beam.yaml") for name in files) == 120
    for name in (
        "office.rules.yaml",
        "job.rules.yaml",
        "first/frame.csv",
        *(f"first/f{k:02d}.beam.yaml" for k in (1, 2, 3)),
    ):
        (bramble.folder / name).parent.mkdir(exist_ok=True)
        bramble.write(name, files[name])
    ran = bramble("design", "first", "--outputs", "json,layout", "--summary", "s.json", "--quiet")
    assert ran.status == 0, ran.err
    data = json.loads((bramble.folder / "s.json").read_text())
    assert [b["mark"] for b in data["beams"]] == ["F01", "F02", "F03"]
    beam = read(bramble.folder / "first/f01.beam.yaml")
    assert not beam.cautions
    assert beam.origins["concrete.grade"] == "../job.rules.yaml"
