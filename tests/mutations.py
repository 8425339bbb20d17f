"""Inputs that nobody should write, made from good ones, and the commands that are tried on them. The same seed gives the same cases."""

from __future__ import annotations

import hashlib
import json
import random
import re
import sys
import time
from collections.abc import Iterator
from dataclasses import dataclass
from pathlib import Path

import yaml_beams
from in_process import Seen, peak, run

SECONDS, MEGABYTES = 5.0, 500.0  # that one case may take

EXTREMES = [
    "0", "-1", "1e-9", "1e9", "1e15", "1e308", "1e999", "-0", ".nan", ".inf", "99999999999999999999999999", "0x10", "1_000", "null", "true",
    "''", "[]", "{}", "[1, 2]", "{a: 1}", "'6 m'", "'6 kN'", "'6 parsecs'", "span/250", "span/0.001", "auto", "-", "2024-01-01", "~",
]  # fmt: skip
TEXTS = [
    r'"\e[2J"', r'"a\nb"', r'"\x07"', r'"\u202e txet"', r'"\u200b"', r'"\ud800"', r'"\x9b31m"', '"⟨force|1e+-.9⟩"', '"=1+1"', '"{{ 7 * 7 }}"',
    '"<script>alert(1)</script>"', '"$x^$"', r'"\\input{x}"', '"%%c \\\\P"', '"渡し船 🚣"', '"' + "x" * 5000 + '"', '"../../up"', '"/dev/full"', '"nul\\0"',
    '"#set page(width: 1pt)"', '"' + "ä" * 199 + '"', "!!python/object:os.system x", "&a [*a]", "*a",
]  # fmt: skip
PIECES = [
    "",
    "{",
    "}",
    "[",
    "]",
    ": ",
    "- ",
    "\n",
    "~",
    "'",
    '"',
    "#",
    "\t",
    "\r",
    "\x00",
    "\x1b",
    "é",
    "\ufeff",
    "? ",
    "%",
    "|\n",
    ">\n",
    ",",
    "&a ",
    "*a",
]


@dataclass(frozen=True)
class Case:
    """A name, the call, and the files that it meets."""

    kind: str
    call: tuple[str, ...]
    files: dict[str, bytes]


def mutated(text: str, chance: random.Random) -> bytes:
    """One to three changes of a YAML or CSV text."""
    for _ in range(chance.choice((1, 1, 1, 2, 3))):
        lines = text.split("\n")
        k = chance.randrange(len(lines))
        kind = chance.randrange(9)
        if kind == 0:
            numbers = list(re.finditer(r"-?\d+(?:\.\d+)?", text))
            if numbers:
                m = chance.choice(numbers)
                text = text[: m.start()] + chance.choice(EXTREMES) + text[m.end() :]
        elif kind == 1:
            values = list(re.finditer(r"(?<=: )[^,{}\[\]\n]+", text))
            if values:
                m = chance.choice(values)
                text = text[: m.start()] + chance.choice(EXTREMES + TEXTS) + text[m.end() :]
        elif kind == 2:
            del lines[k]
            text = "\n".join(lines)
        elif kind == 3:
            lines.insert(k, lines[chance.randrange(len(lines))])
            text = "\n".join(lines)
        elif kind == 4:
            a = chance.randrange(len(text) + 1)
            text = (
                text[:a] + chance.choice(PIECES) + text[min(len(text), a + chance.choice((0, 0, 1, 5, 40))) :]
            )
        elif kind == 5:
            keys = list(re.finditer(r"[a-z_]+(?=: )", text))
            if keys:
                m = chance.choice(keys)
                text = (
                    text[: m.start()]
                    + chance.choice((m.group() + "x", "colour", chance.choice(keys).group()))
                    + text[m.end() :]
                )
        elif kind == 6:
            text = text[: chance.randrange(len(text) + 1)]
        elif kind == 7:
            words = list(re.finditer(r"(?<=: )[A-Za-z][\w/.-]*", text))
            if len(words) > 1:
                m, other = chance.sample(words, 2)
                text = text[: m.start()] + other.group() + text[m.end() :]
        else:
            a = chance.randrange(len(lines))
            lines[k], lines[a] = lines[a], lines[k]
            text = "\n".join(lines)
    raw = text.encode("utf-8", "surrogatepass")
    if chance.random() < 0.03:
        a = chance.randrange(len(raw) + 1)
        raw = raw[:a] + bytes(chance.randrange(256) for _ in range(4)) + raw[a:]
    return raw


def mutated_json(raw: bytes, chance: random.Random) -> bytes:
    """A result with one place changed, or cut."""
    if chance.random() < 0.15:
        return raw[: chance.randrange(len(raw))]
    data = json.loads(raw)
    here: object = data
    for _ in range(chance.randrange(1, 6)):
        inside = (
            list(here) if isinstance(here, dict) else list(range(len(here))) if isinstance(here, list) else []
        )
        if not inside:
            break
        key = chance.choice(inside)
        deeper = here[key]  # type: ignore[index]
        if not isinstance(deeper, (dict, list)) or not deeper or chance.random() < 0.3:
            _damage(here, key, chance)
            break
        here = deeper
    return json.dumps(data).encode()


def _damage(here: object, key: object, chance: random.Random) -> None:
    values = [
        None,
        0,
        -1,
        1e308,
        -1e308,
        1e15,
        10**30,
        "",
        "x",
        "\x1b[2J",
        "a\nb",
        [],
        {},
        [1],
        True,
        float("nan"),
        float("inf"),
        "9" * 400,
    ]
    assert isinstance(here, (dict, list))
    kind = chance.randrange(4)
    if kind == 0:
        del here[key]  # type: ignore[arg-type]
    elif kind == 1 and isinstance(here, list):
        here.insert(key, here[key])  # type: ignore[arg-type, call-overload]
    elif kind == 2 and isinstance(here, list):
        del here[chance.randrange(len(here)) :]
    else:
        here[key] = chance.choice(values)  # type: ignore[index, call-overload]


SECTION = """bramble_section: 1
title: Mole head
code: en1992-1-1
units: si
concrete: {grade: C30/37}
reinforcement: {bars: B500B}
cover: 35
form: {shape: T, depth: 600, width: 350, flange: {width: 1200, thickness: 150}}
bars: [{row: 4, size: 20, depth: 545}, {row: 2, size: 16, depth: 51}]
stirrups: {size: 8, legs: 2, spacing: 200}
forces: [{name: all, moment: 310, moment_y: 0, shear: 180, torque: 5, axial: 50, greatest_moment: 310}]
service: [{name: lasting, moment: 190}]
choose: {main_bars: [16, 20], size: depth}
limits: {crack_width: 0.3, exposure: XC3}
"""


RULES = """bramble_rules: 1
code: en1992-1-1
annex: uk
units: si
code_values: {gamma_c: 1.5}
concrete: {grade: C30/37, aggregate: 20}
reinforcement: {bars: B500B, stirrups: B500B}
cover: {exposure: XC1, fire: R60, top: 40}
profiles: {p: {shape: rectangle, depth: 500, width: 300}}
service: {deflection: {total: span/250, finishes_at: 60 days}, crack_width: 0.3}
detailing: {main_bars: [16, 20], stirrup_bars: [8], reserve: 0.05, vibrator_gap: 75}
combinations: {rule: '6.10'}
rates: {steel: 1.5, bar: 2}
about: {project: Boathouse}
"""
RULED = """bramble: 1
beam: One span
mark: R1
rules: [x.rules.yaml]
line: [{support: A, width: 300}, {span: 6, profile: p}, {support: B, width: 300}]
actions:
  - {name: dead, kind: permanent, loads: [{line: 12}]}
  - {name: live, kind: imposed, category: B, loads: [{line: 10}]}
"""
FRAMED = (
    yaml_beams.SIMPLE[: yaml_beams.SIMPLE.index("actions:")].replace("S1", "F2")
    + """actions:
  - {name: dead, kind: permanent, table: x.csv}
  - {name: live, kind: imposed, category: B, table: x.csv}
  - {name: wind, kind: wind, either_way: true, table: x.csv}
"""
)
ALIKE = """bramble: 1
beam: All levels
mark: AL
envelope_of: [one.beam.yaml, x.beam.yaml]
tolerance: 10
quantity: 3
about: {project: Boathouse}
waive: {shear: "seen to elsewhere"}
"""


def _frame(separator: str, wide: bool) -> str:
    """Unfactored forces by action, in rows or in columns."""
    places = [k * 0.5 for k in range(13)]
    sizes = {"dead": 12.0, "live": 10.0, "wind": 3.0}
    if wide:
        rows = [
            separator.join(["span", "x [m]", *(f"{n} {q}" for n in sizes for q in ("M [kNm]", "V [kN]"))])
        ]
        rows += [
            separator.join(
                [
                    "1",
                    f"{x}",
                    *(f"{v:.4f}" for q in sizes.values() for v in (q * x * (6 - x) / 2, q * (3 - x))),
                ]
            )
            for x in places
        ]
    else:
        rows = [separator.join(("action", "span", "x [m]", "M [kNm]", "V [kN]"))]
        rows += [
            separator.join((n, "1", f"{x}", f"{q * x * (6 - x) / 2:.4f}", f"{q * (3 - x):.4f}"))
            for n, q in sizes.items()
            for x in places
        ]
    return "\n".join(rows) + "\n"


def _table() -> str:
    rows = ["combination,span,x [m],M [kNm],V [kN],T [kNm],N [kN]"]
    rows += [
        f"a,1,{x},{7.25 * x * (6 - x):.4f},{7.25 * (6 - 2 * x):.4f},0,0"
        for x in (0, 0.5, 1, 1.5, 2, 2.5, 3, 3.5, 4, 4.5, 5, 5.5, 6)
    ]
    return "\n".join(rows) + "\n"


class Workshop:
    """A folder with good files, and calls on bad ones. Everything runs in this process."""

    def __init__(self, folder: Path) -> None:
        self.folder, self.table = folder, _table()
        self.beams = [
            yaml_beams.SIMPLE,
            yaml_beams.demo("boathouse-deck"),
            yaml_beams.demo("annex-floor"),
            yaml_beams.demo("canopy-edge"),
        ]
        (folder / "one.beam.yaml").write_text(yaml_beams.SIMPLE, "utf-8")
        assert self.run(("design", "one.beam.yaml", "--quiet", "--no-figures")).status == 0
        self.layout = (folder / "S1" / "S1.layout.yaml").read_text("utf-8")
        bent_up = ", bent_up: {right: 4.5 m, angle: 45, layer: 2}, held: false}"
        self.bent = self.layout.replace(", held: false}", bent_up, 1)
        self.result = (folder / "S1" / "S1.result.json").read_bytes()

    def cases(self, seed: int, number: int) -> Iterator[Case]:
        """Of every kind in turn: beams, layouts, sections, tables, results, calls."""
        for k in range(number):
            chance = random.Random(f"{seed}-{k}")
            yield self._case(chance, k)

    def _case(self, chance: random.Random, k: int) -> Case:
        weights = {
            "forces": 24,
            "design": 8,
            "check": 18,
            "section": 14,
            "table": 8,
            "result": 11,
            "call": 8,
            "shared": 9,
        }
        kind = chance.choices(list(weights), list(weights.values()))[0]
        name = chance.choice(("x.beam.yaml",) * 9 + ("odd name ü.beam.yaml",))
        if kind in ("forces", "design"):
            raw = mutated(chance.choice(self.beams if kind == "forces" else self.beams[:1]), chance)
            more = chance.choice(((), ("--json",), ("--quiet",))) + (
                ("--no-figures",) if kind == "design" else ()
            )
            return Case(kind, (kind, name, *more), {name: raw})
        if kind == "check":
            more = chance.choice(((), ("--json",), ("--quiet",)))
            return Case(
                kind,
                ("check", "one.beam.yaml", "x.layout.yaml", *more),
                {"x.layout.yaml": mutated(chance.choice((self.layout, self.bent)), chance)},
            )
        if kind == "section":
            return Case(
                kind,
                ("section", "x.section.yaml", *chance.choice(((), ("--json",)))),
                {"x.section.yaml": mutated(SECTION, chance)},
            )
        if kind == "table":
            return Case(
                kind,
                ("forces", "t.beam.yaml"),
                {"t.beam.yaml": yaml_beams.TABLES.encode(), "st.csv": mutated(self.table, chance)},
            )
        if kind == "shared":
            return self._shared(chance)
        if kind == "result":
            call = chance.choice((
                ("bars", "x.result.json"), ("why", "x.result.json"), ("why", "x.result.json", "bending.sagging.1"),
                ("at", "x.result.json", "1:0.5"), ("compare", "x.result.json", "S1"), ("bars", "x.result.json", "--json"),
                ("draw", "x.result.json", "--format", "svg", "--into", "out", "--force", "--quiet"),
                ("report", "x.result.json", "--format", "md", "--depth", "full", "--into", "out", "--force", "--quiet"),
            ))  # fmt: skip
            return Case(kind, call, {"x.result.json": mutated_json(self.result, chance)})
        return Case(kind, self._call(chance), {})

    def _shared(self, chance: random.Random) -> Case:
        """What several files make together: rules, tables by action, alike beams."""
        what = chance.choice(("rules", "frame", "alike"))
        if what == "rules":
            beam = mutated(RULED, chance) if chance.random() < 0.3 else RULED.encode()
            rules = RULES.replace(
                "units: si", chance.choice(("units: si", "units: us", "units: technical", ""))
            )
            return Case(
                "shared",
                ("forces", "r.beam.yaml"),
                {"r.beam.yaml": beam, "x.rules.yaml": mutated(rules, chance)},
            )
        if what == "frame":
            table = _frame(chance.choice((",", ";", "\t")), chance.random() < 0.5)
            if chance.random() < 0.3:
                table = table.replace(".", ",") if ";" in table else table
            raw = mutated(table, chance) if chance.random() < 0.95 else b"PK\x03\x04" + table.encode()
            return Case("shared", ("forces", "f.beam.yaml"), {"f.beam.yaml": FRAMED.encode(), "x.csv": raw})
        call = chance.choice(
            (
                ("forces", "a.beam.yaml"),
                ("alike", "a.beam.yaml", "one.beam.yaml", "--json"),
                ("forces", ".", "--json"),
            )
        )
        other = (
            mutated(yaml_beams.SIMPLE.replace("S1", "S2"), chance)
            if chance.random() < 0.4
            else yaml_beams.SIMPLE.replace("S1", "S2").encode()
        )
        return Case("shared", call, {"a.beam.yaml": mutated(ALIKE, chance), "x.beam.yaml": other})

    def _call(self, chance: random.Random) -> tuple[str, ...]:
        words = [
            "one.beam.yaml", "S1", "S1/S1.layout.yaml", "S1/S1.result.json", "nothing", ".", "", "/dev/null", "/dev/full", "x" * 300, "a\x1b[2Jb", "--json",
            "--quiet", "--into", "--csv", "--figure", "--force", "--level", "--action", "--format", "1:0.5", "B", "-1", "1e999", "3.25 m", "9:9",
            "bending", "shear.stirrups.A-right", "--size", "350x600", "--bars", "4x20@545", "-M", "310", "nan", "--cover", "--concrete", "C30/37",
            "--steel", "B500B", "--units", "si", "--code", "en1992-1-1", "--annex", "uk", "--jobs", "--mend", "--fresh", "--depth", "full", "--without",
            "--mark", "--only", "--sort", "--summary", "--shard", "1/2", "--outputs", "json", "--again", "--root", "--within", "*.yaml", "[", "**",
            "=1+1", "ü", "out/x.csv", "out/x.png",
        ]  # fmt: skip
        commands = [
            "start",
            "forces",
            "check",
            "section",
            "at",
            "why",
            "bars",
            "compare",
            "codes",
            "schema",
            "draw",
            "report",
            "alike",
        ]
        return (chance.choice(commands), *(chance.choice(words) for _ in range(chance.randrange(6))))

    def tried(self, case: Case) -> list[str]:
        """What is wrong with the answer to a case; empty where it is as it must be."""
        for name, raw in case.files.items():
            (self.folder / name).write_bytes(raw)
        before = self._state()
        seen = self.run(case.call)
        wrong = []
        if seen.status not in (0, 1, 2):
            wrong.append(f"exit status {seen.status}")
        if (
            "itself failed" in seen.err
            or "Traceback" in seen.err
            or "Warning" in seen.err + seen.out
            or "internal check" in seen.err
        ):
            wrong.append(f"an internal failure: {seen.err[:300]}")
        if seen.status == 2 and not seen.err.strip():
            wrong.append("exit status 2 without a word")
        if re.search(
            r"[\x00-\x08\x0b-\x1f\x7f-\x9f\u202a-\u202e\u2066-\u2069\u200b\ue0f1\ue0f2]", seen.out + seen.err
        ):
            wrong.append("characters that are no text reach the terminal")
        if re.search(r"\b(nan|NaN|Infinity)\b", seen.out) and "--json" in case.call:
            wrong.append("a number that is none reaches JSON")
        if seen.status == 2 and self._state() != before:
            wrong.append("exit status 2, and files have changed")
        if seen.seconds > SECONDS:
            wrong.append(f"{seen.seconds:.1f} s")
        if seen.megabytes > MEGABYTES:
            wrong.append(f"{seen.megabytes:.0f} MB")
        self._clear()
        return wrong

    def run(self, call: tuple[str, ...]) -> Seen:
        """A call of the program in this folder."""
        return run(self.folder, call)

    def _state(self) -> dict[str, str]:
        return {
            str(p): hashlib.sha256(p.read_bytes()).hexdigest()
            for p in sorted(self.folder.rglob("*"))
            if p.is_file()
        }

    def _clear(self) -> None:
        """Back to the good files."""
        import shutil

        for path in self.folder.iterdir():
            if path.name not in ("one.beam.yaml", "S1"):
                shutil.rmtree(path) if path.is_dir() else path.unlink()
        (self.folder / "S1" / "S1.layout.yaml").write_text(self.layout, "utf-8")


def main_(number: int, seed: int) -> int:
    """Many cases, each that goes wrong printed with its number, by which it can be made again."""
    import tempfile

    failed, kinds = 0, {}
    with tempfile.TemporaryDirectory() as folder:
        shop = Workshop(Path(folder))
        slowest = (0.0, "")
        for k, case in enumerate(shop.cases(seed, number)):
            began = time.monotonic()
            wrong = shop.tried(case)
            kinds[case.kind] = kinds.get(case.kind, 0) + 1
            slowest = max(slowest, (time.monotonic() - began, f"{seed}-{k} {case.kind}"))
            if wrong:
                failed += 1
                print(f"{seed}-{k} {case.kind} {' '.join(case.call)}: {'; '.join(wrong)}", flush=True)
    print(
        f"{number} cases ({', '.join(f'{v} {k}' for k, v in sorted(kinds.items()))}), {failed} wrong; slowest {slowest[0]:.2f} s ({slowest[1]}), {peak():.0f} MB"
    )
    return 1 if failed else 0


if __name__ == "__main__":
    sys.path.insert(0, str(Path(__file__).parent))
    sys.exit(
        main_(
            int(sys.argv[1]) if len(sys.argv) > 1 else 100_000, int(sys.argv[2]) if len(sys.argv) > 2 else 1
        )
    )
