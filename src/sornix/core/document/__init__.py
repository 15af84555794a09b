"""A document: readings and the figure drawn from them, its history and its file."""

from sornix.core.document.figures import (
    MOST_FIGURES,
    add_copy,
    add_empty,
    add_first_of,
    figure_names,
    move_figure,
    name_figure,
    place_of,
    remove_figure,
)
from sornix.core.document.history import History, Step
from sornix.core.document.newreadings import (
    Fitted,
    Missing,
    drawn_table,
    matched,
    missing_columns,
    pages_of,
    read_for,
    same_but_for_signs,
    small_panels,
    under_names,
    with_readings,
)
from sornix.core.document.stored.package import (
    load_document,
    load_with_state,
    out_endings,
    save_document,
)
from sornix.core.document.tables import (
    add_summary,
    add_tables,
    blank_document,
    change_table,
    draw_table,
    remove_table,
    rename_table,
    with_table_read_again,
)
from sornix.core.document.trendcolumns import add_residuals
from sornix.core.document.value import EXPORT_ENDINGS, Document, Export, new_document
from sornix.core.files import ENDING

__all__ = [
    "ENDING",
    "EXPORT_ENDINGS",
    "MOST_FIGURES",
    "Document",
    "Export",
    "Fitted",
    "History",
    "Missing",
    "Step",
    "add_copy",
    "add_empty",
    "add_first_of",
    "add_residuals",
    "add_summary",
    "add_tables",
    "blank_document",
    "change_table",
    "draw_table",
    "drawn_table",
    "figure_names",
    "load_document",
    "load_with_state",
    "matched",
    "missing_columns",
    "move_figure",
    "name_figure",
    "new_document",
    "out_endings",
    "pages_of",
    "place_of",
    "read_for",
    "remove_figure",
    "remove_table",
    "rename_table",
    "same_but_for_signs",
    "save_document",
    "small_panels",
    "under_names",
    "with_readings",
    "with_table_read_again",
]
