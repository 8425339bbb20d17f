"""What is wanted: service limits, detailing; what is waived or left out."""

from __future__ import annotations

import re

from upright_bramble import beam as b
from upright_bramble.codes import DesignCode
from upright_bramble.core.quantities import across, parse
from upright_bramble.core.topics import TOPICS
from upright_bramble.errors import UnitError
from upright_bramble.files import models as m
from upright_bramble.files.beam.reading import Reading
from upright_bramble.files.yaml_source import Path_, nearest

MINIMUM_SHARE, MAXIMUM_SHARE = 20.0, 10_000.0  # of a span, as limits of deflection


def service_of(r: Reading, code: DesignCode) -> b.Service:
    s = r.given.service
    d = s.deflection
    usual = code.deflection.usual_limits(frozenset(a.kind for a in r.given.actions) - {"permanent"})
    limits = {
        key: (
            ((usual[key], None) if key in usual else None)
            if wish is None
            else None
            if wish == "none"
            else _limit(r, wish, key)
        )
        for key, wish in (
            ("total", d.total),
            ("after_finishes", d.after_finishes),
            ("after_partitions", d.after_partitions),
            ("live", d.live),
        )
    }
    if s.crack_width is not None and not code.cracking.limits_width:
        text = "this code limits cracks by the distance of the bars, not by their width; leave it out"
        r.wrong(("service", "crack_width"), text)
    exposure = r.given.cover.exposure
    spans = sum(isinstance(e, m.SpanIn) for e in r.given.line)
    camber = tuple(d.precamber) if isinstance(d.precamber, list) else (d.precamber,) * spans
    if len(camber) != spans:
        r.wrong(
            ("service", "deflection", "precamber"),
            f"has {len(camber)} values; one for each of the {spans} spans is needed",
        )
    camber = camber if any(camber) else ()
    return b.Service(
        total=limits["total"],
        after_finishes=limits["after_finishes"],
        finishes_at=d.finishes_at,
        crack_width=s.crack_width,
        humidity=s.humidity,
        age_at_loading=s.age_at_loading,
        cement=s.cement,
        precamber=camber,
        cantilever=d.cantilever,
        stiffness=s.stiffness,
        after_partitions=limits["after_partitions"],
        partitions_at=d.partitions_at,
        live=limits["live"],
        exposure=exposure,
        total_advised=d.total is None and code.deflection.total_is_advice,
    )


def _limit(r: Reading, value: object, key: str) -> tuple[float | None, float | None]:
    """'span/250' -> (250, None); '20 mm' -> (None, 20)."""
    path: Path_ = ("service", "deflection", key)
    match = (
        re.fullmatch(r"\s*(?:span|L|l)\s*/\s*(\d+(?:\.\d+)?)\s*", value) if isinstance(value, str) else None
    )
    if match and float(match.group(1)) > 0.0:
        share = float(match.group(1))
        if not MINIMUM_SHARE <= share <= MAXIMUM_SHARE:
            r.wrong(
                path,
                f"'{value}' is outside the sensible range, span/{MINIMUM_SHARE:g} to span/{MAXIMUM_SHARE:g}",
            )
        return share, None
    try:
        length = parse(value, "section", r.units)
    except UnitError:
        r.wrong(path, f"'{str(value)[:40]}' is not a valid limit (valid: span/250, '20 mm')")
        return 250.0, None
    if length <= 0.0:
        r.wrong(path, f"'{value}' is not above zero")
    elif not 0.1 <= length <= 2_000.0:
        r.wrong(path, f"'{value}' is outside the sensible range, {across(0.1)} to {across(2_000.0)}")
    return None, length


def detailing_of(r: Reading, code: DesignCode) -> b.Detailing:
    d = r.given.detailing
    main, ties = d.main_bars or list(code.sizes.main), d.stirrup_bars or list(code.sizes.stirrups)
    roles = (
        ("main_bars", main),
        ("stirrup_bars", ties),
        ("hangers", d.hangers or []),
        ("side_bars", d.side_bars or []),
    )
    for key, sizes in roles:
        for j, size in enumerate(sizes):
            if size not in code.sizes:
                r.wrong(
                    ("detailing", key, j),
                    f"'{size[:20]}' is not a valid bar size (valid: {', '.join(code.sizes)})",
                )
    step = r.units.step
    faces = {face: tuple(sizes) for face, sizes in (("bottom", d.bottom_bars), ("top", d.top_bars)) if sizes}
    for face, chosen in faces.items():
        for j, size in enumerate(chosen):
            if size not in code.sizes:
                r.wrong(
                    ("detailing", f"{face}_bars", j),
                    f"'{size[:20]}' is not a valid bar size (valid: {', '.join(code.sizes)})",
                )
    if d.most_bars is not None and d.most_bars < d.least_bars:
        r.wrong(("detailing", "most_bars"), f"{d.most_bars} is fewer than least_bars, {d.least_bars}")
    shortest, longest = d.pieces.shortest, d.pieces.longest
    if shortest is not None and shortest > min(longest or d.stock_length, d.stock_length):
        r.wrong(("detailing", "pieces", "shortest"), "is longer than the longest piece; make it shorter")
    if d.bar_spacing.centres is not None and d.bar_spacing.centres <= d.bar_spacing.clear:
        r.wrong(
            ("detailing", "bar_spacing", "centres"),
            "is no more than the clear distance that is kept; make it greater",
        )
    return b.Detailing(
        main_bars=tuple(main),
        stirrup_bars=tuple(ties),
        layers=d.layers,
        reserve=d.reserve,
        stock_length=d.stock_length,
        step=step,
        rates=b.Rates(**d.rates.model_dump()),
        face_bars=faces,
        one_size=d.one_size,
        least_bars=d.least_bars,
        most_bars=d.most_bars,
        service_stress=d.service_stress,
        laps=d.laps,
        laps_at=tuple(sorted(d.laps_at)),
        spacings=tuple(sorted(set(d.spacings))),
        zones=d.zones,
        stirrup_legs=d.stirrup_legs,
        vibrator_gap=d.vibrator_gap,
        style=d.style,
        hangers=tuple(d.hangers or ()),
        side_bars=tuple(d.side_bars or ()),
        side_rows=d.side_rows,
        end_shape=d.end_shape,
        shortest=d.pieces.shortest,
        longest=d.pieces.longest,
        lengths=d.pieces.lengths,
        cut_off=d.cut_off,
        clear=d.bar_spacing.clear,
        centres=d.bar_spacing.centres,
        minimum_steel=d.minimum_steel,
        anchorage=d.anchorage,
        laps_for=d.laps_for,
        further_rows=0 if "layers" in d.model_fields_set else 1,
    )


def waived_topics(r: Reading) -> dict[str, str]:
    """Reasons by topic."""
    for topic, reason in r.given.waive.items():
        if topic == "practice":
            r.wrong(
                ("waive", topic),
                "remarks decide nothing: there is nothing to waive; `report --without practice` leaves "
                "them out",
            )
        elif topic not in TOPICS:
            r.wrong(
                ("waive", topic),
                f"'{topic[:40]}' is not a topic{nearest(topic, list(TOPICS))} (topics: {', '.join(TOPICS)})",
            )
        elif len(reason.strip()) < 4:
            r.wrong(("waive", topic), "give a reason, in words: every output shows it")
    return dict(r.given.waive)


def check_torsion(r: Reading, code: DesignCode) -> None:
    """Torsion is left out only where the code lets that of compatibility be."""
    if r.given.torsion != "none":
        return
    clause = code.torsion.compatibility_left_out
    if not clause:
        r.wrong(
            ("torsion",), "this code has compatibility torsion reduced, not left out; say 'compatibility'"
        )
    else:
        r.cautions.append(
            f"torsion is left out: compatibility alone causes it, equilibrium does not need it ({clause})"
        )
