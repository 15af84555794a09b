"""What can be done with the trends of a panel from the menus."""

from collections.abc import Callable
from pathlib import Path
from typing import TYPE_CHECKING

from sornix.core import figure as edits
from sornix.core.errors import SornixError
from sornix.core.figure import FORMULA, Figure
from sornix.core.files import write_atomically
from sornix.core.text import with_article
from sornix.core.trends import MODELS
from sornix.gui.actions.ownstyles import own_shape_acts
from sornix.gui.session.scene import Scene
from sornix.gui.widgets.acts import Act, State

if TYPE_CHECKING:
    from sornix.gui.actions.atwork import AtWork


def trend_acts(window: "AtWork") -> list[Act]:
    """The acts of the Trend menu."""

    def has_trend() -> State:
        scene = window.bench.scene
        return State(bool(scene and scene.figure.panel.trends))

    def remove() -> None:
        scene = window.bench.scene
        if scene is not None and scene.figure.panel.trends:
            last = scene.figure.panel.trends[-1].id
            window.edit("removed a trend", lambda f: edits.remove_trend(f, last))

    def further() -> None:
        scene = window.bench.scene
        if scene is not None and window.panes is not None and scene.figure.panel.trends:
            window.panes.statement.open_trend(scene.figure.panel.trends[-1].id)

    def compare() -> None:
        scene = window.bench.scene
        if scene is not None and window.panes is not None and scene.figure.panel.trends:
            window.panes.compare(scene.figure.panel.trends[0].id)

    return [
        *(_put(window, model) for model in MODELS),
        _put_formula(window),
        Act("trend-further", "Trend", "Weights, method and parameters", further, "Ctrl+Shift+L",
            has_trend, divided=True),
        Act("compare", "Trend", "Compare shapes", compare, "", has_trend),
        Act("report", "Trend", "Save a report of the trends…", lambda: ask_report(window), "",
            has_trend),
        Act("remove-trend", "Trend", "Remove the last trend", remove, "", has_trend),
        *own_shape_acts(window),
    ]  # fmt: skip


def _put(window: "AtWork", model: str) -> Act:
    """Puts a trend of a shape through the first series that has none of it."""

    def change(figure: Figure, series: str) -> Figure:
        return edits.add_trend(figure, series, model)

    words = with_article(MODELS[model].words)
    run, state = _through_first_without(window, model, f"added {words}", change)
    if model.startswith("polynomial-"):
        under = "Put a polynomial through the readings"
        said = f"Of degree {model.rpartition('-')[2]}"
        return Act(f"trend/{model}", "Trend", said, run, "", state, under=under)
    if group := MODELS[model].group:
        said = f"{words[:1].upper()}{words[1:]}"
        return Act(f"trend/{model}", "Trend", said, run, "", state, under=f"Shapes of {group}")
    shortcut = "Ctrl+L" if model == "line" else ""
    said = f"Put {words} {'and' if 'through' in words else 'through'} the readings"
    return Act(f"trend/{model}", "Trend", said, run, shortcut, state)


def _put_formula(window: "AtWork") -> Act:
    def change(figure: Figure, series: str) -> Figure:
        return edits.add_trend(figure, series, FORMULA, "a + b * x")

    run, state = _through_first_without(window, FORMULA, "added a formula", change)

    def begin() -> None:
        run()
        scene = window.bench.scene
        if scene is not None and window.panes is not None:
            window.panes.statement.open_trend(scene.figure.panel.trends[-1].id)

    words = "Put a formula of your own through the readings"
    return Act(f"trend/{FORMULA}", "Trend", words, begin, "", state)


def _through_first_without(
    window: "AtWork", model: str, words: str, change: Callable[[Figure, str], Figure]
) -> tuple[Callable[[], None], Callable[[], State]]:
    """An edit of the first series that has no trend of a shape, and whether there is one."""

    def first_without() -> str | None:
        scene = window.bench.scene
        panel = scene.figure.panel if scene else None
        if panel is None:
            return None
        taken = {trend.series for trend in panel.trends if trend.model == model}
        return next((series.id for series in panel.series if series.id not in taken), None)

    def run() -> None:
        series = first_without()
        if series is not None:
            window.edit(words, lambda f: change(f, series))

    return run, lambda: State(first_without() is not None)


def ask_report(window: "AtWork") -> None:
    """Asks where to write the report of the trends of the panel in hand."""
    window.files.ask_report(f"{window.bench.name} trends", lambda path: write_report(window, path))


def write_report(window: "AtWork", path: Path) -> None:
    """Writes the report in the form that the ending of a path asks for."""
    from sornix.core.figure.prose.trendreport import report_sections
    from sornix.core.trends.fits.report import FORMS

    form = FORMS.get(path.suffix.removeprefix(".").lower())
    if window.is_read([path]):
        return
    if form is None:
        endings = ", ".join(f".{name}" for name in FORMS)
        window.say(f"A report can end in {endings}, and “{path.name}” does not.")
        return

    def write(scene: Scene) -> None:
        with scene.looking():
            sections = report_sections(scene.figure.panel, scene.tables, scene.place.equations)
        title = scene.figure.title or window.bench.name
        try:
            write_atomically(path, form(title, sections).encode("utf-8"))
        except SornixError as error:
            window.say(str(error))
        else:
            window.tell(f"written to {path.name}")

    window.bench.with_every_trend(window.start, write)
