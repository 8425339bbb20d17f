"""A plugin of pytest for the planter of faults: which test executes which line, and only some tests in an order of their own.

Not loaded by the suite; `tests/planter.py` does, with `-p touched` and one of

    TOUCHED_INTO    a folder: each process writes `touched-*.pickle` there, {file: {line: [test]}} and {test: seconds} of those that passed
    TOUCHED_ONLY    a file with one test a line: these are run, file by file in the order in which they are named
"""

from __future__ import annotations

import functools
import os
import pickle
import sys
import time
from collections.abc import Iterator
from pathlib import Path
from typing import Any

import pytest

PACKAGE = Path(__file__).parent.parent / "src" / "upright_bramble"


class _Recorder:
    def __init__(self, into: Path) -> None:
        import coverage

        self.into = into
        self.seconds: dict[str, float] = {}
        self.failed: set[str] = set()
        self.modules = 0
        self.known: list[Any] = []
        self.coverage = coverage.Coverage(data_file=None, source=[str(PACKAGE)], config_file=False)
        self.coverage.start()

    @pytest.hookimpl(wrapper=True)
    def pytest_runtest_protocol(self, item: pytest.Item) -> Iterator[None]:
        for kept in self._caches():  # what an earlier test has left there would hide lines
            kept.cache_clear()
        began = time.monotonic()
        self.coverage.switch_context(item.nodeid)
        done = yield
        self.coverage.switch_context("")
        self.seconds[item.nodeid] = time.monotonic() - began
        return done

    def _caches(self) -> list[Any]:
        """Of the package's functions; modules that are imported late have theirs too."""
        loaded = {name: m for name, m in sys.modules.items() if name.startswith("upright_bramble")}
        if len(loaded) != self.modules:
            self.modules = len(loaded)
            self.known = [
                v
                for m in loaded.values()
                for v in vars(m).values()
                if isinstance(v, functools._lru_cache_wrapper)
            ]
        return self.known

    def pytest_runtest_logreport(self, report: pytest.TestReport) -> None:
        if report.failed:
            self.failed.add(report.nodeid)

    def pytest_sessionfinish(self) -> None:
        self.coverage.stop()
        data = self.coverage.get_data()
        lines = {
            str(Path(name).relative_to(PACKAGE)): {
                line: [v for v in tests if v] for line, tests in data.contexts_by_lineno(name).items()
            }
            for name in data.measured_files()
        }
        passed = {name: taken for name, taken in self.seconds.items() if name not in self.failed}
        (self.into / f"touched-{os.getpid()}.pickle").write_bytes(pickle.dumps((lines, passed)))


class _Chooser:
    def __init__(self, names: list[str]) -> None:
        self.order = {name: k for k, name in enumerate(names)}

    def pytest_collection_modifyitems(self, items: list[pytest.Item]) -> None:
        items[:] = sorted((v for v in items if v.nodeid in self.order), key=lambda v: self.order[v.nodeid])


def pytest_configure(config: pytest.Config) -> None:
    hands_out = bool(getattr(config.option, "numprocesses", None)) and not hasattr(config, "workerinput")
    if (into := os.environ.get("TOUCHED_INTO")) and not hands_out:
        config.pluginmanager.register(_Recorder(Path(into)))
    if only := os.environ.get("TOUCHED_ONLY"):
        config.pluginmanager.register(_Chooser(Path(only).read_text("utf-8").splitlines()))
