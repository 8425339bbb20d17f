"""Rules that many beam files share: laid under the beam's own keys, each value remembering the file and the
line that it came from."""

from __future__ import annotations

from collections.abc import Iterator, Mapping, Sequence
from dataclasses import dataclass, field, replace
from pathlib import Path
from typing import Any

from upright_bramble.core.quantities import SYSTEMS, UnitSystem, bare
from upright_bramble.errors import Fault, InputFaults
from upright_bramble.files import models as m
from upright_bramble.files.faults import partly_validated
from upright_bramble.files.folders import inside, outside_text
from upright_bramble.files.yaml_source import Path_, Source, load_yaml

INSTEAD: dict[Path_, tuple[frozenset[str], ...]] = {
    ("concrete",): (frozenset({"grade"}), frozenset({"strength"})),
    ("reinforcement",): (frozenset({"bars", "stirrups"}), frozenset({"yield"})),
}
"""Keys that stand for one another: a later file's drop those of an earlier one."""
GOVERNED: dict[Path_, dict[str, frozenset[str]]] = {
    (): {"code": frozenset({"annex", "code_values"})},
    ("cover",): {"exposure": frozenset({"top", "bottom", "sides"})},
    ("detailing",): {"main_bars": frozenset({"top_bars", "bottom_bars"})},
}
"""Keys whose later value makes others of an earlier file meaningless: an annex belongs to its code."""
REPLACED_SETS = ("profiles",)  # sets whose entries are taken whole, by name
_KEYS = tuple(f.alias or name for name, f in m.RulesFile.model_fields.items() if name != "bramble_rules")


def with_rules(source: Source, folder: Path, root: Path | None = None) -> Source:
    """The beam file with what it takes from the files under `rules`, later ones over earlier ones, its own
    keys over all.

    Faults of the rules are in the Source, with their own file and line.
    """
    names = source.data.get("rules") if isinstance(source.data, dict) else None
    if not isinstance(names, list) or not names:
        return source
    layers: list[Source] = []
    faults: list[Fault] = []
    for i, name in enumerate(names[:20]):
        if not isinstance(name, str):
            continue  # told by the form of the beam file
        layer, wrong = _layer(source, ("rules", i), name, folder, root)
        faults += wrong
        layers += [layer] if layer is not None else []
    return laid_over(source, layers, faults)


def laid_over(source: Source, layers: Sequence[Source], faults: Sequence[Fault] = ()) -> Source:
    """A beam file over files of rules, the later ones over the earlier."""
    merged = _Merged(source)
    for layer in layers:
        merged.lay(layer)
    units = source.data.get("units") or merged.data.get("units") or "si"
    return merged.under(source, SYSTEMS.get(units if isinstance(units, str) else "si", SYSTEMS["si"]), faults)


def _layer(
    source: Source, path: Path_, name: str, folder: Path, root: Path | None
) -> tuple[Source | None, list[Fault]]:
    """A rules file, looked through; None where there is nothing to take from it."""
    file = inside(folder, name, root)
    if file is None:
        return None, [source.fault(path, outside_text(name, folder, root))]
    try:
        read = load_yaml(file)
    except InputFaults as error:
        missing = [f for f in error.faults if not f.line]
        if missing:
            return None, [source.fault(path, f"'{name[:60]}' {f.text}") for f in missing]
        return None, [replace(f, file=name) for f in error.faults]
    read = Source(name, read.data, read.lines, tuple(replace(f, file=name) for f in read.faults))
    if not isinstance(read.data, dict) or "bramble_rules" not in read.data:
        return None, [read.fault((), "is no file of rules: it begins with 'bramble_rules: 1'")]
    _, faults = partly_validated(m.RulesFile, read)
    return read, faults


@dataclass
class _Merged:
    """What was laid so far: data, and by place the line, the file and the place there, and the units of bare
    numbers."""

    source: Source
    data: dict[str, Any] = field(default_factory=dict)
    lines: dict[Path_, int] = field(default_factory=dict)
    origins: dict[Path_, tuple[str, Path_]] = field(default_factory=dict)
    systems: dict[Path_, str | None] = field(default_factory=dict)

    def lay(self, layer: Source) -> None:
        """A file over those before it."""
        units = layer.data.get("units")
        system = units if isinstance(units, str) and units in SYSTEMS else None
        self._drop(self.data, (), layer.data)
        for key in _KEYS:
            if key not in layer.data:
                continue
            to: Path_ = ("detailing", "rates") if key == "rates" else (key,)
            if key == "rates":
                detailing = self.data.setdefault("detailing", {})
                if isinstance(detailing, dict):
                    self._put(detailing, to, layer.data[key], layer, (key,), system)
                continue
            self._put(self.data, to, layer.data[key], layer, (key,), system)

    def _put(
        self, into: dict[str, Any], to: Path_, value: Any, layer: Source, at: Path_, system: str | None
    ) -> None:
        """A value at its place, set by set; what it stands for, or makes meaningless, goes."""
        parent, key = to[:-1], str(to[-1])
        if isinstance(value, dict) and not (parent and parent[0] in REPLACED_SETS):
            if not isinstance(into.get(key), dict):
                self._forget(to)
                into[key] = {}
            self._known(to, layer, at, system)
            self._drop(into[key], to, value)
            for name, inner in value.items():
                self._put(into[key], (*to, name), inner, layer, (*at, name), system)
            return
        self._forget(to)
        into[key] = value
        for path in _places(value, ()):
            self._known((*to, *path), layer, (*at, *path), system)

    def _known(self, to: Path_, layer: Source, at: Path_, system: str | None) -> None:
        self.lines[to], self.origins[to], self.systems[to] = (
            layer.line(at),
            layer.origins.get(at, (layer.name, at)),
            system,
        )

    def _forget(self, to: Path_) -> None:
        for known in (self.lines, self.origins, self.systems):
            for path in [p for p in known if p[: len(to)] == to]:
                del known[path]

    def _drop(self, into: dict[str, Any], parent: Path_, later: Mapping[str, Any]) -> None:
        """What keys of a later file stand for, or make meaningless."""
        gone: set[str] = set()
        groups = INSTEAD.get(parent, ())
        for group in groups:
            if any(later.keys() & other for other in groups if other is not group):
                gone |= group
        for key, meaningless in GOVERNED.get(parent, {}).items():
            # an annex that came before any code belongs to the one that comes
            known = key in into if parent == () else True
            if key in later and known and into.get(key) != later[key]:
                gone |= meaningless
        for name in (gone - later.keys()) & into.keys():
            del into[name]
            self._forget((*parent, name))

    def under(self, source: Source, system: UnitSystem, faults: Sequence[Fault]) -> Source:
        """The beam's own keys over all that was laid, bare numbers of other units marked as such."""
        self._drop(self.data, (), source.data)
        for key, value in source.data.items():
            if key in _KEYS and key != "rates":
                self._put(self.data, (key,), value, Source("", source.data, source.lines), (key,), None)
            else:
                self._forget((key,))
                self.data[key] = value
        origins = {p: o for p, o in self.origins.items() if o[0]}
        data = _in_units(self.data, (), {p: self.systems.get(p) for p in origins}, system)
        lines = {**source.lines, **{p: self.lines[p] for p in origins}}
        return Source(source.name, data, lines, (*source.faults, *faults), origins)


def _places(value: Any, path: Path_) -> Iterator[Path_]:
    yield path
    if isinstance(value, dict):
        for key, inner in value.items():
            yield from _places(inner, (*path, key))
    elif isinstance(value, list):
        for i, inner in enumerate(value):
            yield from _places(inner, (*path, i))


def _in_units(value: Any, path: Path_, systems: Mapping[Path_, str | None], system: UnitSystem) -> Any:
    """A copy whose bare numbers from files of other units say so."""
    if isinstance(value, dict):
        return {key: _in_units(inner, (*path, key), systems, system) for key, inner in value.items()}
    if isinstance(value, list):
        return [_in_units(inner, (*path, i), systems, system) for i, inner in enumerate(value)]
    own = systems.get(path)
    if own is None or own == system.name or isinstance(value, bool) or not isinstance(value, (int, float)):
        return value
    return bare(value, SYSTEMS[own])
