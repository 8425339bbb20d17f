"""Forces found elsewhere: read with their units and level, designed for, and never taken for what they are not."""

from __future__ import annotations

import csv
import io
import re

import numpy as np
import pytest

import upright_bramble as ub
import yaml_beams
from plain_beams import layout_of
from upright_bramble import design, read
from upright_bramble.analysis import analyse
from upright_bramble.codes import get_code
from upright_bramble.errors import InputFaults
from upright_bramble.files.beam_file import read_beam
from upright_bramble.verify import workings
from upright_bramble.working import formula as notation

EN = get_code("en1992-1-1")
TWO = yaml_beams.SIMPLE.replace(
    "  - {support: B, width: 300}\n",
    "  - {support: B, width: 300}\n  - {span: 5, profile: p}\n  - {support: C, width: 300}\n",
)
HEAD = TWO[: TWO.index("actions:")]
GIVEN = HEAD + "forces:\n  strength: {table: uls.csv, level: factored}\n"
FULL = GIVEN + "  service: {characteristic: char.csv, quasi_permanent: qp.csv}\n"


def tables(bramble) -> None:
    """The two-span beam's own envelopes, as any other program might give them."""
    bramble.write("own.beam.yaml", TWO.replace("S1", "OWN"))
    for name, level in (("uls", "strength"), ("char", "characteristic"), ("qp", "quasi_permanent")):
        assert (
            bramble(
                "forces", "own.beam.yaml", "--level", level, "--csv", f"{name}.csv", "--extremes", "--quiet"
            ).status
            == 0
        )


@pytest.mark.slow
def test_what_is_written_can_be_read_back(bramble):
    tables(bramble)
    bramble.write("given.beam.yaml", FULL)
    own, given = (read_beam(bramble.folder / f"{n}.beam.yaml") for n in ("own", "given"))
    a, b = (analyse(beam, EN) for beam in (own, given))
    for level in ("strength", "characteristic", "quasi_permanent"):
        for quantity in ("moment_max", "moment_min", "shear_max", "shear_min"):
            for index in range(2):
                x, y = a.stations.of(index), b.stations.of(index)
                chosen = np.interp(
                    a.stations.local[x], b.stations.local[y], getattr(b.envelopes[level], quantity)[y]
                )
                size = np.abs(getattr(a.envelopes[level], quantity)).max()
                np.testing.assert_allclose(chosen, getattr(a.envelopes[level], quantity)[x], atol=0.02 * size)
    assert b.missing == ("frequent",)
    ran = bramble("design", "given.beam.yaml", "--json", "--no-figures")
    assert ran.status == 1, ran.err  # what sags after finishes is not known from these tables
    assert {u["topic"] for u in ran.json["verdict"]["not_verified"]} == {"deflection"}
    checked = bramble("check", "given.beam.yaml", "S1/S1.layout.yaml", "--json")
    assert checked.json["checks"] == ran.json["checks"]
    own_steel = bramble("design", "own.beam.yaml", "--json", "--no-figures").json["quantities"]["steel_kg"]
    # without knowing loads and reactions nothing is taken off at supports: somewhat more steel, never less
    assert own_steel * 0.98 <= ran.json["quantities"]["steel_kg"] <= 1.3 * own_steel


PORTAL = TWO.replace(
    "{support: C, width: 300}", "{support: C, width: 300, column: {below: {height: 3, size: [300, 300]}}}"
).replace("loads: [{line: 10}]", "loads: [{line: 10}, {point: 20, on: 2, at: 2.1}, {torque: 2, on: 1}]")


@pytest.mark.slow
@pytest.mark.parametrize("more", ["", "redistribution: {percent: 12}\n"])
def test_sets_of_forces_read_back_give_the_same_design(bramble, more):
    """Support peaks, faces of columns, shear at d, redistribution, torsion, what was there before the finishes: all known."""
    own = PORTAL.replace("S1", "OWN") + more
    bramble.write("own.beam.yaml", own)
    for level in ("strength", "characteristic", "frequent", "quasi_permanent", "permanent"):
        assert (
            bramble("forces", "own.beam.yaml", "--level", level, "--csv", f"{level}.csv", "--quiet").status
            == 0
        )
    service = ", ".join(
        f"{level}: {level}.csv" for level in ("characteristic", "frequent", "quasi_permanent", "permanent")
    )
    head = own[: own.index("actions:")].replace("OWN", "GIV")
    text = (
        head
        + f"forces:\n  strength: {{table: strength.csv, level: factored}}\n  service: {{{service}}}\n{more}"
    )
    bramble.write("given.beam.yaml", text)
    a, b = (bramble("design", f"{n}.beam.yaml", "--json", "--no-figures").json for n in ("own", "given"))
    assert a["bars"] == b["bars"]
    assert a["stirrups"] == b["stirrups"]
    assert [c["id"] for c in a["checks"]] == [c["id"] for c in b["checks"]]
    for chosen, theirs in zip(a["checks"], b["checks"], strict=True):
        # where bars stop between its rows a table is straight
        assert theirs["ratio"] == pytest.approx(chosen["ratio"], abs=2e-3), chosen["id"]


def test_a_missing_level_is_loud_and_its_checks_are_not_done(bramble):
    tables(bramble)
    bramble.write("given.beam.yaml", GIVEN)
    ran = bramble("design", "given.beam.yaml", "--no-figures")
    assert ran.status == 1
    assert "not verified" in ran.out
    result = bramble("check", "given.beam.yaml", "S1/S1.layout.yaml", "--json").json
    service = [
        c
        for c in result["checks"]
        if c["topic"] in ("deflection", "cracking") and not c["id"].startswith("deflection.span-depth")
    ]
    assert not service
    assert {g["topic"] for g in result["verdict"]["not_verified"]} == {"deflection", "cracking"}
    assert all("forces were given" in g["reason"] for g in result["verdict"]["not_verified"])
    assert not {"deflection", "cracking"} & set(result["verdict"]["verified"])
    assert result["verdict"]["status"] == "incomplete"
    assert result["verdict"]["governing"].startswith(("bending", "shear", "anchorage"))
    # a waiver with its reason is shown, and lets the beam pass
    bramble.write(
        "given.beam.yaml", GIVEN + "waive: {deflection: judged by the frame, cracking: judged by the frame}\n"
    )
    waived = bramble("check", "given.beam.yaml", "S1/S1.layout.yaml")
    assert waived.status == 0
    assert "judged by the frame" in waived.out


def test_lines_by_combination(bramble):
    """A single combination, unordered columns, other units: reactions come from the jumps of shear."""
    w, lengths = 30.0, (6.0, 5.0)
    support = -w * (lengths[0] ** 3 + lengths[1] ** 3) / (8 * sum(lengths))
    out = io.StringIO()
    writer = csv.writer(out)
    writer.writerow(["V [N]", "M [kN.cm]", "x [mm]", "span", "combination"])
    for span, length in zip(("1", "B-C"), lengths, strict=True):
        left, right = (0.0, support) if span == "1" else (support, 0.0)
        for x in np.linspace(0, length, 31):
            m = w * x * (length - x) / 2 + left + (right - left) * x / length
            v = w * (length / 2 - x) + (right - left) / length
            writer.writerow([v * 1e3, m * 1e2, x * 1e3, span, "ULS 1"])
    bramble.write("uls.csv", out.getvalue())
    bramble.write("given.beam.yaml", GIVEN)
    beam = read_beam(bramble.folder / "given.beam.yaml")
    forces = analyse(beam, EN)
    e = forces.envelopes["strength"]
    assert e.moment_min.min() == pytest.approx(support * 1e6)
    reaction = w * sum(lengths) / 2 - support / lengths[0] - support / lengths[1]
    assert e.reaction_max[1] == pytest.approx(reaction * 1e3)
    # moment and shear belong together: the peak is rounded by its own reaction
    assert forces.design.moment_min.min() == pytest.approx(support * 1e6 + reaction * 1e3 * 300 / 8)
    assert e.labels == ("ULS 1; as given",)


def test_tables_laid_over_one_another(bramble):
    tables(bramble)
    text = (bramble.folder / "uls.csv").read_text("utf-8").splitlines()
    doubled = [text[0]] + [
        ",".join([*row.split(",")[:2], *(str(2 * float(v)) for v in row.split(",")[2:])]) for row in text[1:]
    ]
    bramble.write("heavy.csv", "\n".join(doubled))
    both = "  strength: [{table: uls.csv, level: factored}, {table: heavy.csv, level: factored}]\n"
    bramble.write("given.beam.yaml", HEAD + "forces:\n" + both)
    bramble.write("one.beam.yaml", GIVEN)
    one, two = (
        analyse(read_beam(bramble.folder / f"{n}.beam.yaml"), EN).envelopes["strength"]
        for n in ("one", "given")
    )
    assert two.moment_max.max() == pytest.approx(2 * one.moment_max.max())
    assert len(two.labels) == 4


def test_a_point_load_is_a_jump(bramble):
    """A place given twice keeps both its shears."""
    rows = ["span,x [m],M_max [kNm],M_min [kNm],V_max [kN],V_min [kN]"]
    one = yaml_beams.SIMPLE[: yaml_beams.SIMPLE.index("actions:")]
    for x, v in ((0, 60), (1, 60), (2, 60), (2, -30), (4, -30), (6, -30)):
        m = 60 * x if x <= 2 else 120 - 30 * (x - 2)
        rows.append(f"1,{x},{m},0,{max(v, 0)},{min(v, 0)}")
    bramble.write("uls.csv", "\n".join(rows))
    bramble.write("p.beam.yaml", one + "forces:\n  strength: {table: uls.csv, level: factored}\n")
    forces = analyse(read_beam(bramble.folder / "p.beam.yaml"), EN)
    at = forces.stations
    here = np.flatnonzero(np.abs(at.local - 2000.0) < 1e-6)
    assert len(here) == 2
    assert forces.envelopes["strength"].shear_max[here].tolist() == pytest.approx([60e3, 0.0])
    assert forces.envelopes["strength"].shear_min[here].tolist() == pytest.approx([0.0, -30e3])
    assert forces.envelopes["strength"].moment_max.max() == pytest.approx(120e6)


@pytest.mark.parametrize(
    ("change", "words"),
    [
        (lambda t: t.replace("M_max [kNm]", "M_max [kN]"), "is a force; a moment is needed"),
        (lambda t: t.replace("M_max [kNm]", "M_max"), "has no unit"),
        (lambda t: t.replace("M_max", "Mmax"), "did you mean"),
        (lambda t: t.replace(",V_min [kN]", ",T [kNm]"), "V_min: is missing"),
        (lambda t: t.replace("\n1,", "\n9,", 1), "'9' is not a valid span"),
        (lambda t: t.replace("\n1,0.0,", "\n1,nought,", 1), "'nought' is not a number"),
        (lambda t: t.replace("\n1,0.0,", "\n1,nan,", 1), "not a usable number"),
        (lambda t: t.replace("\n1,0.0,", "\n1,77.0,", 1), "lies outside the span"),
        (lambda t: "\n".join(r for r in t.splitlines() if not r.startswith("2,")), "nothing is given"),
        (lambda t: "\n".join([t.splitlines()[0], *reversed(t.splitlines()[1:])]), "jumps back"),
        (lambda t: t.splitlines()[0], "has no numbers"),
    ],
)
def test_faults_of_a_table(bramble, change, words):
    tables(bramble)
    path = bramble.folder / "uls.csv"
    path.write_text(change(path.read_text("utf-8").replace("\r\n", "\n")), "utf-8")
    bramble.write("given.beam.yaml", GIVEN)
    with pytest.raises(InputFaults) as refused:
        read_beam(bramble.folder / "given.beam.yaml")
    assert words in str(refused.value)
    assert "uls.csv" in str(refused.value)


@pytest.mark.parametrize(
    ("text", "words"),
    [
        (GIVEN.replace(", level: factored", ""), "'level' is missing"),
        (GIVEN.replace("level: factored", "level: service"), "'factored'"),
        (GIVEN.replace("uls.csv", "../../etc/uls.csv"), "allow a wider folder with --root"),
        (GIVEN.replace("uls.csv", "none.csv"), "cannot be read"),
        (FULL.replace("quasi_permanent:", "sometimes:"), "is not a valid service level"),
        (TWO + "forces:\n  strength: {table: uls.csv, level: factored}\n", "do not go together"),
        (HEAD, "nothing to design for"),
    ],
)
def test_faults_of_asking(bramble, text, words):
    tables(bramble)
    bramble.write("x.beam.yaml", text)
    ran = bramble("design", "x.beam.yaml")
    assert ran.status == 2
    assert words in ran.err


def _with_axial(bramble, force: float) -> None:
    """The two-span beam's own sets of forces with an axial force along it."""
    bramble.write("own.beam.yaml", TWO.replace("S1", "OWN"))
    for level, name in (("strength", "uls"), ("characteristic", "char"), ("quasi_permanent", "qp")):
        assert (
            bramble(
                "forces", "own.beam.yaml", "--level", level, "--csv", f"{name}.csv", "--quiet", "--force"
            ).status
            == 0
        )
        path = bramble.folder / f"{name}.csv"
        rows = path.read_text("utf-8").splitlines()
        path.write_text(
            "\n".join(
                [
                    rows[0] + ",N [kN]",
                    *(r + f",{force if level == 'strength' or force < 0 else 0}" for r in rows[1:]),
                ]
            ),
            "utf-8",
        )


@pytest.mark.slow
def test_axial_force_counts_in_bending_and_shear(bramble):
    """Compression raises the resistance of the same bars and the concrete's share of shear; tension lowers both, asks for more steel,
    and leaves cracking not done."""
    results = {}
    for force in (0.0, 150.0, -150.0):
        _with_axial(bramble, force)
        bramble.write("given.beam.yaml", FULL)
        ran = bramble(
            "design", "given.beam.yaml", "--json", "--no-figures", "--fresh", "--into", f"r{force:g}"
        )
        results[force] = ran.json
        if force == 0.0:
            layout = bramble.folder / "r0" / "S1" / "S1.layout.yaml"
        judged = bramble("check", "given.beam.yaml", str(layout), "--json").json
        results["check", force] = {c["id"]: c for c in judged["checks"]}
    ratio = {force: results["check", force]["bending.hogging.B"]["ratio"] for force in (0.0, 150.0, -150.0)}
    assert ratio[150.0] < ratio[0.0] < ratio[-150.0]
    alone = {
        force: max(results[force]["stations"]["resistance"]["shear_concrete_kN"])
        for force in (0.0, 150.0, -150.0)
    }
    assert alone[150.0] > alone[0.0]
    assert results[-150.0]["quantities"]["steel_kg"] > results[0.0]["quantities"]["steel_kg"]
    for kind in (
        "cracking",
        "deflection.total",
        "bar-stress",
    ):  # nothing that tension makes worse is passed without it
        assert not [c for c in results[-150.0]["checks"] if c["id"].startswith(kind)]
        assert any(g["id"].startswith(kind) for g in results[-150.0]["verdict"]["not_verified"]), kind
        assert all(c["ok"] for c in results[150.0]["checks"] if c["id"].startswith(kind))


@pytest.mark.parametrize("force", [150.0, -150.0])
def test_bending_with_an_axial_force_is_derived(bramble, force):
    """The derivation balances the axial force and ends with the resistance of the check."""
    _with_axial(bramble, force)
    beam = read(bramble.write("given.beam.yaml", FULL))
    result = design(beam)
    for check, working in zip(result.checks, workings(result), strict=True):
        if check.id.startswith("bending."):
            assert working.lines[-1].value == pytest.approx(check.resistance, rel=1e-6)
            axial = [line.value for line in working.lines if line.symbol == "N"]
            assert axial == [pytest.approx(1e3 * force, rel=1e-4)]


def test_a_pull_that_no_moment_goes_with_is_not_passed(bramble):
    """Pure tension far above what the bars carry fails bending, although there is hardly a moment."""
    one = yaml_beams.SIMPLE[: yaml_beams.SIMPLE.index("actions:")]
    rows = [
        "span,x [m],M_max [kNm],M_min [kNm],V_max [kN],V_min [kN],N [kN]",
        *(f"1,{x / 2},1,0,1,-1,-2000" for x in range(13)),
    ]
    bramble.write("uls.csv", "\n".join(rows))
    bramble.write("p.beam.yaml", one + "forces:\n  strength: {table: uls.csv, level: factored}\n")
    bars = "  - {mark: '01', face: bottom, layer: 1, count: 2, size: '16', from: -0.1 m, to: 6.1 m}\n"
    bars += "  - {mark: '02', face: top, layer: 1, count: 2, size: '16', from: -0.1 m, to: 6.1 m}\n"
    bramble.write("p.layout.yaml", f"bramble_layout: 1\nbeam: S1\nbars:\n{bars}stirrups: []\n")
    ran = bramble("check", "p.beam.yaml", "p.layout.yaml", "--json")
    assert ran.status == 1
    failing = [c["id"] for c in ran.json["checks"] if not c["ok"]]
    assert "bending.sagging.1" in failing


@pytest.mark.parametrize(("force", "passes"), [(-2000, False), (6000, False), (200, True)])
def test_an_axial_force_of_one_set_alone_uses_the_section_up(bramble, force, passes):
    """Of two sets one has no axial force: what pulls or presses more than the section bears fails all the same; 300 x 500 of C30 bear
    3 MN."""
    one = yaml_beams.SIMPLE[: yaml_beams.SIMPLE.index("actions:")]
    rows = ["combination,span,x [m],M [kNm],V [kN],N [kN]"]
    rows += [f"{name},1,{x / 2},2,0,{n}" for name, n in (("I", 0), ("II", force)) for x in range(13)]
    bramble.write("uls.csv", "\n".join(rows))
    bramble.write("p.beam.yaml", one + "forces:\n  strength: {table: uls.csv, level: factored}\n")
    bars = "  - {mark: '01', face: bottom, layer: 1, count: 3, size: '16', from: -0.1 m, to: 6.1 m}\n"
    bars += "  - {mark: '02', face: top, layer: 1, count: 3, size: '16', from: -0.1 m, to: 6.1 m}\n"
    bramble.write("p.layout.yaml", f"bramble_layout: 1\nbeam: S1\nbars:\n{bars}stirrups: []\n")
    checks = {c["id"]: c for c in bramble("check", "p.beam.yaml", "p.layout.yaml", "--json").json["checks"]}
    assert checks["bending.sagging.1"]["ok"] == passes
    assert ("axial capacity" in checks["bending.sagging.1"]["note"]) != passes


AMERICAN = """bramble: 1
beam: One span
mark: US1
code: aci318m-19
concrete: {strength: 28 MPa}
reinforcement: {yield: 420 MPa}
cover: {top: 40, bottom: 40, sides: 40}
profiles:
  p: {shape: rectangle, depth: 500, width: 300}
line:
  - {support: A, width: 300}
  - {span: 6, profile: p}
  - {support: B, width: 300}
"""
AMERICAN_LOADS = """actions:
  - {name: dead, kind: permanent, loads: [{line: 15}]}
  - {name: live, kind: imposed, category: storage, loads: [{line: 12}]}
"""


@pytest.mark.slow
def test_american_deflection_needs_both_of_its_levels(bramble):
    """With what lasts alone nothing is known of the immediate part: not done, never passed. With all levels it is the beam's own."""
    bramble.write("own.beam.yaml", AMERICAN.replace("US1", "OWN") + AMERICAN_LOADS)
    for level in ("strength", "dead", "service", "sustained"):
        assert (
            bramble("forces", "own.beam.yaml", "--level", level, "--csv", f"{level}.csv", "--quiet").status
            == 0
        )
    for service, done in (
        ("sustained: sustained.csv", False),
        ("dead: dead.csv, service: service.csv, sustained: sustained.csv", True),
    ):
        text = (
            AMERICAN
            + f"forces:\n  strength: {{table: strength.csv, level: factored}}\n  service: {{{service}}}\n"
        )
        bramble.write("given.beam.yaml", text)
        result = bramble("design", "given.beam.yaml", "--json", "--no-figures", "--fresh").json
        total = next((c for c in result["checks"] if c["id"] == "deflection.total.1"), None)
        assert (total is not None and total["ok"]) == done
        assert any(g["id"] == "deflection.total.1" for g in result["verdict"]["not_verified"]) != done
    bramble.write("same.beam.yaml", AMERICAN + AMERICAN_LOADS)
    own = bramble("check", "same.beam.yaml", "US1/US1.layout.yaml", "--json").json["checks"]
    assert total["ratio"] == pytest.approx(
        next(c for c in own if c["id"] == "deflection.total.1")["ratio"], rel=1e-3
    )


@pytest.mark.slow
@pytest.mark.parametrize("code", ["en1992-1-1", "aci318-19", "aci318m-19"])
@pytest.mark.parametrize("units", ["si", "us", "technical"])
def test_every_starter_file_is_designed(bramble, code, units):
    """Whatever code and units: the file to begin with reads, designs and passes, and its layout checks to the same verdict."""
    assert bramble("start", "s.beam.yaml", "--code", code, "--units", units).status == 0
    ran = bramble("design", "s.beam.yaml", "--json", "--no-figures")
    assert ran.status == 0, ran.err
    again = bramble("check", "s.beam.yaml", "S/S.layout.yaml", "--json").json["checks"]
    assert [(c["id"], c["ok"]) for c in again] == [(c["id"], c["ok"]) for c in ran.json["checks"]]
    assert [c["ratio"] for c in again] == pytest.approx([c["ratio"] for c in ran.json["checks"]], rel=1e-5)


@pytest.mark.slow
@pytest.mark.parametrize(
    ("table", "column", "factor", "result"),
    [("uls.csv", "V_", 0.0, "forces.shear"), ("char.csv", "M_", 3.0, "forces.tables")],
)
def test_tables_that_contradict_each_other_do_not_pass(bramble, table, column, factor, result):
    """Moments that change faster than any shear given, and service moments beyond those of the strength level."""
    tables(bramble)
    path = bramble.folder / table
    head, *rows = path.read_text("utf-8").splitlines()
    names = head.split(",")
    changed = [
        ",".join(
            f"{float(v) * factor:.6g}" if n.startswith(column) else v
            for n, v in zip(names, row.split(","), strict=True)
        )
        for row in rows
    ]
    path.write_text("\n".join([head, *changed]) + "\n", "utf-8")
    bramble.write("given.beam.yaml", FULL)
    ran = bramble("design", "given.beam.yaml", "--json", "--no-figures")
    assert ran.status == 1
    assert any(u["id"].startswith(result) for u in ran.json["verdict"]["not_verified"])


@pytest.mark.parametrize(("low", "high"), [(1.0, 2.0), (4.0, 5.0), (None, None)])
def test_moments_that_change_faster_than_the_shears_beside_them_are_told(bramble, low, high):
    """20 kN/m on 6 m: where a table gives a tenth of the shear in one metre alone, that is not this beam's."""
    one = yaml_beams.SIMPLE[: yaml_beams.SIMPLE.index("actions:")]
    rows = ["span,x [m],M_max [kNm],M_min [kNm],V_max [kN],V_min [kN]"]
    for k in range(25):
        x = 0.25 * k
        v = 60.0 - 20.0 * x
        v *= 0.1 if low is not None and low <= x <= high else 1.0
        rows.append(f"1,{x},{10.0 * x * (6.0 - x)},0,{max(v, 0.0)},{min(v, 0.0)}")
    bramble.write("uls.csv", "\n".join(rows))
    bramble.write("p.beam.yaml", one + "forces:\n  strength: {table: uls.csv, level: factored}\n")
    gaps = bramble("design", "p.beam.yaml", "--json", "--no-figures").json["verdict"]["not_verified"]
    assert any("do not belong to the moments" in str(gap) for gap in gaps) == (low is not None)


@pytest.mark.parametrize(
    ("given", "told"),
    [
        ({"char": 0.9, "qp": 0.6}, []),
        ({"char": 1.01, "qp": 0.6}, []),  # 2 % of the greatest moment is rounding
        ({"char": 1.05, "qp": 0.6}, [("characteristic", "by 4.50 kN·m")]),
        ({"char": 0.6, "qp": 0.7}, [("quasi_permanent", "by 9.00 kN·m")]),
        ({"char": 0.9, "qp": 0.6, "up": 0.1}, [("characteristic", "by 9.00 kN·m")]),
    ],
)
def test_tables_of_service_stay_within_those_of_strength(bramble, given, told):
    """Of 90 kNm at midspan: what a level has more than the one that covers it, at the top as well."""
    one = yaml_beams.SIMPLE[: yaml_beams.SIMPLE.index("actions:")].replace("mark: S1", "mark: T1")
    for name, share in (("uls", 1.0), ("char", given["char"]), ("qp", given["qp"])):
        rows = ["span,x [m],M_max [kNm],M_min [kNm],V_max [kN],V_min [kN]"]
        up = given.get("up", 0.0) if name == "char" else 0.0
        for k in range(13):
            x = 0.5 * k
            m, v = 10.0 * x * (6.0 - x), 60.0 - 20.0 * x
            rows.append(f"1,{x},{share * m},{-up * m},{max(v, 0.0)},{min(v, 0.0)}")
        bramble.write(f"{name}.csv", "\n".join(rows))
    bramble.write("p.beam.yaml", one + FULL[FULL.index("forces:") :])
    beam = read_beam(bramble.folder / "p.beam.yaml")
    bars = layout_of(beam, "bottom 4x20 -0.12..6.12\ntop 2x16 -0.12..6.12\nstirrups 8x2 0.2..5.8 150")
    found = [g for g in ub.check(beam, bars).gaps if g.id.startswith("forces.tables")]
    assert [g.place.part for g in found] == [level for level, _ in told]
    assert all(amount in g.reason for g, (_, amount) in zip(found, told, strict=True))


@pytest.mark.parametrize("force", [120.0, -80.0])
def test_an_axial_force_acts_in_the_centroid_of_a_tee(bramble, force):
    """What is told of bending adds up about mid-depth; the force acts 500/2 - y_c above it, y_c of web and flange."""
    one = yaml_beams.SIMPLE[: yaml_beams.SIMPLE.index("actions:")].replace("mark: S1", "mark: T1")
    tee = "{shape: T, depth: 500, width: 300, flange: {thickness: 150, width: 900}}"
    one = re.sub(r"p: \{[^}]*\}", f"p: {tee}", one)
    rows = ["span,x [m],M_max [kNm],M_min [kNm],V_max [kN],V_min [kN],N [kN]"]
    for k in range(13):
        x = 0.5 * k
        v = 60.0 - 20.0 * x
        rows.append(f"1,{x},{10.0 * x * (6.0 - x)},0,{max(v, 0.0)},{min(v, 0.0)},{force}")
    bramble.write("uls.csv", "\n".join(rows))
    beam = read(
        bramble.write("p.beam.yaml", one + "forces:\n  strength: {table: uls.csv, level: factored}\n")
    )
    words = "bottom 3x20 -0.12..6.12\ntop 3x16 -0.12..6.12\nstirrups 8x2 0.2..5.8 150"
    result = ub.check(beam, layout_of(beam, words))
    (check,) = (c for c in result.checks if c.id.startswith("bending.sagging"))
    lines = ub.why(result, check.id).lines
    (told,) = (v for v in lines if v.symbol == "M_Rd")
    assert told.value == pytest.approx(check.resistance, rel=1e-6)
    assert told.formula.endswith(" + N (y_g - h/2)")
    assert notation.evaluate(notation.parse(told.numbers), {}) == pytest.approx(
        told.value, rel=2e-3
    )  # of rounded numbers
    # the block is inside the flange: F_c = A_s f_yd + N, about the centroid of 300 x 350 and b_eff x 150
    at = result.facts.at
    i = result.facts.nearest(3000.0)
    wide = float(at.sections.flange_width[i])
    y_c = (wide * 150 * 75 + 300 * 350 * 325) / (wide * 150 + 300 * 350)
    d = float(result.facts.placed.y[i].max())
    pull = 3 * 314.159 * 500 / 1.15
    assert check.resistance == pytest.approx(pull * (d - y_c) + (pull + 1e3 * force) * (y_c - 8.0), rel=0.03)
