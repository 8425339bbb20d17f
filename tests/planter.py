"""Plants single faults in the core, one at a time, and tells which of them the tests notice.

    python tests/planter.py --seed 7 --number 100 [--rooms verify,codes] [--jobs 2] [--then tests/test_service.py ...]

A fault is a sign, a bound (`<` for `<=`), a minimum for a maximum, left for right, top for bottom, another index, a constant by a tenth, a
term that is dropped. Each is planted in a copy of the program; the quick tests are run against it, and where these notice nothing slower ones
of its room (or those of `--then`; `--then tests` is the whole suite). What is not noticed is printed with its place: a person says whether it changes
anything at all.
"""

from __future__ import annotations

import argparse
import ast
import os
import random
import shutil
import subprocess
import sys
import tempfile
from collections import Counter
from concurrent.futures import ThreadPoolExecutor
from dataclasses import dataclass
from pathlib import Path

HOME = Path(__file__).parent.parent
ROOMS = (
    "analysis", "codes/aci318", "codes/en1992", "codes/csa_a23", "codes/is456", "codes/bs8110", "codes/parts", "section", "verify",
    "proportion",
)  # fmt: skip
CASES = {  # what is likeliest to notice a fault of a room comes first
    "codes/en1992": ("test_cover_by_hand.py", "test_reference_cases.py", "test_tables.py"), "codes/aci318": ("test_aci_cases.py", "test_aci_2014.py"),
    "codes/csa_a23": ("test_csa_cases.py", "test_csa_beams.py"), "codes/is456": ("test_is456_cases.py", "test_printed_bending.py"),
    "codes/bs8110": ("test_bs8110_cases.py", "test_printed_bending.py"), "analysis": ("test_line.py", "test_analysis.py", "test_actions.py"),
    "section": ("test_section.py", "test_section_plane.py"), "proportion": ("test_proportion.py", "test_zoning.py"),
}  # fmt: skip
QUICK = (
    "test_tables.py",
    "test_small_parts.py",
    "test_verdict.py",
    "test_answers_by_hand.py",
    "test_handed_over.py",
    "test_by_hand.py",
    "test_pins.py",
    "test_code.py",
    "test_mirror.py",
)
THEN = {  # slower tests of a room, where the quick ones notice nothing
    "analysis": ("test_arrangements.py", "test_redistribution.py", "test_force_tables.py", "test_action_tables.py", "test_csa_beams.py",
                 "test_bent_up.py", "test_slab_bars.py", "test_crossing.py", "test_tolerances.py", "test_own_judge.py"),
    "codes": ("test_cover_by_hand.py", "test_working.py", "test_validity.py", "test_tables_cubes.py", "test_annexes.py", "test_aci_detailing.py", "test_nothing_unsafe.py",
              "test_service.py", "test_crossing.py", "test_slab_bars.py", "test_own_judge.py"),
    "section": ("test_cross_section.py", "test_section_verdict.py"),
    "verify": ("test_aci_detailing.py", "test_strength.py", "test_verification.py", "test_service.py", "test_practice.py", "test_nothing_unsafe.py",
               "test_bent_up.py", "test_slab_bars.py", "test_crossing.py", "test_cross_section.py", "test_section_verdict.py", "test_section_of_beam.py"),
    "proportion": ("test_verification.py", "test_practice.py", "test_wishes.py", "test_random_beams.py"),
}  # fmt: skip
COMPARED = {ast.Lt: ast.LtE, ast.LtE: ast.Lt, ast.Gt: ast.GtE, ast.GtE: ast.Gt}
TURNED = {ast.Lt: ast.Gt, ast.Gt: ast.Lt, ast.LtE: ast.GtE, ast.GtE: ast.LtE}
NAMES = {
    "minimum": "maximum", "maximum": "minimum", "min": "max", "max": "min", "argmin": "argmax", "argmax": "argmin",
    "moment_max": "moment_min", "moment_min": "moment_max", "axial_min": "axial_max", "axial_max": "axial_min", "left": "right",
    "right": "left", "start": "end", "end": "start", "positive": "negative", "negative": "positive", "d_bottom": "d_top",
    "d_top": "d_bottom", "bottom": "top", "top": "bottom",
}  # fmt: skip


@dataclass(frozen=True)
class Fault:
    """What is planted where: `change` number of so many that a file has room for."""

    path: str
    line: int
    said: str
    text: str

    @property
    def room(self) -> str:
        return next(r for r in ROOMS if self.path.startswith(r + "/"))


class _Planter(ast.NodeTransformer):
    """Makes the `wanted`-th change that the walk comes by; counts them all."""

    def __init__(self, wanted: int) -> None:
        self.wanted, self.seen, self.line, self.said = wanted, 0, 0, ""

    def _mine(self, node: ast.AST, said: str) -> bool:
        self.seen += 1
        if self.seen - 1 == self.wanted:
            self.line, self.said = getattr(node, "lineno", 0), said
            return True
        return False

    def visit_FunctionDef(self, node: ast.FunctionDef) -> ast.AST:
        node.body = [self.visit(v) for v in node.body]
        return node

    def visit_Expr(self, node: ast.Expr) -> ast.AST:
        return (
            node if isinstance(node.value, ast.Constant) or _tells(node.value) else self.generic_visit(node)
        )

    def visit_Compare(self, node: ast.Compare) -> ast.AST:
        self.generic_visit(node)
        for table, said in ((TURNED, "comparison turned"), (COMPARED, "bound moved")):
            kind = type(node.ops[0])
            if kind in table and self._mine(node, said):
                node.ops[0] = table[kind]()
        return node

    def visit_BinOp(self, node: ast.BinOp) -> ast.AST:
        self.generic_visit(node)
        if any(
            isinstance(v, ast.Constant) and isinstance(v.value, float) and abs(v.value) < 1e-2
            for v in (node.left, node.right)
        ):
            return node  # a tolerance
        pairs = {ast.Add: ast.Sub, ast.Sub: ast.Add, ast.Mult: ast.Div, ast.Div: ast.Mult}
        if (
            type(node.op) in pairs
            and not isinstance(node.left, ast.JoinedStr | ast.List)
            and self._mine(node, "operator")
        ):
            node.op = pairs[type(node.op)]()
        if isinstance(node.op, ast.Add) and self._mine(node, "term dropped"):
            return node.left
        return node

    def visit_UnaryOp(self, node: ast.UnaryOp) -> ast.AST:
        self.generic_visit(node)
        if isinstance(node.op, ast.USub | ast.Not | ast.Invert) and self._mine(node, "sign or not"):
            return node.operand
        return node

    def visit_BoolOp(self, node: ast.BoolOp) -> ast.AST:
        self.generic_visit(node)
        if self._mine(node, "and for or"):
            node.op = ast.Or() if isinstance(node.op, ast.And) else ast.And()
        return node

    def visit_Constant(self, node: ast.Constant) -> ast.AST:
        value = node.value
        if isinstance(value, float) and 1e-3 < abs(value) < 1e6 and self._mine(node, f"{value:g} by a tenth"):
            return ast.copy_location(ast.Constant(value * 1.1), node)
        if isinstance(value, str) and value in ("left", "right", "bottom", "top") and self._mine(node, value):
            return ast.copy_location(
                ast.Constant({"left": "right", "right": "left", "bottom": "top", "top": "bottom"}[value]),
                node,
            )
        return node

    def visit_Subscript(self, node: ast.Subscript) -> ast.AST:
        self.generic_visit(node)
        index = node.slice
        if (
            isinstance(index, ast.Constant)
            and index.value in (0, 1)
            and not isinstance(index.value, bool)
            and self._mine(node, "index")
        ):
            node.slice = ast.Constant(1 - index.value)
        return node

    def visit_Attribute(self, node: ast.Attribute) -> ast.AST:
        self.generic_visit(node)
        if node.attr in NAMES and self._mine(node, f"{NAMES[node.attr]} for {node.attr}"):
            node.attr = NAMES[node.attr]
        return node

    def visit_Name(self, node: ast.Name) -> ast.AST:
        if (
            isinstance(node.ctx, ast.Load)
            and node.id in ("min", "max")
            and self._mine(node, f"{NAMES[node.id]} for {node.id}")
        ):
            node.id = NAMES[node.id]
        return node


def _tells(node: ast.AST) -> bool:
    return (
        isinstance(node, ast.Call)
        and isinstance(node.func, ast.Name)
        and node.func.id in ("tell", "record_line", "shared", "dropped")
    )


def places(path: Path) -> int:
    """How many faults a file has room for."""
    planter = _Planter(-1)
    planter.visit(ast.parse(path.read_text("utf-8")))
    return planter.seen


def fault(path: Path, wanted: int) -> Fault:
    tree = ast.parse(path.read_text("utf-8"))
    planter = _Planter(wanted)
    tree = ast.fix_missing_locations(planter.visit(tree))
    name = str(path.relative_to(HOME / "src" / "upright_bramble"))
    return Fault(name, planter.line, planter.said, ast.unparse(tree))


def chosen(seed: int, number: int, rooms: list[str]) -> list[Fault]:
    """So many faults, each place as likely as any other."""
    files = [p for room in rooms for p in sorted((HOME / "src" / "upright_bramble" / room).rglob("*.py"))]
    every = [(path, k) for path in files for k in range(places(path))]
    return [fault(path, k) for path, k in random.Random(seed).sample(every, number)]


def noticed(copy: Path, planted: Fault, then: list[str] | None) -> str:
    """Which tests notice: 'quick', 'later' (the ones of `then`; None: there are none), or ''."""
    target = copy / "src" / "upright_bramble" / planted.path
    original = target.read_text("utf-8")
    target.write_text(planted.text, "utf-8")
    try:
        names = dict.fromkeys((*CASES.get(planted.room, ()), *QUICK))
        local = [f"tests/{name}" for name in names if (copy / "tests" / name).exists()]
        slower = [f"tests/{name}" for name in THEN[planted.room.split("/")[0]] if name not in names]
        for name, tests in (("quick", local), ("later", slower if then == [] else then)):
            if tests and not _passes(copy, tests):
                return name
        return ""
    finally:
        target.write_text(original, "utf-8")


def _passes(copy: Path, tests: list[str]) -> bool:
    call = [sys.executable, "-m", "pytest", "-x", "-q", "-p", "no:cacheprovider", *tests]
    told = {**os.environ, "PYTHONPATH": str(copy / "src"), "PYTHONDONTWRITEBYTECODE": "1"}
    try:
        return (
            subprocess.run(call, cwd=copy, env=told, capture_output=True, timeout=900, check=False).returncode
            == 0
        )
    except subprocess.TimeoutExpired:
        return False


def main() -> None:
    parser = argparse.ArgumentParser(description=__doc__.splitlines()[0])
    parser.add_argument("--seed", type=int, default=1)
    parser.add_argument("--number", type=int, default=100)
    parser.add_argument("--rooms", default=",".join(ROOMS))
    parser.add_argument("--jobs", type=int, default=2)
    parser.add_argument("--quick", action="store_true", help="only the quick tests")
    parser.add_argument(
        "--places", default="", help="only the faults planted there: verify/gaps.py:90,codes/..."
    )
    parser.add_argument(
        "--then",
        nargs="*",
        default=[],
        help="tests to run where the quick ones notice nothing; those of the room by default",
    )
    given = parser.parse_args()
    faults = chosen(given.seed, given.number, given.rooms.split(","))
    if given.places:
        faults = [v for v in faults if f"{v.path}:{v.line}" in given.places.split(",")]
    result: Counter[tuple[str, str]] = Counter()
    with tempfile.TemporaryDirectory() as folder:
        copies = []
        for k in range(given.jobs):
            copies.append(Path(folder) / str(k))
            shutil.copytree(
                HOME, copies[-1], ignore=shutil.ignore_patterns(".git", "__pycache__", ".hypothesis", "docs")
            )

        if not _passes(
            copies[0],
            [
                f"tests/{name}"
                for name in dict.fromkeys((*QUICK, *(v for names in CASES.values() for v in names)))
            ],
        ):
            sys.exit("the quick tests fail without any fault")

        def work(k: int) -> list[tuple[Fault, str]]:
            done = []
            for planted in faults[k :: given.jobs]:
                by = noticed(copies[k], planted, None if given.quick else given.then)
                done.append((planted, by))
                print(f"{by or 'NOT NOTICED':<12} {planted.path}:{planted.line} {planted.said}", flush=True)
            return done

        with ThreadPoolExecutor(given.jobs) as pool:
            for planted, by in (item for part in pool.map(work, range(given.jobs)) for item in part):
                result[planted.room, by or "not"] += 1
    for room in ROOMS:
        counts = {by: result[room, by] for by in ("quick", "later", "not")}
        if sum(counts.values()):
            print(f"{room:<14} noticed {counts['quick'] + counts['later']:3d} of {sum(counts.values()):3d}")
    print(
        f"{'together':<14} noticed {sum(n for (_, by), n in result.items() if by != 'not')} of {len(faults)}"
    )


if __name__ == "__main__":
    main()
