"""Inputs of less than a megabyte that ask for as much work as they can; each must be refused, or be done, within limits."""

from __future__ import annotations

import json

HEAD = (
    "bramble: 1\nbeam: Breakwater\nmark: R1\ncode: en1992-1-1\nconcrete: {grade: C30/37}\nreinforcement: {bars: B500B}\n"
    "cover: {top: 30, bottom: 30, sides: 30}\n"
)
PROFILE = "profiles:\n  p: {shape: rectangle, depth: 500, width: 300}\n"


def line(spans: int, length: float = 6.0) -> str:
    rows = "".join(
        f"  - {{support: A{k}, width: 300}}\n  - {{span: {length}, profile: p}}\n" for k in range(spans)
    )
    return f"line:\n{rows}  - {{support: A{spans}, width: 300}}\n"


def beam(
    spans: int = 1, actions: str = "", more: str = "", profile: str = PROFILE, length: float = 6.0
) -> str:
    usual = "  - {name: dead, kind: permanent, self_weight: true, loads: [{line: 12}]}\n  - {name: live, kind: imposed, category: B, loads: [{line: 10}]}\n"
    return HEAD + profile + line(spans, length) + "actions:\n" + (actions or usual) + more


def _loads(number: int, on: str = "") -> str:
    items = ", ".join(f"{{point: 0.01, at: {0.05 + 5.9 * (k % 1000) / 1000:.4f}{on}}}" for k in range(number))
    return f"  - {{name: dead, kind: permanent, self_weight: true, loads: [{items}]}}\n"


def _others(number: int, spans: int = 1) -> str:
    return "".join(
        f"  - {{name: o{k}, kind: other, psi: [0.7, 0.5, 0.3], loads: [{{point: {1 + k % 7}, at: {0.2 + 5.5 * k / number:.3f}, on: {1 + k % spans}}}]}}\n"
        for k in range(number)
    )


CASES: dict[str, str] = {
    "1000 loads": beam(1, _loads(1000)),
    "2000 loads on 5 spans": beam(5, _loads(2000)),
    "10000 loads": beam(1, "".join(_loads(2000).replace("dead", f"dead{k}") for k in range(5))),
    "2000 loads on 200 spans": beam(200, _loads(2000)),
    "45000 unknown keys": HEAD + PROFILE + "".join(f"k{k}: 1\n" for k in range(45_000)),
    "10000 unknown keys": beam() + "".join(f"k{k}: 1\n" for k in range(10_000)),
    "a list of 500 KB": beam() + "detailing: {main_bars: [" + ", ".join(["16"] * 120_000) + "]}\n",
    "a list of 20000": beam() + "detailing: {main_bars: [" + ", ".join(["17"] * 20_000) + "]}\n",
    "a polygon of 10000 corners": beam(
        profile="profiles:\n  p: {shape: polygon, outline: ["
        + ", ".join(f"[{k}, {k % 7}]" for k in range(10_000))
        + "]}\n"
    ),
    "a polygon of 100 corners": beam(
        profile="profiles:\n  p: {shape: polygon, outline: ["
        + ", ".join(f"[{3 * k}, 0]" for k in range(50))
        + ", "
        + ", ".join(f"[{3 * (100 - k)}, 500]" for k in range(50, 100))
        + "]}\n"
    ),
    "30 other actions": beam(1, "  - {name: dead, kind: permanent, self_weight: true}\n" + _others(30)),
    "199 other actions": beam(1, "  - {name: dead, kind: permanent, self_weight: true}\n" + _others(199)),
    "199 other actions on 40 spans": beam(
        40, "  - {name: dead, kind: permanent, self_weight: true}\n" + _others(199, 40)
    ),
    "200 combinations on 100 spans": beam(
        100,
        more="combinations:\n  add:\n"
        + "".join(
            f"    - {{level: strength, name: c{k}, factors: {{permanent: 1.{k % 10}, B: {k / 100}}}}}\n"
            for k in range(200)
        ),
    ),
    "every arrangement on 200 spans": beam(200, more="arrangements: every\n"),
    "200 spans": beam(200),
    "100 m spans": beam(20, length=100.0),
    "tiny spans": beam(200, length=0.9),
    "fifteen failing spans": beam(15, profile=PROFILE.replace("depth: 500", "depth: 350")),
    "a text of 500 KB": beam().replace("Breakwater", "x" * 500_000),
    "nested 1500 deep": beam() + "about: " + "[" * 1500 + "]" * 1500 + "\n",
    "nested 5000 deep in blocks": beam() + "about:\n" + "".join(" " * k + "a:\n" for k in range(1, 700)),
    "500 notes": beam() + "remarks: {" + ", ".join(f"bending.{k}: x" for k in range(500)) + "}\n",
    "a million digits": beam().replace("line: 12", "line: " + "9" * 400_000),
    "taper of 100 spans": beam(
        100,
        profile="profiles:\n  p: {shape: rectangle, depth: 500, width: 300}\n  q: {shape: rectangle, depth: 700, width: 300}\n",
    ).replace("profile: p}", "profile: {from: p, to: q}}"),
}

TABLE_HEAD = "combination,span,x [m],M [kNm],V [kN]\n"
TABLES: dict[str, str] = {
    "a table of 900 KB": TABLE_HEAD
    + "".join(f"c{k},1,{x},{k % 50},{k % 30}\n" for k in range(12_000) for x in (0, 3, 6))[:900_000].rsplit(
        "\n", 1
    )[0]
    + "\n",
    "one line of 900 KB": TABLE_HEAD + "a," * 450_000 + "\n",
    "one field of 900 KB": TABLE_HEAD + '"' + "a" * 900_000 + '",1,0,0,0\n',
    "one combination of 30000 stations": TABLE_HEAD
    + "".join(f"a,1,{6 * k / 30_000:.5f},1,1\n" for k in range(30_001)),
    "900 KB of blank lines": TABLE_HEAD + "\n" * 900_000,
    "900 KB of quotes": TABLE_HEAD + '"' * 900_000,
}


def _bars(number: int) -> str:
    return "".join(
        f'  - {{mark: "{k}", face: bottom, layer: 1, count: 1, size: "16", from: 0 m, to: 6 m}}\n'
        for k in range(number)
    )


def _zones(number: int, spacing: float = 20.0) -> str:
    return "".join(
        f'  - {{mark: "z{k}", size: "8", legs: 2, from: 0 m, to: 6 m, spacing: {spacing}}}\n'
        for k in range(number)
    )


LAYOUTS: dict[str, str] = {
    "2000 bars": "bramble_layout: 1\nbeam: R1\nbars:\n" + _bars(2000) + "stirrups:\n" + _zones(1),
    "2000 zones": "bramble_layout: 1\nbeam: R1\nbars:\n" + _bars(2) + "stirrups:\n" + _zones(2000),
    "3000 bars in laps": "bramble_layout: 1\nbeam: R1\nbars:\n" + _bars(1500).replace("to: 6 m}", "to: 4 m, ends: [straight, lap]}")
    + _bars(1500).replace('mark: "', 'mark: "b').replace("from: 0 m", "from: 2 m").replace("to: 6 m}", "to: 6 m, ends: [lap, straight]}"),
    "450 KB of bars": "bramble_layout: 1\nbeam: R1\nbars:\n" + _bars(5500),
}  # fmt: skip

SECTIONS: dict[str, str] = {
    "50 rows of 200 bars": "bramble_section: 1\nsection: Mole\ncode: en1992-1-1\nconcrete: {grade: C30/37}\nreinforcement: {bars: B500B}\ncover: 30\n"
    "form: {shape: rectangle, depth: 5000, width: 5000}\nbars: ["
    + ", ".join(f"{{count: 200, size: 12, at: {100 + 90 * k}}}" for k in range(50))
    + "]\n"
    "asked: {moment: 1000, shear: 100, service: 500}\n",
    "a section of 10000 corners": "bramble_section: 1\nsection: Mole\ncode: en1992-1-1\nconcrete: {grade: C30/37}\nreinforcement: {bars: B500B}\ncover: 30\n"
    "form: {shape: polygon, outline: ["
    + ", ".join(f"[{k}, {k * k % 977}]" for k in range(10_000))
    + "]}\nasked: {moment: 10}\n",
}

RESULTS: dict[str, str] = {
    "nested JSON": '{"format": "upright-bramble/result", "version": 2, "beam": '
    + "[" * 100_000
    + "]" * 100_000
    + "}",
    "a million keys": json.dumps(
        {"format": "upright-bramble/result", "version": 2, **{f"k{k}": 1 for k in range(60_000)}}
    ),
}


def calls() -> list[tuple[str, tuple[str, ...], dict[str, str]]]:
    """Name, call and files of every case."""
    result: list[tuple[str, tuple[str, ...], dict[str, str]]] = []
    for name, text in CASES.items():
        result.append((name, ("forces", "r.beam.yaml", "--quiet"), {"r.beam.yaml": text}))
        result.append((name, ("design", "r.beam.yaml", "--quiet", "--no-figures"), {"r.beam.yaml": text}))
    from_table = HEAD + PROFILE + line(1) + "forces:\n  strength: {table: t.csv, level: factored}\n"
    for name, text in TABLES.items():
        result.append(
            (
                name,
                ("design", "r.beam.yaml", "--quiet", "--no-figures"),
                {"r.beam.yaml": from_table, "t.csv": text},
            )
        )
    for name, text in LAYOUTS.items():
        result.append(
            (
                name,
                ("check", "r.beam.yaml", "x.layout.yaml", "--quiet"),
                {"r.beam.yaml": beam(), "x.layout.yaml": text},
            )
        )
    for name, text in SECTIONS.items():
        result.append((name, ("section", "x.section.yaml", "--quiet"), {"x.section.yaml": text}))
    for name, text in RESULTS.items():
        result.append((name, ("bars", "x.result.json", "--quiet"), {"x.result.json": text}))
    return result


def main() -> None:
    """Time and memory of each, every one in a process of its own."""
    import os
    import subprocess
    import sys
    import tempfile
    import time
    from pathlib import Path

    for name, call, files in calls():
        with tempfile.TemporaryDirectory() as folder:
            for file, text in files.items():
                (Path(folder) / file).write_text(text, "utf-8")
            began = time.monotonic()
            running = subprocess.Popen(
                [sys.executable, "-m", "upright_bramble", *call],
                cwd=folder,
                stdout=subprocess.DEVNULL,
                stderr=subprocess.PIPE,
            )
            assert running.stderr is not None
            err = running.stderr.read()
            _, status, used = os.wait4(running.pid, 0)
            size = sum(len(t) for t in files.values()) / 1e3
            first = err.decode("utf-8", "replace").splitlines()[:1]
            print(
                f"{time.monotonic() - began:6.2f} s {used.ru_maxrss / 1024:5.0f} MB  {call[0]:8}{name:34}{size:4.0f} KB  "
                f"status {os.waitstatus_to_exitcode(status)}  {(first or [''])[0][:90]}", flush=True,
            )  # fmt: skip


if __name__ == "__main__":
    main()
