"""A judge of designed beams that shares nothing with the core: it reads a beam file and a `result.json`, and finds forces, sections and
bars by formulas of its own, the simplest there are. What it asks for is necessary, not sufficient: a finding is a fault.

Beams of one rectangular profile on supports without columns, cantilevers at either end, line and point loads over whole spans, in SI.
"""

from __future__ import annotations

import itertools
import math
import re
from collections.abc import Callable
from dataclasses import dataclass

import numpy as np
from ruamel.yaml import YAML

KN, M = 1e3, 1e3
SLACK = 1.03
TIP = 50.0  # mm


@dataclass(frozen=True)
class Rules:
    """What the judge knows of a code, in the simplest form: weight of concrete (N/mm3); factors on permanent loads of loaded spans, of the
    others, and on the variable action that leads; yield stress of bars and stress of concrete in bending over their strengths; the least
    lever arm's depth of the block over its half; longest lever arm over d."""

    weight: float
    combinations: tuple[tuple[float, float, float], ...]
    beside: float
    steel: Callable[[float], float]
    concrete: Callable[[float], float]
    half: float = 0.5
    lever: float = 1.0
    alternate_only: bool = False
    reach: float = 0.0


RULES = {
    "en": Rules(25e-6, ((1.35, 1.35, 1.5), (1.0, 1.0, 1.5)), 1.0, lambda f: f / 1.15, lambda f: f / 1.5, reach=0.45 * 0.85),
    "aci": Rules(24e-6, ((1.4, 1.4, 0.0), (1.2, 1.2, 1.6)), 0.5, lambda f: 0.9 * f, lambda f: 0.9 * 0.85 * f),
    "csa": Rules(24e-6, ((1.4, 1.4, 0.0), (1.25, 1.25, 1.5), (0.9, 0.9, 1.5)), 1.0, lambda f: 0.85 * f, lambda f: 0.65 * (0.85 - 0.0015 * f) * f),
    "is456": Rules(24e-6, ((1.5, 1.5, 1.5), (0.9, 0.9, 1.5)), 1.0, lambda f: 0.87 * f, lambda f: 0.36 * f, half=0.42),
    "bs": Rules(24e-6, ((1.4, 1.4, 0.0), (1.4, 1.0, 1.6), (1.0, 1.0, 1.6)), 1.0, lambda f: 0.95 * f, lambda f: 0.67 * f / 1.5, 0.5, 0.95, True),
}  # fmt: skip


@dataclass(frozen=True)
class Spans:
    """Lengths (mm) from left to right; whether the first and the last are cantilevers."""

    lengths: tuple[float, ...]
    left_free: bool
    right_free: bool

    @property
    def starts(self) -> list[float]:
        return [sum(self.lengths[:k]) for k in range(len(self.lengths))]

    @property
    def supports(self) -> list[float]:
        ends = [*self.starts, sum(self.lengths)]
        return ends[(1 if self.left_free else 0) : (len(ends) - 1 if self.right_free else len(ends))]


AREAS = {11.3: 100.0, 16.0: 200.0, 19.5: 300.0, 25.2: 500.0, 29.9: 700.0, 35.7: 1000.0}
"""Nominal areas of hard-metric bars; a 16 mm bar of other codes has as much within half a percent."""


def effect(
    spans: Spans, loads: list[tuple[int, str, float, float]], x: np.ndarray
) -> tuple[np.ndarray, np.ndarray]:
    """Moment (sagging positive, Nmm) and shear (N) at x by the equation of three moments; loads: span, 'line' or 'point', size, place."""
    s, starts, sup = spans, spans.starts, spans.supports
    inner = [
        k
        for k in range(len(s.lengths))
        if not ((k == 0 and s.left_free) or (k == len(s.lengths) - 1 and s.right_free))
    ]
    n = len(sup)
    a, r = np.eye(n), np.zeros(n)

    def tip(k: int) -> float:
        """Moment that a loaded cantilever puts on its support; place is measured from the left end of its span."""
        length, total = s.lengths[k], 0.0
        for span, kind, size, place in loads:
            if span == k:
                arm = length - place if k == 0 and s.left_free else place
                total -= size * length**2 / 2 if kind == "line" else size * arm
        return total

    if s.left_free:
        r[0] = tip(0)
    if s.right_free:
        r[-1] = tip(len(s.lengths) - 1)
    for i in range(1, n - 1):
        before, after = inner[i - 1], inner[i]
        l_1, l_2 = s.lengths[before], s.lengths[after]
        a[i, i - 1 : i + 2] = l_1, 2 * (l_1 + l_2), l_2
        for span, kind, size, place in loads:
            if span == before:
                r[i] -= size * l_1**3 / 4 if kind == "line" else size * place * (l_1**2 - place**2) / l_1
            if span == after:
                b = l_2 - place
                r[i] -= size * l_2**3 / 4 if kind == "line" else size * b * (l_2**2 - b**2) / l_2
    at_support = np.linalg.solve(a, r)
    moment, shear = np.zeros_like(x), np.zeros_like(x)
    for k, length in enumerate(s.lengths):
        here = (x >= starts[k]) & (x <= starts[k] + length)
        u = x[here] - starts[k]
        own = [(kind, size, place) for span, kind, size, place in loads if span == k]
        if k in inner:
            i = inner.index(k)
            m_a, m_b = at_support[i], at_support[i + 1]
            m, v = m_a + (m_b - m_a) * u / length, np.full_like(u, (m_b - m_a) / length)
            for kind, size, place in own:
                if kind == "line":
                    m, v = m + size * u * (length - u) / 2, v + size * (length / 2 - u)
                else:
                    left = size * (length - place) / length
                    m = m + np.where(u < place, left * u, size * place / length * (length - u))
                    v = v + np.where(u < place, left, left - size)
        else:
            m, v = np.zeros_like(u), np.zeros_like(u)
            from_tip = u if k == 0 and s.left_free else length - u
            sign = -1.0 if k == 0 and s.left_free else 1.0
            for kind, size, place in own:
                arm = place if k == 0 and s.left_free else length - place
                m = m - (size * from_tip**2 / 2 if kind == "line" else size * np.maximum(from_tip - arm, 0.0))
                v = v + sign * (size * from_tip if kind == "line" else size * (from_tip > arm))
        moment[here], shear[here] = m, v
    return moment, shear


@dataclass(frozen=True)
class Envelope:
    high: np.ndarray
    low: np.ndarray
    shear: np.ndarray


def lapped(bars: list[dict]) -> list[tuple[dict, dict]]:
    """Pieces of one face that a lap joins: of those that overlap, the one that begins last."""
    result = []
    for one in bars:
        if one["ends"][1] != "lap":
            continue
        alike = [
            o
            for o in bars
            if o["layer"] == one["layer"] and o["count"] == one["count"] and o["ends"][0] == "lap"
        ]
        over = [o for o in alike if one["start_mm"] < o["start_mm"] < one["end_mm"]]
        if over:
            result.append((one, max(over, key=lambda o: o["start_mm"])))
    return result


class Judge:
    """Findings about one beam. `beam` the file's text, `result` the data of its `result.json`."""

    def __init__(self, beam: str, result: dict) -> None:
        self.file, self.result, self.found = YAML(typ="safe").load(beam), result, []
        line = self.file["line"]
        lengths = tuple(item["span"] * M for item in line if "span" in item)
        self.spans = Spans(lengths, "span" in line[0], "span" in line[-1])
        self.half = 0.5 * next(item["width"] for item in line if "support" in item)
        p = self.file["profiles"]["p"]
        self.b, self.h, cover = p["width"], p["depth"], self.file["cover"]
        self.cover = {"bottom": cover["bottom"], "top": cover["top"]}
        self.sides = cover["sides"]
        self.code = next(key for key in RULES if self.file["code"].startswith(key))
        self.en, self.rules = self.code == "en", RULES[self.code]
        concrete, steel = self.file["concrete"], self.file["reinforcement"]
        self.f_c = (
            float(re.sub(r"\D.*", "", concrete["grade"][1:]))
            if "grade" in concrete
            else float(concrete["strength"])
        )
        self.f_y = float(re.sub(r"\D", "", str(steel["bars"]))) if "bars" in steel else float(steel["yield"])
        self.x = np.linspace(0.0, sum(lengths), 601)
        sup = np.array(self.spans.supports)
        self.clear = np.abs(self.x[:, None] - sup).min(axis=1) >= self.half + 1.0
        # bars stop at the cover of a free tip, where next to nothing acts
        low = TIP if self.spans.left_free else sup[0]
        high = self.x[-1] - TIP if self.spans.right_free else sup[-1]
        self.clear &= (self.x >= low) & (self.x <= high)
        self.tie = max(float(z["diameter_mm"]) for z in result["stirrups"])
        self.envelope = self._envelope()

    # --- forces

    def _loads(self, action: dict) -> list[tuple[int, str, float, float]]:
        result = []
        for load in action["loads"]:
            on = [load["on"] - 1] if "on" in load else range(len(self.spans.lengths))
            if "line" in load:
                result += [(k, "line", load["line"] * 1.0, 0.0) for k in on]
            else:
                result += [(k, "point", load["point"] * KN, load["at"] * M) for k in on]
        return result

    def _envelope(self) -> Envelope:
        n = len(self.spans.lengths)
        base = [(k, "line", self.rules.weight * self.b * self.h, 0.0) for k in range(n)]
        dead = [load for a in self.file["actions"] if a["kind"] == "permanent" for load in self._loads(a)]
        weighed = any(a.get("self_weight") for a in self.file["actions"])
        dead += base if weighed else []
        variable = [a for a in self.file["actions"] if a["kind"] != "permanent"]
        patterns = [set(range(n)), set(range(0, n, 2)), set(range(1, n, 2))]
        patterns += [] if self.rules.alternate_only else [{k, k + 1} for k in range(n - 1)]
        rows_m, rows_v = [], []
        for pattern in patterns:
            g_m, g_v = (np.array(v) for v in effect(self.spans, [p for p in dead if p[0] in pattern], self.x))
            o_m, o_v = effect(self.spans, [p for p in dead if p[0] not in pattern], self.x)
            parts = [
                effect(self.spans, [q for q in self._loads(a) if q[0] in pattern], self.x) for a in variable
            ]
            for local in itertools.product((0, 1), repeat=len(variable)):
                for (g, o, q), leading in itertools.product(
                    self.rules.combinations, range(max(len(variable), 1))
                ):
                    o = g if q == 0.0 else o  # permanent loads alone are alike in all spans
                    factors = [
                        t * self._factor(a, k == leading, q)
                        for k, (a, t) in enumerate(zip(variable, local, strict=True))
                    ]
                    rows_m.append(
                        g * g_m + o * o_m + sum(f * m for f, (m, _) in zip(factors, parts, strict=True))
                    )
                    rows_v.append(
                        g * g_v + o * o_v + sum(f * v for f, (_, v) in zip(factors, parts, strict=True))
                    )
        m, v = np.array(rows_m), np.array(rows_v)
        return Envelope(m.max(axis=0), m.min(axis=0), np.abs(v).max(axis=0))

    def _factor(self, action: dict, leads: bool, q: float) -> float:
        if self.en:
            return q * (1.0 if leads else {"A": 0.7, "B": 0.7, "E": 1.0}.get(action.get("category", ""), 0.5))
        return q if action["kind"] == "imposed" else min(q, self.rules.beside)

    # --- bars

    def _share(self, bar: dict) -> np.ndarray:
        """Share of its yield that a bar has at each x, with the shortest anchorage that any condition allows."""
        phi = bar["diameter_mm"]
        if self.en:
            bond = 2.25 * 0.7 * 0.3 * self.f_c ** (2 / 3) / 1.5
            length = 0.7 * phi / 4 * (self.f_y / 1.15) / bond
        elif self.code == "bs":
            length = 0.95 * self.f_y * phi / (4 * 0.5 * math.sqrt(self.f_c))
        elif self.code == "is456":
            length = (
                0.87
                * self.f_y
                * phi
                / (4 * 1.6 * {20: 1.2, 25: 1.4, 30: 1.5, 35: 1.7}.get(int(self.f_c), 1.9))
            )
        elif self.code == "csa":
            length = 1.15 * 0.8 * self.f_y / math.sqrt(self.f_c) * (math.pi * phi / 4 * 1.03) / 2.5
        else:
            length = self.f_y * 0.8 * phi / (1.1 * math.sqrt(self.f_c) * 2.5)
        tail = [
            0.0 if e == "straight" else (1e9 if e == "lap" else max(leg, 0.0) + length)
            for e, leg in zip(bar["ends"], bar["legs_mm"], strict=True)
        ]
        share = np.minimum(
            (self.x - bar["start_mm"] + tail[0]) / length, (bar["end_mm"] - self.x + tail[1]) / length
        )
        inside = (self.x >= bar["start_mm"]) & (self.x <= bar["end_mm"])
        return np.where(inside, np.clip(share, 0.0, 1.0), 0.0)

    def _steel(self, face: str) -> tuple[np.ndarray, np.ndarray]:
        """Area that counts and its effective depth."""
        area, moment = np.zeros_like(self.x), np.zeros_like(self.x)
        bars = [b for b in self.result["bars"] if b["face"] == face]
        laps = lapped(bars)
        for bar in bars:
            phi, n = bar["diameter_mm"], bar["count"]
            own = n * AREAS.get(phi, math.pi * phi**2 / 4) * self._share(bar)
            for one, other in laps:  # both pieces are one bar
                over = (self.x >= other["start_mm"]) & (self.x <= one["end_mm"])
                if bar is one or bar is other:
                    own = np.where(over, 0.5 * own, own)
            d = self.h - self.cover[face] - self.tie - phi / 2 - (bar["layer"] - 1) * (phi + max(phi, 20.0))
            area, moment = area + own, moment + own * d
        return area, moment / np.maximum(area, 1e-9)

    # --- judging

    def judge(self) -> list[str]:
        self._bending("bottom", self.envelope.high)
        self._bending("top", -self.envelope.low)
        self._shear()
        self._least()
        self._rows()
        self._made()
        return self.found

    def _finding(self, what: str, ratio: np.ndarray) -> None:
        if ratio.max(initial=0.0) > SLACK:
            i = int(ratio.argmax())
            self.found.append(f"{what} {ratio[i]:.2f} at {self.x[i] / M:.2f} m")

    def _capacity(self, face: str) -> np.ndarray:
        area, d = self._steel(face)
        f_yd, f_cd = self.rules.steel(self.f_y), self.rules.concrete(self.f_c)
        # the bars of the other face may take part of the compression, at their yield
        other, depth = self._steel("top" if face == "bottom" else "bottom")
        pushed = np.minimum(other, area) * f_yd
        alone, rest = area * f_yd, np.maximum(area * f_yd - pushed, 0.0)
        single = alone * np.minimum(d - self.rules.half * alone / (self.b * f_cd), self.rules.lever * d)
        double = pushed * np.maximum(d - (self.h - depth), 0.0) + rest * (
            d - self.rules.half * rest / (self.b * f_cd)
        )
        return np.where(
            self.rules.half * alone / (self.b * f_cd) > self.h - depth, np.maximum(single, double), single
        )

    def _bending(self, face: str, demand: np.ndarray) -> None:
        a_l = self.rules.reach * self.h
        required = np.where(self.clear, np.maximum(demand, 0.0), 0.0)
        step = self.x[1] - self.x[0]
        reach = int(a_l // step)
        shifted = required.copy()
        for k in range(1, reach + 1):  # not across supports, where the peak is rounded
            for to, by in ((slice(k, None), slice(None, -k)), (slice(None, -k), slice(k, None))):
                same = self.clear[to] & self.clear[by]
                shifted[to] = np.where(same, np.maximum(shifted[to], required[by]), shifted[to])
        tall = demand.max(initial=0.0)
        self._finding(
            f"bending {face}",
            np.where(
                self.clear & (shifted > 0.03 * tall), shifted / np.maximum(self._capacity(face), 1e3), 0.0
            ),
        )

    def _shear(self) -> None:
        _, d = self._steel("bottom")
        d = np.where(d > 0.0, d, 0.9 * self.h)
        sup = np.array(self.spans.supports)
        far = np.abs(self.x[:, None] - sup).min(axis=1) >= self.half + 0.95 * self.h
        required = np.where(far & self.clear, self.envelope.shear, 0.0)
        a_v = np.zeros_like(self.x)
        for z in self.result["stirrups"]:
            near = (self.x >= z["start_mm"] - 0.5 * self.h) & (self.x <= z["end_mm"] + 0.5 * self.h)
            spacing = z["spacing_mm"] if z["count"] > 1 else 0.5 * self.h
            a_v = np.maximum(
                a_v, np.where(near, z["legs"] * math.pi * z["diameter_mm"] ** 2 / 4 / spacing, 0.0)
            )
        if self.en:
            cot = np.linspace(1.0, 2.5, 31)[:, None]
            z, nu = 0.9 * d, 0.6 * (1 - self.f_c / 250)
            able = np.minimum(
                a_v * z * self.f_y / 1.15 * cot, self.b * z * nu * self.f_c / 1.5 / (cot + 1 / cot)
            ).max(axis=0)
            plain = 0.12 * 2.0 * (100 * 0.02 * self.f_c) ** (1 / 3) * self.b * d
            able = np.maximum(able, plain * (a_v > 0.0))
        elif self.code == "aci":
            able = 0.75 * (0.25 * math.sqrt(self.f_c) * self.b * d + a_v * self.f_y * d)
        else:
            area = np.maximum(self._steel("bottom")[0], self._steel("top")[0])
            able = (
                self._plain(np.clip(100 * area / (self.b * d), 0.15, 3.0), d)
                + a_v * min(self.f_y, self._stirrup_limit()) * self._truss() * d
            )
        self._finding(
            "shear",
            np.where(required > 0.1 * required.max(initial=0.0), required / np.maximum(able, 1.0), 0.0),
        )

    def _plain(self, percent: np.ndarray, d: np.ndarray) -> np.ndarray:
        """What concrete carries with stirrups, no less than by any reading, N."""
        if self.code == "bs":
            return (
                0.632
                * np.cbrt(percent)
                * np.maximum((400 / d) ** 0.25, 1.0)
                * min(self.f_c / 25, 1.6) ** (1 / 3)
                * self.b
                * d
            )
        if self.code == "csa":
            return 0.65 * 0.21 * math.sqrt(self.f_c) * self.b * np.maximum(0.9 * d, 0.72 * self.h)
        f = 0.8 * min(self.f_c, 40.0)  # the formula behind the table, 3 % up
        beta = np.maximum(f / (6.89 * percent), 1.0)
        return 1.03 * 0.85 * math.sqrt(f) * (np.sqrt(1 + 5 * beta) - 1) / (6 * beta) * self.b * d

    def _stirrup_limit(self) -> float:
        return {"bs": 460.0, "is456": 415.0}.get(self.code, 500.0)

    def _truss(self) -> float:
        """Factor on f_y a_v d."""
        return {"bs": 0.95, "is456": 0.87}.get(self.code, 0.85 * 0.97 / math.tan(math.radians(35)))

    def _least(self) -> None:
        area, d = self._steel("bottom")
        tensile = 0.3 * self.f_c ** (2 / 3)
        shares = {
            "en": max(0.26 * tensile / self.f_y, 0.0013), "aci": max(0.25 * math.sqrt(self.f_c), 1.4) / self.f_y, "bs": 0.0013,
            "is456": 0.85 / self.f_y, "csa": 0.2 * math.sqrt(self.f_c) / self.f_y,
        }  # fmt: skip
        share = shares[self.code]
        pulled = self.envelope.high > 0.5 * self.envelope.high.max(initial=0.0)
        required = share * self.b * d
        if self.code in ("aci", "csa"):  # a third more than needed is enough
            yielding = {"aci": 0.9, "csa": 0.85}[self.code] * self.f_y
            required = np.minimum(
                required, 4 / 3 * self.envelope.high / (yielding * 0.97 * np.maximum(d, 1.0))
            )
        self._finding("least steel", np.where(pulled & self.clear, required / np.maximum(area, 1.0), 0.0))

    def _rows(self) -> None:
        room = self.b - 2 * (self.sides + self.tie)
        for face, layer in itertools.product(("bottom", "top"), (1, 2, 3)):
            bars = [b for b in self.result["bars"] if (b["face"], b["layer"]) == (face, layer)]
            for x in sorted({b["start_mm"] + 0.5 for b in bars} | {b["end_mm"] - 0.5 for b in bars}):
                here = [b for b in bars if b["start_mm"] <= x <= b["end_mm"]]
                twice = sum(
                    one["count"] for one, other in lapped(bars) if other["start_mm"] <= x <= one["end_mm"]
                )
                largest = max(b["diameter_mm"] for b in here)
                gaps = sum(b["count"] for b in here) - 1 - twice
                taken = sum(b["count"] * b["diameter_mm"] for b in here) + gaps * max(largest, 20.0)
                if taken > room * 1.001 + 0.5 and gaps > 0:
                    self.found.append(f"row {layer} {face}: {taken:.0f} mm in {room:.0f} at {x / M:.2f} m")

    def _made(self) -> None:
        low, high = self.spans.supports[0] - self.half, self.spans.supports[-1] + self.half
        low, high = (0.0 if self.spans.left_free else low), (self.x[-1] if self.spans.right_free else high)
        for b in self.result["bars"]:
            if b["start_mm"] < low + 1 or b["end_mm"] > high - 1 or b["end_mm"] - b["start_mm"] > 12_001:
                self.found.append(f"bar {b['mark']} lies outside the concrete, or is too long")
        places = sorted(
            z["start_mm"] + k * z["spacing_mm"] for z in self.result["stirrups"] for k in range(z["count"])
        )
        nearest = min((b - a for a, b in itertools.pairwise(places)), default=100.0)
        if nearest < 49.0:
            self.found.append(f"stirrups {nearest:.0f} mm apart")
        maximum_spacing = max(
            (b - a for a, b in itertools.pairwise(places) if not any(a < s < b for s in self.spans.supports)),
            default=0.0,
        )
        widest = {"aci": 0.5 * self.h, "is456": 300.0, "csa": min(0.7 * self.h, 600.0)}.get(
            self.code, 0.75 * self.h
        )
        if maximum_spacing > widest * 1.02 + 1:
            self.found.append(f"stirrups {maximum_spacing:.0f} mm apart")
        verdict = self.result["verdict"]["status"]
        failing = [c["id"] for c in self.result["checks"] if c["ratio"] > 1.0005 and c["severity"] == "must"]
        if (verdict == "fail") != bool(failing):
            self.found.append(f"verdict {verdict} with {failing}")
