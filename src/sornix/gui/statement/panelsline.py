"""The line of the statement about panels: which one is in hand, how they stand, what they share."""

from functools import partial

from PyQt6.QtWidgets import QPushButton

from sornix.core import figure as edits
from sornix.core.errors import EditRefused
from sornix.core.figure import ARRANGEMENTS, SHARES, Figure, arrangement, axis_title, ratios
from sornix.core.figure.edits import panelstogether as edits_together
from sornix.core.text import parse_number, plain_text, rich, shortest
from sornix.gui.base.plain import plain_label, plain_tip
from sornix.gui.session.scene import Scene
from sornix.gui.session.workbench import Workbench
from sornix.gui.widgets.inlinecontrols import (
    ActWord,
    Choice,
    ChoiceWord,
    NumberWord,
    StatementLine,
    group,
    mark_states,
)

_LONGEST = 18
_LETTERS = {False: "without letters", True: "with letters"}


class PanelsLine(StatementLine):
    """“Panels (a) Level, (b) Rain; stacked 2 : 1, sharing x, with letters”."""

    def __init__(self, bench: Workbench, count: int) -> None:
        super().__init__("Panels")
        self._bench = bench
        self.tabs = [QPushButton() for _ in range(count)]
        for index, tab in enumerate(self.tabs):
            tab.setProperty("word", "true")
            tab.clicked.connect(partial(bench.take_in_hand, index))
        self.how = ChoiceWord("How the panels stand")
        self.how.chosen.connect(self._arrange)
        self.heights = NumberWord("Heights of the rows in proportion", "all the same")
        self.widths = NumberWord("Widths of the columns in proportion", "all the same")
        self._sizes = {"heights": self.heights, "widths": self.widths}
        self._groups = {
            name: group(plain_label(words), field)
            for (name, field), words in zip(self._sizes.items(), ("heights", "widths"), strict=True)
        }
        for name, field in self._sizes.items():
            field.entered.connect(partial(self._put_sizes, name))
            field.freed.connect(partial(self._put_sizes, name, ""))
        self.share = ChoiceWord("Which scales the panels share")
        self.share.chosen.connect(self._share)
        self.scope = ChoiceWord("Which panels the words below change")
        self.each = plain_label("")
        self._scope = group(self.each, self.scope)
        self.letters = ChoiceWord("Letters beside the panels")
        self.letters.chosen.connect(
            lambda shown: bench.edit(
                "changed the letters", lambda f: edits.set_letters(f, bool(shown))
            )
        )
        self.more = ActWord("+ panel", "Add a panel with the next column", link=True)
        self.more.clicked.connect(
            lambda: bench.edit("added a panel", lambda f: edits.add_panel(f, bench.tables))
        )
        self.less = ActWord("remove this one", "Remove the panel in hand", link=True)
        self.less.clicked.connect(
            lambda: bench.edit("removed a panel", lambda f: edits.remove_panel(f, f.hand))
        )
        self.add(
            *self.tabs,
            self.how,
            *self._groups.values(),
            self.share,
            self.letters,
            self._scope,
            self.more,
            self.less,
        )

    def _arrange(self, how: object) -> None:
        words = f"put the panels {ARRANGEMENTS[str(how)]}"
        self._bench.edit(words, lambda f: edits.arrange(f, str(how)))

    def _share(self, share: object) -> None:
        tables = self._bench.tables
        words = "changed what the panels share"
        self._bench.edit(words, lambda f: edits.set_share(f, tables, str(share)))

    def _put_sizes(self, name: str, text: str) -> None:
        def change(figure: Figure) -> Figure:
            parts = [part for part in text.replace(",", " ").replace(":", " ").split() if part]
            wanted = len(ratios(figure, name))
            if parts and len(parts) != wanted:
                raise EditRefused(
                    f"There are {wanted} {'rows' if name == 'heights' else 'columns'}.",
                    remedy=f"Give {wanted} sizes in proportion, such as 2 : 1.",
                )
            sizes = tuple(parse_number(part) for part in parts)
            if name == "heights":
                return edits.set_ratios(figure, heights=sizes)
            return edits.set_ratios(figure, widths=sizes)

        if not self._bench.edit(f"changed the {name} of the panels", change):
            self._sizes[name].mark_wrong()

    def show_scene(self, scene: Scene) -> None:
        figure = scene.figure
        for index, tab in enumerate(self.tabs):
            name = _name(scene, index)
            in_hand = index == scene.drawing.hand
            tab.setText(name.replace("&", "&&"))
            said = f"{name}: in hand" if in_hand else f"Take {name} in hand"
            tab.setAccessibleName(said)
            tab.setToolTip(plain_tip(said))
            mark_states(tab, {"chosen": in_hand})
        how = arrangement(figure)
        self.how.set_choices(
            ARRANGEMENTS[how], [Choice(k, w, k == how) for k, w in ARRANGEMENTS.items()]
        )
        for name, field in self._sizes.items():
            now = ratios(figure, name)
            self._groups[name].setVisible(len(now) > 1)
            least = min(now)
            text = " : ".join(shortest(r / least, 0.005) for r in now)
            held = bool(figure.heights if name == "heights" else figure.widths)
            field.show_value(text, held=held, full=text)
        self.share.set_choices(
            SHARES[figure.share], [Choice(k, w, k == figure.share) for k, w in SHARES.items()]
        )
        self.letters.set_choices(
            _LETTERS[figure.letters],
            [Choice(k, w, k == figure.letters) for k, w in _LETTERS.items()],
        )

    def show_scope(self, scene: Scene, *, alone: bool) -> None:
        """Shows by which word panels that are alike differ, and whether they are changed as one."""
        count = len(edits_together.alike_panels(scene.figure))
        self._scope.setVisible(count > 1)
        word = edits_together.word_of_panels(scene.figure)
        self.each.setText(f"each one “{word}”," if word else "each one table,")
        scopes = {False: f"all {count} changed as one", True: "this one alone"}
        self.scope.set_choices(scopes[alone], [Choice(k, w, k == alone) for k, w in scopes.items()])


def _name(scene: Scene, index: int) -> str:
    """`(b) Rain`: its letter or number, and its title or what it shows upward."""
    figure = scene.figure
    panel = figure.seen(index)
    own = figure.panels[index]
    title = panel.title or axis_title(own, scene.tables, "y").split(" / ")[0]
    title = plain_text(rich(title))
    longest = _LONGEST if len(figure.panels) < 4 else _LONGEST // 2
    short = title if len(title) <= longest else title[: longest - 1].rstrip() + "…"
    return f"{figure.letter(index) or index + 1} {short}"
