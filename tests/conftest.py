"""Beams to test with, and a way to run the built program on files in a temporary folder."""

from __future__ import annotations

import gc
import json
import os
import shutil
import subprocess
import sys
import time
from dataclasses import dataclass
from pathlib import Path

import pytest
from hypothesis import HealthCheck, settings

import in_process
import yaml_beams

settings.register_profile(
    "project", deadline=None, max_examples=16, suppress_health_check=[HealthCheck.too_slow, HealthCheck.function_scoped_fixture],
    derandomize=True,
)  # fmt: skip
settings.load_profile("project")


def pytest_collection_finish() -> None:
    """What was read so far stays, and the tests make few cycles: seeking them took a tenth of the suite's time and more."""
    gc.collect()
    gc.freeze()
    gc.set_threshold(200_000, 50, 100)


@dataclass(frozen=True)
class Ran:
    status: int
    out: str
    err: str

    @property
    def json(self) -> dict:
        return json.loads(self.out)


@dataclass(frozen=True)
class Demo:
    """What `bramble demo` made and said, once for all tests and all their processes."""

    folder: Path
    said: Ran

    def copied(self, into: Path) -> Path:
        """A copy that a test may change."""
        return Path(shutil.copytree(self.folder, into / "bramble-demo"))


class Program:
    """`bramble` in a folder of its own: called in this process, or with `env` started as its users start it."""

    def __init__(self, folder: Path) -> None:
        self.folder = folder

    def __call__(self, *args: str, env: dict | None = None) -> Ran:
        if env is None:
            seen = in_process.run(self.folder, args)
            ran = Ran(seen.status, seen.out, seen.err)
        else:
            done = subprocess.run(
                [sys.executable, "-m", "upright_bramble", *args], cwd=self.folder, capture_output=True, timeout=120,
                env={**os.environ, "PYTHONIOENCODING": "utf-8", **env}, check=False,
            )  # fmt: skip
            ran = Ran(done.returncode, done.stdout.decode("utf-8"), done.stderr.decode("utf-8"))
        assert "Traceback" not in ran.err, ran.err
        assert "bramble itself failed" not in ran.err, ran.err
        return ran

    def write(self, name: str, text: str) -> Path:
        path = self.folder / name
        path.write_text(text, encoding="utf-8")
        return path


@pytest.fixture
def bramble(tmp_path: Path) -> Program:
    return Program(tmp_path)


@pytest.fixture(scope="session")
def deck():
    """The demo deck: three spans and a cantilever, read as a user's file."""
    from upright_bramble.files.beam_file import beam_from
    from upright_bramble.files.yaml_source import parse_yaml

    return beam_from(parse_yaml(yaml_beams.demo("boathouse-deck"), "deck"))


@pytest.fixture(scope="session")
def deck_design(deck):
    import upright_bramble as ub

    return ub.design(deck)


@pytest.fixture(scope="session")
def demo(tmp_path_factory) -> Demo:
    """The demo, run by the process that comes first; the others wait for what it said."""
    root = tmp_path_factory.getbasetemp()
    root = root.parent if os.environ.get("PYTEST_XDIST_WORKER") else root
    folder, said = root / "demo", root / "demo-said.json"
    try:
        folder.mkdir()
    except FileExistsError:
        until = time.monotonic() + 300.0
        while not said.exists() and time.monotonic() < until:
            time.sleep(0.1)
    else:
        seen = in_process.run(folder, ("demo", "--jobs", "2"))
        aside = said.with_suffix(".aside")
        aside.write_text(json.dumps([seen.status, seen.out, seen.err]), "utf-8")
        aside.replace(said)
    return Demo(folder / "bramble-demo", Ran(*json.loads(said.read_text("utf-8"))))
