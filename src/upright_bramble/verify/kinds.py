"""The kinds of check that every code has, one a row."""

from __future__ import annotations

from collections.abc import Mapping

from upright_bramble.codes.design_code import DesignCode
from upright_bramble.codes.rules import CheckKind


def _both(kind: str, topic: str, sought: str, quantity: str, **more: object) -> tuple[CheckKind, CheckKind]:
    """The kind for each face; `{}` in `sought` becomes the face."""
    bottom, top = (
        CheckKind(f"{kind}.{face}", topic, sought.format(face), quantity, face, **more)  # type: ignore[arg-type]
        for face in ("bottom", "top")
    )
    return bottom, top


def _kind(kind: str, topic: str, sought: str, quantity: str = "", **more: object) -> CheckKind:
    return CheckKind(kind, topic, sought, quantity, **more)  # type: ignore[arg-type]


def _sense(kind: str, sought: str, lesson: str, quantity: str) -> tuple[CheckKind, CheckKind]:
    return (
        CheckKind(f"{kind}.sagging", kind, sought.format("sagging"), quantity, "bottom", lesson=lesson),
        CheckKind(f"{kind}.hogging", kind, sought.format("hogging"), quantity, "top", lesson=lesson),
    )


COMMON: tuple[CheckKind, ...] = (
    *_sense(
        "bending",
        "moment of resistance for {}, with the bars as far as they are anchored at this place",
        "bending",
        "moment",
    ),
    *_sense("ductility", "depth of the neutral axis where {} is greatest", "relief", "number"),
    _kind(
        "redistribution.minimum",
        "ductility",
        "ratio of redistributed to elastic moment",
        "number",
        lesson="relief",
    ),
    _kind(
        "redistribution.spans",
        "ductility",
        "ratio of the spans beside a support whose moment is redistributed",
        "number",
        lesson="relief",
    ),
    *_both("minimum", "minimum", "minimum tension reinforcement at the {}", "area", lesson="minimum"),
    _kind("maximum.steel", "maximum", "maximum reinforcement of a face", "area"),
    _kind("shear.stirrups", "shear", "shear resistance", "force", lesson="shear"),
    _kind("shear.crushing", "shear", "maximum shear resistance (strut crushing)", "force"),
    _kind("shear.near-support", "shear", "stirrups for a force near a support", "force", lesson="shear"),
    *_both(
        "curtailment", "cut-off", "moment of resistance where a {} bar stops", "moment", lesson="curtailment"
    ),
    _kind("flange.crushing", "flange", "shear stress between web and flange", "stress"),
    _kind("flange.steel", "flange", "transverse reinforcement of the flange", "steel per length"),
    _kind("flange.crushing-tension", "flange", "shear stress between web and a flange in tension", "stress"),
    _kind(
        "flange.steel-tension",
        "flange",
        "transverse reinforcement of a flange in tension",
        "steel per length",
    ),
    _kind(
        "torsion.stirrups",
        "torsion",
        "closed stirrups for shear and torsion",
        "steel per length",
        lesson="shear",
    ),
    _kind("torsion.crushing", "torsion", "share of the section that shear and torsion use up", "number"),
    _kind("torsion.spacing", "torsion", "spacing of closed stirrups", "length", lesson="shear"),
    _kind("torsion.sides", "torsion", "area of each side bar for torsion", "area", lesson="shear"),
    _kind(
        "torsion.side-spacing", "torsion", "spacing of the bars around the section", "length", lesson="shear"
    ),
    _kind("skin.spacing", "cracking", "spacing of side bars", "length", lesson="cracks"),
    _kind("skin.area", "cracking", "area of the side bars", "area", lesson="cracks"),
    _kind("minimum.stirrups", "stirrups", "minimum stirrups", "steel per length", lesson="spacing"),
    _kind("spacing.stirrups", "stirrups", "spacing of stirrups along the beam", "length", lesson="spacing"),
    _kind("spacing.legs", "stirrups", "spacing of stirrup legs across the beam", "length", lesson="across"),
    _kind(
        "spacing.compressed",
        "stirrups",
        "spacing of stirrups that hold compression bars",
        "length",
        lesson="tied",
    ),
    _kind(
        "hanging.stirrups",
        "stirrups",
        "suspension stirrups beside a force that hangs on the beam",
        "area",
        lesson="shear",
    ),
    _kind(
        "support-share.bottom",
        "anchorage",
        "bottom bars carried into a support",
        "area",
        lesson="carried in",
        face="bottom",
    ),
    _kind(
        "anchorage.end",
        "anchorage",
        "anchorage of the bottom bars at a simple end",
        lesson="carried in",
        face="bottom",
    ),
    *_both("fit", "fit", "room for a row of {} bars", "length", lesson="crowded"),
    _kind("fit.rows", "fit", "clear distance of the rows of both faces", "length", lesson="crowded"),
    _kind(
        "fit.bends", "fit", "room for the bends of several rows side by side", "length", lesson="bends apart"
    ),
    _kind("bracing.span", "bracing", "distance of lateral supports", "length"),
    *_both("lap", "lap", "length of a lap at the {}", "length", lesson="longer laps"),
    *_both("lap-size", "lap", "size of lapped bars at the {}", "number"),
    *_both("lap-stirrups", "lap", "stirrups across a lap at the {}", "area"),
    *_both("lap-spacing", "lap", "spacing of stirrups over the outer thirds of a lap at the {}", "length"),
    *_both("lap-share", "lap", "share of the {} bars lapped at one place", "number", lesson="stagger"),
    _kind("inside.bars", "fit", "bars inside the concrete and its cover", "length", lesson="crowded"),
    _kind("bend.support", "fit", "room for a bend inside its support", "length", lesson="crowded"),
    _kind("bend.leg", "fit", "length of the leg beyond a bend", "length", lesson="longer legs"),
    _kind("inside.stirrups", "fit", "stirrups inside the concrete", "length", lesson="crowded"),
    _kind("inside.sides", "fit", "side bars inside the concrete", "length", lesson="crowded"),
    _kind("fit.legs", "fit", "room for the legs of a stirrup side by side", "length", lesson="crowded"),
    _kind("fit.sides", "fit", "room for the rows of side bars", "length", lesson="crowded"),
    _kind(
        "fit.stirrups",
        "fit",
        "distance of the two stirrups that are nearest to each other",
        "length",
        lesson="crowded",
    ),
    _kind(
        "fit.corners-bottom",
        "fit",
        "bars in the bottom corners of stirrups",
        "number",
        lesson="crowded",
        face="bottom",
    ),
    _kind(
        "fit.corners-top",
        "fit",
        "bars in the top corners of stirrups",
        "number",
        lesson="crowded",
        face="top",
    ),
    _kind("fit.kinks", "fit", "bars in tension past a kink where the soffit turns downwards", "length"),
    _kind("stock.bars", "fit", "length of a bar against stock", "length", severity="advice"),
    _kind("cover.bars", "cover", "cover of the bars themselves", "length"),
    _kind("deflection.total", "deflection", "total deflection", "length", lesson="stiffness"),
    _kind(
        "deflection.live", "deflection", "deflection by variable actions alone", "length", lesson="stiffness"
    ),
    _kind(
        "deflection.after-finishes",
        "deflection",
        "deflection after the finishes",
        "length",
        lesson="stiffness",
    ),
    _kind(
        "deflection.after-partitions",
        "deflection",
        "deflection after the partitions",
        "length",
        lesson="stiffness",
    ),
    _kind(
        "deflection.upward", "deflection", "movement upwards", "length", severity="advice", lesson="stiffness"
    ),
    _kind("deflection.precamber", "deflection", "precamber", "length", severity="advice"),
    _kind("deflection.span-depth", "deflection", "span over depth", severity="advice", beside=True),
    *_both("cracking", "cracking", "crack control at the {}", "", lesson="cracks"),
    *_both(
        "service-stress",
        "cracking",
        "stress of the {} bars against a limit of one's own",
        "steel stress",
        lesson="cracks",
    ),
    # what applies and is not verified has a kind too
    _kind("cover.durability", "cover", "cover for the exposure"),
    _kind("joints.hinge", "joints", "the joint at a hinge"),
    _kind("flange.outline", "flange", "shear between the web and its overhang"),
    _kind("forces.combinations", "forces", "actions in the combinations"),
    _kind("forces.tables", "forces", "tables that agree with each other"),
    _kind("forces.shear", "forces", "shears that belong to the moments"),
    _kind("deep.span", "deep", "the limits of beam theory"),
    _kind("lateral.seismic", "lateral", "detailing for earthquakes"),
)


def kinds_of(code: DesignCode) -> Mapping[str, CheckKind]:
    """By id: those of every code, and those of its own rules."""
    return {kind.id: kind for kind in (*COMMON, *(kind for rule in code.rules for kind in rule.kinds))}
