"""The one typeface of window and figures, the same on every machine."""

from importlib.util import find_spec
from pathlib import Path

from PyQt6.QtGui import QFont, QFontDatabase, QGuiApplication

FAMILY = "Source Sans Pro"
# a property of the application: asking Qt for its families costs 4 ms
_LOADED = "sornixFontsLoaded"
# The faces, by whether they are italic and bold.
_FILES = {(False, False): "Regular", (True, False): "It", (False, True): "Semibold",
          (True, True): "SemiboldIt"}  # fmt: skip

# Figures are laid out in hundredths of a millimetre, so that advances are not rounded to the
# pixels of some screen; painters scale the result.
UNITS_PER_MM = 100.0


class FontsMissing(RuntimeError):
    """The typeface could not be loaded: the installation is broken."""


def _folder() -> Path:
    spec = find_spec("font_source_sans_pro")
    if spec is None or spec.origin is None:
        raise FontsMissing("the package font-source-sans-pro is not installed")
    return Path(spec.origin).parent / "files"


def font_file(*, italic: bool, bold: bool) -> Path:
    """The file of a face. Raises FontsMissing."""
    return _folder() / f"SourceSansPro-{_FILES[italic, bold]}.ttf"


def load_fonts() -> None:
    """Makes the typeface known to Qt. Needs a QGuiApplication. Raises FontsMissing."""
    application = QGuiApplication.instance()
    if application is None or application.property(_LOADED):
        return
    application.setProperty(_LOADED, True)
    folder = _folder()
    for style in _FILES.values():
        file = folder / f"SourceSansPro-{style}.ttf"
        if QFontDatabase.addApplicationFont(str(file)) < 0:
            raise FontsMissing(f"{file} cannot be loaded")


def figure_font(size_mm: float, *, italic: bool = False, bold: bool = False) -> QFont:
    """The typeface at a height in mm, in units of 1/100 mm, without fitting to pixels."""
    font = QFont(FAMILY)
    font.setPixelSize(max(round(size_mm * UNITS_PER_MM), 1))
    font.setItalic(italic)
    font.setWeight(QFont.Weight.DemiBold if bold else QFont.Weight.Normal)
    font.setHintingPreference(QFont.HintingPreference.PreferNoHinting)
    # tabular figures, so that digits of tick labels stand under each other
    font.setFeature(QFont.Tag("tnum"), 1)
    return font
