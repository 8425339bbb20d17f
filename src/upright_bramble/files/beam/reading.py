"""A beam file while it is read: its faults, units and what its parts share."""

from __future__ import annotations

from pathlib import Path

from upright_bramble import beam as b
from upright_bramble.core.quantities import SYSTEMS, UnitSystem, worded
from upright_bramble.errors import Fault
from upright_bramble.files import models as m
from upright_bramble.files.yaml_source import Path_, Source


class Reading:
    """Collects faults while a beam is put together."""

    def __init__(
        self, source: Source, given: m.BeamFile, faults: list[Fault], folder: Path | None, root: Path | None
    ) -> None:
        self.source, self.given, self.folder, self.root = source, given, folder or Path(), root
        self.faults = list(faults)
        self.reported = {f.key for f in faults}
        self.units: UnitSystem = SYSTEMS[given.units]
        self.profiles = dict(given.profiles)
        self.cover = b.Cover(30.0, 30.0, 30.0)
        self.proposed: tuple[str, ...] = ()
        self.loads = 0
        self.cautions: list[str] = []

    def wrong(self, path: Path_, text: str) -> None:
        """Note a fault, unless the entry stands in for one that is reported already."""
        fault = self.source.fault(path, worded(text, self.units))
        if not any(fault.key == key or fault.key.startswith((f"{key}.", f"{key}[")) for key in self.reported):
            self.faults.append(fault)
