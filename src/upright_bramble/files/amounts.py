"""Numbers and words of the files as typed values: read into N, mm, MPa, days, and bounded."""

# annotations are values here, not text: pydantic reads them, and reads values faster

import re
from dataclasses import dataclass
from typing import Annotated, Any

from pydantic import (
    BaseModel,
    BeforeValidator,
    ConfigDict,
    Field,
    GetCoreSchemaHandler,
    GetJsonSchemaHandler,
    ValidationInfo,
    WithJsonSchema,
)
from pydantic_core import CoreSchema, PydanticCustomError, core_schema

from upright_bramble.core.quantities import SYSTEMS, parse
from upright_bramble.errors import UnitError


@dataclass(frozen=True)
class Measured:
    """A number, or text with its unit: read into N, mm, MPa, days, bounded, and described to editors and
    documentation in one place.

    `quantity` of the table of quantities, `name` what it is; above zero (`positive`), at least `least`,
    within the range that can be meant (`sensible`).
    """

    quantity: str
    name: str
    positive: bool = False
    least: float | None = None
    sensible: tuple[float, float] | None = None

    def read(self, value: object, info: ValidationInfo) -> float:
        system = (info.context or {}).get("units", SYSTEMS["si"])
        try:
            number = parse(value, self.quantity, system)
        except UnitError as error:
            raise _unusable(str(error)) from None
        if self.positive and number <= 0.0:
            raise _unusable(f"'{value}' is not above zero; a {self.quantity} must be")
        if self.least is not None and number < self.least:
            raise _unusable(f"'{value}' is below {self.least:g}; it must not be")
        if self.sensible is not None and not self.sensible[0] * (1.0 - 1e-9) <= number <= self.sensible[1] * (
            1.0 + 1e-9
        ):
            low, high = (f"{system.value(v, self.quantity):.4g}" for v in self.sensible)
            raise _unusable(
                f"'{str(value)[:40]}' is outside the sensible range, {low} to {high} "
                f"{system.unit(self.quantity)}"
            )
        return number

    def __get_pydantic_core_schema__(self, source: Any, handler: GetCoreSchemaHandler) -> CoreSchema:
        return core_schema.with_info_before_validator_function(self.read, handler(source))

    def __get_pydantic_json_schema__(self, _: CoreSchema, __: GetJsonSchemaHandler) -> dict[str, Any]:
        low, high = (
            (SYSTEMS["si"].value(v, self.quantity) for v in self.sensible) if self.sensible else (None, None)
        )
        known: dict[str, Any] = {"quantity": self.quantity}
        if low is not None and high is not None:
            known["range"] = [float(f"{low:.4g}"), float(f"{high:.4g}")]
        text = (
            self.name
            if self.name.startswith("of ")
            else f"{_article(self.name)} {self.name}: number, or text with a unit"
        )
        return {"anyOf": [{"type": "number"}, {"type": "string"}], "description": text, "x-bramble": known}


def _article(word: str) -> str:
    return "an" if word[0] in "aeiou" else "a"


def _unusable(text: str) -> PydanticCustomError:
    return PydanticCustomError("unit", "{text}", {"text": text})


SpanLength = Annotated[float, Measured("span", "span", positive=True, sensible=(1.0, 1e8))]
Position = Annotated[float, Measured("span", "position along the beam", sensible=(-1e8, 1e8))]
SectionLength = Annotated[
    float, Measured("section", "length of the section", positive=True, sensible=(0.1, 100e3))
]
Eccentricity = Annotated[
    float,
    Measured(
        "section",
        "of the load from the web's axis, positive to the right as seen along the beam from its left end",
        sensible=(-20e3, 20e3),
    ),
]
CoverLength = Annotated[float, Measured("section", "length of the section", least=0.0, sensible=(0.0, 20e3))]
AggregateSize = Annotated[
    float, Measured("section", "size of aggregate", positive=True, sensible=(4.0, 150.0))
]
CrackWidth = Annotated[float, Measured("section", "width of a crack", positive=True, sensible=(0.01, 2.0))]
Settlement = Annotated[float, Measured("section", "downward movement", sensible=(-1e3, 1e3))]
StirrupSpacing = Annotated[float, Measured("section", "spacing", positive=True, sensible=(40.0, 1e3))]
VibratorGap = Annotated[float, Measured("section", "gap", least=0.0, sensible=(0.0, 300.0))]
PieceLength = Annotated[float, Measured("span", "length of a bar", positive=True, sensible=(100.0, 100e3))]
BarDistance = Annotated[float, Measured("section", "distance", least=0.0, sensible=(0.0, 2e3))]
StockLength = Annotated[float, Measured("span", "length of bars", positive=True, sensible=(1e3, 100e3))]
ColumnHeight = Annotated[float, Measured("span", "height", positive=True, sensible=(100.0, 200e3))]
ColumnSize = Annotated[float, Measured("section", "size of a column", positive=True, sensible=(20.0, 20e3))]
ForceValue = Annotated[float, Measured("force", "force", sensible=(-1e9, 1e9))]
LineIntensity = Annotated[float, Measured("line load", "line load", sensible=(-1e5, 1e5))]
AreaIntensity = Annotated[float, Measured("area load", "area load", sensible=(-10.0, 10.0))]
CoupleValue = Annotated[float, Measured("moment", "moment", sensible=(-1e12, 1e12))]
SmallMoment = Annotated[float, Measured("moment", "moment", least=0.0, sensible=(0.0, 1e8))]
SmallForce = Annotated[float, Measured("force", "force", least=0.0, sensible=(0.0, 1e6))]
StressValue = Annotated[float, Measured("stress", "stress", positive=True, sensible=(0.1, 5e3))]
DensityValue = Annotated[float, Measured("density", "density", least=0.0, sensible=(0.0, 1e-4))]
SteelPerLength = Annotated[
    float, Measured("steel per length", "steel per length", least=0.0, sensible=(0.0, 100.0))
]
OutlinePoint = Annotated[float, Measured("section", "coordinate", sensible=(-50e3, 50e3))]
Outline = Annotated[
    list[Annotated[list[OutlinePoint], Field(min_length=2, max_length=2)]],
    Field(min_length=3, max_length=100),
]
VerticalSpring = Annotated[
    float, Measured("translational stiffness", "stiffness", positive=True, sensible=(1e-3, 1e12))
]
RotationSpring = Annotated[
    float, Measured("rotational stiffness", "stiffness", positive=True, sensible=(1e3, 1e18))
]
TimeValue = Annotated[float, Measured("time", "time in days", positive=True, sensible=(0.1, 1e5))]


def _designation(value: object) -> object:
    if isinstance(value, bool) or not isinstance(value, (int, str)):
        raise PydanticCustomError(
            "bar", "{text}", {"text": f"'{value}' is not a bar size; such as 16 or '16'"}
        )
    text = str(value).strip().lstrip("#")
    return text[:-1] if text[-1:] in ("M", "m") and text[:-1].isdigit() else text


BarSize = Annotated[
    str, BeforeValidator(_designation), WithJsonSchema({"anyOf": [{"type": "integer"}, {"type": "string"}]})
]
Word = Annotated[str, Field(min_length=1, max_length=200)]


def _grade(value: object) -> object:
    """A grade that is a bare number, such as 500."""
    return str(value) if isinstance(value, int) and not isinstance(value, bool) else value


Grade = Annotated[
    Word, BeforeValidator(_grade), WithJsonSchema({"anyOf": [{"type": "integer"}, {"type": "string"}]})
]
_RESERVED = {"con", "prn", "aux", "nul", *(f"{d}{n}" for d in ("com", "lpt") for n in range(1, 10))}


def _mark(value: object) -> object:
    text = str(value) if isinstance(value, (int, str)) and not isinstance(value, bool) else ""
    if not re.fullmatch(r"[A-Za-z0-9][A-Za-z0-9_-]{0,31}", text) or text.lower() in _RESERVED:
        raise PydanticCustomError(
            "mark",
            "{text}",
            {"text": f"'{str(value)[:40]}' cannot name files; use letters, digits, - and _, such as DB3"},
        )
    return text


Mark = Annotated[
    str,
    BeforeValidator(_mark),
    WithJsonSchema({"type": "string", "pattern": "^[A-Za-z0-9][A-Za-z0-9_-]{0,31}$"}),
]


class Entry(BaseModel):
    model_config = ConfigDict(extra="forbid", frozen=True, allow_inf_nan=False, defer_build=True)
