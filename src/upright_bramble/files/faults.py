"""Pydantic's errors in our words: place, fault, cure."""

from __future__ import annotations

import copy
from typing import Any, TypeVar, cast

from pydantic import BaseModel, ValidationError

from upright_bramble.errors import Fault, InputFaults
from upright_bramble.files.yaml_source import Path_, Source, nearest
from upright_bramble.units import SYSTEMS

M = TypeVar("M", bound=BaseModel)

# In the product's contract, not in this version: an honest word instead of 'unknown key'.
_LATER = {
    "exposure", "fire",
    "catalogue", "precamber", "quantity",
}  # fmt: skip


def validated(model: type[M], source: Source, units: str | None = None) -> M:
    """The file as a typed model. Raises InputFaults with every fault of its form."""
    found, faults = tried(model, source, units)
    if found is None or faults:
        raise InputFaults(faults)
    return found


def tried(model: type[M], source: Source, units: str | None = None) -> tuple[M | None, list[Fault]]:
    """The file as a typed model and the faults of its form.

    Where faults can be bridged by a stand-in the model is given beside them, so that the rest of the file can be looked
    through as well and all faults are told in one run; a model that comes with faults must not be used for more.
    """
    if not isinstance(source.data, dict):
        return None, [source.fault((), "is not a set of 'key: value' lines")]
    name = units or source.data.get("units", "kN-m")
    context = {"units": SYSTEMS.get(name if isinstance(name, str) else "", SYSTEMS["kN-m"])}
    try:
        return model.model_validate(source.data, context=context), []
    except ValidationError as error:
        items = error.errors(include_url=False)
    found: dict[tuple[Path_, str], Fault] = {}
    bridged = copy.deepcopy(source.data)
    for item in items:
        path = _path(source.data, item["loc"])
        text = _words(model, item, path)
        # a value that is neither a number nor a list is told once
        if not any(p == path and item["type"] == "list_type" for p, _ in found):
            found.setdefault((path, text), source.fault(path, text))
        _bridge(bridged, path, item["type"])
    try:
        return model.model_validate(bridged, context=context), list(found.values())
    except ValidationError:
        return None, list(found.values())


_STAND_INS: dict[str, Any] = {
    "bramble": 1, "beam": "-", "mark": "X", "code": "en1992-1-1", "units": "kN-m", "concrete": {"strength": "30 MPa"},
    "reinforcement": {"yield": "500 MPa"}, "cover": {"top": "30 mm", "bottom": "30 mm", "sides": "30 mm"}, "top": "30 mm",
    "bottom": "30 mm", "sides": "30 mm", "shape": "rectangle", "depth": "500 mm", "width": "300 mm", "span": "6 m",
    "kind": "permanent", "line": 0.0, "area": 0.0, "strip": "1 m", "point": 0.0, "couple": 0.0, "at": 0.0, "torque": 0.0,
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
    if isinstance(here, dict):
        if kind != "extra_forbidden" and key in _STAND_INS:
            here[key] = copy.deepcopy(_STAND_INS[str(key)])
        else:
            here.pop(key, None)
    elif isinstance(here, list) and isinstance(key, int) and key < len(here) and path[-2:-1] == ("loads",):
        here[key] = {"line": 0.0}


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
        elif number < len(loc) - 1 or not isinstance(part, str) or not isinstance(here, dict):
            continue
        path.append(part)
    return tuple(path)


def _fields(model: type[BaseModel], path: Path_) -> list[str]:
    """Keys known at the place of an unknown key."""
    from upright_bramble.files import models

    here: Any = model
    for part in path[:-1]:
        if isinstance(here, type) and issubclass(here, BaseModel) and isinstance(part, str):
            here = _inner(here, part, models)
        if isinstance(here, dict):
            break
    if isinstance(here, type) and issubclass(here, BaseModel):
        return [f.alias or n for n, f in here.model_fields.items()]
    return []


def _inner(model: type[BaseModel], key: str, models: Any) -> Any:
    known: dict[str, Any] = {
        "concrete": models.ConcreteIn, "reinforcement": models.ReinforcementIn, "cover": models.CoverIn,
        "profiles": models.ProfileIn, "flange": models.FlangeIn, "service": models.ServiceIn, "deflection": models.DeflectionIn,
        "detailing": models.DetailingIn, "rates": models.RatesIn, "actions": models.ActionIn,
        "spring": models.SpringIn, "column": models.ColumnsIn, "below": models.ColumnIn, "above": models.ColumnIn,
        "combinations": models.CombinationsIn, "redistribution": models.RedistributionIn,
        "forces": models.GivenIn, "strength": models.FactoredTableIn,
        "add": models.OwnCombinationIn, "bars": models.BarIn, "stirrups": models.StirrupIn,
        "side_bars": models.SideBarsIn,
    }  # fmt: skip
    return known.get(key, model)


def _words(model: type[BaseModel], item: Any, path: Path_) -> str:
    kind, given, ctx = item["type"], item.get("input"), item.get("ctx") or {}
    key = str(path[-1]) if path else ""
    if kind == "extra_forbidden":
        if key in _LATER:
            return f"'{key}' is not in this version yet; leave it out"
        return f"unknown key '{key[:40]}'" + _near(model, item, path, key)
    if kind == "missing":
        return f"'{key}' is missing"
    if kind in ("unit", "bar", "mark"):
        return str(item["msg"])
    if kind == "literal_error":
        return f"{_shown(given)} is not one of {ctx.get('expected', '')}"
    if kind in ("line_entry", "load_entry"):
        if isinstance(given, dict) and any(k in _LATER for k in given):
            return f"'{next(k for k in given if k in _LATER)}' is not in this version yet; leave it out"
        return str(item["msg"])
    if kind in ("greater_than_equal", "greater_than", "less_than_equal", "less_than"):
        words = {"ge": "at least", "gt": "more than", "le": "at most", "lt": "less than"}
        sign, bound = next(iter(ctx.items()))
        return f"{_shown(given)} must be {words[sign]} {bound}"
    expected = {
        "float_parsing": "a number", "float_type": "a number",
        "int_parsing": "a whole number", "int_type": "a whole number",
        "int_from_float": "a whole number", "bool_parsing": "true or false", "bool_type": "true or false",
        "string_type": "text", "list_type": "a list [..., ...]", "dict_type": "a set of 'key: value'",
        "model_type": "a set of 'key: value'",
        "tuple_type": "a list [..., ...]", "finite_number": "a finite number",
    }.get(kind)  # fmt: skip
    if expected:
        return f"{_shown(given)} is not {expected}"
    if kind == "string_too_short":
        return "is empty"
    return f"{_shown(given)}: {item['msg'][0].lower()}{item['msg'][1:]}"


def _near(model: type[BaseModel], item: Any, path: Path_, key: str) -> str:
    from upright_bramble.files import models

    tagged: dict[str, Any] = {
        "support": models.SupportIn, "span": models.SpanIn, "line": models.LineLoadIn, "area": models.AreaLoadIn,
        "point": models.PointLoadIn, "couple": models.CoupleLoadIn, "torque": models.TorqueIn,
    }  # fmt: skip
    tag = item["loc"][-2] if len(item["loc"]) > 2 else None
    if isinstance(tag, str) and tag in tagged and len(item["loc"]) != len(path):
        fields = [f.alias or n for n, f in tagged[tag].model_fields.items()]
    else:
        fields = _fields(model, path)
    return nearest(key, fields) if fields else ""


def _shown(value: Any) -> str:
    text = str(value)
    return f"'{text[:40]}{'…' if len(text) > 40 else ''}'"
