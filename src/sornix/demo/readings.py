"""The generators of the demo readings. Every number comes from a seed; none was measured."""

import math
from collections.abc import Callable, Sequence
from random import Random

_Rows = list[Sequence[object]]


def _csv(header: Sequence[str], rows: _Rows) -> str:
    return "".join(",".join(map(str, row)) + "\n" for row in [header, *rows])


def nitrate_standards() -> str:
    """Absorbance of 8 nitrate standards at 220 nm, three replicates each."""
    random = Random(1220)
    rows: _Rows = []
    for concentration in (0, 1, 2, 4, 6, 8, 10, 12):
        for replicate in "ABC":
            absorbance = 0.0028 + 0.0712 * concentration + random.gauss(0, 0.0075)
            rows.append((f"{concentration:.1f}", f"{absorbance:.3f}", replicate))
    return _csv(("Nitrate concentration (mg/L)", "Absorbance at 220 nm", "Replicate"), rows)


def nitrate_unknowns() -> str:
    """Absorbance of samples from the mere and its inflow, two replicates each."""
    random = Random(1221)
    places = ("Ashel inflow", "North bay", "Buoy B2", "Reed belt", "Outflow")
    rows: _Rows = []
    for place, concentration in zip(places, (9.4, 3.1, 2.2, 1.4, 5.85), strict=True):
        for replicate in "AB":
            absorbance = 0.0028 + 0.0712 * concentration + random.gauss(0, 0.0075)
            rows.append((place, replicate, f"{absorbance:.3f}"))
    return _csv(("Sample", "Replicate", "Absorbance at 220 nm"), rows)


def depth_profile() -> str:
    """Temperature and dissolved oxygen every 0.5 m down to 24 m, in late summer."""
    random = Random(24)
    rows: _Rows = []
    for half_metres in range(49):
        depth = half_metres / 2
        warm = 1 / (1 + math.exp((depth - 8.5) / 1.4))
        temperature = 6.1 + 13.4 * warm + random.gauss(0, 0.06)
        oxygen = 1.2 + 8.1 / (1 + math.exp((depth - 10.5) / 1.7)) + random.gauss(0, 0.08)
        rows.append((f"{depth:.1f}", f"{temperature:.2f}", f"{oxygen:.2f}"))
    return _csv(("Depth (m)", "Temperature (°C)", "Dissolved oxygen (mg L^-1)"), rows)


def probe_export() -> str:
    """A logger's export: remarks, a row of units, semicolons and decimal commas."""
    random = Random(5)
    lines = ["# Brenn Mere, buoy B2, probe 7", "# exported by the logger, sample data", ""]
    lines += ["Minute;Water temperature;Conductivity;Turbidity", "min;°C;µS/cm;NTU"]
    for minute in range(0, 120, 5):
        temperature = 14.2 + 0.9 * math.sin(minute / 40) + random.gauss(0, 0.05)
        conductivity = 312 + 4 * math.cos(minute / 55) + random.gauss(0, 0.6)
        turbidity = "n/a" if minute == 60 else f"{2.1 + random.expovariate(1.5):.1f}"
        numbers = f"{minute};{temperature:.2f};{conductivity:.1f};{turbidity}"
        lines.append(numbers.replace(".", ","))
    return "\n".join(lines) + "\n"


def site_ranks() -> str:
    """Clarity rank of six sites over eight months; one month missing for one site."""
    random = Random(68)
    sites = ("Ashel mouth", "North bay", "Buoy B2", "Reed belt", "Boathouse", "Outflow")
    clarity = dict(zip(sites, (1.0, 2.2, 5.0, 2.8, 2.4, 3.8), strict=True))
    rows: _Rows = []
    for month in range(3, 11):
        clarity["Reed belt"] += 0.35  # the planting of the spring takes effect
        seen = {site: clarity[site] + random.gauss(0, 0.55) for site in sites}
        order = sorted(sites, key=lambda site: -seen[site])
        ranks: list[object] = [order.index(site) + 1 for site in sites]
        if month == 7:
            ranks[sites.index("North bay")] = ""
        rows.append((month, *ranks))
    return _csv(("Month", *sites), rows)


DEMO_READINGS: dict[str, Callable[[], str]] = {
    "nitrate-standards": nitrate_standards,
    "nitrate-unknowns": nitrate_unknowns,
    "depth-profile": depth_profile,
    "site-ranks": site_ranks,
    "probe-semicolon": probe_export,
}


def demo_text(name: str) -> str:
    """The delimited text of a demo file, by its name without ending. Raises KeyError."""
    return DEMO_READINGS[name]()
