"""Many ordinary beams in one call: beams a second, and the memory of the program that hands them out.

    python benchmarks/floor.py [--beams 1000] [--jobs 2] [--code en1992-1-1] [--outputs json,layout]

The beams are those of `practice.py`, each in a file of its own, in a temporary folder. Memory is that of the parent process alone, seen ten
times a second: it must not grow with the number of beams.
"""

from __future__ import annotations

import argparse
import os
import re
import subprocess
import sys
import tempfile
import time
from pathlib import Path

import practice


def texts(code: str, number: int) -> list[str]:
    """Beam files of ordinary beams, with marks of their own."""
    made: list[str] = []
    read = practice.parse_yaml

    def noted(text: str, name: str) -> object:
        made.append(text)
        return read(text, name)

    practice.parse_yaml = noted  # type: ignore[assignment]
    try:
        result = []
        for k in range(number):
            practice.ordinary(code, 5000 + k)
            result.append(re.sub(r"^mark: .*$", f"mark: B{k:05d}", made[-1], flags=re.MULTILINE))
        return result
    finally:
        practice.parse_yaml = read  # type: ignore[assignment]


def resident(pid: int) -> float:
    """MB of a process; 0 when it has ended."""
    try:
        pages = int(Path(f"/proc/{pid}/statm").read_text().split()[1])
    except (OSError, IndexError):
        return 0.0
    return pages * os.sysconf("SC_PAGE_SIZE") / 2**20


def measured(folder: Path, jobs: int, outputs: str) -> tuple[float, list[float]]:
    """Seconds, and the parent's memory over time (MB)."""
    call = [
        sys.executable,
        "-m",
        "upright_bramble",
        "design",
        str(folder),
        "--jobs",
        str(jobs),
        "--outputs",
        outputs,
        "--quiet",
    ]
    began = time.monotonic()
    task = subprocess.Popen(call)
    seen = []
    while task.poll() is None:
        seen.append(resident(task.pid))
        time.sleep(0.1)
    return time.monotonic() - began, seen


def main() -> None:
    parser = argparse.ArgumentParser(
        description=__doc__, formatter_class=argparse.RawDescriptionHelpFormatter
    )
    parser.add_argument("--beams", type=int, default=1000)
    parser.add_argument("--jobs", type=int, default=2)
    parser.add_argument("--code", default="en1992-1-1")
    parser.add_argument("--outputs", default="json,layout")
    wish = parser.parse_args()
    with tempfile.TemporaryDirectory() as name:
        folder = Path(name)
        for k, text in enumerate(texts(wish.code, wish.beams)):
            (folder / f"b{k:05d}.beam.yaml").write_text(text, encoding="utf-8")
        seconds, memory = measured(folder, wish.jobs, wish.outputs)
        made = len(list(folder.glob("*/*.result.json")))
    tenth = memory[len(memory) // 10 :] or [0.0]
    print(
        f"{made} of {wish.beams} beams in {seconds:.1f} s: {made / seconds:.1f} a second with {wish.jobs} processes"
    )
    print(
        f"memory of the parent: {tenth[0]:.0f} MB after a tenth of the time, {max(memory):.0f} MB at most, {tenth[-1]:.0f} MB at the end"
    )


if __name__ == "__main__":
    main()
