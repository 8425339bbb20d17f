"""A beam file becomes a Beam: names resolved, units gone, every fault found in one go."""

from __future__ import annotations

from pathlib import Path

from upright_bramble import beam as b
from upright_bramble.errors import InputFaults
from upright_bramble.files import models as m
from upright_bramble.files.alike_file import alike_beam
from upright_bramble.files.beam.reader import assembled
from upright_bramble.files.beam.reading import Reading
from upright_bramble.files.faults import partly_validated
from upright_bramble.files.rules import with_rules
from upright_bramble.files.yaml_source import Source, load_yaml


def read_beam(path: str | Path, root: Path | None = None) -> b.Beam:
    """Read NAME.beam.yaml with what it names: shared rules and tables, inside `root` (the folder above the
    file's when left out).

    Raises InputFaults with all that is wrong in them.
    """
    source, folder = source_of(path, root), Path(path).parent
    if isinstance(source.data, dict) and "envelope_of" in source.data:
        return alike_beam(source, folder, root, read_beam)
    return beam_from(source, folder, root)


def source_of(path: str | Path, root: Path | None = None) -> Source:
    """A beam file with the rules that it shares. Raises InputFaults where it is no YAML."""
    return with_rules(load_yaml(Path(path)), Path(path).parent, root)


def beam_from(source: Source, folder: Path | None = None, root: Path | None = None) -> b.Beam:
    """A Beam from a loaded file; tables are looked for from `folder` on, inside `root`."""
    given, faults = partly_validated(m.BeamFile, source)
    if given is None:
        raise InputFaults(faults)
    return assembled(Reading(source, given, faults, folder, root))
