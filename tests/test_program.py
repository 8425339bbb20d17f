"""The built program on files in a temporary folder: what it writes, prints, refuses and returns."""

from __future__ import annotations

import csv
import hashlib
import io
import json
import os
import re
import shutil
import signal
import subprocess
import sys
import sysconfig
import time
from pathlib import Path

import pytest

import yaml_beams
from upright_bramble import suggesting
from upright_bramble.files.layout_models import LayoutFile
from upright_bramble.files.models import BeamFile
from upright_bramble.files.result_file import ResultFile

FILES = {
    "result.json",
    "layout.yaml",
    "bars.csv",
    "diagrams.svg",
    "drawing.dxf",
    "diagrams.png",
    "report.html",
    "report.pdf",
    "manifest.json",
}


def digest(folder: Path) -> dict[str, str]:
    return {p.name: hashlib.sha256(p.read_bytes()).hexdigest() for p in sorted(folder.iterdir())}


@pytest.mark.slow
def test_demo_runs_the_whole_job(bramble, demo):
    """The folder that the demo made once for all tests, with what it printed."""
    ran, folder = demo.said, demo.copied(bramble.folder)
    assert ran.status == 0, ran.err
    for mark, status in (("DB3", "pass"), ("TB1", "pass"), ("SL1", "fail")):
        assert {p.name for p in (folder / mark).iterdir()} == {f"{mark}.{f}" for f in FILES}
        result = json.loads((folder / mark / f"{mark}.result.json").read_text("utf-8"))
        assert result["verdict"]["status"] == status
        ResultFile.model_validate(result)
    assert max(len(line) for line in ran.out.splitlines()) <= 80
    assert "suggestion:" in ran.out
    svg = (folder / "DB3" / "DB3.diagrams.svg").read_text("utf-8")
    assert "Boathouse deck, line 3</text>" in svg  # text stays text
    before = digest(folder / "DB3")
    beam = folder / "boathouse-deck.beam.yaml"
    beam.write_text(beam.read_text("utf-8") + "# mine\n", "utf-8")
    assert bramble("design", str(beam), "--quiet").status == 0
    assert beam.read_text("utf-8").endswith("# mine\n")  # what is there stays
    after = digest(folder / "DB3")
    changed = {name for name in before if before[name] != after[name]}
    # the digest of the input stands in these; everything else is the same to the byte
    assert changed == {"DB3.result.json", "DB3.layout.yaml", "DB3.manifest.json"}


@pytest.mark.slow
def test_design_then_check_gives_the_same(bramble):
    bramble.write("deck.beam.yaml", yaml_beams.demo("boathouse-deck"))
    designed = bramble("design", "deck.beam.yaml", "--json", "--no-figures")
    assert designed.status == 0
    checked = bramble("check", "deck.beam.yaml", "DB3/DB3.layout.yaml", "--json")
    assert checked.status == 0
    for key in ("verdict", "checks", "bars", "stirrups", "quantities", "stations", "reactions"):
        assert designed.json[key] == checked.json[key], key
    assert (
        designed.json["input_sha256"]
        == hashlib.sha256((bramble.folder / "deck.beam.yaml").read_bytes()).hexdigest()
    )
    assert not (bramble.folder / "DB3" / "DB3.diagrams.svg").exists()
    x = designed.json["stations"]["x_mm"]
    assert x == sorted(x)
    assert {len(v) for v in designed.json["stations"]["resistance"].values()} == {len(x)}
    masses = sum(b["mass_kg"] for b in designed.json["bars"] + designed.json["stirrups"])
    assert masses == pytest.approx(designed.json["quantities"]["steel_kg"], abs=0.02)
    rows = list(csv.DictReader(io.StringIO((bramble.folder / "DB3" / "DB3.bars.csv").read_text("utf-8"))))
    assert sum(float(r["mass [kg]"]) for r in rows) == pytest.approx(masses, abs=0.2)


@pytest.mark.slow
def test_an_edited_layout_fails_where_it_was_weakened_and_is_never_overwritten(bramble):
    bramble.write("one.beam.yaml", yaml_beams.SIMPLE)
    assert bramble("design", "one.beam.yaml", "--quiet").status == 0
    layout = bramble.folder / "S1" / "S1.layout.yaml"
    text = layout.read_text("utf-8")
    count = next(line for line in text.splitlines() if "face: bottom" in line)
    few = text.replace(count, re.sub(r'size: "\d+"', 'size: "12"', count))
    assert few != text
    layout.write_text(few, "utf-8")
    failed = bramble("check", "one.beam.yaml", "S1/S1.layout.yaml")
    assert failed.status == 1
    assert "bending.sagging.1" in failed.out
    assert layout.read_text("utf-8") == few  # check changes no bar
    refused = bramble("design", "one.beam.yaml")
    assert refused.status == 2
    assert "edited by hand" in refused.err
    assert "--fresh" in refused.err
    assert layout.read_text("utf-8") == few
    assert bramble("design", "one.beam.yaml", "--fresh", "--quiet").status == 0
    assert (bramble.folder / "S1" / "S1.layout.1.yaml").read_text("utf-8") == few
    assert layout.read_text("utf-8") == text


@pytest.mark.slow
def test_held_bars_stay(bramble):
    bramble.write("one.beam.yaml", yaml_beams.SIMPLE)
    assert bramble("design", "one.beam.yaml", "--quiet").status == 0
    layout = bramble.folder / "S1" / "S1.layout.yaml"
    held = '  - {mark: "77", face: bottom, layer: 1, count: 2, size: "25", from: -0.12 m, to: 6.12 m, ends: [bend, bend], legs: [250, 250], held: true}'
    layout.write_text(layout.read_text("utf-8").replace("bars:\n", f"bars:\n{held}\n"), "utf-8")
    assert bramble("design", "one.beam.yaml", "--fresh", "--quiet").status == 0
    assert held in layout.read_text("utf-8")
    again = bramble("design", "one.beam.yaml", "--json", "--no-figures")  # unedited now: no --fresh needed
    assert again.status == 0
    own = [b for b in again.json["bars"] if b["mark"] == "77"]
    assert own[0]["held"] is True
    assert own[0]["size"] == "25"
    bottom = sum(b["count"] * b["diameter_mm"] ** 2 for b in again.json["bars"] if b["face"] == "bottom")
    assert bottom < 2 * 25**2 + 3 * 20**2  # the rest was proportioned around it


def test_forces(bramble):
    bramble.write("one.beam.yaml", yaml_beams.SIMPLE)
    ran = bramble("forces", "one.beam.yaml", "--csv", "f.csv", "--extremes", "--figure", "f.svg")
    assert ran.status == 0
    assert "reactions and loads balance" in ran.out
    assert max(len(line) for line in ran.out.splitlines()) <= 80
    rows = list(csv.reader(io.StringIO((bramble.folder / "f.csv").read_text("utf-8"))))
    assert rows[0] == ["span", "x [m]", "M_max [kNm]", "M_min [kNm]", "V_max [kN]", "V_min [kN]"]
    w = 1.35 * (12 + 0.3 * 0.5 * 25) + 1.5 * 10
    assert max(float(r[2]) for r in rows[1:]) == pytest.approx(w * 36 / 8)
    assert bramble("forces", "one.beam.yaml", "--csv", "f.csv").status == 2  # not overwritten unasked
    data = bramble("forces", "one.beam.yaml", "--json").json
    assert max(data["levels"]["quasi_permanent"]["moment_max_kNm"]) == pytest.approx(
        (15.75 + 3) * 36 / 8, abs=1e-3
    )
    sag = max(data["levels"]["characteristic"]["elastic_deflection_max_mm"])
    assert sag == pytest.approx(
        5 * 25.75 * 6000.0**4 / (384 * 22_000 * 3.8**0.3 * 300 * 500**3 / 12), rel=1e-4
    )
    assert bramble("forces", "one.beam.yaml", "--level", "nothing").status == 2
    assert bramble("forces", "one.beam.yaml", "--figure", "f.doc").status == 2


@pytest.mark.slow
@pytest.mark.parametrize("units", ["si", "us", "technical"])
def test_start_gives_a_file_that_designs(bramble, units):
    assert bramble("start", "my-beam.beam.yaml", "--units", units).status == 0
    text = (bramble.folder / "my-beam.beam.yaml").read_text("utf-8")
    again = bramble("start", "my-beam.beam.yaml")
    assert again.status == 2
    assert (bramble.folder / "my-beam.beam.yaml").read_text("utf-8") == text
    ran = bramble("design", "my-beam.beam.yaml", "--no-figures")
    assert ran.status == 0, ran.out + ran.err
    layout = next(bramble.folder.glob("*/*.layout.yaml"))
    assert bramble("check", "my-beam.beam.yaml", str(layout), "--quiet").status == 0
    assert {"si": " m,", "us": " ft,", "technical": " m,"}[units] in ran.out


@pytest.mark.slow
def test_many_beams_side_by_side(bramble):
    bramble.write("a.beam.yaml", yaml_beams.SIMPLE)
    bramble.write("b.beam.yaml", yaml_beams.SIMPLE.replace("S1", "S2"))
    ran = bramble("design", ".", "--jobs", "2", "--no-figures", "--into", "out", "--json")
    assert ran.status == 0
    assert [r["beam"]["mark"] for r in ran.json] == ["S1", "S2"]
    assert (bramble.folder / "out" / "S2" / "S2.result.json").exists()
    bramble.write("c.beam.yaml", yaml_beams.SIMPLE)
    clash = bramble("design", ".", "--no-figures")
    assert clash.status == 2
    assert "'S1' is also that of" in clash.err


def test_schemas_describe_the_files(bramble):
    for what, model in (("beam", BeamFile), ("layout", LayoutFile), ("result", ResultFile)):
        data = bramble("schema", what).json
        assert data == json.loads(json.dumps(model.model_json_schema(by_alias=True)))
        assert data["properties"]


@pytest.mark.slow
def test_help_calls_and_plain_terminals(bramble):
    ran = bramble("--help")
    assert ran.status == 0
    order = [
        ran.out.index(f"\n  {c} ") for c in ("start", "forces", "design", "check", "codes", "demo", "schema")
    ]
    assert order == sorted(order)
    assert bramble("check").status == 2
    assert bramble("nothing").status == 2
    assert bramble("design", "no-such.beam.yaml").status == 2
    bramble.write("one.beam.yaml", yaml_beams.SIMPLE)
    ascii_only = bramble("design", "one.beam.yaml", "--no-figures", env={"PYTHONIOENCODING": "ascii"})
    assert ascii_only.status == 0
    assert ascii_only.out.isascii()
    assert "\x1b[" not in ascii_only.out


@pytest.mark.slow
def test_result_names_failures_and_cures(bramble, monkeypatch):
    # others cure it too; they are tried elsewhere
    monkeypatch.setattr(suggesting, "WIDTHS", 0)
    monkeypatch.setattr(suggesting, "STRENGTHS", 0)
    bramble.write("lintel.beam.yaml", yaml_beams.demo("slipway-lintel"))
    ran = bramble("design", "lintel.beam.yaml", "--json", "--no-figures", "--suggest")
    assert ran.status == 1
    result = ran.json
    failing = [c for c in result["checks"] if not c["ok"]]
    assert result["verdict"]["governing"] in {c["id"] for c in failing}
    assert all(c["note"] and c["ratio"] > 1 and c["clause"] for c in failing)
    cures = [m["text"] for m in result["messages"] if m["text"].startswith("suggestion: ")]
    deeper = next(int(c.split("spans by ")[1].split(" mm")[0]) for c in cures if "depth" in c)
    cured = yaml_beams.demo("slipway-lintel").replace("depth: 300", f"depth: {300 + deeper}")
    bramble.write("cured.beam.yaml", cured)
    assert bramble("design", "cured.beam.yaml", "--quiet", "--no-figures", "--fresh").status == 0
    nearly = (
        yaml_beams.demo("slipway-lintel")
        .replace("depth: 300", f"depth: {275 + deeper}")
        .replace("SL1", "SL2")
    )
    bramble.write("nearly.beam.yaml", nearly)
    assert bramble("design", "nearly.beam.yaml", "--quiet", "--no-figures").status == 1


@pytest.mark.skipif(os.name == "nt", reason="needs POSIX signals")
def test_an_interrupt_inside_a_clean_up_is_neither_lost_nor_shown():
    lines = (
        "import signal",
        "signal.signal(signal.SIGINT, signal.default_int_handler)",  # whoever runs the tests may have switched it off
        "from upright_bramble.cli import interrupts",
        "class Cleaned:",
        "    def __del__(self): signal.raise_signal(signal.SIGINT)",
        "interrupts.watch()",
        "Cleaned()",
        "try: interrupts.look()",
        "except KeyboardInterrupt: print('raised again')",
    )
    ran = subprocess.run(
        [sys.executable, "-c", "\n".join(lines)], capture_output=True, text=True, timeout=60, check=False
    )
    assert (ran.stdout.strip(), ran.stderr) == ("raised again", "")


@pytest.mark.slow
@pytest.mark.skipif(os.name == "nt", reason="needs POSIX signals")
@pytest.mark.parametrize(("number", "jobs"), [(signal.SIGINT, "2"), (signal.SIGTERM, "1")])
def test_interrupting_leaves_whole_results(bramble, number, jobs):
    for k in range(8):
        bramble.write(f"b{k}.beam.yaml", yaml_beams.SIMPLE.replace("S1", f"S{k}"))
    command = [sys.executable, "-m", "upright_bramble", "design", ".", "--quiet", "--jobs", jobs]
    running = subprocess.Popen(
        command, cwd=bramble.folder, stderr=subprocess.PIPE, stdout=subprocess.DEVNULL,
        preexec_fn=lambda: signal.signal(number, signal.SIG_DFL),  # whoever runs the tests may have switched it off
    )  # fmt: skip
    deadline = time.monotonic() + 60.0
    while not list(bramble.folder.glob("S*/*.manifest.json")) and time.monotonic() < deadline:
        time.sleep(0.02)
    running.send_signal(number)
    _, err = running.communicate(timeout=60)
    assert running.returncode == 130, err
    assert b"Traceback" not in err
    assert b"interrupted" in err
    done = [p for p in bramble.folder.iterdir() if p.is_dir()]
    assert 1 <= len(done) < 8
    for folder in done:
        names = {p.name.split(".", 1)[1] for p in folder.iterdir()}
        assert names == FILES  # every file of a beam, or no folder
    assert f"written and complete: {', '.join(sorted(p.name for p in done))};".encode() in err


def test_running_as_a_module_is_the_same(bramble):
    version = bramble("--version")
    assert version.status == 0
    assert version.out.strip().endswith("0.1.0")
    command = shutil.which("bramble", path=sysconfig.get_path("scripts"))
    assert command is not None
    script = subprocess.run([command, "--version"], capture_output=True, text=True, check=False)
    assert script.stdout == version.out


def test_shell_completion(bramble):
    ran = bramble(env={"_BRAMBLE_COMPLETE": "bash_source"})
    assert "complete" in ran.out or "bramble" in ran.out


@pytest.mark.slow
def test_check_writes_only_when_asked(bramble):
    bramble.write("one.beam.yaml", yaml_beams.SIMPLE)
    assert bramble("design", "one.beam.yaml", "--quiet", "--no-figures").status == 0
    before = sorted(os.listdir(bramble.folder))
    assert bramble("check", "one.beam.yaml", "S1/S1.layout.yaml").status == 0
    assert sorted(os.listdir(bramble.folder)) == before
    assert bramble("check", "one.beam.yaml", "S1/S1.layout.yaml", "--into", "checked", "--quiet").status == 0
    assert {p.name for p in (bramble.folder / "checked" / "S1").iterdir()} == {
        f"S1.{f}" for f in FILES - {"layout.yaml"}
    }


@pytest.mark.slow
def test_colours_only_where_wanted(bramble):
    bramble.write("one.beam.yaml", yaml_beams.SIMPLE)
    for env in ({"NO_COLOR": "1"}, {}):
        assert "\x1b[" not in bramble("design", "one.beam.yaml", "--no-figures", env=env).out
    forced = bramble("design", "one.beam.yaml", "--no-figures", "--no-colour", env={"FORCE_COLOR": "1"})
    assert "\x1b[3" not in forced.out


@pytest.mark.slow
@pytest.mark.skipif(os.name == "nt", reason="needs a POSIX shell")
def test_a_reader_that_goes_away_is_no_failure(bramble):
    bramble.write("one.beam.yaml", yaml_beams.SIMPLE)
    bramble.write("two.beam.yaml", yaml_beams.demo("slipway-lintel"))
    calls = (
        ("forces one.beam.yaml", 0),
        ("design --nonsense", 2),
        ("design two.beam.yaml one.beam.yaml --no-figures", 1),  # the failing one is still told by the status
        ("design one.beam.yaml two.beam.yaml --no-figures --json", 1),
        ("check two.beam.yaml SL1/SL1.layout.yaml", 1),
    )
    for call, status in calls:
        line = f"{sys.executable} -m upright_bramble {call} 2>err.txt | head -c 1 >/dev/null; echo ${{PIPESTATUS[0]}}"
        done = subprocess.run(
            ["bash", "-c", line], cwd=bramble.folder, capture_output=True, text=True, check=False
        )
        assert int(done.stdout) == status, call
        assert "Traceback" not in (bramble.folder / "err.txt").read_text("utf-8")
    assert (bramble.folder / "S1" / "S1.result.json").exists()  # and the beam after it was designed


def test_start_makes_a_mark_of_any_name(bramble):
    for name in ("ünï code.beam.yaml", "日本.yaml", "a.b-c_d.beam.yaml"):
        assert bramble("start", name).status == 0
        assert bramble("forces", name, "--quiet").status == 0
