"""Unfactored forces by action from tables: combined as loads are, in every form that a table has, and refused where they mislead."""

from __future__ import annotations

import numpy as np
import openpyxl
import pytest

from upright_bramble.analysis import analyse
from upright_bramble.codes import get_code
from upright_bramble.errors import InputFaults
from upright_bramble.files.beam_file import read_beam
from upright_bramble.files.table_rows import read_rows
from upright_bramble.pipeline import code_of, only_action, run_forces

HEAD = """bramble: 1
beam: Sail loft, line 2
mark: SL2
code: en1992-1-1
units: si
concrete: {grade: C30/37}
reinforcement: {bars: B500B}
cover: {top: 35, bottom: 35, sides: 35}
profiles: {main: {shape: rectangle, depth: 600, width: 350}}
line:
  - {support: A, width: 350}
  - {span: 6.4, profile: main}
  - {support: B, width: 350}
  - {span: 7.2, profile: main}
  - {support: C, width: 350}
"""
LOADS = """actions:
  - {name: dead, kind: permanent, self_weight: true, loads: [{line: 9.6}]}
  - {name: racks 1, kind: imposed, category: B, loads: [{line: 18, on: 1}, {point: 40, on: 1, at: 2.0}]}
  - {name: racks 2, kind: imposed, category: B, loads: [{line: 18, on: 2}]}
  - {name: wind, kind: wind, loads: [{line: 4}], either_way: true}
arrangements: every
"""
TABLED = """actions:
  - {name: dead, kind: permanent, table: frame.csv}
  - {name: racks 1, kind: imposed, category: B, table: frame.csv}
  - {name: racks 2, kind: imposed, category: B, table: frame.csv}
  - {name: wind, kind: wind, either_way: true, table: frame.csv}
"""


def rows_of(beam) -> list[tuple[str, str, float, float, float]]:
    """What a frame analysis would give: action, span, x (m), M (kNm), V (kN)."""
    result = []
    for action in beam.actions:
        alone = only_action(beam, action.name)
        f = run_forces(alone)
        e, at = f.envelopes[code_of(beam).actions.rare_level], f.stations
        result += [
            (
                action.name,
                str(int(at.span[i]) + 1),
                float(at.local[i]) / 1e3,
                e.moment_max[i] / 1e6,
                e.shear_max[i] / 1e3,
            )
            for i in range(len(at))
        ]
    return result


def long(rows, separator: str = ",", comma: bool = False) -> str:
    lines = [separator.join(("action", "span", "x [m]", "M [kNm]", "V [kN]"))]
    for action, span, *numbers in rows:
        cells = [f"{n:.9f}" for n in numbers]
        lines.append(
            separator.join([action, span, *([c.replace(".", ",") for c in cells] if comma else cells)])
        )
    return "\n".join(lines) + "\n"


@pytest.fixture
def loaded(bramble):
    bramble.write("loads.beam.yaml", HEAD.replace("SL2", "SL1") + LOADS)
    bramble.write("tables.beam.yaml", HEAD + TABLED)
    return read_beam(bramble.folder / "loads.beam.yaml")


def envelopes(bramble, name: str = "tables"):
    beam = read_beam(bramble.folder / f"{name}.beam.yaml")
    return analyse(beam, get_code(beam.code))


def same(a, b) -> None:
    """Every level of loads and of tables has the same envelope, at the stations of the loads."""
    for level, e in a.envelopes.items():
        for quantity in ("moment_max", "moment_min", "shear_max", "shear_min"):
            size = np.abs(getattr(e, quantity)).max()
            for index in range(2):
                x, y = a.stations.of(index), b.stations.of(index)
                there = a.stations.side[x] == 0
                seen = np.interp(
                    a.stations.local[x], b.stations.local[y], getattr(b.envelopes[level], quantity)[y]
                )
                np.testing.assert_allclose(seen[there], getattr(e, quantity)[x][there], atol=2e-3 * size)


@pytest.mark.parametrize(("separator", "comma"), [(",", False), (";", True), ("\t", True), (";", False)])
def test_tables_are_combined_as_loads_are(bramble, loaded, separator, comma):
    bramble.write("frame.csv", long(rows_of(loaded), separator, comma))
    same(analyse(loaded, get_code("en1992-1-1")), envelopes(bramble))


def test_columns_by_action_and_workbooks(bramble, loaded):
    rows = rows_of(loaded)
    plain = long(rows)
    names = list(dict.fromkeys(r[0] for r in rows))
    by = {n: [r for r in rows if r[0] == n] for n in names}
    grid = sorted({(r[1], round(r[2], 6)) for n in names for r in by[n] if r[1]})
    header = ["span", "x [m]", *(f"{n} {k}" for n in names for k in ("M [kNm]", "V [kN]"))]
    wide = [header]
    for span, x in grid:
        cells: list = [span, x]
        for n in names:
            own = [r for r in by[n] if r[1] == span]
            cells += [float(np.interp(x, [r[2] for r in own], [r[k] for r in own])) for k in (3, 4)]
        wide.append(cells)
    bramble.write("frame.csv", "\n".join(",".join(str(c) for c in row) for row in wide))
    wide_forces = envelopes(bramble)
    bramble.write("frame.csv", plain)
    long_forces = envelopes(bramble)
    np.testing.assert_allclose(
        wide_forces.envelopes["strength"].moment_max.max(),
        long_forces.envelopes["strength"].moment_max.max(),
        rtol=1e-4,
    )
    book = openpyxl.Workbook()
    for row in plain.splitlines():
        cells = row.split(",")
        book.active.append(
            cells if cells[0] == "action" else [cells[0], int(cells[1]), *map(float, cells[2:])]
        )
    book.save(bramble.folder / "frame.xlsx")
    bramble.write("tables.beam.yaml", HEAD + TABLED.replace("frame.csv", "frame.xlsx"))
    same(long_forces, envelopes(bramble))


def test_a_table_may_be_of_one_action_and_of_many_beams(bramble, loaded):
    rows = rows_of(loaded)
    for n, name in enumerate(("dead", "racks 1", "racks 2", "wind")):
        own = long([r for r in rows if r[0] == name]).splitlines()
        bramble.write(f"t{n}.csv", "\n".join(",".join(line.split(",")[1:]) for line in own))
    text = HEAD + TABLED
    for n in range(4):
        text = text.replace("frame.csv", f"t{n}.csv", 1)
    bramble.write("tables.beam.yaml", text)
    same(analyse(loaded, get_code("en1992-1-1")), envelopes(bramble))
    head, *body = long(rows).splitlines()
    both = [
        f"beam,{head}",
        *(f"SL2,{line}" for line in body),
        *(f"SL9,{line.replace('dead', 'snow')}" for line in body),
    ]
    bramble.write("frame.csv", "\n".join(both))
    bramble.write("tables.beam.yaml", HEAD + TABLED)
    same(analyse(loaded, get_code("en1992-1-1")), envelopes(bramble))
    assert not read_beam(bramble.folder / "tables.beam.yaml").cautions


def test_the_code_combines_by_hand(bramble):
    """Single span: 1.35 G + 1.5 Q + 1.5 x 0.6 W, and 1.0 G - 1.5 W where the wind lifts."""
    one = HEAD[: HEAD.index("  - {span: 7.2")]
    x = np.linspace(0.0, 6.4, 41)
    shape = 4.0 * x * (6.4 - x) / 6.4**2
    slope = 4.0 * (6.4 - 2.0 * x) / 6.4**2
    sizes = {"dead": 100.0, "racks 1": 80.0, "wind": 90.0}
    rows = [
        (n, "1", float(a), float(size * s), float(size * v))
        for n, size in sizes.items()
        for a, s, v in zip(x, shape, slope, strict=True)
    ]
    bramble.write("frame.csv", long(rows))
    bramble.write(
        "one.beam.yaml",
        one + TABLED.replace("  - {name: racks 2, kind: imposed, category: B, table: frame.csv}\n", ""),
    )
    f = envelopes(bramble, "one")
    high = 1.35 * 100 + 1.5 * 80 + 1.5 * 0.6 * 90
    wind_leads = 1.35 * 100 + 1.5 * 90 + 1.5 * 0.7 * 80
    assert f.envelopes["strength"].moment_max.max() / 1e6 == pytest.approx(max(high, wind_leads), rel=1e-9)
    assert f.envelopes["strength"].moment_min.min() / 1e6 == pytest.approx(100 - 1.5 * 90, rel=1e-9)
    assert f.envelopes["quasi_permanent"].moment_max.max() / 1e6 == pytest.approx(100 + 0.3 * 80, rel=1e-9)
    label = f.envelopes["strength"].labels[
        int(f.envelopes["strength"].moment.high_by[f.envelopes["strength"].moment_max.argmax()])
    ]
    assert "1.5 Q[B]" in label or "1.5 Q[wind]" in label


@pytest.mark.slow
def test_a_design_from_tables_is_whole_and_one_action_can_be_looked_at(bramble, loaded):
    bramble.write("frame.csv", long(rows_of(loaded)))
    ran = bramble("design", "tables.beam.yaml", "--json", "--no-figures")
    assert ran.status == 0, ran.err
    assert ran.json["verdict"]["not_verified"] == []
    own = bramble("design", "loads.beam.yaml", "--json", "--no-figures").json
    assert ran.json["quantities"]["steel_kg"] == pytest.approx(own["quantities"]["steel_kg"], rel=0.05)
    assert {"dead", "wind"} <= {i["name"] for i in ran.json["inputs"] if i["topic"] == "actions"}
    alone = bramble("forces", "tables.beam.yaml", "--action", "racks 1", "--json").json["levels"][
        "characteristic"
    ]
    whole = bramble("forces", "loads.beam.yaml", "--action", "racks 1", "--json").json["levels"][
        "characteristic"
    ]
    assert max(alone["moment_max_kNm"]) == pytest.approx(max(whole["moment_max_kNm"]), rel=1e-3)
    assert bramble("forces", "tables.beam.yaml", "--level", "permanent", "--quiet").status == 0


def test_analyses_laid_over_one_another_are_named(bramble, loaded):
    rows = rows_of(loaded)
    bramble.write("frame.csv", long(rows))
    more = [
        (a, s, x, (1.2 if s == "2" else 0.9) * m, (1.2 if s == "2" else 0.9) * v) for a, s, x, m, v in rows
    ]
    bramble.write("stiff.csv", long(more))
    bramble.write("tables.beam.yaml", HEAD + TABLED.replace("frame.csv", "[frame.csv, stiff.csv]"))
    f = envelopes(bramble)
    e, at = f.envelopes["strength"], f.stations
    for index, name in ((0, "frame.csv"), (1, "stiff.csv")):
        i = at.of(index).start + int(e.moment_max[at.of(index)].argmax())
        assert f"; {name}" in e.labels[int(e.moment.high_by[i])]
    bramble.write(
        "t.beam.yaml",
        HEAD + "forces:\n  strength: [{table: a.csv, level: factored}, {table: b.csv, level: factored}]\n",
    )
    for letter, factor in (("a", 1.0), ("b", 2.0)):
        text = long([(a, s, x, factor * m, factor * v) for a, s, x, m, v in rows]).replace(
            "action,", "combination,"
        )
        bramble.write(f"{letter}.csv", text)
    g = envelopes(bramble, "t").envelopes["strength"]
    assert "; b.csv" in g.labels[int(g.moment.high_by[g.moment_max.argmax()])]


@pytest.mark.parametrize(
    ("change", "words"),
    [
        (lambda t: t.replace("V [kN]", "V"), "has no unit"),
        (lambda t: t.replace("V [kN]", "V [kNm]"), "is a moment"),
        (lambda t: t.replace("wind,", "winds,"), "has no action 'wind'"),
        (
            lambda t: "\n".join(r for r in t.splitlines() if not r.startswith("wind,2")),
            "stations from 0 to 7.2",
        ),
        (lambda t: t.replace("dead,1,0.0", "dead,7,0.0", 1), "'7' is not a valid span"),
        (lambda t: t.replace(",", ";").replace("dead;1;0.000000000", "dead;1;0,000", 1), "is not a number"),
        (lambda t: t.replace("action,", "case,"), "is no column of forces by action"),
    ],
)
def test_tables_that_mislead_are_refused(bramble, loaded, change, words):
    bramble.write("frame.csv", change(long(rows_of(loaded))))
    with pytest.raises(InputFaults, match=words.replace("(", r"\(")):
        read_beam(bramble.folder / "tables.beam.yaml")


def test_what_does_not_go_together_is_refused(bramble, loaded):
    bramble.write("frame.csv", long(rows_of(loaded)))
    for old, new, words in (
        (
            "kind: permanent, table: frame.csv",
            "kind: permanent, self_weight: true",
            "has loads, and other actions have tables",
        ),
        (
            "kind: permanent, table: frame.csv",
            "kind: permanent, self_weight: true, table: frame.csv",
            "give its .table., or loads and self weight; not both",
        ),
        (
            "kind: permanent, table: frame.csv",
            "kind: permanent, acts_from: 30 days, table: frame.csv",
            "acts_from",
        ),
        (
            "table: frame.csv}\n  - {name: racks 1",
            "table: ../../../frame.csv}\n  - {name: racks 1",
            "lies outside",
        ),
    ):
        bramble.write("bad.beam.yaml", HEAD + TABLED.replace(old, new, 1))
        with pytest.raises(InputFaults, match=words):
            read_beam(bramble.folder / "bad.beam.yaml")


def test_what_looks_wrong_is_said_in_the_result(bramble, loaded):
    rows = rows_of(loaded)
    bramble.write("frame.csv", long([*rows, *[("snow", *r[1:]) for r in rows if r[0] == "wind"]]))
    ran = bramble("design", "tables.beam.yaml", "--json", "--no-figures").json
    assert any("snow" in m["text"] and m["severity"] == "warning" for m in ran["messages"])
    turned = [(a, s, x, -m, v) for a, s, x, m, v in rows]  # hogging positive
    bramble.write("frame.csv", long(turned))
    said = read_beam(bramble.folder / "tables.beam.yaml").cautions
    assert any("not the slope of its moment" in c for c in said)
    bramble.write("frame.csv", long([(a, s, x, -m, -v) for a, s, x, m, v in rows]))
    assert any(
        "sagging is positive here" in c for c in read_beam(bramble.folder / "tables.beam.yaml").cautions
    )
    text = HEAD + TABLED.replace("  - {name: racks 2, kind: imposed, category: B, table: frame.csv}\n", "")
    bramble.write("frame.csv", long(rows))
    bramble.write("whole.beam.yaml", text)
    assert any(
        "fewer actions than there are spans" in c
        for c in read_beam(bramble.folder / "whole.beam.yaml").cautions
    )


def test_damaged_workbooks_are_faults(tmp_path):
    (tmp_path / "a.xlsx").write_bytes(b"PK\x03\x04 no workbook at all")
    rows, faults = read_rows(tmp_path / "a.xlsx")
    assert rows is None
    assert "is no workbook" in faults[0].text


@pytest.mark.slow
@pytest.mark.parametrize(
    ("code", "concrete", "steel", "category"),
    [
        ("aci318m-19", "{strength: 30}", "{yield: 420}", "occupied"),
        ("csa-a23.3-19", "{strength: 30}", "{yield: 400}", "general"),
        ("is456-2000", "{grade: M30}", "{bars: Fe500}", "general"),
        ("bs8110-97", "{grade: C40}", "{yield: 500}", "general"),
    ],
)
def test_every_code_combines_tables_as_loads(bramble, code, concrete, steel, category):
    """One span, where no arrangement of spans comes in: permanent, imposed, and wind either way."""

    def text(body: str, mark: str) -> str:
        head = HEAD[: HEAD.index("  - {span: 7.2")].replace("SL2", mark).replace("en1992-1-1", code)
        head = head.replace("{grade: C30/37}", concrete).replace("{bars: B500B}", steel)
        return head + body.replace("category: B", f"category: {category}")

    loads = LOADS.replace(
        "  - {name: racks 2, kind: imposed, category: B, loads: [{line: 18, on: 2}]}\n", ""
    ).replace("arrangements: every\n", "")
    tabled = TABLED.replace("  - {name: racks 2, kind: imposed, category: B, table: frame.csv}\n", "")
    bramble.write("loads.beam.yaml", text(loads, "L1"))
    bramble.write("tables.beam.yaml", text(tabled, "T1"))
    beam = read_beam(bramble.folder / "loads.beam.yaml")
    bramble.write("frame.csv", long(rows_of(beam)))
    a, b = analyse(beam, get_code(code)), envelopes(bramble)
    for level, e in a.envelopes.items():
        for quantity in ("moment_max", "moment_min", "shear_max", "shear_min"):
            seen, own = getattr(b.envelopes[level], quantity), getattr(e, quantity)
            size = max(np.abs(own).max(), 1.0)
            assert seen.max() == pytest.approx(own.max(), abs=1e-3 * size), (level, quantity)
            assert seen.min() == pytest.approx(own.min(), abs=1e-3 * size), (level, quantity)
    ran = bramble("design", "tables.beam.yaml", "--json", "--no-figures")
    assert ran.status == 0, ran.err
    assert ran.json["verdict"]["not_verified"] == []
