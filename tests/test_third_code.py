"""A third code, in a folder of its own, goes through the whole program without a change anywhere else."""

import json
from pathlib import Path

import pytest

import upright_bramble.codes as codes
from upright_bramble.codes import known_codes

BEAM = """\
bramble: 1
beam: Canoe store, line 2
mark: P1
code: plain-1
units: {units}
concrete: {{grade: P30}}
reinforcement: {{bars: T, stirrups: T}}
cover: {{top: 35, bottom: 35, sides: 35}}
profiles:
  deck: {{shape: T, depth: 600, width: 300, flange: {{thickness: 150, width: auto, gap_left: 2 m, gap_right: 2 m}}}}
line:
  - {{support: A, width: 300}}
  - {{span: 6.0 m, profile: deck}}
  - {{support: B, width: 300}}
  - {{span: 5.0 m, profile: deck}}
  - {{support: C, width: 300}}
actions:
  - {{name: own, kind: permanent, self_weight: true, loads: [{{line: 10}}]}}
  - {{name: canoes, kind: imposed, loads: [{{line: 18}}, {{torque: 2, on: 1}}]}}
service: {{deflection: {{total: span/250}}}}
"""


@pytest.fixture
def plain(bramble, monkeypatch):
    monkeypatch.setattr(codes, "__path__", [*codes.__path__, str(Path(__file__).parent / "extra_codes")])
    codes._by_name.cache_clear()
    yield bramble
    monkeypatch.undo()
    codes._by_name.cache_clear()


def test_a_third_code_designs_checks_tells_draws_and_reports(plain):
    from upright_bramble.core.quantities import SYSTEMS  # the name of the metric system

    assert "plain-1" in known_codes()
    beam = str(plain.write("p1.beam.yaml", BEAM.format(units=next(iter(SYSTEMS)))))
    assert plain("design", beam, "--no-figures").status == 0
    data = json.loads((plain.folder / "P1" / "P1.result.json").read_text("utf-8"))
    assert data["verdict"]["status"] == "pass"
    assert data["beam"]["code_title"] == "PLAIN-1, a made-up code"
    own = next(c for c in data["checks"] if c["kind"] == "plain.slenderness")
    assert own["id"] == "plain.slenderness.1"
    assert own["demand"] == pytest.approx(2.0)
    assert plain("check", beam, "P1/P1.layout.yaml").status == 0
    shear = plain("why", "P1", "shear.stirrups.B-left")
    assert shear.status == 0
    assert "4.2" in shear.out
    for command in (["draw", "--format", "dxf"], ["report", "--format", "md"], ["bars"], ["at"]):
        place = ["3.0m"] if command[0] == "at" else []
        done = plain(command[0], "P1", *place, *command[1:])
        assert done.status == 0, done.err
    assert "T16" in plain("bars", "P1").out or "T20" in plain("bars", "P1").out
    assert plain("codes", "plain-1").status == 0


@pytest.mark.slow
def test_its_own_rule_can_fail_and_its_values_be_overridden(plain):
    from upright_bramble.core.quantities import SYSTEMS

    text = (
        BEAM.format(units=next(iter(SYSTEMS)))
        .replace("width: 300, flange", "width: 140, flange")
        .replace("depth: 600", "depth: 650")
    )
    beam = str(plain.write("thin.beam.yaml", text + "code_values: {factor_live: 1.5}\n"))
    done = plain("design", beam, "--no-figures")
    assert "a wider web" in done.out + done.err
    data = json.loads((plain.folder / "P1" / "P1.result.json").read_text("utf-8"))
    assert any(s["name"] == "factor_live" or "factor_live" in json.dumps(s) for s in data["inputs"])
