"""Where the time goes: whole commands against a bare start of Python, and each stage in one process.

    python benchmarks/run.py [--runs 9]

Ratios are taken within one run, since machines are noisy; medians are quoted. Aims stand beside the figures.
"""

from __future__ import annotations

import argparse
import os
import statistics
import subprocess
import sys
import tempfile
import time
from collections.abc import Callable
from pathlib import Path

os.environ.setdefault("OPENBLAS_NUM_THREADS", "1")  # one core, as the aims say
os.environ.pop("PYTHONDONTWRITEBYTECODE", None)  # a user's Python keeps what it has compiled

BARE = [sys.executable, "-c", "import click, numpy"]
BRAMBLE = [sys.executable, "-m", "upright_bramble"]


def whole_process(command: list[str], folder: Path) -> float:
    start = time.perf_counter()
    subprocess.run(command, cwd=folder, stdout=subprocess.DEVNULL, stderr=subprocess.DEVNULL, check=False)
    return time.perf_counter() - start


def median(work: Callable[[], object], runs: int) -> float:
    work()
    times = []
    for _ in range(runs):
        start = time.perf_counter()
        work()
        times.append(time.perf_counter() - start)
    return 1e3 * statistics.median(times)


def commands(runs: int) -> None:
    from upright_bramble.demo import demo_files

    with tempfile.TemporaryDirectory() as name:
        folder = Path(name)
        (folder / "deck.beam.yaml").write_text(demo_files()["boathouse-deck.beam.yaml"], "utf-8")
        design = [*BRAMBLE, "design", "deck.beam.yaml", "--no-figures"]
        whole_process(design, folder)
        check = [*BRAMBLE, "check", "deck.beam.yaml", "DB3/DB3.layout.yaml"]
        print(f"{'whole commands':<34}{'median':>10}{'ratio':>8}   aim")
        for label, command, aim in (
            ("bramble --help", [*BRAMBLE, "--help"], "1.5"),
            ("bramble check, demo deck", check, "3"),
            ("bramble design, no figures", design, "-"),
            ("bramble design, with figures", design[:-1], "-"),
        ):
            pairs = [(whole_process(command, folder), whole_process(BARE, folder)) for _ in range(runs)]
            ratio = statistics.median(a / b for a, b in pairs)
            print(f"{label:<34}{1e3 * statistics.median(a for a, _ in pairs):>7.0f} ms{ratio:>8.2f}   {aim}")
        bare = statistics.median(whole_process(BARE, folder) for _ in range(runs))
        print(f"{'python -c import click, numpy':<34}{1e3 * bare:>7.0f} ms{1.0:>8.2f}")


def five_span_beam():  # type: ignore[no-untyped-def]
    """Five spans, eight actions: two permanent, six imposed of six categories, uniform and point loads in turn."""
    from upright_bramble.beam import (
        Action,
        Beam,
        Concrete,
        Cover,
        Detailing,
        Load,
        Profile,
        Service,
        Span,
        Steel,
        Support,
    )

    lengths = [6000.0, 7500.0, 7000.0, 8000.0, 6000.0]
    profile, x = Profile("p", 350.0, 600.0), 0.0
    supports, spans = [Support("A", 0.0, 300.0)], []
    for i, length in enumerate(lengths):
        spans.append(Span(str(i + 1), x, length, profile, i, i + 1))
        x += length
        supports.append(Support("BCDEF"[i], x, 300.0))

    def uniform(w: float) -> tuple[Load, ...]:
        return tuple(Load("line", i, w, w, 0.0, length) for i, length in enumerate(lengths))

    def points(p: float) -> tuple[Load, ...]:
        return tuple(Load("point", i, p, p, 0.4 * length, 0.4 * length) for i, length in enumerate(lengths))

    actions = [
        Action("structure", "permanent", None, uniform(15.0)),
        Action("finishes", "permanent", None, uniform(5.0)),
    ]
    for k, category in enumerate("ABCDEF"):
        actions.append(
            Action(f"imposed {category}", "imposed", category, uniform(2.5) if k % 2 else points(8e3))
        )
    detailing = Detailing(("12", "16", "20", "25", "32"), ("8", "10", "12"))
    return Beam(
        "Benchmark", "BM", "en1992-1-1", None, {}, "si", Concrete(30.0, 20.0, "C30/37"), Steel(500.0), Steel(500.0),
        Cover(30.0, 30.0, 30.0), tuple(supports), tuple(spans), tuple(actions), Service(), detailing,
    )  # fmt: skip


def stages(runs: int) -> None:
    from upright_bramble.analysis import analyse
    from upright_bramble.files.result_data import Origin, result_data
    from upright_bramble.files.result_file import ResultFile
    from upright_bramble.pipeline import code_of, run_design
    from upright_bramble.present.diagrams import diagrams
    from upright_bramble.present.painters import png, svg_file
    from upright_bramble.present.report import report_of, written
    from upright_bramble.proportion import Needs, propose
    from upright_bramble.verify import verify, workings
    from upright_bramble.verify.placement import place
    from upright_bramble.verify.service import verify_service

    beam = five_span_beam()
    code = code_of(beam)
    forces = analyse(beam, code)
    layout = propose(beam, code, forces, Needs()).layout
    designed = run_design(beam)
    assert designed.result is not None
    result = designed.result
    placed, issued = (
        place(beam, code, layout, forces.stations),
        ResultFile.model_validate(result_data(result, Origin("", ""))),
    )
    sets = sum(len(rows) for rows in forces.rows.values())
    counted = f"{len(forces.stations)} stations, {sets} sets of forces, {designed.rounds} rounds, {result.weighed} groups weighed"
    print(f"\nfive spans, eight actions, {counted}")
    print(f"{'stages in one process':<34}{'median':>10}           aim")
    long = {n: alike_spans(n) for n in (10, 200)}
    for label, work, aim in (
        ("analysis", lambda: analyse(beam, code), "5 ms"),
        ("proportioning, one round", lambda: propose(beam, code, forces, Needs()), "-"),
        ("verification", lambda: verify(beam, code, forces, layout), "15 ms"),
        ("of it service", lambda: verify_service(forces.beam, code, forces, placed), "40 ms"),
        ("whole design", lambda: run_design(beam), "150 ms"),
        ("derivations of all checks", lambda: workings(result), "50 ms"),
        (
            "report, HTML and PDF",
            lambda: [written(report_of([issued], "normal"), k) for k in ("html", "pdf")],
            "1500 ms",
        ),
        ("figure, SVG and PNG", lambda: [svg_file(diagrams(issued)), png(diagrams(issued))], "-"),
    ):
        print(f"{label:<34}{median(work, runs):>7.1f} ms           {aim}")
    few, many = (median(lambda n=n: analyse(long[n], code), runs) for n in (10, 200))  # type: ignore[misc]
    print(f"{'analysis of 200 spans':<34}{many:>7.1f} ms           40 times that of 10: {many / few:.1f}")


def alike_spans(count: int):  # type: ignore[no-untyped-def]
    """`count` spans of 6 m under permanent and imposed load."""
    from dataclasses import replace

    from upright_bramble.beam import Action, Load, Span, Support

    beam = five_span_beam()
    supports = tuple(Support(f"S{k}", 6000.0 * k, 300.0) for k in range(count + 1))
    spans = tuple(Span(str(k + 1), 6000.0 * k, 6000.0, beam.spans[0].profile, k, k + 1) for k in range(count))
    loads = [tuple(Load("line", k, w, w, 0.0, 6000.0) for k in range(count)) for w in (20.0, 15.0)]
    actions = (Action("dead", "permanent", None, loads[0]), Action("live", "imposed", "B", loads[1]))
    return replace(beam, supports=supports, spans=spans, actions=actions)


def long_lines() -> None:
    """Whole commands on lines of 50 and 200 spans, once each, with the memory that they take."""
    head = (
        "bramble: 1\nbeam: Long jetty\nmark: LJ1\ncode: en1992-1-1\nconcrete: {grade: C30/37}\nreinforcement: {bars: B500B}\n"
        "cover: {top: 30, bottom: 30, sides: 30}\nprofiles:\n  p: {shape: rectangle, depth: 500, width: 300}\nline:\n"
    )
    actions = (
        "actions:\n  - {name: dead, kind: permanent, self_weight: true, loads: [{line: 12}]}\n"
        "  - {name: live, kind: imposed, category: B, loads: [{line: 10}]}\n"
    )
    print(f"\n{'long lines':<34}{'once':>10}{'memory':>9}   aim")
    for count, aim in ((50, "2 s"), (200, "15 s")):
        with tempfile.TemporaryDirectory() as name:
            spans = "".join(
                f"  - {{support: A{k}, width: 300}}\n  - {{span: 6, profile: p}}\n" for k in range(count)
            )
            (Path(name) / "j.beam.yaml").write_text(
                f"{head}{spans}  - {{support: A{count}, width: 300}}\n{actions}", "utf-8"
            )
            for label, call in (
                ("design, no figures", ["design", "j.beam.yaml", "--no-figures"]),
                ("check", ["check", "j.beam.yaml", "j.layout.yaml"]),
            ):
                if label == "check":  # of a layout by itself: that of a folder is written again as well
                    (Path(name) / "LJ1" / "LJ1.layout.yaml").rename(Path(name) / "j.layout.yaml")
                began = time.perf_counter()
                running = subprocess.Popen([*BRAMBLE, *call], cwd=name, stdout=subprocess.DEVNULL)
                _, _, used = os.wait4(running.pid, 0)
                print(
                    f"{f'{count} spans, {label}':<34}{time.perf_counter() - began:>8.1f} s{used.ru_maxrss / 1024:>6.0f} MB   {aim}"
                )


def sections(runs: int) -> None:
    """One cross-section of 20 bars: curves, a ray, and a whole verdict. Aim: 360 points in 300 ms."""
    import numpy as np

    from upright_bramble.files.section_file import section_of
    from upright_bramble.section.surface import along, curve
    from upright_bramble.verify.sections.bending import member_of
    from upright_bramble.verify.sections.judge import judge

    bars = [{"size": "25", "at": [x, y]} for x in (60, 440) for y in (60, 150, 250, 350, 450, 550, 640)]
    bars += [{"size": "25", "at": [x, y]} for x in (155, 250, 345) for y in (60, 640)]
    given = {
        "bramble_section": 1, "title": "pier", "code": "en1992-1-1", "concrete": {"grade": "C30/37"}, "reinforcement": {"bars": "B500B"},
        "cover": 35, "form": {"shape": "rectangle", "width": 500, "depth": 700}, "bars": bars,
        "stirrups": {"size": "10", "legs": 2, "spacing": 200},
        "forces": [{"name": "a", "moment": 400, "moment_y": 150, "axial": 1500, "shear": 90}],
    }  # fmt: skip
    section, code, _ = section_of(given)
    member = member_of(section, code)
    directions = np.arange(360.0)
    print(f"{'one section of 20 bars':<34}{'median':>10}   aim")
    for label, work, aim in (
        ("curve of both moments, 360 points", lambda: curve(member, 1500e3, directions), "300 ms"),
        ("moment along a ray", lambda: along(member, 1500e3, 20.0), "-"),
        ("every check", lambda: judge(section, code), "-"),
    ):
        print(f"{label:<34}{median(work, runs):>7.0f} ms   {aim}")


if __name__ == "__main__":
    parser = argparse.ArgumentParser(description=__doc__)
    parser.add_argument("--runs", type=int, default=9)
    chosen = parser.parse_args()
    commands(chosen.runs)
    stages(chosen.runs)
    sections(chosen.runs)
    long_lines()
