"""Symbols by name: `{mu}` becomes µ wherever text is typed, and all can be looked for by words."""

from collections.abc import Mapping
from types import MappingProxyType

_GREEK = (
    ("alpha", "α", "Α"), ("beta", "β", "Β"), ("gamma", "γ", "Γ"), ("delta", "δ", "Δ"),
    ("epsilon", "ε", "Ε"), ("zeta", "ζ", "Ζ"), ("eta", "η", "Η"), ("theta", "θ", "Θ"),
    ("iota", "ι", "Ι"), ("kappa", "κ", "Κ"), ("lambda", "λ", "Λ"), ("mu", "µ", "Μ"),
    ("nu", "ν", "Ν"), ("xi", "ξ", "Ξ"), ("omicron", "ο", "Ο"), ("pi", "π", "Π"),
    ("rho", "ρ", "Ρ"), ("sigma", "σ", "Σ"), ("tau", "τ", "Τ"), ("upsilon", "υ", "Υ"),
    ("phi", "φ", "Φ"), ("chi", "χ", "Χ"), ("psi", "ψ", "Ψ"), ("omega", "ω", "Ω"),
)  # fmt: skip
_OTHERS = {
    "degree": "°", "degrees Celsius": "°C", "micro": "µ", "ohm": "Ω", "angstrom": "Å",
    "per mille": "‰", "plus or minus": "±", "times": "×", "middle dot": "·", "minus": "−",
    "dash": "–", "divided by": "÷", "about": "≈", "not equal": "≠",
    "at most": "≤", "at least": "≥", "infinity": "∞", "square root": "√", "integral": "∫",
    "sum": "∑", "partial": "∂", "right arrow": "→", "left arrow": "←",
    "up arrow": "↑", "down arrow": "↓", "mean of x": "x̄", "h bar": "ħ",
    "script l": "ℓ", "prime": "′", "double prime": "″", "thin space": "\u2009", "ellipsis": "…",
    "dagger": "†", "section": "§",
}  # fmt: skip

# Every symbol by its name; a capital's name begins with a capital.
SYMBOLS: Mapping[str, str] = MappingProxyType(
    {name: small for name, small, _ in _GREEK}
    | {name.capitalize(): capital for name, _, capital in _GREEK}
    | _OTHERS
)


def find_symbols(typed: str) -> list[tuple[str, str]]:
    """Names and symbols that have every word that was typed, those that begin with it first."""
    words = typed.casefold().split()
    found = [
        (name, symbol)
        for name, symbol in SYMBOLS.items()
        if typed.strip() == symbol or all(word in name.casefold() for word in words)
    ]
    begins = typed.strip().casefold()
    return sorted(found, key=lambda pair: not pair[0].casefold().startswith(begins))
