"""Words of others for what a statement says, and how it says that: offered first where they stand
in their place."""

from collections.abc import Iterable, Mapping
from types import MappingProxyType

_TOLD = (
    ("vs vs. versus over by", "against"),
    ("scatter graph chart draw show display", "Plot"),
    ("fit regression regress model trendline", "Trend", "with"),
    ("linear line regression ols lm", "straight line", "Trend straight line"),
    ("quadratic parabola square", "polynomial of degree 2"),
    ("cubic", "polynomial of degree 3"),
    ("exp exponent", "exponential"),
    ("ln", "logarithm"),
    ("power", "power law"),
    ("gaussian gauss bell", "peak on a baseline"),
    ("sigmoid sigmoidal", "logistic"),
    ("michaelis langmuir hyperbola", "saturation"),
    ("loess lowess smooth", "local regression"),
    ("mean average rolling", "moving average"),
    ("log logarithmic log10 logscale", "on a log scale"),
    ("category categorical categories", "on a category scale"),
    ("reverse invert inverted flip flipped descending", "reversed"),
    ("min start starting begin", "from"),
    ("max end ending up until till", "to"),
    ("range limits limit between", "from"),
    ("step steps interval spacing increment", "every"),
    ("dots dot marker markers symbols scatter", "points"),
    ("lines curve", "line"),
    ("bar columns histogram", "bars"),
    ("pie donut doughnut", "ring of shares"),
    ("legend label called", "named"),
    ("caption heading name label", "titled", "Title"),
    ("colour color coloured colored", "look"),
    ("r2 r^2 rsq", "R²"),
    ("eq formula function", "equation"),
    ("ci confidence", "95 % band"),
    ("size dimensions", "Figure"),
)


def _meant() -> Mapping[str, tuple[str, ...]]:
    found: dict[str, tuple[str, ...]] = {}
    for others, *meant in _TOLD:
        for other in others.split():
            found[other] = (*found.get(other, ()), *meant)
    return MappingProxyType(found)


_MEANT = _meant()


def meant_by(read: str, known: Iterable[str]) -> list[str]:
    """What is meant by a word that others use, of what may stand in its place: all that begins as
    one of the `known` words does."""
    begins = {one.casefold().split(" ")[0] for one in known}
    meant = _MEANT.get(read.casefold().strip(), ())
    return [one for one in meant if one.casefold().split(" ")[0] in begins]
