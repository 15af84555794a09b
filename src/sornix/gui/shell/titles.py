"""What the frame of a window says of its document."""

from sornix.gui.base.plain import plain_tip
from sornix.gui.session.workbench import Workbench
from sornix.gui.shell.frame import Frame


def show_state(frame: Frame, bench: Workbench) -> None:
    """Shows name, title, whether the document is saved, and what can be done."""
    has_document = bench.document is not None
    frame.name.setText(bench.name or "Sornix")
    frame.setWindowTitle(f"{bench.name} – Sornix" if has_document else "Sornix")
    state = "not saved" if bench.has_unsaved_changes else "saved" if bench.path else ""
    if bench.file_is_gone and bench.path is not None:
        state = f"{bench.path.name} is gone: not saved"
    frame.footer.state.setText(state)
    for button, name, shortcut in (
        (frame.undo, bench.undo_name, "undo"),
        (frame.redo, bench.redo_name, "redo"),
    ):
        button.setEnabled(bool(name))
        words = f"{shortcut.capitalize()}: {name}" if name else f"Nothing to {shortcut}"
        button.setToolTip(plain_tip(words))
        button.setAccessibleName(words)
    frame.copy.setEnabled(has_document)
    frame.export.setEnabled(has_document)
