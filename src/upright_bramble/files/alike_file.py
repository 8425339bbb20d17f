"""A file of alike beams: one layout for the envelope of several beam files."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import replace
from pathlib import Path
from typing import Annotated, Literal

from pydantic import Field

from upright_bramble import beam as b
from upright_bramble.beam.alike import TOLERANCE, differences, shared, unable
from upright_bramble.core.quantities import SYSTEMS, worded
from upright_bramble.core.topics import TOPICS
from upright_bramble.errors import InputFaults
from upright_bramble.files.amounts import Entry, Mark, Measured, Word
from upright_bramble.files.faults import partly_validated
from upright_bramble.files.folders import inside, outside_text
from upright_bramble.files.models import AboutIn
from upright_bramble.files.yaml_source import Source, load_yaml

Tolerance = Annotated[float, Measured("section", "difference of lengths", least=0.0, sensible=(0.0, 50.0))]
MAXIMUM = 100  # levels


class AlikeFile(Entry):
    """A beam file that shares one design among alike beams (NAME.beam.yaml with `envelope_of`)."""

    bramble: Literal[1]
    beam: Word
    mark: Mark
    envelope_of: Annotated[list[Word], Field(min_length=1, max_length=MAXIMUM)] = Field(
        description=(
            "beam files alike in all but loads, tables, columns and service limits; the first gives the "
            "geometry"
        )
    )
    tolerance: Tolerance = Field(
        TOLERANCE, description="that spans and supports may differ by; 10 mm when left out"
    )
    quantity: Annotated[int, Field(ge=1, le=10_000)] | None = Field(
        None, description="beams built; as many as the files have when left out"
    )
    about: AboutIn | None = None
    remarks: Annotated[dict[Word, Word], Field(max_length=500)] = Field(default_factory=dict)
    waive: dict[Word, Word] = Field(default_factory=dict)


def alike_beam(
    source: Source, folder: Path, root: Path | None, read: Callable[[Path, Path | None], b.Beam]
) -> b.Beam:
    """The beam that several files share, with these as its levels; `read` reads one. Raises InputFaults with
    all that is wrong in them."""
    units = next((u for u in (_units_of(folder, source),) if u), "si")
    given, faults = partly_validated(AlikeFile, source, units)
    if given is None:
        raise InputFaults(faults)
    levels: list[tuple[str, b.Beam]] = []
    for i, name in enumerate(given.envelope_of):
        path = ("envelope_of", i)
        file = inside(folder, name, root)
        if file is None:
            faults.append(source.fault(path, outside_text(name, folder, root)))
            continue
        label = file.name.removesuffix(".yaml").removesuffix(".beam")
        if label in dict(levels):
            faults.append(
                source.fault(path, f"a level is called '{label}' already; give each file its own name")
            )
        try:
            own = load_yaml(file).data
            if isinstance(own, dict) and "envelope_of" in own:
                faults.append(
                    source.fault(path, f"'{name[:60]}' shares a design itself; name its beams instead")
                )
                continue
            levels.append((label, read(file, root)))
        except InputFaults as error:
            faults += error.faults
    for topic, reason in given.waive.items():
        if topic not in TOPICS or topic == "practice" or len(reason.strip()) < 4:
            faults.append(
                source.fault(
                    ("waive", topic),
                    f"needs a topic ({', '.join(t for t in TOPICS if t != 'practice')}) and a reason",
                )
            )
    if levels:
        system = SYSTEMS[levels[0][1].units]
        for i, (label, beam) in enumerate(levels[1:], start=1):
            faults += [
                source.fault(("envelope_of", i), worded(f"{label}: {text}", system))
                for text in differences(levels[0][1], beam, given.tolerance)
            ]
        for i, (label, beam) in enumerate(levels):
            text = unable(beam)
            faults += [source.fault(("envelope_of", i), f"{label}: {text}")] if text else []
    if faults:
        raise InputFaults(list(dict.fromkeys(faults)))
    first = levels[0][1]
    about = {key: value for key, value in (given.about.model_dump() if given.about else {}).items() if value}
    waive = dict(given.waive)
    known = [(label, replace(beam, waive={**beam.waive, **waive})) for label, beam in levels]
    result = shared(known, given.mark, given.beam)
    return replace(
        result,
        quantity=given.quantity or result.quantity,
        about=about or first.about,
        remarks=dict(given.remarks),
    )


def _units_of(folder: Path, source: Source) -> str:
    """Of the first level: bare numbers here take them."""
    names = source.data.get("envelope_of") if isinstance(source.data, dict) else None
    try:
        data = (
            load_yaml(folder / names[0]).data
            if isinstance(names, list) and names and isinstance(names[0], str)
            else None
        )
    except InputFaults:
        return ""
    units = data.get("units") if isinstance(data, dict) else None
    return units if isinstance(units, str) and units in SYSTEMS else ""
