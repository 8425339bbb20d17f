"""Many beams in one call: what is found, what is done again, the table and its files, modes, parts, and a cluster."""

from __future__ import annotations

import csv
import io
import json
import os
import re
import subprocess
import sys

import openpyxl
import pytest

import yaml_beams
from upright_bramble import design_many
from upright_bramble.present.floor_bars import cut

BASE = yaml_beams.SIMPLE
HEAVY = BASE.replace("{line: 10}", "{line: 95}")  # no bars suffice at this depth


def beam(mark: str, live: float = 10.0) -> str:
    return BASE.replace("mark: S1", f"mark: {mark}").replace("{line: 10}", f"{{line: {live}}}")


@pytest.fixture
def floor(bramble):
    """Four beams on two levels; one of them fails."""
    for level in ("one", "two"):
        (bramble.folder / level).mkdir()
    bramble.write("one/a.beam.yaml", beam("DB1"))
    bramble.write("one/b.beam.yaml", beam("DB2", 14.0))
    bramble.write("two/c.beam.yaml", beam("TB1", 12.0))
    bramble.write("two/d.beam.yaml", HEAVY.replace("mark: S1", "mark: TB2"))
    return bramble


def marks(ran) -> list[str]:
    """Of the rows of a table, in their order."""
    return re.findall(r"^(\w+) +(?:pass|FAIL|incomplete)\b", ran.out, re.MULTILINE)


QUICK = ("--outputs", "json,layout")


@pytest.mark.slow
def test_folders_patterns_marks_and_parts(floor):
    ran = floor("design", ".", *QUICK)
    assert ran.status == 1
    assert marks(ran) == ["DB1", "DB2", "TB1", "TB2"]
    assert "4 beam files: 3 pass, 1 fail" in ran.out
    assert {p.name for p in (floor.folder / "one/DB1").iterdir()} == {
        "DB1.result.json",
        "DB1.layout.yaml",
        "DB1.manifest.json",
    }
    assert marks(floor("design", "one", "two/c.beam.yaml", *QUICK)) == ["DB1", "DB2", "TB1"]
    assert marks(floor("design", "o*/*.beam.yaml", *QUICK)) == ["DB1", "DB2"]
    assert marks(floor("design", ".", "--mark", "*B1", *QUICK)) == ["DB1", "TB1"]
    parts = [floor("design", ".", "--shard", f"{k}/3", "--json", *QUICK).json for k in (1, 2, 3)]
    assert [[r["beam"]["mark"] for r in (p if isinstance(p, list) else [p])] for p in parts] == [
        ["DB1", "TB2"],
        ["DB2"],
        ["TB1"],
    ]
    assert floor("design", ".", "--shard", "4/4", "--json", *QUICK).json["beam"]["mark"] == "TB2"
    for call, words in (
        (("design", "three"), "no such file"), (("design", "x*"), "matches"), (("design", ".", "--mark", "Z*"), "like 'Z*'"),
        (("design", ".", "--shard", "0/3"), "k/n"), (("design", ".", "--outputs", "json,dwg"), "not a valid output"),
        (("design", ".", "--only", "good"), "not a valid verdict"), (("design", ".", "--summary", "x.doc"), "a summary is"),
    ):  # fmt: skip
        failed = floor(*call)
        assert failed.status == 2, call
        assert words in failed.err, failed.err


@pytest.mark.slow
def test_the_table_is_sorted_and_limited_as_asked(floor):
    assert marks(floor("design", ".", "--sort", "steel", *QUICK))[0] == "TB2"
    assert marks(floor("design", ".", "--sort", "verdict", *QUICK))[0] == "TB2"
    failing = floor("design", ".", "--only", "fail", *QUICK)
    assert marks(failing) == ["TB2"]
    assert "1 beam file: 1 fail (shown of 4)" in failing.out
    assert "none of 4 beams has such a verdict" in floor("design", ".", "--only", "incomplete", *QUICK).out
    by_ratio = floor("design", ".", "--sort", "ratio", *QUICK)
    ratios = [float(r) for r in re.findall(r" (\d+\.\d\d) +\d+\.\d\d m", by_ratio.out)]
    assert ratios == sorted(ratios, reverse=True)
    assert len(ratios) == 4


@pytest.mark.slow
def test_what_is_up_to_date_is_not_done_again(floor):
    def stamps():
        return {p: p.stat().st_mtime_ns for p in floor.folder.rglob("*.result.json")}

    floor("design", ".", *QUICK)
    first = stamps()
    again = floor("design", ".", *QUICK)
    assert "up to date, not done again: DB1, DB2, TB1, TB2" in again.out
    assert stamps() == first
    floor.write("one/b.beam.yaml", beam("DB2", 15.0))
    assert "up to date, not done again: DB1, TB1, TB2" in floor("design", ".", *QUICK).out
    changed = stamps()
    assert [p.parent.name for p in first if first[p] != changed[p]] == ["DB2"]
    result = floor.folder / "two/TB1/TB1.result.json"
    result.write_text(result.read_text().replace('"pass"', '"fail"', 1))  # a hand was at it
    assert "TB1" not in floor("design", ".", *QUICK).out.partition("up to date")[2]
    assert "up to date" in floor("design", "one/a.beam.yaml", *QUICK).out
    assert "up to date" not in floor("design", "one/a.beam.yaml", "--again", *QUICK).out
    assert (
        "written to" in floor("design", "one/a.beam.yaml", "--outputs", "json,layout,csv").out
    )  # a file more is wanted
    same = floor("design", "one/a.beam.yaml", "--json", "--outputs", "json,layout,csv")
    assert same.json["beam"]["mark"] == "DB1"


@pytest.mark.slow
def test_derivations_that_a_result_does_not_hold_are_worked_out_again(floor):
    floor("design", "one/a.beam.yaml", "--no-figures", "--quiet")
    with_them = floor("why", "one/DB1", "bending.sagging.1", "--format", "json").json
    assert floor("report", "one/DB1", "--depth", "full", "--format", "md", "--quiet").status == 0
    full = (floor.folder / "one/DB1/DB1.report.md").read_bytes()
    again = floor("design", "one/a.beam.yaml", *QUICK)
    assert "up to date" in again.out  # more than is wanted is no reason
    floor("design", "one/a.beam.yaml", "--again", "--quiet", *QUICK)
    result = json.loads((floor.folder / "one/DB1/DB1.result.json").read_text())
    assert (result["derived"], result["workings"]) == (False, [])
    assert floor("why", "one/DB1", "bending.sagging.1", "--format", "json").json == with_them
    assert floor("report", "one/DB1", "--depth", "full", "--format", "md", "--quiet", "--force").status == 0
    assert (floor.folder / "one/DB1/DB1.report.md").read_bytes() == full
    assert "written to" in floor("design", "one/a.beam.yaml", "--outputs", "json,derivations").out
    floor("design", "one/a.beam.yaml", "--again", "--quiet", *QUICK)
    floor.write("one/a.beam.yaml", beam("DB1", 11.0))
    refused = floor("why", "one/DB1", "bending.sagging.1", "--as-was")
    assert refused.status == 2
    assert "without derivations" in refused.err


@pytest.mark.slow
def test_summaries_as_files(floor):
    floor("design", ".", *QUICK, "--summary", "s.csv")
    rows = list(csv.DictReader(io.StringIO((floor.folder / "s.csv").read_text())))
    assert [(r["mark"], r["verdict"]) for r in rows] == [
        ("DB1", "pass"),
        ("DB2", "pass"),
        ("TB1", "pass"),
        ("TB2", "fail"),
    ]
    one = json.loads((floor.folder / "one/DB1/DB1.result.json").read_text())
    assert float(rows[0]["steel_kg"]) == pytest.approx(one["quantities"]["steel_kg"], abs=1e-3)
    assert (rows[0]["governs"], rows[0]["combination"]) == (
        one["verdict"]["governing"],
        _governing(one)["combination"],
    )
    floor("design", ".", *QUICK, "--summary", "s.json")
    data = json.loads((floor.folder / "s.json").read_text())
    assert data["totals"]["steel_kg"] == pytest.approx(sum(float(r["steel_kg"]) for r in rows), abs=0.1)
    assert (data["totals"]["pass"], data["totals"]["fail"]) == (3, 1)
    floor("design", ".", *QUICK, "--summary", "s.xlsx")
    sheet = openpyxl.load_workbook(floor.folder / "s.xlsx").active
    assert [sheet.cell(r, 1).value for r in range(1, 6)] == ["mark", "DB1", "DB2", "TB1", "TB2"]
    floor("design", ".", *QUICK, "--summary", "s.html")
    page = (floor.folder / "s.html").read_text()
    assert page.count("<svg") == 4
    assert "default-src 'none'" in page
    before = (floor.folder / "s.html").read_bytes()
    assert floor("design", ".", *QUICK, "--summary", "s.html").status == 2  # not over one that is there
    floor("design", ".", *QUICK, "--summary", "s.html", "--force", "--again")
    assert (floor.folder / "s.html").read_bytes() == before  # no time of a run is in it


def _governing(result: dict) -> dict:
    return next(c for c in result["checks"] if c["id"] == result["verdict"]["governing"])


def test_texts_of_a_summary_are_no_formulas_and_no_markup(floor):
    text = beam("DB1").replace("beam: One span", "beam: '=HYPERLINK(\"x\") <script>alert(1)</script>'")
    floor.write("one/a.beam.yaml", text)
    for kind in ("csv", "html", "xlsx"):
        floor("design", "one", *QUICK, "--summary", f"s.{kind}")
    assert "'=HYPERLINK" in (floor.folder / "s.csv").read_text()
    assert "<script>alert" not in (floor.folder / "s.html").read_text()
    assert openpyxl.load_workbook(floor.folder / "s.xlsx").active["B2"].data_type == "s"


@pytest.mark.slow
def test_many_at_a_time_give_the_same_bytes(floor):
    floor("design", ".", *QUICK)
    one = {p.relative_to(floor.folder): p.read_bytes() for p in floor.folder.rglob("*B*/*") if p.is_file()}
    floor("design", ".", "--again", "--jobs", "2", *QUICK)
    assert {
        p.relative_to(floor.folder): p.read_bytes() for p in floor.folder.rglob("*B*/*") if p.is_file()
    } == one


@pytest.mark.slow
def test_modes_for_a_changed_job(floor):
    """Loads grow: verify only, strengthen what fails, or design afresh; nothing edited by hand is lost."""
    floor("design", "one", *QUICK)
    layout = floor.folder / "one/DB1/DB1.layout.yaml"
    edited = layout.read_text().replace("held: false", "held: true", 1) + "# looked at\n"
    layout.write_text(edited)
    floor.write("one/b.beam.yaml", beam("DB2", 24.0))
    verified = floor("check", "one")
    assert verified.status == 1
    assert re.search(r"DB1 +pass", verified.out)
    assert re.search(r"DB2 +FAIL", verified.out)
    assert layout.read_text() == edited
    assert floor("design", "one", *QUICK).status == 2  # says which layout was edited, and does nothing
    assert json.loads((floor.folder / "one/DB2/DB2.result.json").read_text())["verdict"]["status"] == "fail"
    mended = floor("design", "one", "--mend", *QUICK)
    assert mended.status == 0, mended.out
    assert "DB1: bars kept" in mended.out
    assert re.search(r"DB2: bars kept \d+; added: \d", mended.out)
    assert "# looked at" in layout.read_text()
    fresh = floor("design", "one", "--fresh", *QUICK)
    assert fresh.status == 0
    assert (floor.folder / "one/DB1/DB1.layout.1.yaml").exists()


def test_checks_of_many_want_a_layout_each(floor):
    floor("design", "one/a.beam.yaml", *QUICK)
    ran = floor("check", "one")
    assert ran.status == 2
    assert "DB2.layout.yaml to check" in ran.err
    alone = floor("check", "one/a.beam.yaml")
    assert alone.status == 0
    assert alone.out.startswith("pass  DB1")


@pytest.mark.slow
def test_one_schedule_one_drawing_one_report(floor):
    floor("design", ".", *QUICK)
    data = floor("bars", ".", "--json").json
    results = [json.loads(p.read_text()) for p in sorted(floor.folder.rglob("*.result.json"))]
    assert data["total_kg"] == pytest.approx(sum(r["quantities"]["steel_kg"] for r in results), rel=1e-6)
    assert {b["beam"] for b in data["bars"]} == {"DB1", "DB2", "TB1", "TB2"}
    for size in data["sizes"]:  # every piece is cut, from bars long enough
        pieces: dict[float, int] = {}
        for p in size["cutting"]:
            assert sum(c["length_mm"] * c["number"] for c in p["pieces"]) <= size["stock_length_mm"] + 1e-6
            for c in p["pieces"]:
                pieces[c["length_mm"]] = pieces.get(c["length_mm"], 0) + p["bars"] * c["number"]
        wanted: dict[float, int] = {}
        label = size["size"].lstrip("ø")
        for b in data["bars"]:
            if b["size"] == label:
                wanted[b["cut_length_mm"]] = wanted.get(b["cut_length_mm"], 0) + b["number"]
        assert pieces == wanted
    passing = floor("bars", ".", "--only", "pass", "--format", "csv,xlsx", "--quiet")
    assert passing.status == 0, passing.err
    rows = list(csv.DictReader(io.StringIO((floor.folder / "one/beams.bars.csv").read_text())))
    assert {r["beam"] for r in rows} == {"DB1", "DB2", "TB1"}
    assert floor("draw", ".", "--format", "dxf", "--into", "out", "--mark", "DB*").status == 0
    assert (floor.folder / "out/beams.drawing.dxf").read_text().count("DB2") >= 1
    assert floor("report", ".", "--format", "md", "--into", "out", "--only", "fail").status == 0
    assert "TB2" in (floor.folder / "out/TB2.report.md").read_text()
    assert floor("report", ".", "--only", "incomplete").status == 2


@pytest.mark.slow
def test_two_folders_side_by_side(floor, tmp_path):
    import shutil

    floor("design", ".", *QUICK)
    shutil.copytree(floor.folder / "one", floor.folder / "before")
    floor.write("one/b.beam.yaml", beam("DB2", 24.0))
    floor("design", "one", *QUICK)
    rows = {r["mark"]: r for r in floor("compare", "before", "one", "--json").json}
    assert (rows["DB1"]["entries"], rows["DB1"]["steel_before"]) == (0, rows["DB1"]["steel_after"])
    assert rows["DB2"]["steel_after"] > rows["DB2"]["steel_before"]
    assert "2 beams in both" in floor("compare", "before", "one").out


def test_forces_of_many(floor):
    rows = floor("forces", ".", "--json").json
    assert [r["mark"] for r in rows] == ["DB1", "DB2", "TB1", "TB2"]
    one = floor("forces", "one/a.beam.yaml", "--json").json["levels"]["strength"]
    assert rows[0]["sagging_kNm"] == pytest.approx(max(one["moment_max_kNm"]), abs=1e-3)
    assert "4 beams, strength level" in floor("forces", ".").out
    assert floor("forces", ".", "--action", "dead").status == 2


@pytest.mark.slow
def test_a_data_frame_of_many(floor):
    files = sorted(floor.folder.rglob("*.beam.yaml"))
    frame = design_many(files)
    assert frame["mark"].tolist() == ["DB1", "DB2", "TB1", "TB2"]
    assert frame["verdict"].tolist() == ["pass", "pass", "pass", "fail"]
    assert floor("design", "one/a.beam.yaml", "--json", *QUICK).json["quantities"][
        "steel_kg"
    ] == pytest.approx(frame["steel_kg"][0], abs=1e-3)


@pytest.mark.parametrize(
    "pieces", [[(5000.0, 3), (2000.0, 4)], [(12000.0, 2)], [(13000.0, 2), (1000.0, 30)], [(700.0, 1000)], []]
)
def test_cutting_gives_every_piece_once(pieces):
    patterns = cut(pieces, 12000.0)
    given: dict[float, int] = {}
    for p in patterns:
        for length, count in p.pieces:
            given[length] = given.get(length, 0) + p.number * count
        assert p.used <= 12000.0 or len(p.pieces) == 1
    assert given == dict(pieces)


def _scheduler(folder, port: int):
    """A scheduler and two workers of this machine, as a cluster has them."""
    env = {**os.environ, "PYTHONPATH": os.pathsep.join(sys.path)}

    def start(*args: str):
        with (folder / f"{args[0].rsplit('_', 1)[-1]}.log").open("ab") as log:
            return subprocess.Popen(
                [sys.executable, "-m", *args], env=env, stdout=log, stderr=log, cwd=folder
            )

    tasks = [
        start("distributed.cli.dask_scheduler", "--host", "127.0.0.1", "--port", str(port), "--no-dashboard")
    ]
    worker = (
        "distributed.cli.dask_worker",
        f"tcp://127.0.0.1:{port}",
        "--nthreads",
        "1",
        "--no-dashboard",
        "--no-nanny",
    )
    return [*tasks, start(*worker), start(*worker)]


def _free_port() -> int:
    import socket

    with socket.socket() as s:
        s.bind(("127.0.0.1", 0))
        return s.getsockname()[1]


@pytest.mark.slow
def test_a_cluster_gives_the_same_bytes_though_a_worker_is_lost(floor, tmp_path_factory, monkeypatch):
    pytest.importorskip("distributed")
    from distributed import Client

    for k in range(8):
        floor.write(f"one/m{k}.beam.yaml", beam(f"M{k}", 8.0 + k))
    floor("design", ".", *QUICK)
    here = {p.relative_to(floor.folder): p.read_bytes() for p in floor.folder.rglob("*/*/*") if p.is_file()}
    port = _free_port()
    running = _scheduler(tmp_path_factory.mktemp("cluster"), port)
    try:
        make_client = Client
        with make_client(f"tcp://127.0.0.1:{port}", timeout="60s", set_as_default=False) as client:
            client.wait_for_workers(2, timeout=60)
        import threading

        lost = threading.Timer(1.0, running[1].kill)
        lost.start()
        ran = floor("design", ".", "--again", "--cluster", f"tcp://127.0.0.1:{port}", *QUICK)
        lost.join()
        assert ran.status == 1, ran.err  # TB2 fails as it does here
        assert "12 beam files: 11 pass, 1 fail" in ran.out
        assert {
            p.relative_to(floor.folder): p.read_bytes() for p in floor.folder.rglob("*/*/*") if p.is_file()
        } == here
    finally:
        for task in running:
            task.kill()
            task.wait()
    monkeypatch.setattr("upright_bramble.cli.many.CONNECTED_WITHIN", "1s")
    gone = floor("design", ".", "--again", "--cluster", "127.0.0.1:1", *QUICK)
    assert gone.status != 0
    assert "cannot be reached" in gone.err


@pytest.mark.slow
def test_of_many_beams_only_rows_are_kept(floor):
    """The parent's memory does not grow with results; what it takes is measured in benchmarks."""
    from upright_bramble.cli.designing import prepared
    from upright_bramble.cli.making import Wishes
    from upright_bramble.cli.many import run

    work = prepared(
        sorted(floor.folder.rglob("*.beam.yaml")), None, Wishes(outputs=("json", "layout"), quiet=True)
    )
    late: list = []
    for _, outcome in run(work, Wishes(quiet=True), late):
        assert outcome.result is None
        assert outcome.layout is None
        assert outcome.data is None
