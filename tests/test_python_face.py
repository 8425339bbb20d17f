"""The public Python face: the documentation's examples run as they stand."""

from __future__ import annotations

import re
from pathlib import Path

import pytest

import upright_bramble as ub
import yaml_beams
from upright_bramble.pipeline import NoBars

DOCS = Path(__file__).parent.parent / "docs"


@pytest.mark.slow
def test_documentation_examples_run(tmp_path, monkeypatch, capsys):
    monkeypatch.chdir(tmp_path)
    for name in ("boathouse-deck", "slipway-lintel"):
        Path(f"{name}.beam.yaml").write_text(yaml_beams.demo(name), "utf-8")
    blocks = re.findall(r"```python\n(.*?)```", (DOCS / "python.md").read_text("utf-8"), re.DOTALL)
    assert len(blocks) >= 7
    scope: dict = {}
    for block in blocks:
        exec(compile(block, "python.md", "exec"), scope)
    assert Path("deck.png").stat().st_size > 20_000
    assert "DB3 4 spans, 22.2 m" in capsys.readouterr().out


@pytest.mark.slow
def test_readme_beam_is_a_beam(tmp_path):
    text = (DOCS.parent / "README.md").read_text("utf-8")
    block = re.search(r"```yaml\n(.*?)```", text, re.DOTALL)
    assert block
    (tmp_path / "x.beam.yaml").write_text(block.group(1), "utf-8")
    assert ub.design(tmp_path / "x.beam.yaml").status in ("pass", "incomplete")


def test_documented_keys_exist():
    """docs/beam-file.md names every key of the beam file, and none that it does not have."""
    from upright_bramble.files.models import BeamFile

    schema = BeamFile.model_json_schema(by_alias=True)
    keys = set(schema["properties"])
    for definition in schema["$defs"].values():
        keys |= set(definition.get("properties", {}))
    text = (DOCS / "beam-file.md").read_text("utf-8")
    told = set(re.findall(r"`([a-z_]+)`", text))
    assert keys - told == set()


def test_the_table_of_keys_is_what_is_read():
    """docs/beam-file.md has the keys, defaults and ranges that the models have."""
    from upright_bramble.files.fields import table

    text = (DOCS / "beam-file.md").read_text("utf-8")
    assert text.split("<!-- keys: begin -->\n")[1].split("<!-- keys: end -->")[0] == table()


def test_what_is_said_back_as_usual_is_what_is_read(deck):
    """A file that leaves everything out: each value that is told as usual is the default of the models."""
    from upright_bramble.files.echo import echo
    from upright_bramble.files.fields import default_of

    told = {(topic, name): (value, usual) for topic, name, value, usual in echo(deck)}
    assert told["steel wanted", "layers"] == (str(default_of("detailing.layers")), True)
    assert told["rates", "steel"] == (f"{default_of('detailing.rates.steel'):g}", True)
    assert told["service", "humidity"][0] == f"{default_of('service.humidity'):g} %"


def test_tables_and_levels(deck, deck_design):
    forces = ub.forces(deck)
    assert len(ub.table(forces)) == len(forces.stations)
    with pytest.raises(ValueError, match="is not a valid level"):
        ub.table(forces, "sometimes")
    stations = ub.table(deck_design, "stations")
    assert {"design_moment_max_kNm", "resistance_shear_kN", "crack_top_mm"} <= set(stations.columns)
    assert ub.table(deck_design, "bars")["mass_kg"].sum() < deck_design.quantities["steel_kg"]
    with pytest.raises(ValueError, match="is not a valid table"):
        ub.table(deck_design, "chairs")
    with pytest.raises(ValueError, match="needs the beam"):
        ub.figure(forces)


@pytest.mark.slow
def test_no_bars_fit(deck):
    heavy = yaml_beams.line([6000.0], yaml_beams.uniform(1, [6000.0], 1e6))
    with pytest.raises(NoBars, match=r"do not fit into 2 rows of \d+ mm"):
        ub.design(heavy)
    assert ub.suggest(heavy) == (
        "no practicable section or grade suffices: review spans, supports and loads",
    )


def test_unknown_name():
    with pytest.raises(AttributeError):
        ub.nothing  # noqa: B018


def test_recording_leaves_the_derivation():
    """Inside `recording` each clause leaves its formula with the numbers put in; outside nothing is kept."""
    from upright_bramble.codes.en1992 import shear
    from upright_bramble.working import lines_of, recording

    with recording() as steps:
        value = shear.stirrup_resistance(0.5, 400.0, 435.0, 2.5)
    assert [s.of.clause for s in steps] == ["6.2.3(3)"]
    assert steps[0].of.symbol == "V_Rd,s"
    assert steps[0].arguments == {"asw_s": 0.5, "z": 400.0, "f_ywd": 435.0, "cot": 2.5, "cot_alpha": 0.0}
    assert steps[0].result == value
    told = lines_of(steps)[-1]
    assert told.numbers == "0.5 400 435 (2.5 + 0) 1"
    assert told.value == pytest.approx(217_500.0)
    shear.stirrup_resistance(0.5, 400.0, 435.0, 2.5)
    assert len(steps) == 1


def test_why_of_a_check(deck_design):
    """The derivation of a check from Python; the last line is its resistance."""
    working = ub.why(deck_design, "bending.sagging.1")
    check = next(c for c in deck_design.checks if c.id == "bending.sagging.1")
    assert working.lines[-1].symbol == "M_Rd"
    assert working.lines[-1].value == pytest.approx(check.resistance)
    with pytest.raises(KeyError):
        ub.why(deck_design, "bending.sagging.9")
