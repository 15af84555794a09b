"""What a person would be told who said it in the window: ranges without readings, steps that are
too long, kinds of scale that can show nothing."""

from sornix.core.errors import EditRefused
from sornix.core.figure import Figure, hold, set_kind
from sornix.core.readings import Tables
from sornix.core.statement.applying import wrong
from sornix.core.statement.parts import Said

_HELD = ("start", "end", "step")


def check_axes(figure: Figure, tables: Tables, panels: list[list[Said]]) -> None:
    """Raises StatementError where a sentence asks of an axis what the window would refuse; the
    sentences about axes are given for each panel."""
    for index, scales in enumerate(panels):
        at_hand = figure.with_hand(index)
        for said in scales:
            axis = said.kind.axis
            scale = at_hand.panel.scale(axis)
            for one in said.options:
                name = one.option.path[0]
                try:
                    if name == "kind" and scale.kind is not None:
                        plain = at_hand.with_scale(axis, type(scale)())
                        set_kind(plain, tables, axis, scale.kind, scale.base)
                    elif name in _HELD:
                        hold(at_hand, tables, axis, **{name: getattr(scale, name)})
                except EditRefused as error:
                    last = said.tokens[one.end - 1]
                    raise wrong(said.token(one), str(error), last=last) from error
