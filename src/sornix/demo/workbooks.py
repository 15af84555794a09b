"""The demo workbooks, written part by part: just what a reader of .xlsx and .ods asks for."""

import io
import zipfile
from collections.abc import Mapping, Sequence
from datetime import datetime
from xml.sax.saxutils import escape, quoteattr

Sheets = Mapping[str, Sequence[Sequence[object]]]

_XML = '<?xml version="1.0" encoding="UTF-8" standalone="yes"?>\n'
_MAIN = "http://schemas.openxmlformats.org/spreadsheetml/2006/main"
_OFFICE = "http://schemas.openxmlformats.org/officeDocument/2006/relationships"
_PACKAGE = "http://schemas.openxmlformats.org/package/2006"
_SHEET_TYPE = "application/vnd.openxmlformats-officedocument.spreadsheetml"
_ODS = "application/vnd.oasis.opendocument.spreadsheet"
_OASIS = "urn:oasis:names:tc:opendocument:xmlns"
# the day from which .xlsx counts
_DAY_ZERO = datetime(1899, 12, 30)  # noqa: DTZ001


def _packed(parts: Mapping[str, str]) -> bytes:
    stream = io.BytesIO()
    with zipfile.ZipFile(stream, "w", zipfile.ZIP_DEFLATED) as archive:
        for name, content in parts.items():
            # one fixed time, so that the same readings make the same file
            archive.writestr(
                zipfile.ZipInfo(name, (1980, 1, 1, 0, 0, 0)), content, zipfile.ZIP_DEFLATED
            )
    return stream.getvalue()


def xlsx(sheets: Sheets) -> bytes:
    """A workbook of the Open XML format (ECMA-376)."""
    numbers = range(1, len(sheets) + 1)
    listed = "".join(
        f'<sheet name={quoteattr(name)} sheetId="{i}" r:id="rId{i}"/>'
        for i, name in zip(numbers, sheets, strict=True)
    )
    relations = "".join(
        f'<Relationship Id="rId{i}" Type="{_OFFICE}/worksheet" Target="worksheets/sheet{i}.xml"/>'
        for i in numbers
    )
    styles = (
        f'<Relationship Id="rId{len(sheets) + 1}" Type="{_OFFICE}/styles" Target="styles.xml"/>'
    )
    overrides = "".join(
        f'<Override PartName="/xl/worksheets/sheet{i}.xml" '
        f'ContentType="{_SHEET_TYPE}.worksheet+xml"/>'
        for i in numbers
    )
    parts = {
        "[Content_Types].xml": f'{_XML}<Types xmlns="{_PACKAGE}/content-types">'
        '<Default Extension="rels" ContentType="application/vnd.openxmlformats-package.'
        'relationships+xml"/><Default Extension="xml" ContentType="application/xml"/>'
        f'<Override PartName="/xl/workbook.xml" ContentType="{_SHEET_TYPE}.sheet.main+xml"/>'
        f'<Override PartName="/xl/styles.xml" ContentType="{_SHEET_TYPE}.styles+xml"/>'
        f"{overrides}</Types>",
        "_rels/.rels": f'{_XML}<Relationships xmlns="{_PACKAGE}/relationships">'
        f'<Relationship Id="rId1" Type="{_OFFICE}/officeDocument" Target="xl/workbook.xml"/>'
        "</Relationships>",
        "xl/workbook.xml": f'{_XML}<workbook xmlns="{_MAIN}" xmlns:r="{_OFFICE}">'
        f"<sheets>{listed}</sheets></workbook>",
        "xl/_rels/workbook.xml.rels": f'{_XML}<Relationships xmlns="{_PACKAGE}/relationships">'
        f"{relations}{styles}</Relationships>",
        # the second format is that of dates
        "xl/styles.xml": f'{_XML}<styleSheet xmlns="{_MAIN}"><fonts count="1"><font/></fonts>'
        '<fills count="1"><fill/></fills><borders count="1"><border/></borders>'
        '<cellStyleXfs count="1"><xf/></cellStyleXfs><cellXfs count="2"><xf numFmtId="0"/>'
        '<xf numFmtId="14" applyNumberFormat="1"/></cellXfs></styleSheet>',
    }
    for i, rows in zip(numbers, sheets.values(), strict=True):
        body = "".join(
            f'<row r="{r}">{"".join(_xlsx_cell(cell) for cell in row)}</row>'
            for r, row in enumerate(rows, 1)
        )
        sheet = f'{_XML}<worksheet xmlns="{_MAIN}"><sheetData>{body}</sheetData></worksheet>'
        parts[f"xl/worksheets/sheet{i}.xml"] = sheet
    return _packed(parts)


def _xlsx_cell(cell: object) -> str:
    if isinstance(cell, datetime):
        return f'<c s="1"><v>{(cell - _DAY_ZERO).days}</v></c>'
    if isinstance(cell, (int, float)):
        return f"<c><v>{cell}</v></c>"
    return f'<c t="inlineStr"><is><t>{escape(str(cell))}</t></is></c>' if cell != "" else "<c/>"


def ods(sheets: Sheets) -> bytes:
    """A workbook of the OpenDocument format (ISO/IEC 26300)."""
    tables = "".join(
        f"<table:table table:name={quoteattr(name)}>{''.join(map(_ods_row, rows))}</table:table>"
        for name, rows in sheets.items()
    )
    spaces = " ".join(
        f'xmlns:{short}="{_OASIS}:{short}:1.0"' for short in ("office", "table", "text")
    )
    content = (
        f'{_XML}<office:document-content {spaces} office:version="1.3"><office:body>'
        f"<office:spreadsheet>{tables}</office:spreadsheet></office:body>"
        "</office:document-content>"
    )
    manifest = (
        f'{_XML}<manifest:manifest xmlns:manifest="{_OASIS}:manifest:1.0">'
        f'<manifest:file-entry manifest:full-path="/" manifest:media-type="{_ODS}"/>'
        '<manifest:file-entry manifest:full-path="content.xml" manifest:media-type="text/xml"/>'
        "</manifest:manifest>"
    )
    return _packed({"mimetype": _ODS, "content.xml": content, "META-INF/manifest.xml": manifest})


def _ods_row(row: Sequence[object]) -> str:
    cells = "".join(_ods_cell(cell) for cell in row) or "<table:table-cell/>"
    return f"<table:table-row>{cells}</table:table-row>"


def _ods_cell(cell: object) -> str:
    if isinstance(cell, datetime):
        value = f'office:value-type="date" office:date-value="{cell:%Y-%m-%d}"'
        return f"<table:table-cell {value}><text:p>{cell:%d.%m.%Y}</text:p></table:table-cell>"
    if isinstance(cell, (int, float)):
        value = f'office:value-type="float" office:value="{cell}"'
        return f"<table:table-cell {value}><text:p>{cell}</text:p></table:table-cell>"
    if cell == "":
        return "<table:table-cell/>"
    text = escape(str(cell))
    return (
        f'<table:table-cell office:value-type="string"><text:p>{text}</text:p></table:table-cell>'
    )
