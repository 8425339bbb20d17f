"""Pydantic's errors in our words: place, fault, cure."""

from __future__ import annotations

import copy
import re
import types
import typing
from collections.abc import Mapping
from typing import Any, TypeVar, cast

from pydantic import BaseModel, ValidationError

from upright_bramble.core.quantities import RENAMED, SYSTEMS
from upright_bramble.errors import Fault, InputFaults
from upright_bramble.files.yaml_source import Path_, Source, nearest

M = TypeVar("M", bound=BaseModel)
MAXIMUM_FAULTS = 100  # listed of one file
BRIDGES = 3  # rounds of taking faulty entries out
_FORMS = (
    "list_type",
    "dict_type",
    "model_type",
    "model_attributes_type",
    "tuple_type",
)  # a value of another form than wanted

# In the product's contract, not in this version: an honest word instead of 'unknown key'.
_LATER = {"catalogue"}


def validated(model: type[M], source: Source, units: str | None = None) -> M:
    """The file as a typed model. Raises InputFaults with every fault of its form."""
    result, faults = partly_validated(model, source, units)
    if result is None or faults:
        raise InputFaults(faults)
    return result


def partly_validated(
    model: type[M], source: Source, units: str | None = None
) -> tuple[M | None, list[Fault]]:
    """The file as a typed model and the faults of its form.

    Where faults can be bridged by a stand-in the model is given beside them, so that the rest of the file can
    be looked through as well and all faults are told in one run; a model that comes with faults must not be
    used for more.
    """
    if not isinstance(source.data, dict):
        return None, [*source.faults, source.fault((), "is not a set of 'key: value' lines")]
    name = units or source.data.get("units", "si")
    context = {"units": SYSTEMS.get(name if isinstance(name, str) else "", SYSTEMS["si"])}
    # what came from shared rules was looked through as a part of these already: it is told once
    try:
        return model.model_validate(source.data, context=context), list(source.faults)
    except ValidationError as error:
        items = error.errors(include_url=False)
    faults = list(dict.fromkeys([*source.faults, *_faults(model, source, items)]))
    bridged = copy.deepcopy(source.data)
    for _ in range(BRIDGES):
        for path, item in _once_each(bridged, items):
            _bridge(bridged, path, item["type"])
        try:
            return model.model_validate(bridged, context=context), faults
        except ValidationError as error:
            items = error.errors(include_url=False)
    return None, faults


def _once_each(data: Any, items: list[Any]) -> list[tuple[Path_, Any]]:
    """Errors with their places, without those that say of a union that a value has not the form of its other
    members."""
    result = [(_path(data, item["loc"]), item) for item in items[:MAXIMUM_FAULTS]]
    reported = {path for path, item in result if item["type"] not in _FORMS}
    kept = []
    for path, item in result:
        if item["type"] in _FORMS:
            if any(other[: len(path)] == path for other in reported):
                continue
            reported.add(path)
        kept.append((path, item))
    return kept


def _faults(model: type[BaseModel], source: Source, items: list[Any]) -> list[Fault]:
    """Each fault once, in our words; of a value that may be one thing or a list of them, that of the form it
    was given in."""
    result: dict[tuple[Path_, str], Fault] = {}
    for path, item in _once_each(source.data, items):
        text = _words(model, item, path)
        result.setdefault((path, text), source.fault(path, text))
    faults = list(result.values())
    if len(items) > MAXIMUM_FAULTS:
        faults.append(
            Fault(
                source.name,
                0,
                "",
                f"has {len(items) - MAXIMUM_FAULTS:,} more faults; these are the first {MAXIMUM_FAULTS}",
            )
        )
    return faults


_STAND_INS: dict[str, Any] = {
    "bramble": 1, "beam": "-", "mark": "X", "code": "en1992-1-1", "units": "si",
    "concrete": {"strength": "30 MPa"},
    "reinforcement": {"yield": "500 MPa"}, "cover": {"top": "30 mm", "bottom": "30 mm", "sides": "30 mm"},
    "top": "30 mm",
    "bottom": "30 mm", "sides": "30 mm", "shape": "rectangle", "depth": "500 mm", "width": "300 mm",
    "span": "6 m",
    "kind": "permanent", "line": 0.0, "area": 0.0, "loaded_width": "1 m", "point": 0.0, "couple": 0.0,
    "at": 0.0, "torque": 0.0,
    "thickness": "100 mm",
}  # fmt: skip


def _bridge(data: Any, path: Path_, kind: str) -> None:
    """Take a faulty entry out, or put something harmless in its place."""
    here = data
    for part in path[:-1]:
        try:
            here = here[part]
        except (KeyError, IndexError, TypeError):
            return
    if not path:
        return
    key = path[-1]
    if (
        kind == "missing" and key not in _STAND_INS and len(path) > 1
    ):  # nothing stands in for it: the entry goes
        _bridge(data, path[:-1], "")
        return
    if isinstance(here, dict):
        if kind != "extra_forbidden" and key in _STAND_INS:
            here[key] = copy.deepcopy(_STAND_INS[str(key)])
        else:
            here.pop(key, None)
    elif isinstance(here, list) and isinstance(key, int) and key < len(here) and path[-2:-1] == ("loads",):
        here[key] = {"line": 0.0}


RENAMED_KEYS = {
    "strip": "loaded_width", "notes": "remarks", "ties": "stirrups", "asked": "forces",
}  # fmt: skip
RENAMED_VALUES = {**RENAMED, "in turn": "staggered", "as far as allowed": "maximum"}
"""Words of earlier versions of the files."""

_KEY = re.compile(r"[a-z_]+")  # as keys are spelled, not the names of models and of their union's members
_TAGGED = ("line", "loads")  # lists whose entries are of several kinds: the kind's name follows the index


def _path(data: Any, loc: tuple[int | str, ...]) -> Path_:
    """Pydantic's location without the names of union members."""
    path: list[int | str] = []
    here: Any = data
    for number, part in enumerate(loc):
        if number > 1 and isinstance(loc[number - 1], int) and loc[number - 2] in _TAGGED:
            continue
        known = isinstance(here, dict) and part in here
        known = known or (isinstance(here, list) and isinstance(part, int) and part < len(here))
        if known:
            here = cast(Any, here)[part]
        elif (
            number < len(loc) - 1
            or not isinstance(part, str)
            or not isinstance(here, dict)
            or not _KEY.fullmatch(part)
        ):
            continue
        path.append(part)
    return tuple(path)


def _fields(model: type[BaseModel], path: Path_) -> list[str]:
    """Keys known where an unknown key stands, whichever form the entry around it has."""
    here: list[Any] = [model]
    for part in path[:-1]:
        here = [inner for kind in here for inner in _inside(kind, part)]
    models = [m for kind in here for m in _members(kind) if isinstance(m, type) and issubclass(m, BaseModel)]
    return list(dict.fromkeys(f.alias or n for m in models for n, f in m.model_fields.items()))


def _members(kind: Any) -> list[Any]:
    """A type without its annotations, or the members of a union."""
    origin = typing.get_origin(kind)
    if origin is typing.Annotated:
        return _members(typing.get_args(kind)[0])
    if origin in (typing.Union, types.UnionType):
        return [m for part in typing.get_args(kind) for m in _members(part)]
    return [kind]


def _inside(kind: Any, part: str | int) -> list[Any]:
    """The types of what stands under a key or index."""
    result: list[Any] = []
    for member in _members(kind):
        origin, args = typing.get_origin(member), typing.get_args(member)
        if origin is dict:
            result.append(args[1])
        elif origin in (list, tuple) and isinstance(part, int):
            result += [a for a in args if a is not Ellipsis]
        elif isinstance(member, type) and issubclass(member, BaseModel):
            result += [f.annotation for n, f in member.model_fields.items() if part == (f.alias or n)]
    return result


def _words(model: type[BaseModel], item: Any, path: Path_) -> str:
    """What is wrong with one entry, in words of a beam's describer."""
    kind, given, ctx = item["type"], item.get("input"), item.get("ctx") or {}
    if kind == "extra_forbidden":
        return _unknown(model, item, path)
    if kind == "missing" or (kind == "size" and item["msg"] == "missing"):
        return f"'{path[-1] if path else ''}' is missing"
    if kind in ("unit", "bar", "mark", "size", "fire", "structural"):
        return str(item["msg"])
    if kind == "literal_error":
        if isinstance(given, str) and given in RENAMED_VALUES:
            return f"'{given}' is called '{RENAMED_VALUES[given]}' now"
        return f"{_shown(given)} is not one of {ctx.get('expected', '')}"
    if kind in ("line_entry", "load_entry"):
        later = next((k for k in given if k in _LATER), None) if isinstance(given, dict) else None
        return f"'{later}' is not in this version yet; leave it out" if later else str(item["msg"])
    if kind in _EXPECTED:
        return f"{_shown(given)} is not {_EXPECTED[kind]}"
    if kind == "string_too_short":
        return "is empty"
    return _beyond(kind, given, ctx) or f"{_shown(given)}: {item['msg'][0].lower()}{item['msg'][1:]}"


def _unknown(model: type[BaseModel], item: Any, path: Path_) -> str:
    """A key that there is not, not yet, or under another name."""
    key = str(path[-1]) if path else ""
    if key in _LATER:
        return f"'{key}' is not in this version yet; leave it out"
    if key in RENAMED_KEYS:
        return f"'{key}' is called '{RENAMED_KEYS[key]}' now"
    return f"unknown key '{key[:40]}'" + _near(model, item, path, key)


def _beyond(kind: str, given: Any, ctx: Mapping[str, Any]) -> str:
    """A number out of its bounds, or a list or text of another length than is read; '' for other kinds."""
    if kind in ("greater_than_equal", "greater_than", "less_than_equal", "less_than"):
        words = {"ge": "at least", "gt": "more than", "le": "at most", "lt": "less than"}
        sign, bound = next(iter(ctx.items()))
        return f"{_shown(given)} must be {words[sign]} {bound}"
    if kind in ("too_long", "string_too_long"):
        of = "entries" if kind == "too_long" else "characters"
        return f"{_shown(given)} is too long: at most {ctx.get('max_length')} {of} are read"
    if kind == "too_short":
        least = ctx.get("min_length")
        needed = f"at least {least} {'is' if least == 1 else 'are'} needed"
        return f"{_shown(given)} has too few entries: {needed}"
    return ""


_EXPECTED = {
    "float_parsing": "a number", "float_type": "a number",
    "int_parsing": "a whole number", "int_type": "a whole number",
    "int_from_float": "a whole number", "bool_parsing": "true or false", "bool_type": "true or false",
    "string_type": "text", "list_type": "a list [..., ...]", "dict_type": "a set of 'key: value'",
    "model_type": "a set of 'key: value'",
    "tuple_type": "a list [..., ...]", "finite_number": "a finite number",
}  # fmt: skip


def _near(model: type[BaseModel], item: Any, path: Path_, key: str) -> str:
    from upright_bramble.files import models

    tagged: dict[str, Any] = {
        "support": models.SupportIn,
        "span": models.SpanIn,
        "line": models.LineLoadIn,
        "area": models.AreaLoadIn,
        "point": models.PointLoadIn,
        "couple": models.CoupleLoadIn,
        "torque": models.TorqueIn,
    }
    tag = item["loc"][-2] if len(item["loc"]) > 2 else None
    if isinstance(tag, str) and tag in tagged and len(item["loc"]) != len(path):
        fields = [f.alias or n for n, f in tagged[tag].model_fields.items()]
    else:
        fields = _fields(model, path)
    return nearest(key, fields) if fields else ""


def _shown(value: Any) -> str:
    text = str(value)
    return f"'{text[:40]}{'…' if len(text) > 40 else ''}'"
