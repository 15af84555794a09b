"""Styles of the user's own: kept with the settings, saved under a name, taken away again."""

from typing import TYPE_CHECKING

from attrs import asdict

from sornix.core import figure as edits
from sornix.core.figure import Figure, OwnStyle
from sornix.gui.base.settings import Settings
from sornix.gui.widgets.question import asking

if TYPE_CHECKING:
    from sornix.gui.actions.atwork import AtWork

_KEPT = "styles"


def own_styles(settings: Settings) -> tuple[OwnStyle, ...]:
    """The styles in the settings; what cannot be understood is passed over."""
    kept = settings.listed(_KEPT)
    if not kept:
        return ()
    import cattrs

    converter = cattrs.Converter(forbid_extra_keys=True)
    found = []
    for value in kept:
        try:
            found.append(converter.structure(value, OwnStyle))
        except cattrs.BaseValidationError:
            continue
    return tuple(found)


def _keep(window: "AtWork", styles: tuple[OwnStyle, ...]) -> None:
    window.bench.styles = styles
    window.settings.remember(**{_KEPT: [asdict(style) for style in styles]})


def ask_style_name(window: "AtWork") -> None:
    """Asks for a name, and keeps the style of the figure under it."""
    dialog = asking(window.frame)
    dialog.setWindowTitle("A style of your own")
    dialog.setLabelText("Name (it keeps the style, what is held, and the size):")
    scene = window.bench.scene
    dialog.setTextValue(scene.figure.style_name if scene else "")

    def keep() -> None:
        def change(figure: Figure) -> Figure:
            own = edits.own_style(figure, dialog.textValue())
            others = tuple(s for s in window.bench.styles if s.name != own.name)
            _keep(window, (*others, own))
            return edits.put_on_style(figure, own)

        window.edit("named a style", change)

    dialog.accepted.connect(keep)
    dialog.finished.connect(dialog.deleteLater)
    dialog.open()


def ask_removed_style(window: "AtWork") -> None:
    """Asks which style of the user's own is not wanted any more; figures keep theirs."""
    dialog = asking(window.frame)
    dialog.setWindowTitle("Remove a style of your own")
    dialog.setLabelText("Style (figures that have it keep their looks):")
    dialog.setComboBoxItems([style.name for style in window.bench.styles])

    def remove() -> None:
        _keep(window, tuple(s for s in window.bench.styles if s.name != dialog.textValue()))
        window.refresh()

    dialog.accepted.connect(remove)
    dialog.finished.connect(dialog.deleteLater)
    dialog.open()
