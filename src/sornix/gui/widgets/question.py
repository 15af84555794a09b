"""A question that is answered by a line of text, or by an entry of a list."""

from PyQt6.QtWidgets import QComboBox, QInputDialog, QLineEdit, QWidget

from sornix.gui.base.plain import make_plain


class Question(QInputDialog):
    """A dialog whose field bears the question as its name."""

    def setLabelText(self, text: str | None) -> None:
        super().setLabelText(text)
        self._name_fields()

    def setTextValue(self, text: str | None) -> None:
        super().setTextValue(text)
        self._name_fields()

    def _name_fields(self) -> None:
        make_plain(self)
        for field in (*self.findChildren(QLineEdit), *self.findChildren(QComboBox)):
            field.setAccessibleName(self.labelText().rstrip(":"))


def asking(parent: QWidget) -> Question:
    """An empty question above a window."""
    return Question(parent)
