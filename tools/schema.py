"""Makes the schema of figure.json anew from the classes: python tools/schema.py"""

import json

from sornix.core.document.stored.schema import figure_schema
from sornix.data import data_path


def schema_text() -> str:
    """The schema as it stands in its file."""
    return json.dumps(figure_schema(), indent=1, ensure_ascii=False) + "\n"


if __name__ == "__main__":
    data_path("figure.schema.json").write_text(schema_text())
