"""Plants single faults in the core, one at a time, and tells which of them the tests notice.

    python tests/planter.py --seed 7 --number 100 [--rooms verify,codes] [--jobs 2] [--seconds 60] [--touched FOLDER] [--slow]

A fault is a sign, a bound (`<` for `<=`), a minimum for a maximum, left for right, top for bottom, another index, a constant by a tenth, a
term that is dropped. First the suite is run once, with `--slow` and the tests that CI alone runs, and which test executes which line is
written down (into FOLDER, where one is given; it is read again as long as the program is the same). Then each fault is planted in a copy of the program, and the tests that execute its
line are run, quick and searching ones first, until one fails or the next would exceed so many seconds (0: no end). What is not noticed is
printed with its place: a person says whether it changes anything at all.
"""

from __future__ import annotations

import argparse
import ast
import hashlib
import os
import pickle
import random
import shutil
import subprocess
import sys
import tempfile
from collections import Counter, defaultdict
from collections.abc import Iterator
from concurrent.futures import ThreadPoolExecutor
from contextlib import contextmanager
from dataclasses import dataclass
from pathlib import Path

HOME = Path(__file__).parent.parent
PACKAGE = Path("src") / "upright_bramble"
ROOMS = (
    "analysis", "codes/aci318", "codes/en1992", "codes/csa_a23", "codes/is456", "codes/bs8110", "codes/parts", "section", "verify",
    "proportion",
)  # fmt: skip
SEARCHING = (  # these hold numbers to what a person worked out: a second of them notices more
    "test_tables.py", "test_small_parts.py", "test_verdict.py", "test_answers_by_hand.py", "test_handed_over.py", "test_by_hand.py",
    "test_pins.py", "test_code.py", "test_mirror.py", "test_cover_by_hand.py", "test_reference_cases.py", "test_aci_cases.py",
    "test_aci_2014.py", "test_csa_cases.py", "test_csa_beams.py", "test_is456_cases.py", "test_bs8110_cases.py", "test_printed_bending.py",
    "test_line.py", "test_analysis.py", "test_actions.py", "test_section.py", "test_proportion.py", "test_zoning.py",
)  # fmt: skip
ENDLESS = 600.0  # s: with a fault that keeps tests from ending nothing passes
EVERY = ("-m", "slow or not slow")
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
    lines: range
    """those of the statement that it is in (of a block: of its head)"""

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
    name = str(path.relative_to(HOME / PACKAGE))
    return Fault(name, planter.line, planter.said, ast.unparse(tree), _statement(path, planter.line))


def _statement(path: Path, line: int) -> range:
    """Lines of the innermost statement that a line is in."""
    best = range(line, line + 1)
    for node in ast.walk(ast.parse(path.read_text("utf-8"))):
        if isinstance(node, ast.stmt) and node.lineno <= line <= (node.end_lineno or node.lineno):
            body = getattr(node, "body", None)
            end = body[0].lineno if body and body[0].lineno > line else (node.end_lineno or node.lineno) + 1
            best = range(node.lineno, end)  # a walk comes by inner statements after outer ones
    return best


def chosen(seed: int, number: int, rooms: list[str]) -> list[Fault]:
    """So many faults, each place as likely as any other."""
    files = [p for room in rooms for p in sorted((HOME / PACKAGE / room).rglob("*.py"))]
    every = [(path, k) for path in files for k in range(places(path))]
    return [fault(path, k) for path, k in random.Random(seed).sample(every, number)]


@dataclass(frozen=True)
class Touched:
    """Which tests execute which line, and how long each takes, s."""

    lines: dict[str, dict[int, set[str]]]
    seconds: dict[str, float]

    def by(self, planted: Fault, seconds: float) -> list[str]:
        """Tests that execute the statement of a fault (of what runs when it is read only: the file), in the order in which they are to run."""
        of_file = self.lines.get(planted.path, {})
        names = set().union(*(of_file.get(line, set()) for line in planted.lines))
        names = (names or set().union(*of_file.values())) & self.seconds.keys()
        chosen, left = [], seconds or float("inf")
        for name in sorted(names, key=lambda v: (self._rank(v), v)):
            left -= self.seconds[name]
            if left < 0.0:
                break
            chosen.append(name)
        return self._by_file(chosen)

    def _rank(self, name: str) -> float:
        return self.seconds[name] / (10.0 if _file(name) in SEARCHING else 1.0)

    def _by_file(self, names: list[str]) -> list[str]:
        """File by file, since what a file prepares is prepared once."""
        files: dict[str, list[str]] = defaultdict(list)
        for name in names:
            files[_file(name)].append(name)
        rank = {file: sum(self._rank(v) for v in tests) for file, tests in files.items()}
        return [name for file in sorted(files, key=lambda v: (rank[v], v)) for name in files[file]]


def _file(name: str) -> str:
    return name.split("::")[0].removeprefix("tests/")


def touched(copy: Path, jobs: int, into: Path, slow: bool = False) -> Touched:
    """What each test executes: by a run of the suite, if there was none for this program."""
    into.mkdir(parents=True, exist_ok=True)
    mark = into / f"touched-{_checksum(copy)}{'-slow' if slow else ''}.program"
    which = EVERY if slow else ()
    if not mark.exists():
        for old in into.glob("touched-*"):  # and nothing else that lies there
            old.unlink()
        if not _passes(copy, "-n", str(jobs), "--dist", "worksteal", *which, TOUCHED_INTO=str(into)):
            print("some tests fail without any fault: they are left out", flush=True)
        mark.touch()
    lines: dict[str, dict[int, set[str]]] = defaultdict(lambda: defaultdict(set))
    seconds: dict[str, float] = {}
    for path in sorted(into.glob("touched-*.pickle")):
        of_process, taken = pickle.loads(path.read_bytes())
        seconds |= taken
        for file, by_line in of_process.items():
            for line, tests in by_line.items():
                lines[file][line].update(tests)
    return Touched(lines, seconds)


def _checksum(copy: Path) -> str:
    total = hashlib.sha256()
    for path in sorted((copy / PACKAGE).rglob("*.py")):
        total.update(path.read_bytes())
    return total.hexdigest()[:16]


@contextmanager
def _planted(copy: Path, fault: Fault) -> Iterator[None]:
    """The program with a fault; afterwards as it was, to its time, since compiled files are told by it."""
    target = copy / PACKAGE / fault.path
    original, time = target.read_text("utf-8"), target.stat()
    target.write_text(fault.text, "utf-8")
    try:
        yield
    finally:
        target.write_text(original, "utf-8")
        os.utime(target, ns=(time.st_atime_ns, time.st_mtime_ns))


def noticed(copy: Path, planted: Fault, tests: list[str]) -> bool:
    """Whether one of the tests fails."""
    if not tests:
        return False
    only = copy / "only.txt"
    only.write_text("\n".join(tests), "utf-8")
    files = dict.fromkeys(f"tests/{_file(v)}" for v in tests)
    with _planted(copy, planted):
        return not _passes(copy, "-x", *EVERY, *files, TOUCHED_ONLY=str(only), PYTHONDONTWRITEBYTECODE="1")


def _passes(copy: Path, *args: str, **told: str) -> bool:
    call = [sys.executable, "-m", "pytest", "-q", "-p", "no:cacheprovider", "-p", "touched", *args]
    paths = os.pathsep.join(str(copy / v) for v in ("src", "tests"))
    try:
        done = subprocess.run(
            call, cwd=copy, env={**os.environ, "PYTHONPATH": paths, **told}, capture_output=True, timeout=ENDLESS,
            check=False,
        )  # fmt: skip
    except subprocess.TimeoutExpired:
        return False
    return done.returncode in (0, 5)  # 5: none of these tests is there any more


def _parsed() -> argparse.Namespace:
    parser = argparse.ArgumentParser(description=__doc__.splitlines()[0])
    parser.add_argument("--seed", type=int, default=1)
    parser.add_argument("--number", type=int, default=100)
    parser.add_argument("--rooms", default=",".join(ROOMS))
    parser.add_argument("--jobs", type=int, default=2)
    parser.add_argument("--seconds", type=float, default=60.0, help="of tests for a fault; 0: all of them")
    parser.add_argument("--touched", help="a folder in which to keep what each test executes")
    parser.add_argument("--slow", action="store_true", help="with the tests that CI alone runs")
    parser.add_argument(
        "--places", default="", help="only the faults planted there: verify/gaps.py:90,codes/..."
    )
    return parser.parse_args()


def main() -> None:
    given = _parsed()
    faults = chosen(given.seed, given.number, given.rooms.split(","))
    if given.places:
        faults = [v for v in faults if f"{v.path}:{v.line}" in given.places.split(",")]
    result: Counter[tuple[str, bool]] = Counter()
    with tempfile.TemporaryDirectory() as folder:
        copies = [Path(folder) / str(k) for k in range(given.jobs)]
        for copy in copies:
            ignored = shutil.ignore_patterns(".git", "__pycache__", ".hypothesis", "docs")
            shutil.copytree(HOME, copy, ignore=ignored)
        known = touched(copies[0], given.jobs, Path(given.touched or Path(folder) / "touched"), given.slow)
        for copy in copies:
            _passes(copy, "--collect-only", PYTHONDONTWRITEBYTECODE="")  # compiles everything

        def work(k: int) -> list[tuple[Fault, bool]]:
            done = []
            for planted in faults[k :: given.jobs]:
                tests = known.by(planted, given.seconds)
                by = noticed(copies[k], planted, tests)
                done.append((planted, by))
                said = "noticed" if by else f"NOT by {len(tests)}"
                print(f"{said:<12} {planted.path}:{planted.line} {planted.said}", flush=True)
            return done

        with ThreadPoolExecutor(given.jobs) as pool:
            for planted, by in (item for part in pool.map(work, range(given.jobs)) for item in part):
                result[planted.room, by] += 1
    for room in ROOMS:
        if number := result[room, True] + result[room, False]:
            print(f"{room:<14} noticed {result[room, True]:3d} of {number:3d}")
    print(f"{'together':<14} noticed {sum(result[v, True] for v in ROOMS)} of {len(faults)}")


if __name__ == "__main__":
    main()
