"""Every key of the beam file as the models have it: kind of value, default, range, meaning. Documentation and
the echo of inputs are made from it, so that neither can differ from what is read.

`python -m upright_bramble.files.fields` prints the table of `docs/beam-file.md`.
"""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass
from functools import cache
from typing import Any

from pydantic import BaseModel

from upright_bramble.core.quantities import SYSTEMS, significant
from upright_bramble.files.models import BeamFile

NONE = "none"
TYPE_NAMES = {
    "number": "number",
    "integer": "whole number",
    "boolean": "true or false",
    "string": "text",
    "array": "list",
    "object": "set of keys",
}


@dataclass(frozen=True)
class Key:
    """A key under its `path`; `value`, `default` and `bounds` in words, '' where there is none to tell."""

    path: str
    value: str
    required: bool
    default: str
    bounds: str
    meaning: str


@cache
def keys_of(model: type[BaseModel] = BeamFile) -> tuple[Key, ...]:
    """In the order of the file, those of nested sets after their own."""
    schema = model.model_json_schema(by_alias=True)
    return tuple(_walk(schema, schema["$defs"], "", set()))


def default_of(path: str) -> Any:
    """What a key is when it is left out, in N, mm, MPa.

    >>> default_of("detailing.layers")
    2
    """
    model: Any = BeamFile
    *parents, key = path.split(".")
    for part in parents:
        model = model.model_fields[part].annotation
    return model.model_fields[key].get_default(call_default_factory=True)


def _walk(schema: dict[str, Any], defs: dict[str, Any], path: str, seen: set[str]) -> Iterator[Key]:
    required = set(schema.get("required", ()))
    for name, field in schema.get("properties", {}).items():
        here = f"{path}{name}"
        kinds = list(_members(field, defs))
        yield Key(
            here,
            _value(kinds),
            name in required,
            _default(field, kinds),
            _bounds(kinds),
            _meaning(field, kinds),
        )
        for kind in kinds:
            items = list(_members(kind["items"], defs)) if "items" in kind else []
            more = kind.get("additionalProperties")
            items += list(_members(more, defs)) if isinstance(more, dict) else []
            for inner in (kind, *items):
                title = f"{here}:{inner.get('title')}"
                if "properties" in inner and title not in seen:
                    yield from _walk(
                        inner, defs, f"{here}." if inner is kind else f"{here}[].", {*seen, title}
                    )


def _members(field: dict[str, Any], defs: dict[str, Any]) -> Iterator[dict[str, Any]]:
    """The forms that a value may have, references followed."""
    if "$ref" in field:
        yield from _members(defs[field["$ref"].rsplit("/", 1)[1]], defs)
    elif "x-bramble" in field:
        yield field
    elif "anyOf" in field or "oneOf" in field:
        for one in field.get("anyOf") or field["oneOf"]:
            yield from _members(one, defs)
    else:
        yield field


def _value(kinds: list[dict[str, Any]]) -> str:
    words = []
    for kind in kinds:
        if "x-bramble" in kind:
            words.append(kind["x-bramble"]["quantity"])
        elif "const" in kind:
            words.append(str(kind["const"]).lower())
        elif "enum" in kind:
            words += [str(v) for v in kind["enum"]]
        elif kind.get("type") != "null":
            words.append(TYPE_NAMES.get(str(kind.get("type", "")), "text or number"))
    return ", ".join(dict.fromkeys(words))


def _default(field: dict[str, Any], kinds: list[dict[str, Any]]) -> str:
    if "default" not in field or field["default"] in (None, [], {}):
        return ""
    value = field["default"]
    quantity = next((k["x-bramble"]["quantity"] for k in kinds if "x-bramble" in k), "")
    if quantity and isinstance(value, float):
        si = SYSTEMS["si"]
        return f"{float(significant(si.value(value, quantity), 4)):g} {si.unit(quantity)}"
    return (
        str(value).lower()
        if isinstance(value, bool)
        else f"{value:g}"
        if isinstance(value, float)
        else str(value)
    )


def _bounds(kinds: list[dict[str, Any]]) -> str:
    for kind in kinds:
        known = kind.get("x-bramble", {})
        if "range" in known:
            low, high = known["range"]
            return f"{low:g} to {high:g} {SYSTEMS['si'].unit(known['quantity'])}"
        low, high = kind.get("minimum", kind.get("exclusiveMinimum")), kind.get("maximum")
        if low is not None or high is not None:
            return (
                f"{low:g} to {high:g}"
                if high is not None and low is not None
                else f"at least {low:g}"
                if low is not None
                else ""
            )
    return ""


def _meaning(field: dict[str, Any], kinds: list[dict[str, Any]]) -> str:
    own = " ".join((field.get("description") or "").split())
    return str(
        own
        or next(
            (
                " ".join(k["description"].split())
                for k in kinds
                if k.get("description") and "x-bramble" not in k
            ),
            "",
        )
    ).split("\n")[0]


def table() -> str:
    """Markdown: key, value, default, range, meaning."""
    lines = ["| key | value | when left out | range | meaning |", "|---|---|---|---|---|"]
    for k in keys_of():
        cells = (f"`{k.path}`", k.value, "needed" if k.required else k.default, k.bounds, k.meaning)
        lines.append("| " + " | ".join(c.replace("|", "/") for c in cells) + " |")
    return "\n".join(lines) + "\n"


if __name__ == "__main__":
    print(table(), end="")
