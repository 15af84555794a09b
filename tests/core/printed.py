"""Equations read back from the text of their labels, as a person would."""

import re
from fractions import Fraction

import numpy as np
from numpy.typing import NDArray

from sornix.core.formula import evaluate, parse_formula

_PLAIN = str.maketrans("⁻⁰¹²³⁴⁵⁶⁷⁸⁹−", "-0123456789-")


def said(text: str, x: Fraction) -> Fraction:
    """The value of an equation as it stands in a label, at x."""
    right = text.split(" = ")[1].replace("\u2009", "").replace("−", "-").replace(" ", "")
    total = Fraction(0)
    number = r"(\d+(?:\.\d+)?)(?:×10([⁻⁰¹²³⁴⁵⁶⁷⁸⁹]+))?"
    term = rf"([+-]?)(?:{number})?(?:(x|\(x[+-]{number}\))([⁰¹²³⁴⁵⁶⁷⁸⁹]*))?"
    for match in re.finditer(term, right):
        if not match[0]:
            continue
        sign, digits_, power_of_ten, base, _, _, power = match.groups()
        value = Fraction(digits_ or 1) * Fraction(10) ** int(
            (power_of_ten or "0").translate(_PLAIN)
        )
        if base:
            centre = Fraction(0)
            inner = re.fullmatch(rf"\(x([+-]){number}\)", base)
            if inner:
                size = Fraction(10) ** int((inner[3] or "0").translate(_PLAIN))
                centre = Fraction(inner[2]) * size * (1 if inner[1] == "-" else -1)
            value *= (x - centre) ** int((power or "1").translate(_PLAIN))
        total += -value if sign == "-" else value
    return total


def from_latex(latex: str) -> str:
    """An equation in LaTeX as one in plain text."""
    text = re.sub(r"\\mathit\{([^{}]*)\}", r"\1", latex)
    text = re.sub(r"\^\{([^{}]*)\}", r"^(\1)", text)
    text = re.sub(r"_\{([^{}]*)\}", r"_\1", text)
    for command, plain in ((r" \times ", "×"), (r"\pi ", "π"), (r"\,", "\u2009"), (r"\cdot ", "·")):
        text = text.replace(command, plain)
    return text.replace("\\", "")


def curve(text: str, symbol: str, x: NDArray[np.float64]) -> NDArray[np.float64]:
    """The values of an equation as it stands in a label, shape (n,), worked out as a formula."""
    right = text.split(" = ", 1)[1]
    right = re.sub("([⁻⁰¹²³⁴⁵⁶⁷⁸⁹]+)", lambda m: f"^({m[1].translate(_PLAIN)})", right)
    right = re.sub(r"×10\^\(([-\d]+)\)", r"e\1", right)
    # digits stand in groups of three; elsewhere a thin space is a product
    right = re.sub(r"(?<=\d)\u2009(?=\d{3}(?!\d))", "", right).replace("\u2009", "*")
    right = re.sub(rf"\b{re.escape(symbol)}\b", "x", right.replace("π", "pi"))
    found: NDArray[np.float64] = evaluate(parse_formula(right), lambda _: x)
    return found
