"""A trend as a value: what is put through the readings of a series, and what it tells."""

import math
from collections.abc import Mapping
from types import MappingProxyType

from attrs import evolve, field

from sornix.core.errors import Unfit
from sornix.core.figure.model.checks import (
    ABOVE_0,
    FINITE,
    NOT_BELOW_0,
    between,
    each,
    one_of,
    told,
)
from sornix.core.figure.model.scale import Spot
from sornix.core.frozen import frozen
from sornix.core.trends import METHODS, MODELS, UNTREATED, Setting, Treatment

# What a trend may show on the figure: written at it, or as bands of 95 % about it.
SHOWS: Mapping[str, str] = MappingProxyType(
    {
        "equation": "equation",
        "units": "units in the equation",
        "r-squared": "R²",
        "scatter": "scatter about it",
        "count": "n",
        "read-offs": "what is read off",
        "told": "table of chosen x",
        "confidence": "confidence band",
        "prediction": "prediction band",
    }
)


# How readings weigh in a trend.
WEIGHTS: Mapping[str, str] = MappingProxyType(
    {
        "equal": "all weighing the same",
        "errors": "weighing by their error bars",
        "column": "weighing by a column of SD",
        "replicates": "weighing by the scatter of replicates",
        "1/y": "weighing 1/y",
        "1/y2": "weighing 1/y²",
        "both": "with errors in x and y",
    }
)
# How the 95 % intervals of a trend are found.
INTERVALS: Mapping[str, str] = MappingProxyType(
    {
        "usual": "intervals by the tangent, or by profile where that is off",
        "profile": "intervals by profile",
        "resampling": "intervals by resampling",
    }
)
# A formula typed by the user is a model of its own.
FORMULA = "formula"
_RESAMPLES = between(200, 100_000)


def _treated(_instance: object, _attribute: object, value: Treatment) -> None:
    parts = value.dilution, value.recovery
    if not (all(0 < part < math.inf for part in parts) and 0 <= value.recovery_sd < math.inf):
        raise Unfit("A dilution and a recovery are above 0, and the SD of a recovery is not below.")


@frozen
class Unknown:
    """A measured y whose x is read off a trend: the mean of so many `replicates`, or with an SD of
    its own, `sd`."""

    y: float = field(validator=FINITE, metadata=told("a measured y whose x is read off"))
    replicates: int = field(default=1, validator=between(1))
    sd: float | None = field(
        default=None,
        validator=ABOVE_0,
        metadata=told("its own standard deviation, in place of the scatter of replicates"),
    )


# Of which unit a parameter of a formula can be.
PARAMETER_UNITS: Mapping[str, str] = MappingProxyType(
    {"": "without a unit", "y": "in y", "x": "in x", "1/x": "per x"}
)


@frozen
class Meaning:
    """What a parameter of a formula stands for, and of which unit it is: a name in
    PARAMETER_UNITS."""

    name: str
    means: str = ""
    unit: str = field(default="", validator=one_of(PARAMETER_UNITS))


@frozen
class Trend:
    """A model through the readings of a series, and what it writes on the figure.

    The model is one of MODELS, or the `formula` that is typed, which may be `called` something and
    say what its parameters are: the `meanings`. It goes through the readings from
    x `start` to `end`, where these are held, by the `method` of trends.METHODS, on the readings or
    `on_logs` of y; `weights` is a name in WEIGHTS, `weight_column` holds the SD where they come
    from one. A straight line can be one in further `columns` besides, with their `products` or
    without. `settings` are what is asked of single parameters. Trends of one model on a panel
    that list the same parameters as `shared` have them in common. `intervals` is a name in
    INTERVALS; by resampling, readings are made anew `resamples` times from a `seed`. Its label
    finds its own place, or stands at `spot`. `read_offs` are the y whose x is told, `told_at` the
    x whose y is; `treatment` is what was done to the samples that are read off. Where it is
    `extended` it is drawn over the whole axis, else over the range of its readings.
    """

    id: str
    series: str = field(metadata=told("id of a series of the same panel"))
    model: str = field(default="line", validator=one_of(MODELS, FORMULA))
    shows: tuple[str, ...] = field(
        default=("equation", "r-squared", "count"), validator=each(one_of(SHOWS))
    )
    spot: Spot | None = None
    extended: bool = field(
        default=False, metadata=told("drawn over the whole axis, dashed beyond the readings")
    )
    start: float | None = field(
        default=None,
        validator=FINITE,
        metadata=told("of the x that it goes over; null: as far as the readings"),
    )
    end: float | None = field(
        default=None,
        validator=FINITE,
        metadata=told("of the x that it goes over; null: as far as the readings"),
    )
    formula: str = field(
        default="", metadata=told("of x and parameters, where the model is formula")
    )
    called: str = field(default="", metadata=told("what the formula is called"))
    meanings: tuple[Meaning, ...] = field(
        default=(), metadata=told("what the parameters of the formula stand for")
    )
    weights: str = field(default="equal", validator=one_of(WEIGHTS))
    weight_column: str | None = field(
        default=None, metadata=told("column of standard deviations, where weights is column")
    )
    method: str = field(default="least-squares", validator=one_of(METHODS))
    on_logs: bool = field(default=False, metadata=told("fitted to ln y instead of y"))
    settings: tuple[Setting, ...] = ()
    columns: tuple[str, ...] = field(
        default=(), metadata=told("further columns of a straight line in several columns")
    )
    products: bool = field(default=False, metadata=told("with the products of its columns"))
    shared: tuple[str, ...] = field(
        default=(),
        metadata=told("parameters in common with other trends of this model that list the same"),
    )
    intervals: str = field(default="usual", validator=one_of(INTERVALS))
    resamples: int = field(
        default=2000,
        validator=_RESAMPLES,
        metadata=told("how often readings are made anew, where intervals are by resampling"),
    )
    seed: int = field(default=1, validator=NOT_BELOW_0)
    read_offs: tuple[Unknown, ...] = ()
    told_at: tuple[float, ...] = field(default=(), metadata=told("x whose y is told"))
    treatment: Treatment = field(
        default=UNTREATED,
        validator=_treated,
        metadata=told("what was done to samples that are read off"),
    )

    def setting(self, name: str) -> Setting:
        """What is asked of a parameter."""
        return next((s for s in self.settings if s.name == name), Setting(name))

    def with_setting(self, setting: Setting) -> "Trend":
        """The trend with something else asked of a parameter; nothing asked leaves nothing."""
        others = tuple(s for s in self.settings if s.name != setting.name)
        kept = () if setting == Setting(setting.name) else (setting,)
        return evolve(self, settings=(*others, *kept))


@frozen
class OwnShape:
    """A shape of the user's own: a formula under a name, what its parameters are, and where the
    search for them begins."""

    name: str
    formula: str
    meanings: tuple[Meaning, ...] = ()
    starts: tuple[Setting, ...] = ()
