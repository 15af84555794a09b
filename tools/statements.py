"""Makes the page of statements in docs, each with its figure: python tools/statements.py"""
# ruff: noqa: E501 - statements stand as they are typed

import os
import shutil
import sys
from pathlib import Path
from typing import NamedTuple

os.environ.setdefault("QT_QPA_PLATFORM", "offscreen")

import sornix
from sornix.core.readings import read_text
from sornix.demo import DEMO_READINGS

FOLDER = Path(__file__).resolve().parent.parent / "docs" / "statements"
PAGE = FOLDER.parent / "statements.md"
_WIDTH_PX = 336


class Shown(NamedTuple):
    """A statement of the page: what it is for, the readings of the demo that it is about, and its
    words."""

    title: str
    readings: str
    words: str


_NITRATE = "Plot Absorbance at 220 nm against Nitrate concentration"
_FLOW = "Plot Flow against Water height as points"
_WEEK = "Plot Level against Time as line"
SHOWN = (
    Shown("The figure that is drawn unasked", "nitrate-standards", ""),
    Shown("A line through it, with its equation", "nitrate-standards",
          "Trend straight line with equation, R², n"),
    Shown("Ends and steps of the axes", "nitrate-standards", "x from 0 to 15 every 5\ny from 0 to 1 every 0.25"),
    Shown("A series for each value of a column", "nitrate-standards", f"{_NITRATE} for each Replicate as points"),
    Shown("One of them", "nitrate-standards", f'{_NITRATE} as points, only where Replicate is "B"'),
    Shown("Means of places, with the readings behind and SD", "nitrate-standards",
          "Plot mean of Absorbance at 220 nm against Nitrate concentration as points, with single readings, "
          "error bars in y by SD of readings at one place"),
    Shown("What is read off a calibration", "nitrate-standards",
          "Trend straight line with what is read off, reading off 0.35 (mean of 3)"),
    Shown("Bands about a line", "nitrate-standards",
          "Trend straight line with equation, confidence band, prediction band"),
    Shown("A title, a source, words of your own", "nitrate-standards",
          'Title "Standards of March"\nSource "made-up sample data"\nx titled "Nitrate / mg/L"'),
    Shown("A limit and a range", "nitrate-standards",
          'Line on y at 0.5, called "limit"\nRange on x from 2 to 6, called "usual"'),
    Shown("Readings left out, with why", "nitrate-standards",
          f'{_NITRATE} as points, leaving out row 17 "bubble"\nTrend straight line with equation'),
    Shown("A note at a reading", "nitrate-standards", 'Note "highest standard" about Absorbance at 220 nm at row 23'),
    Shown("Looks of a series", "nitrate-standards",
          f'{_NITRATE} as points and line, in brick, square markers, hollow markers, dashed line, named "lamp A"'),
    Shown("Logarithmic scales", "stage-discharge", f"{_FLOW}\nx on a log scale\ny on a log scale"),
    Shown("A power law, fitted in two ways", "stage-discharge",
          f"{_FLOW}\nTrend power law with equation\nTrend power law on logarithms, with equation"),
    Shown("A formula with bounds", "stage-discharge",
          f'{_FLOW}\nTrend formula "a * (x - h)^p" where h from 0 to 0.5 begun at 0.2, with equation, R²'),
    Shown("Robust, and with less weight for large values", "stage-discharge",
          f"{_FLOW}\nTrend power law weighing 1/y, by robust (Huber), with equation"),
    Shown("A decay over part of the readings", "tracer-decay",
          "Plot Fluorescence against Time since release as points\nTrend decay to a background from 6, with equation"),
    Shown("A parameter that is held", "tracer-decay",
          "Plot Fluorescence against Time since release as points\n"
          "Trend decay to a background from 6 where c held at 6, with equation, over the whole axis"),
    Shown("Ticks outward, labels with decimals, no grid", "tracer-decay",
          "x ticks outward, 1 minor tick between\ny ticks outward, no grid lines, labels with 1 decimal"),
    Shown("A profile that goes down", "depth-profile", ""),
    Shown("A second scale above", "depth-profile",
          "Plot Depth against Temperature as line\n"
          "Plot Depth against Dissolved oxygen as line, on the upper x scale\ny reversed"),
    Shown("Two panels that share their depth", "depth-profile",
          "Plot Depth against Temperature as line\ny reversed\nPanel in column 2\n"
          "Plot Depth against Dissolved oxygen as line, in brick\nFigure 120 × 70 mm, sharing y, with letters"),
    Shown("Other units on the other side", "depth-profile",
          'x other side "1.8 * x + 32" called "Temperature / °F"'),
    Shown("A week, by the calendar", "buoy-week", f"{_WEEK}\nx every 2 days"),
    Shown("Three panels below one another", "buoy-week",
          f"{_WEEK}\nPanel in row 2\nPlot Rain against Time as bars\nPanel in row 3\n"
          "Plot Water temperature against Time as line\nFigure 100 × 110 mm, sharing x, row heights 2, 1, 2"),
    Shown("A right scale", "buoy-week",
          f"{_WEEK}\nPlot Rain against Time as bars, on the right y scale, in slate"),
    Shown("From one moment to another", "buoy-week",
          f"{_WEEK}\nx from 2026-05-05 to 2026-05-07 every 12 hours"),
    Shown("Steps, filled areas", "buoy-week", "Plot Rain against Time as area, in indigo"),
    Shown("Bars of means with SD, two groups", "snail-counts",
          "Plot mean of Snails for each Planting against Site as bars, error bars in y by SD of readings at one place"),
    Shown("Stacked bars", "snail-counts", "Panel bars stacked\nPlot mean of Snails for each Planting against Site as bars"),
    Shown("Bars that lie", "snail-counts", "Plot mean of Site for each Planting against Snails as bars\nx grid lines"),
    Shown("Shares as a ring", "snail-counts", "Panel showing ring of shares\nPlot sum of Snails against Site as bars"),
    Shown("Several columns in one line", "site-ranks",
          "Panel names at the line ends\nPlot Ashel mouth, North bay, Outflow against Month as points and line\ny reversed"),
    Shown("Words of a column at the points", "site-ranks",
          "Plot North bay against Month as points and line, y written at them"),
    Shown("Error bars from a column", "light-response",
          "Plot Oxygen production against Light as points, error bars in y of SD of production\n"
          "Trend saturation weighing by their error bars, with equation"),
    Shown("A curve from a formula", "light-response",
          'Curve "12 * x / (150 + x) - 1.5" named "from a book"'),
    Shown("For slides", "mussel-years", "Figure for slides\nTrend logistic with equation"),
    Shown("On dark, without names", "nitrate-lamps",
          "Panel no names\nPlot Old lamp, New lamp against Nitrate concentration as points\nTrend straight line through each\nFigure on dark"),
    Shown("A standard addition", "copper-addition",
          "x from −5 to 10 every 5\ny from 0\nTrend straight line over the whole axis, with equation, what is read off, reading off 0, diluted 5 times"),
)  # fmt: skip


def drawn(shown: Shown) -> sornix.Drawn:
    """The figure of a statement."""
    table = read_text(DEMO_READINGS[shown.readings].make().encode(), shown.readings)
    return sornix.draw(sornix.Readings(table), shown.words)


def picture_name(number: int) -> str:
    return f"{number:02}.png"


def page() -> str:
    """The page, with links to the pictures."""
    lines = [
        "# Forty statements and their figures", "",
        "Each is about readings of the demo (`sornix demo FOLDER` writes them), and is typed in the window (Ctrl+T), or given to `sornix plot`. What is not said Sornix chooses. Made by `python tools/statements.py`.", "",
    ]  # fmt: skip
    for number, shown in enumerate(SHOWN, 1):
        ending = DEMO_READINGS[shown.readings].ending
        words = shown.words or "(nothing)"
        lines += [
            f"## {number}. {shown.title}", "", f"`{shown.readings}{ending}`", "", "```", words, "```", "",
            f"![{shown.title}](statements/{picture_name(number)})", "",
        ]  # fmt: skip
    return "\n".join(lines)


def main() -> int:
    shutil.rmtree(FOLDER, ignore_errors=True)
    FOLDER.mkdir()
    for number, shown in enumerate(SHOWN, 1):
        drawn(shown).save(FOLDER / picture_name(number), width_px=_WIDTH_PX)
    PAGE.write_text(page(), encoding="utf-8")
    print(f"{len(SHOWN)} figures")
    return 0


if __name__ == "__main__":
    sys.exit(main())
