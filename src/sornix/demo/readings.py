"""The generators of the demo readings. Every number comes from a seed; none was measured."""

import math
from collections.abc import Callable, Sequence
from datetime import datetime, timedelta
from random import Random
from typing import NamedTuple

_Rows = list[Sequence[object]]

SITES = ("Ashel mouth", "North bay", "Buoy B2", "Reed belt", "Boathouse", "Outflow")


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


def stage_discharge() -> str:
    """Water height and flow of the Ashel, 40 gaugings over two decades of flow."""
    random = Random(40)
    rows: _Rows = []
    day = datetime(2024, 1, 9)  # noqa: DTZ001 - plain dates have no zone
    for number in range(40):
        height = 0.21 * (2.35 / 0.21) ** ((number * 17 % 40 + random.random()) / 40)
        flow = 5.2 * (height - 0.08) ** 1.72 * math.exp(random.gauss(0, 0.045))
        rows.append((f"{day:%Y-%m-%d}", f"{height:.2f}", f"{flow:.3g}"))
        day += timedelta(days=random.randint(11, 24))
    return _csv(("Date", "Water height (m)", "Flow (m^3/s)"), rows)


def tracer_decay() -> str:
    """Fluorescence of a dye after its release, one reading a minute, over a background."""
    random = Random(77)
    rows: _Rows = []
    for minute in range(91):
        rise = 1 - math.exp(-minute / 1.6)
        signal = 6.4 + 182 * rise * math.exp(-minute / 17.5)
        rows.append((minute, f"{signal + random.gauss(0, 0.8 + 0.008 * signal):.1f}"))
    return _csv(("Time since release (min)", "Fluorescence (RFU)"), rows)


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


def light_response() -> str:
    """Oxygen production of water weed at 12 light levels, with standard deviations."""
    random = Random(12)
    rows: _Rows = []
    for light in (0, 15, 30, 50, 80, 120, 180, 260, 380, 550, 800, 1200):
        production = 11.8 * light / (light + 128) - 1.3
        spread = 0.22 + 0.035 * abs(production) * random.uniform(0.7, 1.4)
        rows.append((light, f"{production + random.gauss(0, spread / 2):.2f}", f"{spread:.2f}"))
    header = (
        "Light (µmol m^-2 s^-1)", "Oxygen production (mg g^-1 h^-1)",
        "SD of production (mg g^-1 h^-1)",
    )  # fmt: skip
    return _csv(header, rows)


def respiration_temperature() -> str:
    """Respiration of sediment at 9 temperatures."""
    random = Random(9)
    rows: _Rows = []
    for celsius in (2, 5, 8, 11, 14, 17, 20, 24, 28):
        rate = 3.1 * math.exp(-61_000 / 8.314 * (1 / (celsius + 273.15) - 1 / 283.15))
        rows.append((celsius, f"{rate * math.exp(random.gauss(0, 0.035)):.2f}"))
    return _csv(("Temperature (°C)", "Respiration rate (mg m^-2 h^-1)"), rows)


def buoy_week() -> str:
    """Level, rain, temperature and turbidity every 10 minutes for a week, with an outage of
    9 hours."""
    random = Random(2026)
    rows: _Rows = []
    start = datetime(2026, 5, 4)  # noqa: DTZ001
    level, mud = 1.482, 2.4
    for number in range(7 * 144):
        now = start + timedelta(minutes=10 * number)
        hours = number / 6
        wet = 62 <= hours < 69 or 131 <= hours < 134
        rain = round(random.expovariate(1.7) * wet, 1) if random.random() < 0.75 else 0.0
        level += 0.0011 * rain - 0.00009 + random.gauss(0, 0.0004)
        mud += 0.35 * rain - 0.011 * (mud - 2.2) + random.gauss(0, 0.03)
        warm = 13.6 + 0.12 * hours / 24 + 1.1 * math.sin((hours - 9.5) / 24 * 2 * math.pi)
        if 88 <= hours < 97:
            rows.append((f"{now:%Y-%m-%d %H:%M}", "", "", "", ""))
            continue
        row = (
            f"{now:%Y-%m-%d %H:%M}", f"{level:.3f}", f"{rain:.1f}",
            f"{warm + random.gauss(0, 0.05):.2f}", f"{max(mud, 0.4):.1f}",
        )  # fmt: skip
        rows.append(row)
    header = ("Time", "Level (m)", "Rain (mm)", "Water temperature (°C)", "Turbidity (NTU)")
    return _csv(header, rows)


def weekday_samples() -> str:
    """Chlorophyll on working days only, six weeks."""
    random = Random(6)
    rows: _Rows = []
    day = datetime(2026, 4, 6)  # noqa: DTZ001
    while len(rows) < 30:
        if day.weekday() < 5:
            bloom = 4.2 + 15.5 * math.exp(-(((len(rows) - 17) / 5.5) ** 2))
            rows.append((f"{day:%d/%m/%Y}", f"{bloom + random.gauss(0, 0.7):.1f}"))
        day += timedelta(days=1)
    return _csv(("Date", "Chlorophyll a (µg/L)"), rows)


def snail_counts() -> str:
    """Snails per trap at six sites before and after the reed was planted, four traps each; a few
    cells typed with a word, and one left blank."""
    random = Random(4)
    rows: _Rows = []
    for site, usual in zip(SITES, (6, 14, 4, 11, 9, 16), strict=True):
        for planting, factor in (("before", 1.0), ("after", 1.45)):
            for trap in range(1, 5):
                snails = max(round(random.gauss(usual * factor, 2.3)), 0)
                rows.append([site, planting, trap, snails])
    for row in (5, 17, 30):
        rows[row] = [*rows[row][:3], f"{rows[row][3]} snails"]
    rows[22] = [*rows[22][:3], ""]
    return _csv(("Site", "Planting", "Trap", "Snails"), rows)


def probe_export() -> str:
    """A logger's export: remarks, a row of units, semicolons, decimal commas, −999 for missing."""
    random = Random(5)
    lines = ["# Brenn Mere, buoy B2, probe 7", "# exported by the logger, sample data", ""]
    lines += ["Minute;Water temperature;Conductivity;Turbidity", "min;°C;µS/cm;NTU"]
    for minute in range(0, 120, 5):
        temperature = 14.2 + 0.9 * math.sin(minute / 40) + random.gauss(0, 0.05)
        conductivity = 312 + 4 * math.cos(minute / 55) + random.gauss(0, 0.6)
        turbidity = "-999" if minute in (60, 65) else f"{2.1 + random.expovariate(1.5):.1f}"
        numbers = f"{minute};{temperature:.2f};{conductivity:.1f};{turbidity}"
        lines.append(numbers.replace(".", ","))
    return "\n".join(lines) + "\n"


def site_ranks() -> str:
    """Clarity rank of six sites over eight months; one month missing for one site."""
    random = Random(68)
    clarity = dict(zip(SITES, (1.0, 2.2, 5.0, 2.8, 2.4, 3.8), strict=True))
    rows: _Rows = []
    for month in range(3, 11):
        clarity["Reed belt"] += 0.35  # the planting of the spring takes effect
        seen = {site: clarity[site] + random.gauss(0, 0.55) for site in SITES}
        order = sorted(SITES, key=lambda site: -seen[site])
        ranks: list[object] = [order.index(site) + 1 for site in SITES]
        if month == 7:
            ranks[SITES.index("North bay")] = ""
        rows.append((month, *ranks))
    return _csv(("Month", *SITES), rows)


def lake_survey() -> dict[str, _Rows]:
    """Three sheets: stations, the chemistry of their water, and sediment cores."""
    random = Random(33)
    stations: _Rows = [
        ("Stations of the survey",),
        (),
        ("Station", "Depth (m)", "Visited", "Bottom"),
    ]
    bottoms = ("mud", "sand", "reed peat")
    chemistry: _Rows = [
        ("Station", "Date", "Temperature (°C)", "Oxygen (mg/L)", "Conductivity (µS/cm)",
         "Nitrate (mg/L)", "Phosphate (µg/L)", "Chlorophyll a (µg/L)", "Clarity (m)")
    ]  # fmt: skip
    cores: _Rows = [("Core", "Layer", "Dry mass", "Organic part"), ("", "cm", "g", "%")]
    for number in range(1, 13):
        depth = round(random.uniform(1.2, 23.5), 1)
        day = datetime(2026, 6, 1) + timedelta(days=(number - 1) // 4)  # noqa: DTZ001
        stations.append((f"S{number}", depth, day, bottoms[number % 3]))
        for round_ in range(3):
            food = random.lognormvariate(0, 0.35)
            nitrate, phosphate = 2.1 * food, 14 * food * random.lognormvariate(0, 0.2)
            green = 3.4 * food * random.lognormvariate(0, 0.25)
            cool = 17.5 - 0.24 * depth + random.gauss(0, 0.4)
            chemistry.append(
                (f"S{number}", day + timedelta(days=28 * round_), round(cool, 2),
                 round(10.4 - 0.12 * depth + random.gauss(0, 0.3), 2),
                 round(308 + 9 * nitrate + random.gauss(0, 4), 1), round(nitrate, 2),
                 round(phosphate, 1), round(green, 1), round(6.2 / green**0.45, 2))
            )  # fmt: skip
    for core in "AB":
        for layer in range(0, 30, 2):
            organic = 31 * math.exp(-layer / 14) + random.gauss(0, 0.8)
            cores.append((f"Core {core}", layer + 1, round(4.1 + layer / 9, 2), round(organic, 1)))
    return {"Stations": stations, "Chemistry": chemistry, "Sediment cores": cores}


class DemoFile(NamedTuple):
    """A demo file of text: what makes it, its ending and its encoding."""

    make: Callable[[], str]
    ending: str = ".csv"
    encoding: str = "utf-8"


def mussel_years() -> str:
    """Mussels on a plate at the outflow, counted every summer since they came."""
    random = Random(1996)
    rows: _Rows = []
    for year in range(1996, 2020):
        mussels = 3.1 * math.exp(0.162 * (year - 1996))
        rows.append((year, round(mussels * math.exp(random.gauss(0, 0.09)))))
    return _csv(("Year", "Mussels (1/m^2)"), rows)


def nitrate_lamps() -> str:
    """Absorbance of the same 8 standards with the old lamp of the photometer and with a new one."""
    random = Random(220)
    rows: _Rows = []
    for concentration in (0, 1, 2, 4, 6, 8, 10, 12):
        old = 0.0031 + 0.0689 * concentration + random.gauss(0, 0.004)
        new = 0.0022 + 0.0714 * concentration + random.gauss(0, 0.004)
        rows.append((concentration, f"{old:.4f}", f"{new:.4f}"))
    return _csv(("Nitrate concentration (mg/L)", "Old lamp", "New lamp"), rows)


def copper_addition() -> str:
    """Standard addition of copper to water of the mere: peak current by added concentration."""
    random = Random(29)
    rows: _Rows = []
    for added in (0, 0, 2, 2, 4, 4, 6, 6, 8, 8):
        current = 41.5 + 12.4 * added + random.gauss(0, 1.6)
        rows.append((added, f"{current:.1f}"))
    return _csv(("Copper added (µg/L)", "Peak current (nA)"), rows)


DEMO_READINGS: dict[str, DemoFile] = {
    "nitrate-standards": DemoFile(nitrate_standards),
    "nitrate-unknowns": DemoFile(nitrate_unknowns),
    "stage-discharge": DemoFile(stage_discharge),
    "tracer-decay": DemoFile(tracer_decay),
    "depth-profile": DemoFile(depth_profile),
    "light-response": DemoFile(light_response),
    "respiration-temperature": DemoFile(respiration_temperature),
    "buoy-week": DemoFile(buoy_week),
    "weekday-samples": DemoFile(weekday_samples),
    "snail-counts": DemoFile(snail_counts),
    "site-ranks": DemoFile(site_ranks),
    "mussel-years": DemoFile(mussel_years),
    "nitrate-lamps": DemoFile(nitrate_lamps),
    "copper-addition": DemoFile(copper_addition),
    "probe-semicolon": DemoFile(probe_export, ".txt", "cp1252"),
}


def demo_text(name: str) -> str:
    """The delimited text of a demo file, by its name without ending. Raises KeyError."""
    return DEMO_READINGS[name].make()
