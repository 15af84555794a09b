"""The demo: made-up readings of the water laboratory at Brenn Mere, and figures of them."""

from sornix.demo.figures import DEMOS, Demo, demo_document
from sornix.demo.files import demo_files, write_buoy_decade
from sornix.demo.readings import DEMO_READINGS, demo_text

__all__ = [
    "DEMOS",
    "DEMO_READINGS",
    "Demo",
    "demo_document",
    "demo_files",
    "demo_text",
    "write_buoy_decade",
]
