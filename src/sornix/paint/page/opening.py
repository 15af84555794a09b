"""How a file of HTML that needs nothing from elsewhere begins."""

import base64
import hashlib

from sornix.paint.page.svgtext import escaped


def opening(title: str, sheet: str, script: str = "") -> str:
    """Up to the beginning of what the page shows. Its policy lets in the style sheet, the script
    if there is one, and pictures and typefaces that are written into the page."""
    scripts = f"script-src '{_digest(script)}'; " if script else ""
    policy = (
        f"default-src 'none'; {scripts}style-src '{_digest(sheet)}'; img-src data:; "
        "font-src data:; base-uri 'none'; form-action 'none'"
    )
    return f"""<!DOCTYPE html>
<html lang="en">
<head>
<meta charset="utf-8">
<meta http-equiv="Content-Security-Policy" content="{policy}">
<meta name="viewport" content="width=device-width, initial-scale=1">
<meta name="generator" content="Sornix">
<title>{escaped(title)}</title>
<style>{sheet}</style>
</head>
<body>
<main>"""


def _digest(text: str) -> str:
    return "sha256-" + base64.b64encode(hashlib.sha256(text.encode()).digest()).decode()
