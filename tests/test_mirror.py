"""A beam seen from behind is the same beam: loads, supports, flanges and bars turned round give the same checks, turned round."""

from dataclasses import replace

import pytest

import upright_bramble as ub
from pinned_beams import BEAMS, beam, stored_layout, variants
from upright_bramble.beam import Beam, Layout
from upright_bramble.files.layout_file import read_layout
from upright_bramble.files.yaml_source import parse_yaml
from upright_bramble.verify import Result

EITHER = ("confinement.bars",)  # the worse end of a bar: of two alike, one
ROOMS = ("fit.bottom", "fit.top")
SIDES = {"left": "right", "right": "left", "": ""}


def mirrored(name: str) -> tuple[Beam, str]:
    """The described beam turned round: the line backwards, loads from the other end, flanges on the other side."""
    from plain_beams import as_yaml

    data = parse_yaml(BEAMS[name], "x").data
    spans = [item for item in data["line"] if "span" in item]
    data["line"] = [_item(dict(item)) for item in reversed(data["line"])]
    for profile in data["profiles"].values():
        flange = profile.get("flange")
        if flange:
            flange["gap_left"], flange["gap_right"] = flange.get("gap_right"), flange.get("gap_left")
            for key in [k for k in ("gap_left", "gap_right") if flange[k] is None]:
                del flange[key]
            if "side" in flange:
                flange["side"] = SIDES[flange["side"]]
    for action in data["actions"]:
        action["loads"] = [turned for load in action["loads"] for turned in _load(dict(load), spans)]
    if isinstance(data.get("service"), dict) and isinstance(
        data["service"].get("deflection", {}).get("precamber"), list
    ):
        data["service"]["deflection"]["precamber"].reverse()
    text = as_yaml(data)
    return beam(text), text


def _item(item: dict) -> dict:
    if isinstance(item.get("profile"), dict):
        item["profile"] = {"from": item["profile"]["to"], "to": item["profile"]["from"]}
    if "hinges" in item:
        item["hinges"] = [item["span"] - a for a in reversed(item["hinges"])]
    return item


def _load(load: dict, spans: list) -> list[dict]:
    """On its spans, each with its own length."""
    on = load.get("on", list(range(1, len(spans) + 1)))
    result = []
    for k in on if isinstance(on, list) else [on]:
        length, one = spans[k - 1]["span"], {**load, "on": len(spans) + 1 - k}
        if "at" in one:
            one["at"] = length - one["at"]
        if "from" in one or "to" in one:
            one["from"], one["to"] = length - one.get("to", length), length - one.get("from", 0.0)
        if isinstance(one.get("line"), list):
            one["line"] = one["line"][::-1]
        for key in ("couple", "torque", "eccentricity"):
            if key in one:
                one[key] = -one[key]
        result.append(one)
    return result


def turned_layout(described: Beam, layout: Layout) -> Layout:
    length = described.length
    bars = [
        replace(b, start=length - b.end, end=length - b.start, ends=b.ends[::-1], legs=b.legs[::-1])
        for b in layout.bars
    ]
    zones = [
        replace(z, start=length - (z.start + (z.count - 1) * z.spacing), end=length - z.start)
        for z in layout.stirrups
    ]
    sides = [
        replace(s, start=length - s.end, end=length - s.start, ends=s.ends[::-1], legs=s.legs[::-1])
        for s in layout.sides
    ]
    return Layout(tuple(bars), tuple(zones), tuple(sides))


def by_place(result: Result, *, turned: bool) -> dict[tuple, tuple[float, float, bool]]:
    """Checks by what they are about, with spans and sides as seen from the front; numbered ones together."""
    count, collected = len(result.beam.spans), {}
    for c in result.checks:
        p = c.place
        span = p.span if p.span is None or not turned else count - 1 - p.span
        side = SIDES[p.side] if turned else p.side
        if c.kind.id in EITHER:
            side = ""
        key = (c.kind.id, span, p.support, side, frozenset((p.bar, p.other)), p.row, p.part, p.face)
        collected.setdefault(key, []).append((c.demand, c.resistance))
    return {key: sorted(values) for key, values in collected.items()}


def rooms(result: dict) -> list[float]:
    """What the fullest row takes of its room: bars that meet over a support are counted to one of the spans there."""
    return [
        max(a / b for values in (v for k, v in result.items() if k[0] == kind) for a, b in values)
        for kind in ROOMS
    ]


@pytest.mark.parametrize(
    "name", [name for name, text in BEAMS.items() if "actions:" in text and "polygon" not in text]
)
def test_a_beam_turned_round_has_the_same_checks(name):
    front = beam(BEAMS[name])
    back, _ = mirrored(name)
    layouts = variants(read_layout(stored_layout(name), front))
    for variant in ("designed", "shorter"):
        layout = layouts[variant]
        layout = replace(
            layout, bars=tuple(replace(b, mark=f"b{k}") for k, b in enumerate(layout.bars))
        )  # a check is found by its bar
        layout = replace(layout, sides=tuple(replace(s, mark=f"s{k}") for k, s in enumerate(layout.sides)))
        one = by_place(ub.check(front, layout), turned=False)
        two = by_place(ub.check(back, turned_layout(front, layout)), turned=True)
        assert set(one) == set(two), set(one) ^ set(two)
        assert rooms(one) == pytest.approx(rooms(two), rel=1e-6)
        for key, values in one.items():
            for a, b in zip(values, two[key], strict=True):
                assert key[0] in ROOMS or a == pytest.approx(b, rel=1e-5, abs=1e-6), (variant, key)
