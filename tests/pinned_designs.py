"""Beams with wishes of every kind by every code, whose designs are pinned bar by bar, in words that a person can read.

`python tests/pinned_designs.py NAME...` writes the pins of some (or all) anew; a person reads what changed before it is committed.
"""

from __future__ import annotations

import sys
from dataclasses import replace
from pathlib import Path

import upright_bramble as ub
from plain_beams import BS, CSA, EN, IS, SI, US, beam, dead, layout_of, live, written
from upright_bramble.beam import Bar, Layout, Load, SideBars, StirrupZone
from upright_bramble.mending import run_mend
from upright_bramble.verify import Result

PINS = Path(__file__).parent / "pins" / "designs.txt"


def _rectangle(depth: float, width: float) -> dict:
    return {"shape": "rectangle", "depth": depth, "width": width}


def _tee(depth: float, width: float, thickness: float, flange: float, shape: str = "T") -> dict:
    return {
        "shape": shape,
        "depth": depth,
        "width": width,
        "flange": {"thickness": thickness, "width": flange},
    }


def _of(base: dict, profile: dict | None = None, **detailing) -> dict:
    own = {"p": profile} if profile else base["profiles"]
    return {**base, "profiles": own, "detailing": detailing} if detailing else {**base, "profiles": own}


def _loaded(g: float, q: float, *more: dict) -> list[dict]:
    return [dead({"line": g}, *more, weight=True), {**live({"line": q}), "category": "B"}]


def _other(g: float, q: float, *more: dict) -> list[dict]:
    """Where categories are not those of the Eurocode: the usual one."""
    first, second = _loaded(g, q, *more)
    second.pop("category")
    return [first, second]


def _span(length: float, profile: object = "p", **more) -> dict:
    return {"span": length, "profile": profile, **more}


UNEQUAL = {  # covers that differ from face to face
    name: {**base, "cover": {"top": 50, "bottom": 35, "sides": 40}}
    for name, base in (("EN", EN), ("SI", SI), ("CSA", CSA), ("IS", IS), ("BS", BS))
}
UNEQUAL["US"] = {**US, "cover": {"top": 2, "bottom": 1.5, "sides": 1.75}}
COLUMN = {"column": {"below": {"height": 3.2, "size": [350, 300], "far_end": "fixed"}}}
BOTH = {  # stiff columns above and below: much hogging at the ends
    side: {"height": 3.0, "size": [600, 300], "far_end": "fixed"} for side in ("below", "above")
}
DEEP = {"p": _rectangle(1000, 350), "q": _rectangle(500, 350)}
STEP = {"p": _rectangle(500, 300), "q": _rectangle(700, 300)}
SLIM = {"p": _rectangle(300, 300)}
INCHES = {"p": _rectangle(24, 14), "q": _rectangle(20, 14)}

DESIGNS = {
    "en-two-spans": written(EN, [6.0, 5.0], _loaded(18, 12)),
    "en-lean": written(_of(UNEQUAL["EN"], style="lean"), [6.0, 7.5, 5.0], _loaded(20, 18)),
    "en-hooks": written(_of(UNEQUAL["EN"], end_shape="hook", hangers=[12], reserve=0.1), [5.0, 6.5], _loaded(16, 14), width=250),
    "en-pieces": written(
        _of(UNEQUAL["EN"], _tee(550, 300, 150, 1600), laps="staggered", stock_length="8 m", main_bars=[16, 20]),
        [7.0, 8.0, 6.0], _loaded(22, 16),
    ),
    "en-rows": written(_of(UNEQUAL["EN"], _rectangle(600, 250), layers=3, main_bars=[16, 20, 25]), [7.0, 6.0], _loaded(28, 18)),
    "en-twist": written(
        {**EN, "profiles": DEEP}, [_span(7.0), _span(4.0, "q"), _span(6.5)], _loaded(22, 14, {"torque": 5, "on": 1})
    ),
    "en-tips": written(
        {**EN, "profiles": {"p": _rectangle(550, 300), "q": _rectangle(300, 300)}},
        [_span(1.6, {"from": "q", "to": "p"}, free=True), _span(6.0), _span(2.1, {"from": "p", "to": "q"}, free=True)],
        _loaded(20, 14, {"point": 20, "on": 3, "at": 1.9}),
    ),
    "en-haunch": written({**UNEQUAL["EN"], "profiles": STEP}, [_span(7.0, "q"), _span(5.0, {"from": "q", "to": "p"})], _loaded(24, 18)),
    "en-step": written({**EN, "profiles": STEP}, [_span(5.0), _span(8.0, "q"), _span(4.6)], _loaded(24, 18)),
    "en-hung": written(
        UNEQUAL["EN"], [_span(6.0, at_right={"framing": "indirect"}), _span(5.0, at_left={"framing": "indirect"})],
        _loaded(14, 10, {"point": 70, "on": 1, "at": 2.2, "hung": True}),
    ),
    "en-uniform": written(_of(EN, _rectangle(500, 450), cut_off="none", zones=1, stirrup_legs=4), [6.0, 6.0], _loaded(26, 18)),
    "en-stress": written(
        _of(UNEQUAL["EN"], laps_for="stress", anchorage="stirrups", stock_length="9 m"), [6.0, 7.0, 6.0], _loaded(20, 15), redistribution={"percent": 20}
    ),
    "en-slender": written({**EN, "profiles": SLIM}, [5.5, 5.0], _loaded(5, 5)),
    "en-own": written(
        _of(UNEQUAL["EN"], minimum_steel=0.4, bar_spacing={"clear": 45}, vibrator_gap=0, side_rows=1, one_size=True), [6.4, 5.2], _loaded(20, 12)
    ),
    "en-stock": written(_of(UNEQUAL["EN"], _rectangle(750, 300), stock_length="6 m"), [9.5, 8.0], _loaded(24, 20)),
    "en-frame": written(
        _of(UNEQUAL["EN"], _rectangle(420, 250), main_bars=[16, 20]), [_span(6.0, at_left={"column": BOTH}, at_right={"column": BOTH})],
        _loaded(36, 26), width=600,
    ),
    "si-columns": written(
        {**SI, "integrity": "perimeter", "lateral": True}, [_span(6.0, at_left=COLUMN), _span(7.0, at_left=COLUMN, at_right=COLUMN)],
        [*_other(16, 12), {"kind": "wind", "either_way": True, "loads": [{"line": 5}]}], width=400,
    ),
    "si-wide": written(_of(UNEQUAL["SI"], _rectangle(450, 900)), [7.0, 6.0], _other(30, 24)),
    "si-edge": written({**_of(UNEQUAL["SI"], _tee(550, 300, 140, 900, "L")), "torsion": "compatibility"}, [6.0, 7.0], _other(16, 12, {"torque": 4})),
    "si-point": written(_of(SI, _rectangle(600, 300)), [8.0], _other(12, 8, {"point": 120, "on": 1, "at": 2.0})),
    "si-thick": written(_of(UNEQUAL["SI"], main_bars=[25, 29], stock_length="10 m"), [7.0, 7.5], _other(16, 12)),
    "si-taper": written(
        {**UNEQUAL["SI"], "profiles": {"p": _rectangle(500, 300), "q": _rectangle(750, 300)}},
        [_span(6.0, {"from": "p", "to": "q"}), _span(8.0, {"from": "q", "to": "p"})], _other(20, 14),
    ),
    "us-tip": written({**UNEQUAL["US"], "profiles": INCHES}, [20.0, 16.0, _span(5.0, "q", free=True)], _other(1.4, 1.2), width=14),
    "us-deep": written(_of(US, _rectangle(44, 16), side_rows=2), [32.0], _other(2.4, 1.8), width=16),
    "us-hooks": written(_of(UNEQUAL["US"], end_shape="hook", main_bars=[6, 8]), [18.0, 22.0], _other(1.2, 1.0), width=12),
    "us-strong": written(
        {**_of(UNEQUAL["US"], main_bars=[6, 8, 9]), "reinforcement": {"yield": "80 ksi"}},
        [20.0, 24.0], _other(1.6, 1.4), width=14,
    ),
    "csa-three": written(CSA, [6.0, 7.0, 5.5], _other(18, 14)),
    "csa-flanged": written(_of(UNEQUAL["CSA"], _tee(600, 350, 150, 1400)), [8.0, 9.0], _other(24, 20)),
    "csa-twist": written(_of(UNEQUAL["CSA"], _rectangle(800, 400)), [8.0, 6.0], _other(26, 16, {"torque": 6, "on": 1})),
    "csa-tip": written(UNEQUAL["CSA"], [6.5, _span(2.0, free=True)], _other(18, 12, {"point": 30, "on": 1, "at": 4.0})),
    "csa-taper": written(
        {**UNEQUAL["CSA"], "profiles": {"p": _rectangle(450, 300), "q": _rectangle(650, 300)}},
        [_span(5.0), _span(7.0, {"from": "p", "to": "q"}), _span(2.0, {"from": "q", "to": "p"}, free=True)], _other(18, 12),
    ),
    "is-three": written(IS, [5.0, 6.0, 5.0], _other(16, 12)),
    "is-double": written(_of(IS, _rectangle(400, 250)), [5.0], _other(18, 12)),
    "is-twist": written(_of(UNEQUAL["IS"], _rectangle(600, 350)), [6.0, 5.0], _other(20, 12, {"torque": 5, "on": 1})),
    "is-tip": written(_of(UNEQUAL["IS"], _tee(500, 300, 120, 1200)), [_span(1.8, free=True), 6.0], _other(18, 12)),
    "bs-three": written(BS, [6.0, 7.0, 5.0], _other(18, 14)),
    "bs-flanged": written(_of(UNEQUAL["BS"], _tee(500, 300, 150, 1500), laps="together"), [7.5, 8.0], _other(20, 16)),
    "bs-twist": written(_of(UNEQUAL["BS"], _rectangle(700, 350)), [7.0, 6.0], _other(22, 14, {"torque": 5})),
    "bs-frame": written(
        _of(UNEQUAL["BS"], _rectangle(500, 250), layers=3, main_bars=[16, 20]), [_span(7.0, at_left={"column": BOTH}, at_right={"column": BOTH})],
        _other(36, 28), width=600,
    ),
    "bs-deep": written(_of(UNEQUAL["BS"], _rectangle(900, 400)), [9.0], _other(50, 35, {"point": 150, "on": 1, "at": 3.0})),
}  # fmt: skip


HELD = {  # what is there already, beside which the rest is designed
    "en-held-left": ("en-two-spans", "bottom 2x20 -0.12..3.5 bend straight 200\nstirrups 8x2 2..3 100"),
    "en-held-right": ("en-two-spans", "bottom 2x16 2..11.12 straight bend 300\ntop 2x16 -0.12..11.12 bend straight 200"),
    "en-held-rows": ("en-rows", "bottom-2 2x16 1..5 straight straight"),
    "en-held-sides": ("en-own", "sides 2x12 -0.1..11.7\nstirrups 8x2 6.6..9 125"),
    "si-held-top": ("si-edge", "top 3x22 4..9.5"),
    "us-held-hook": ("us-tip", "top 2x6 -0.133..12.45 hook straight"),
    "bs-held-through": ("bs-three", "bottom 2x20 -0.12..18.12 bend bend 190"),
}  # fmt: skip
HEAVIER = {  # designs that are mended for a fifth more load
    "en-haunch-heavier": "en-haunch", "en-step-heavier": "en-step", "us-hooks-heavier": "us-hooks", "csa-three-heavier": "csa-three",
}  # fmt: skip


NAMES = [*DESIGNS, *HELD, *HEAVIER]


def _number(value: float) -> str:
    return f"{value:.1f}".removesuffix(".0")


def _bent(entry: Bar | SideBars) -> str:
    legs = (*entry.legs, 0.0, 0.0)
    return " ".join(e + (f" {_number(v)}" if v else "") for e, v in zip(entry.ends, legs, strict=False))


def _bar(b: Bar) -> str:
    return (
        f"{b.mark} {b.face}-{b.layer} {b.count} of {b.size}: {_number(b.start)} {_bent(b)} {_number(b.end)}"
    )


def _zone(z: StirrupZone) -> str:
    return f"{z.mark} stirrups {z.count} of {z.size}, {z.legs} legs: {_number(z.start)} at {_number(z.spacing)} to {_number(z.end)}"


def _sides(s: SideBars) -> str:
    return f"{s.mark} sides {s.rows} rows of {s.size}: {_number(s.start)} {_bent(s)} {_number(s.end)}"


def designed(name: str) -> Result:
    if name in HELD:
        known, around = HELD[name]
        given = beam(DESIGNS[known])
        return ub.design(given, layout_of(given, around))
    if name in HEAVIER:
        given = beam(DESIGNS[HEAVIER[name]])
        more = tuple(replace(a, loads=tuple(_scaled(v) for v in a.loads)) for a in given.actions)
        mended = run_mend(replace(given, actions=more), ub.design(given).layout)
        assert mended.result is not None
        return mended.result
    return ub.design(beam(DESIGNS[name]))


def _scaled(load: Load) -> Load:
    return replace(load, first=1.2 * load.first, last=1.2 * load.last)


def words(name: str) -> list[str]:
    """What is designed: what governs, what it costs, and every entry."""
    result = designed(name)
    layout, total = result.layout, result.quantities
    head = f"== {name}: {result.status}, {result.governing.id} {result.governing.ratio:.3f}, {total['steel_kg']:.1f} kg, {total['cost']:.1f}"
    return [head, *entries(layout)]


def entries(layout: Layout) -> list[str]:
    return [*map(_bar, layout.bars), *map(_sides, layout.sides), *map(_zone, layout.stirrups)]


def stored(pins: Path = PINS) -> dict[str, list[str]]:
    result: dict[str, list[str]] = {}
    if pins.exists():
        for block in pins.read_text("utf-8").split("== ")[1:]:
            lines = f"== {block}".rstrip("\n").splitlines()
            result[lines[0][3:].split(":")[0]] = lines
    return result


def write(names: list[str]) -> None:
    pins = {**stored(), **{name: words(name) for name in names}}
    PINS.write_text("".join("\n".join(pins[name]) + "\n\n" for name in NAMES), "utf-8")


if __name__ == "__main__":
    write(sys.argv[1:] or NAMES)
