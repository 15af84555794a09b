"""What marked text is, by how it begins. It asks for little, since another process reads it too."""

import re

from sornix.core.patterns import pattern

# Marked texts in which there are tables: pages, and workbooks that name this in their head.
PAGE, SHEETS = "page", "sheets"
# of the name of its elements, what all makers have in common
_WORKBOOK_AS_XML = pattern(rb"xmlns(?::\w+)?\s*=\s*[\"']urn:[^\"'\s]*:office:spreadsheet[\"']")
_PAGE_BEGINS = pattern(
    rb"(?:<\?xml[^>]*>|<!--.*?-->|\s)*<(?:!doctype html|html|head|meta|body|table|div|style)\b",
    re.DOTALL | re.IGNORECASE,
)
UTF16 = (b"\xff\xfe", b"\xfe\xff")
_NOT_TYPED = pattern(rb"[\x00-\x08\x0e-\x19\x1b-\x1f]")


def marked_kind(head: bytes) -> str:
    """What a file is by how it begins: PAGE, SHEETS, or "" for anything else."""
    plain = head.removeprefix(b"\xef\xbb\xbf")
    if plain.startswith(UTF16):
        plain = plain[2:].replace(b"\0", b"")
    if _PAGE_BEGINS.match(plain):
        return PAGE
    is_xml = plain.lstrip().startswith(b"<?xml")
    return SHEETS if is_xml and _WORKBOOK_AS_XML.search(plain) else ""


def is_typed(head: bytes) -> bool:
    """Whether a file may be a text by how it begins: nothing stands there that no hand types."""
    return head.startswith(UTF16) or not _NOT_TYPED.search(head)
