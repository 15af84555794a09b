"""What is drawn unasked: tables of many sorts, each with the figure that is expected of it.

A column is told by how its readings run; `↓` is a profile, `±` error bars, `mean sd` groups.
"""

from collections.abc import Callable

import numpy as np

from sornix.core.document import new_document
from sornix.core.drawing import Drawing, Rects, draw_figure
from sornix.core.figure import (
    Figure,
    Series,
    add_panel,
    add_series,
    axis_title,
    first_ways,
    marked,
    new_figure,
    set_mark,
    set_size,
)
from sornix.core.figure.derived.runs import is_standard
from sornix.core.figure.model.targets import Legend
from sornix.core.readings import (
    Column,
    Table,
    number_column,
    parse_heading,
    read_text,
    text_column,
    time_column,
)
from sornix.core.statement import write_statement
from tests.base import SornixTest
from tests.core.measure import PlainMeasure

_MONTHS = ["Jan", "Feb", "Mar", "Apr", "May", "Jun", "Jul", "Aug", "Sep", "Oct", "Nov", "Dec"]
_DAY = 86_400.0
_BEGIN = 20_000 * _DAY
# columns, number of rows, the figure
TABLES: list[tuple[str, int, str]] = [
    # time
    ("Time=mins | Temp (°C)=wave", 300, "Time | Temp | line"),
    ("Date=days | Rain (mm)=counts", 20, "Date | Rain | points-and-line"),
    ("Date=days | Rain (mm)=counts", 90, "Date | Rain | line"),
    ("Date=dates:3 | Nitrate (mg/L)=meas", 12, "Date | Nitrate | points"),
    ("Date=shuffled | Nitrate (mg/L)=meas", 12, "Date | Nitrate | points"),
    ("No.=number | Time=mins | Battery (V)=const:12.5 | Temp (°C)=wave", 60, "Time | Temp | line"),
    ("Time=mins | T, Site A (°C)=wave:10 | T, Site B (°C)=wave:12 | T, Site C (°C)=wave:14", 60,
     "Time | T, Site A; T, Site B; T, Site C | line"),
    ("Time=mins | Temp (°C)=wave | Oxygen (mg/L)=wave:9:1 | pH=wave:7:.2", 60,
     "Time | Temp | line"),
    ("Station=groups:S1+S2+S3 | Date=dates:3 | Nitrate (mg/L)=meas:3:1", 30,
     "Date | Nitrate | points"),
    ("Time=mins | North (mg/L)=wave | South (mg/L)=wave", 60, "Time | North; South | line"),
    ("Time=mins | Channel 1=wave | Channel 2=wave | Channel 3=wave", 60,
     "Time | Channel 1; Channel 2; Channel 3 | line"),
    # places in columns without names: wavelengths, and numbers of rows beside two others
    ("Column 1=even:1:400 | Column 2=meas", 12, "Column 1 | Column 2 | points"),
    ("Column 1=number | Column 2=meas", 12, "Column 1 | Column 2 | points"),
    ("Column 1=number | Column 2=meas | Column 3=meas", 12, "Column 2 | Column 3 | points"),
    # replicates at places in their order, though the answer goes one way as well; what is called x
    ("Dye=levels:2:5 | Signal (V)=even:.5:.1", 12, "Dye | Signal | points"),
    ("id=names:S | x=even:1:2 | y=meas", 3, "x | y | points"),
    # the orders of lines, and counts of replicates
    ("n=number:1 | Energy (eV)=fall:14", 4, "n | Energy | points"),
    ("Site=blocks:A+B | n=number:4 | T=meas", 4, "Site | T mean sd | points"),
    ("Mean=meas | n=const:5", 4, "row | Mean | points"),
    ("Time=mins | Reading=number", 6, "Time | Reading | points"),
    # an answer that never changes is one; what never changes was not chosen
    ("Dose (mg)=even:5:10 | Blank (V)=const:0.2", 7, "Dose | Blank | points"),
    ("Dose (mg)=const:5 | Signal (V)=meas", 7, "row | Signal | points"),
    # what was worked out of a column takes its place
    ("T (°C)=even:5:10 | 1/T (1/K)=inverse | ln k=lin", 7, "1/T | ln k | points"),
    ("T (°C)=even:5:10 | 1/T (1/K)=inverse", 7, "T | 1/T | points"),
    # ends of bins, and months of years, are answers to nothing
    ("Bin lower (µm)=even:10:0 | Bin upper (µm)=even:10:10 | Count=counts", 12,
     "Bin lower | Count | points"),
    ("Year=year:2008 | Month=number:1 | CO2 (ppm)=lin:380", 12, "Year | CO2 | points-and-line"),
    # a control that never changes is a reading, a supply that never does is none
    ("Time=mins | Control (g/L)=const:5 | Low (g/L)=wave:6 | High (g/L)=wave:9 | Supply=const:12",
     60, "Time | Control; Low; High | line"),
    ("Time=mins | OD 1=wave:6:.4 | OD 2=const:0 | OD 3=wave:9:.4 | Plot=const:4", 60,
     "Time | OD 1; OD 2; OD 3 | line"),
    ("Time=mins | Setpoint (°C)=const:20 | Temperature (°C)=wave:20", 60,
     "Time | Temperature | line"),
    ("Date=days | Temp (°C)=wave:20 | Temp 2 (K)=kelvin", 30, "Date | Temp | points-and-line"),
    ("Date=days | Remark=remarks | Level (m)=wave", 30, "Date | Level | points-and-line"),
    ("Level (m)=wave | Date=days", 30, "Date | Level | points-and-line"),
    ("Date=days:7 | Mean (mg/L)=meas | SD (mg/L)=sd", 10, "Date | Mean ± SD | points-and-line"),
    ("Log10 copies=number:1 | Ct 1=fall:38 | Ct 2=fall:38 | Ct 3=fall:38", 7,
     "Log10 copies | Ct 1; Ct 2; Ct 3 | points"),
    ("Station=names:W | Km=even:3.3 | Q (m³/s)=lin", 8, "Km | Q | points"),
    ("Sample=names:S | Sand (%)=lin:60:-5 | Silt (%)=lin:25:3", 6, "Sample | Sand; Silt | bars"),
    ("Question=names:Q | Agree (%)=lin:50:1 | Neutral (%)=lin:30:-1", 6,
     "Question | Agree; Neutral | bars"),
    ("Amount=words:1 mg+2 mg+5 mg+10 mg | Growth (mm)=lin", 4,
     "Amount | Growth | points-and-line"),
    ("Temperature (°C)=levels:5:10 | pH=codes:5 | Yield (%)=meas:50:4", 15,
     "Temperature | Yield | points"),
    ("Date=days:7 | Mean (mg/L)=meas | ± SE=const:0.12", 10,
     "Date | Mean ± ± SE | points-and-line"),
    ("Empty=none | Date=days | T (°C)=wave", 50, "Date | T | line"),
    ("Date=days | T min (°C)=meas:5:1 | T mean (°C)=meas:10:1 | T max (°C)=meas:15:1", 50,
     "Date | T min; T mean; T max | line"),
    # years
    ("Year=year:1990 | CO2 (ppm)=lin:350:2", 30, "Year | CO2 | points-and-line"),
    ("Year=year:1950 | CO2 (ppm)=lin:310:2", 70, "Year | CO2 | line"),
    ("Year=year:2010 | Mussels=counts:80", 9, "Year | Mussels | points-and-line"),
    ("CO2 (ppm)=lin:350:2 | Year=year:1990", 30, "Year | CO2 | points-and-line"),
    ("Jahr=year:1990 | Pegel (m)=meas:3:.2", 20, "Jahr | Pegel | points-and-line"),
    ("Year=year:2000 | North=meas:20:2 | South=meas:25:2", 20,
     "Year | North; South | points-and-line"),
    # two quantities
    ("Nitrate (mg/L)=meas:3:1 | Phosphate (µg/L)=meas:20:4", 30, "Nitrate | Phosphate | points"),
    ("x=even | y=meas", 12, "x | y | points"),
    ("a=meas | b=meas", 12, "a | b | points"),
    ("Length (mm)=meas:40:6 | Mass (g)=meas:5:1", 40, "Length | Mass | points"),
    ("Mass (g)=meas | Age (d)=rise", 20, "Age | Mass | points"),
    ("Absorbance=lin:0:.07 | Concentration (mg/L)=even:2", 7,
     "Concentration | Absorbance | points"),
    (("Nitrate concentration (mg/L)=levels:3 | Absorbance at 220 nm=lin:0:.07 | "
     "Replicate=groups:A+B+C"), 21, "Nitrate concentration | Absorbance at 220 nm | points"),
    ("Standard (µg/L)=even:5 | Peak area=lin:10:50 | SD=sd", 6,
     "Standard | Peak area ± SD | points"),
    ("Conc. (mg/L)=even:5 | Signal (mV)=lin:10:50 | Signal SD (mV)=sd", 6,
     "Conc. | Signal ± Signal SD | points"),
    ("Dose (mg)=even:5 | Response (%)=lin:10:8 | SE=sd", 6, "Dose | Response ± SE | points"),
    ("Dose (mg)=even:5 | Response (%)=lin:10:8 | ±=sd", 6, "Dose | Response ± ± | points"),
    ("Sample=names:S | Nitrate (mg/L)=meas:3:1 | Phosphate (µg/L)=meas:20:4", 30,
     "Nitrate | Phosphate | points"),
    ("Site=groups:North+South+West | Length (mm)=meas:40:6 | Mass (g)=meas:5:1", 60,
     "Length | Mass | points"),
    ("Irradiance (µmol/m²/s)=even:50 | Photosynthesis (mg/L/h)=meas", 12,
     "Irradiance | Photosynthesis | points"),
    ("Temperature (°C)=even:5 | Respiration (mg/h)=lin:1:.5", 8,
     "Temperature | Respiration | points"),
    ("Respiration (mg/h)=lin:1:.5 | Temperature (°C)=even:5", 8,
     "Temperature | Respiration | points"),
    ("Water height (m)=rise:0:3 | Flow (m³/s)=lin:0:4", 20, "Water height | Flow | points"),
    ("Volume added (mL)=even:.5 | pH=lin:3:.2", 40, "Volume added | pH | line"),
    ("Volume added (mL)=even:.5 | pH=lin:3:.2", 20, "Volume added | pH | points"),
    ("Time (min)=even | Concentration (µg/L)=fall", 25, "Time | Concentration | points"),
    ("Time (s)=even:.1 | Current (mA)=wave", 500, "Time | Current | line"),
    ("Elapsed (s)=even | U (V)=wave | I (A)=wave", 100, "Elapsed | U | line"),
    ("Distance (km)=even | Chloride (mg/L)=meas:30:2", 15, "Distance | Chloride | points"),
    # spectra and sweeps
    ("Wavelength (nm)=even:1:400 | Absorbance=wave", 300, "Wavelength | Absorbance | line"),
    ("Wavelength (nm)=even:-1:700 | Absorbance=wave", 300, "Wavelength | Absorbance | line"),
    ("Wavelength (nm)=even:1:400 | Sample 1=wave | Sample 2=wave | Sample 3=wave", 300,
     "Wavelength | Sample 1; Sample 2; Sample 3 | line"),
    ("Wavenumber (cm⁻¹)=even:2:400 | Transmittance (%)=wave:80:5", 800,
     "Wavenumber (to the left) | Transmittance | line"),
    ("m/z=even | Relative abundance=counts", 120, "m/z | Relative abundance | line"),
    ("2 theta (°)=even:.02:10 | Counts=counts:100", 900, "2 theta | Counts | line"),
    ("Frequency (Hz)=log:1:100000 | Impedance (Ω)=fall:1000", 50, "Frequency | Impedance | points"),
    ("Voltage (V)=even:.01 | Current (mA)=lin:0:.1", 200, "Voltage | Current | line"),
    ("Retention time (min)=even:.01 | Signal (mV)=wave", 900, "Retention time | Signal | line"),
    ("Column 1=number:0 | Wavelength (nm)=even:1:400 | Absorbance=wave", 100,
     "Wavelength | Absorbance | line"),
    ("Raman shift (cm⁻¹)=even:1:200 | Intensity=wave", 600, "Raman shift | Intensity | line"),
    # depth
    ("Depth (m)=even:.5 | Temperature (°C)=fall", 40, "Temperature ↓ Depth | line"),
    ("Depth (m)=even:.5 | Temperature (°C)=fall | Oxygen (mg/L)=fall:9", 40,
     "Temperature ↓ Depth | line"),
    ("Temperature (°C)=fall | Depth (m)=even:.5", 40, "Temperature ↓ Depth | line"),
    ("Tiefe (m)=even:1 | Sauerstoff (mg/L)=fall:9", 10, "Sauerstoff ↓ Tiefe | points-and-line"),
    ("Core=blocks:A+B+C | Layer (cm)=codes:10 | Organic part (%)=meas:20:4", 30,
     "Organic part ↓ Layer | points"),
    ("Station=names:S | Depth (m)=meas:14:4 | Visited=days | Bottom=groups:sand+mud", 12,
     "Visited | Depth | points-and-line"),
    # names
    ("Month=months | Rain (mm)=meas:50:9", 12, "Month | Rain | points-and-line"),
    ("Month=months | 2019=meas:50:9 | 2020=meas:50:9 | 2021=meas:50:9 | 2022=meas:50:9", 12,
     "Month | 2019; 2020; 2021; 2022 | points-and-line"),
    ("Month=months | North (mm)=meas:50:9 | South (mm)=meas:50:9", 12,
     "Month | North; South | points-and-line"),
    ("Month=months | Rain (mm)=meas:50:9 | Temp (°C)=meas", 12, "Month | Rain | points-and-line"),
    ("Day=words:Mon+Tue+Wed+Thu+Fri+Sat+Sun | Samples=counts", 7,
     "Day | Samples | points-and-line"),
    ("Week=names:Week  | Samples=counts", 8, "Week | Samples | points-and-line"),
    ("Site=words:North+South+West+East | Snails=counts", 4, "Site | Snails | bars"),
    ("Name=words:Ada+Bo+Cy+Di+Ed | Mass (kg)=meas:70:5", 5, "Name | Mass | bars"),
    ("Metal=words:Fe+Cu+Pb+Zn | Before (mg/L)=meas:9:2 | After (mg/L)=meas:4:1", 4,
     "Metal | Before; After | bars"),
    ("Metal=words:Fe+Cu+Pb+Zn | Before=meas:9:1 | After=meas:5:1", 4,
     "Metal | Before; After | bars"),
    ("Site=words:North+South+West+East | Nitrate (mg/L)=meas:3:1 | SD=sd", 4,
     "Site | Nitrate ± SD | bars"),
    ("Site=words:North+South+West+East | Mean=meas:9:1 | Min=meas:5:1 | Max=meas:12:1", 4,
     "Site | Mean | bars"),
    ("Dose=words:0 mg+5 mg+10 mg+20 mg | Response=lin:1:2", 4, "Dose | Response | points-and-line"),
    ("Sample=words:A1+A2+B1+B2 | Mass (g)=meas:5:1", 4, "Sample | Mass | bars"),
    # groups
    ("Site=groups:North+South+West | Snails=counts", 24, "Site | Snails mean sd | points"),
    ("Site=groups:North+South | Snails=counts", 120, "Site | Snails mean sd | bars"),
    ("Treatment=groups:control+shade+food | Growth (mm)=meas:9:2", 18,
     "Treatment | Growth mean sd | points"),
    ("Treatment=codes:3 | Growth (mm)=meas:9:2", 18, "Treatment | Growth mean sd | points"),
    ("Sex=codes:2 | Growth (mm)=meas:9:2", 18, "Sex | Growth mean sd | points"),
    ("Tank=codes:4 | Mass (g)=meas:9:2", 20, "Tank | Mass mean sd | points"),
    ("Growth (mm)=meas:9:2 | Treatment=groups:control+shade", 10,
     "Treatment | Growth mean sd | points"),
    ("Replicate=codes:3 | Dose (mg)=levels:3:5 | Response=meas", 18, "Dose | Response | points"),
    ("Site=groups:North+South | Date=days | Level (m)=meas:3:.2", 30,
     "Date | Level | points-and-line"),
    # one column, and nothing
    ("Count=counts", 30, "row | Count | points"),
    ("Level (m)=wave", 300, "row | Level | points"),
    ("No.=number | Level (m)=wave", 30, "row | Level | points"),
    ("ID=number:101 | Mass (g)=meas", 30, "row | Mass | points"),
    ("Sample=number | Absorbance=meas:.5:.1", 12, "Sample | Absorbance | points"),
    ("Constant=const | Mass (g)=meas", 30, "row | Mass | points"),
    ("Rank=number | Site=words:a+b+c+d+e+f | Score=fall", 6, "Site | Score | bars"),
    ("Latitude=meas:54:.1 | Longitude=meas:10:.1", 30, "Latitude | Longitude | points"),
    ("Predicted (mg/L)=meas | Observed (mg/L)=meas", 30, "Predicted | Observed | points"),
    ("Well=names:W | OD=meas:.5:.1", 20, "Well | OD | bars"),
    ("Time (h)=even | OD 1=lin:0:.1 | OD 2=lin:0:.1 | OD 3=lin:0:.1", 25,
     "Time | OD 1; OD 2; OD 3 | points"),
    ("Time (h)=even | Control=lin:0:.1 | Treated=lin:0:.15", 25,
     "Time | Control; Treated | points"),
    ("Concentration (mg/L)=even:2 | Rep 1=lin:0:.07 | Rep 2=lin:0:.07 | Rep 3=lin:0:.07", 7,
     "Concentration | Rep 1; Rep 2; Rep 3 | points"),
    # written after these were drawn as expected
    ("Timestamp=mins | PAR (µmol/m²/s)=counts:300 | Temp_C=wave | RH=wave:80:5", 144,
     "Timestamp | PAR | line"),
    ("Sr. No.=number | Volume of NaOH (mL)=even:1 | pH=lin:3:.2", 25,
     "Volume of NaOH | pH | points"),
    ("Nitrogen dose (kg/ha)=levels:4:40 | Grain yield (t/ha)=meas:6:1", 24,
     "Nitrogen dose | Grain yield | points"),
    ("Strain (%)=even:.1 | Stress (MPa)=lin:0:3", 150, "Strain | Stress | line"),
    ("Species=groups:roach+perch+pike | Length (cm)=meas:20:4 | Weight (g)=meas:150:30", 60,
     "Length | Weight | points"),
    ("Lake=words:A-See+B-See+C-See+D-See | pH=meas:7:.3 | Conductivity (µS/cm)=meas:300:20", 4,
     "Lake | pH | bars"),
    ("Hour=even | Visitors=counts", 24, "Hour | Visitors | points-and-line"),
    ("t (s)=even:.5 | x (m)=lin:0:.2", 20, "t | x | points"),
    ("U (V)=even:.5 | I (mA)=lin:0:.2", 10, "U | I | points"),
    ("1/T (1/K)=fall:.003 | ln k=lin:0:.1", 8, "1/T | ln k | points"),
    ("log dose=even | Response 1=lin | Response 2=lin | Response 3=lin", 8,
     "log dose | Response 1; Response 2; Response 3 | points"),
    ("Day=even:7 | Control (mg)=lin:5:1 | Low (mg)=lin:5:1 | High (mg)=lin:5:1", 6,
     "Day | Control; Low; High | points-and-line"),
    ("Plot=codes:4 | Treatment=groups:a+b | Yield (t)=meas:6:1", 16,
     "Treatment | Yield mean sd | points"),
    ("Participant=names:P | Before=meas:120:9 | After=meas:110:9", 12,
     "Participant | Before; After | bars"),
    ("Isotope=words:A+B+C | Activity (Bq)=meas:90:9 | Uncertainty (Bq)=sd", 3,
     "Isotope | Activity ± Uncertainty | bars"),
    ("Energy (keV)=even:.5 | Counts=counts:40", 1000, "Energy | Counts | line"),
    ("Altitude (m)=even:100 | Temperature (°C)=fall", 12, "Altitude | Temperature | points"),
    ("Pressure (dbar)=even:1 | Salinity=wave:35:.1 | Temperature (°C)=fall", 60,
     "Salinity ↓ Pressure | line"),
    ("Decimal year=even:.0833:1990 | Sea level (mm)=wave", 240, "Decimal year | Sea level | line"),
    ("Generation=even | Fitness=lin", 50, "Generation | Fitness | line"),
    ("Cycle=even:1:1 | Fluorescence A1=lin | Fluorescence A2=lin | Fluorescence A3=lin", 40,
     "Cycle | Fluorescence A1; Fluorescence A2; Fluorescence A3 | line"),
    ("Reading=number | Value=meas", 10, "Reading | Value | points"),
    ("Compound=words:A+B+C+D | RT (min)=rise | Area=counts:300", 4, "Compound | Area | bars"),
    ("Sex=groups:m+f | Age=counts:40 | Height (cm)=meas:170:9", 40, "Age | Height | points"),
    ("Type=groups:x+y+z | Value=meas", 12, "Type | Value mean sd | points"),
    ("Quarter=words:Q1+Q2+Q3+Q4 | Sales=counts", 4, "Quarter | Sales | points-and-line"),
    ("Age class=words:0-10+10-20+20-30+30-40 | n=counts", 4, "Age class | n | bars"),
    ("Particle size (µm)=log:.1:1000 | Volume (%)=meas:3:1", 60, "Particle size | Volume | points"),
    ("T (K)=even:10:280 | k (1/s)=log:.001:10", 9, "T | k | points"),
    ("Concentration (µM)=log:.01:100 | Inhibition (%)=lin", 9,
     "Concentration | Inhibition | points"),
    ("DateTime=mins:60 | Discharge (L/s)=wave | Turbidity (NTU)=wave:5:1", 500,
     "DateTime | Discharge | line"),
    (("Sample ID=names:LK-0 | Date=days:14 | Total P (µg/L)=meas | "
     "Total N (µg/L)=meas:900:90"), 20, "Date | Total P | points-and-line"),
    ("Distance from shore (m)=even:5 | Mussels per m²=counts", 12,
     "Distance from shore | Mussels per m² | points"),
    ("c(NaCl) (mol/L)=even:.1 | κ (mS/cm)=lin:0:5", 8, "c(NaCl) | κ | points"),
    ("λ (nm)=even:2:200 | ε (L/mol/cm)=wave:900:90", 150, "λ | ε | line"),
    ("Bottle=names:B | Oxygen start (mg/L)=meas:9:.2 | Oxygen end (mg/L)=meas:7:.2", 9,
     "Bottle | Oxygen start; Oxygen end | bars"),
    ("Temp (°C)=even:5:5 | Rate 1=lin | Rate 2=lin", 7, "Temp | Rate 1; Rate 2 | points"),
    ("Weekday=words:Monday+Tuesday+Wednesday+Thursday+Friday | Samples=counts", 5,
     "Weekday | Samples | points-and-line"),
    ("Taxon=words:Daphnia+Bosmina+Cyclops+Keratella | Ind. per L=counts:40", 4,
     "Taxon | Ind. per L | bars"),
    ("Lake=groups:North+South+West | Year=year:2001 | Secchi (m)=meas:4:1", 24,
     "Year | Secchi | points-and-line"),
    ("Light (µmol)=even:20 | P (mg/h)=lin | P SE (mg/h)=sd", 10, "Light | P ± P SE | points"),
    ("time=even:.5 | C=fall | D=fall:10", 30, "time | C; D | points"),
    ("Run=number | Yield (%)=meas:80:3", 15, "Run | Yield | points"),
    ("Tube=number | Volume (mL)=even:.5 | Absorbance=lin:0:.1", 8, "Volume | Absorbance | points"),
    ("Group=groups:a+b+c+d | Score=meas | Score SD=sd", 40, "Group | Score mean sd | points"),
    ("Altitude class=words:low+middle+high | Species=counts", 3, "Altitude class | Species | bars"),
    ("Age (d)=even:7 | Length (mm)=lin:5:1 | Length SD (mm)=sd | n=counts:20", 8,
     "Age | Length ± Length SD | points"),
    ("Date=days:30 | Lake A (m)=wave | Lake B (m)=wave | Lake C (m)=wave", 24,
     "Date | Lake A; Lake B; Lake C | points-and-line"),
    ("Cast=codes:3 | Depth (m)=codes:12 | Temp (°C)=fall", 36, "Temp ↓ Depth | points"),
    ("x=meas | y=meas | z=meas", 20, "x | y; z | points"),
    # what the trade draws in its own way
    ("Wavenumber (cm-1)=even:-4:4000 | Transmittance (%)=wave", 900,
     "Wavenumber (to the left) | Transmittance | line"),
    ("Chemical shift (ppm)=even:-.02:12 | Intensity=wave", 500,
     "Chemical shift (to the left) | Intensity | line"),
    ("Raman shift (cm-1)=even:4:100 | Intensity=wave", 500, "Raman shift | Intensity | line"),
    ("Potential (V)=cycle | Current (µA)=wave", 200, "Potential | Current | line"),
    ("Time (s)=even | Fluorescence=fall", 30, "Time | Fluorescence | points"),
    ("Depth (m)=even | Pressure (dbar)=even:1.01 | T (°C)=fall", 12, "T ↓ Depth | points-and-line"),
    ("Pressure (dbar)=even | T (°C)=fall", 12, "T ↓ Pressure | points-and-line"),
    # limits, quotas, blanks, treatments of one quantity
    ("Year=year:2001 | Catch (t)=meas:400:30 | Quota (t)=levels:5:20", 25,
     "Year | Catch; Quota | points-and-line"),
    ("Date=days:7 | Nitrate (mg/L)=meas | Limit (mg/L)=const:11.3", 12,
     "Date | Nitrate; Limit | points-and-line"),
    ("nm=even:2:400 | Blank=const:.01 | 1 mg/L=wave | 2 mg/L=wave:20", 90,
     "nm | Blank; 1 mg/L; 2 mg/L | line"),
    ("Time (h)=rise | Control=wave:1:.2 | 1 µM=wave:1:.2 | 10 µM=wave:.1:.02", 12,
     "Time | Control; 1 µM; 10 µM | points"),
    ("Time (h)=rise | O2 light (mg/L)=meas | O2 dark (mg/L)=meas", 8,
     "Time | O2 light; O2 dark | points"),
    # names with two quantities that go together, or too many names to be read
    ("Species=names:S | Body mass (kg)=log | Rate (W)=log:1:90", 14, "Body mass | Rate | points"),
    ("Lake=names:L | P (µg/L)=lin:5:9 | Secchi (m)=lin:1:3", 5, "Lake | P | bars"),
    ("Bird=names:B | Wing (mm)=meas:80:5 | Mass (g)=meas:20:2", 40, "Wing | Mass | points"),
    ("Turbine=names:T | Power (kW)=meas:400:20 | Hours=meas:8000:90", 4, "Turbine | Power | bars"),
    ("Animal=number:1 | Diet=groups:A+B+C | Gain (g)=meas", 24, "Diet | Gain mean sd | points"),
    # what is about others, and where they were
    ("Group=names:G | n=counts | Mean (mm)=meas | SE (mm)=sd", 3, "Group | Mean ± SE | bars"),
    ("Analyte=names:A | Recovery (%)=meas:95:3 | RSD (%)=sd", 4, "Analyte | Recovery | bars"),
    ("Station=names:S | Lat (°)=meas:47:.1 | Lon (°)=meas:8:.1 | T (°C)=meas", 5,
     "Station | T | bars"),
    ("Height (m)=even:.5:.5 | Fall time (s)=lin:.3:.1 | Uncertainty (s)=const:.01", 5,
     "Height | Fall time ± Uncertainty | points"),
    ("Passage=even:1:3 | Doubling time (h)=meas", 16, "Passage | Doubling time | points"),
    ("Temperature (°C)=even:2:30 | Mass (%)=fall | Time (min)=even:.2", 300,
     "Temperature | Mass | line"),
    ("Element=names:E | Content (µg/L)=meas | LOD (µg/L)=sd", 6, "Element | Content | bars"),
    ("x=even:1:1 | dx=const:.1 | y=lin | dy=sd", 6, "x | y ± dy | points"),
    ("u wind (m/s)=meas:4 | v wind (m/s)=meas:3", 20, "u wind | v wind | points"),
    ("Temperature (°C)=even:20 | Emf (mV)=lin:0:1 | u (mV)=sd", 5,
     "Temperature | Emf ± u | points"),
    # what counts as one quantity, and what is only called after one
    ("Date=days:7 | Chloride (mg/L)=meas:20 | Sulfate (mg/L)=meas:30 | Bromide (mg/L)=meas:.1:.01",
     14, "Date | Chloride; Sulfate | points-and-line"),
    ("Gene=names:g | Control=meas:1:.1 | Heat=meas:2:.3 | Cold=meas:1:.1", 4,
     "Gene | Control; Heat; Cold | bars"),
    ("Coverage=even:.1:.1 | Frequency shift (Hz)=lin:-3:-5", 6,
     "Coverage | Frequency shift | points"),
    ("Alloy=names:A | Yield strength (MPa)=meas | Tensile strength (MPa)=meas", 4,
     "Alloy | Yield strength; Tensile strength | bars"),
    # what was done in turn, and what was measured in numbered plots of a few kinds
    ("Subgroup=number:1 | Mean (mm)=meas | Range (mm)=sd", 25, "Subgroup | Mean | points"),
    ("Plot=names:P | Habitat=groups:forest+edge+meadow | Richness=counts", 18,
     "Habitat | Richness mean sd | points"),
    ("Season=words:Spring+Summer+Autumn+Winter | Catch (kg)=meas", 4,
     "Season | Catch | points-and-line"),
    # what is no depth, no uncertainty, and no row of bars
    ("Depth of cut (mm)=even:.1:.1 | Roughness (µm)=lin:1:2", 5,
     "Depth of cut | Roughness | points"),
    ("Layer thickness (nm)=even:5:5 | Transmittance (%)=fall", 6,
     "Layer thickness | Transmittance | points"),
    ("Training size=even:10:10 | Error (%)=fall", 6, "Training size | Error | points"),
    ("Site=names:s | Observed (mg/L)=meas | Predicted (mg/L)=meas", 25,
     "Observed | Predicted | points"),
    ("Month=months | Precipitation (mm)=meas:70:9 | Evaporation (mm)=meas:50:9", 12,
     "Month | Precipitation; Evaporation | points-and-line"),
    ("Salt=groups:none+much | Root (g)=meas:2:.3 | Shoot (g)=meas:5:.5", 12,
     "Salt | Root mean sd; Shoot mean sd | points"),
    ("Direction=words:N+E+S+W+NE+SW | Speed (m/s)=lin | Share (%)=lin", 6,
     "Direction | Speed | bars"),
    ("Ionic strength (mol/L)=rise | log K=lin:5:-1", 5, "Ionic strength | log K | points"),
    ("Depth (cm)=even:9 | Age (cal yr BP)=lin:90:300 | Error (yr)=sd", 5,
     "Age ± Error ↓ Depth | points-and-line"),
    # what is numbered from any number on, controls near 0, what the rest is read along
    ("TIMESTAMP=mins | RECORD=number:1001 | AirTC_Avg=wave | RH_Avg=wave:60:9", 144,
     "TIMESTAMP | AirTC_Avg | line"),
    ("Wavelength (nm)=even:1:350 | Blank=meas:0:.001 | Sample 1=wave | Sample 2=wave", 200,
     "Wavelength | Blank; Sample 1; Sample 2 | line"),
    ("Cycle=number:1 | Sample A=wave | Sample B=wave | NTC=meas:0:.01", 45,
     "Cycle | Sample A; Sample B; NTC | line"),
    ("p/p0=even:.03:.02 | Adsorbed volume (cm³/g)=lin:20:4", 30, "p/p0 | Adsorbed volume | points"),
    ("log10(mass)=meas:1:.9 | log10(rate)=meas:1:.9", 26, "log10(mass) | log10(rate) | points"),
    ("Fertiliser=blocks:N0+N60+N120 | Plot=number:1 | Yield (t/ha)=meas:6:1", 12,
     "Fertiliser | Yield mean sd | points"),
    ("Depth (cm)=even:2 | Age (ka)=even:.11 | δ18O (‰)=wave:3.5:.6", 200, "δ18O ↓ Depth | line"),
    ("Step=number:1 | Loss=fall:1 | Validation loss=fall:1.1", 200,
     "Step | Loss; Validation loss | line"),
    ("Diameter (mm)=even:1:1 | Time (s)=fall:40", 6, "Diameter | Time | points"),
    ("Percentile=even:10:10 | Height (cm)=lin:150:4", 9, "Percentile | Height | points"),
    # a reading at a depth is no depth, a lone greatest no end of an error bar, who measured a group
    ("Station=names:S | Depth 0.5 m (µg/L)=meas:4:1 | Depth 5 m (µg/L)=meas:3:1", 4,
     "Station | Depth 0.5 m; Depth 5 m | bars"),
    ("Lake=names:L | Max. depth (m)=meas:20:4 | Mean depth (m)=meas:9:2", 4,
     "Lake | Max. depth; Mean depth | bars"),
    ("Month=months | Mean (m³/s)=meas | 10th percentile (m³/s)=meas:8:1", 12,
     "Month | Mean; 10th percentile | points-and-line"),
    ("Analyst=groups:A+B+C | Result (mg/L)=meas:5:.1", 15, "Analyst | Result mean sd | points"),
    ("Days=rise:0:14 | Control (cells/mL)=log:100:9000 | Copper 5 (cells/mL)=log:9:90", 6,
     "Days | Control; Copper 5 | points"),
    ("Station=words:1A+2A+3A+4A | Daphnia (ind./L)=meas:9:2 | Bosmina (ind./L)=meas:9:2", 4,
     "Station | Daphnia; Bosmina | bars"),
    ("Vial=number:1 | Mass before (g)=meas:12:.1 | Mass after (g)=meas:11:.1", 8,
     "Vial | Mass before; Mass after | bars"),
    ("Pore size (nm)=log:1:100 | Cumulative volume (cm³/g)=lin:0:.02", 30,
     "Pore size | Cumulative volume | points"),
    ("Sampling round=number:1 | Cadmium (µg/L)=meas:4:.2 | Lead (µg/L)=meas:9:.2", 6,
     "Sampling round | Cadmium; Lead | points"),
    # uncertainties by their symbols
    ("Current (A)=even:.1:.1 | Voltage (V)=lin:1:1 | dV (V)=const:.02", 5,
     "Current | Voltage ± dV | points"),
    ("Gene=names:g | log2 fold change=meas:2:1 | lfcSE=sd", 5,
     "Gene | log2 fold change ± lfcSE | bars"),
    ("Age of concrete (d)=log:1:90 | Strength (MPa)=lin:9:7 | s (MPa)=sd", 6,
     "Age of concrete | Strength ± s | points"),
    ("Nominal mass (g)=log:1:100 | Deviation (mg)=meas:.02:.1 | U (mg)=sd", 7,
     "Nominal mass | Deviation ± U | points"),
    # numbers within groups, levels of standards, ranks, and questions that are no quarters
    ("Transect=blocks:T1+T2+T3 | Quadrat=codes:10 | Cover (%)=meas:40:9", 30,
     "Transect | Cover mean sd | points"),
    ("Level=number:1 | Conc (ug/L)=log:1:50 | Area=lin:100:90", 6, "Conc | Area | points"),
    ("Country=names:C | Value (kg)=lin:20:2 | Rank=number:1", 6, "Country | Value | bars"),
    ("Rank=number:1 | Abundance=fall:90", 20, "Rank | Abundance | points"),
    ("Question=words:Q1+Q2+Q3+Q4 | Agree=meas:40:5 | Disagree=meas:30:5", 4,
     "Question | Agree; Disagree | bars"),
    ("Nominal (mg/L)=log:1:50 | Bias (%)=meas:1:2 | CI (%)=sd", 4, "Nominal | Bias ± CI | points"),
    ("1/d²=rise:0:1 | Intensity (W/m²)=lin:1:20", 5, "1/d² | Intensity | points"),
    ("Wavelength (nm)=rise:400:800 | n=meas:1.5:.01", 6, "Wavelength | n | points"),
    ("Frequency (Hz)=log:1:100000 | Noise=fall:100", 300, "Frequency | Noise | line"),
    ("Material=names:M | Conductivity (W/(m K))=meas", 4, "Material | Conductivity | bars"),
    ("Moles (mol)=even:.1:.1 | Volume (L)=lin:2.4:2.4", 4, "Moles | Volume | points"),
    ("Season=words:2009/10+2010/11+2011/12 | Snow (cm)=meas", 3, "Season | Snow | points-and-line"),
    # levels of water, sensors in it, hauls of days, ends of intervals, changes to what was
    ("Flow (L/s)=even:10:10 | Level upstream (mm)=lin:90:20 | Level downstream (mm)=lin:40:10", 5,
     "Flow | Level upstream; Level downstream | points"),
    ("Depth of sensor (m)=rise:0:20 | Temperature (°C)=fall", 6,
     "Temperature ↓ Depth of sensor | points-and-line"),
    ("Haul=number:1 | Date=dates:3 | Catch per haul (kg)=meas:40:9", 24,
     "Date | Catch per haul | points"),
    (("Temperature (°C)=even:6:4 | Survival (%)=meas:90:3 | CI low (%)=meas:70:1 | "
      "CI high (%)=meas:110:1"), 5, "Temperature | Survival | points"),
    ("Time (s)=even:.05 | ΔF/F=meas:0:.1", 400, "Time | ΔF/F | line"),
    ("Channel=number:1 | Counts sample=counts:50 | Counts background=counts:20", 512,
     "Channel | Counts sample; Counts background | line"),
    ("Year=year:2010 | Coal (TWh)=meas:50 | Wind (TWh)=meas:50 | Solar (TWh)=meas:50", 14,
     "Year | Coal; Wind; Solar | points-and-line"),
    ("date=dates:2 | depth (m)=codes:2 | temp (°C)=meas:7:1 | do (mg/L)=meas:11:.3", 8,
     "date | temp | points"),
    # times that only tell of the places, and what was written with few digits
    ("Cycle=number:1 | Time (s)=even:30 | T (°C)=const:25 | A1=lin | A2=lin", 12,
     "Cycle | A1; A2 | points"),
    ("T (K)=even:10:300 | 1/T (1/K)=short | ln k=lin:-1:-2", 6, "1/T | ln k | points"),
    ("T (K)=even:10:300 | 1/T (1/K)=short | k=lin:1:.2", 6, "1/T | k | points"),
    ("Bin start=even:10 | Bin end=even:10:10 | Fish=counts", 6, "Bin start | Fish | points"),
    # years beside one another
    ("Year=years:12 | Month=codes:12 | Rain (mm)=meas:60:9", 36,
     "Month | Rain 2010; Rain 2011; Rain 2012 | points-and-line"),
    ("Year=years:12 | Month=months | Rain (mm)=meas:60:9", 24,
     "Month | Rain 2010; Rain 2011 | points-and-line"),
    ("Year=years:12 | Month=codes:12 | Rain (mm)=meas:60:9", 144, "Year | Rain | points"),
]  # fmt: skip


def _moments(kind: str, n: int, by: float) -> Column | None:
    at = np.arange(n, dtype=float)
    found = {
        "days": (_BEGIN + at * _DAY * (by or 1), "day"),
        "mins": (_BEGIN + at * 60 * (by or 10), "minute"),
        "dates": (_BEGIN + at // (by or 3) * 7 * _DAY, "day"),
        "shuffled": (_BEGIN + np.random.default_rng(2).permutation(n) * _DAY, "day"),
    }.get(kind)
    return time_column("", found[0].astype(np.float64), found[1]) if found is not None else None


def _words(kind: str, n: int, told: str) -> list[str] | None:
    given = told.split("+")
    found = {
        "words": given,
        "groups": [given[i % len(given)] for i in range(n)],
        "blocks": [given[i * len(given) // n] for i in range(n)],
        "names": [f"{told}{i + 1}" for i in range(n)],
        "months": [_MONTHS[i % 12] for i in range(n)],
        "remarks": ["" if i % 5 else "calm, some wind from the west later on" for i in range(n)],
    }
    return found.get(kind)


def _numbers(kind: str, n: int, parts: list[float], seed: int) -> np.ndarray:
    random, at = np.random.default_rng(seed), np.arange(n, dtype=float)

    def of(place: int, usual: float) -> float:
        return parts[place] if len(parts) > place else usual

    made: dict[str, Callable[[], np.ndarray]] = {
        "even": lambda: of(1, 0) + at * of(0, 1),
        "rise": lambda: np.sort(np.round(random.uniform(of(0, 0), of(1, 100), n), 3)),
        "log": lambda: np.geomspace(of(0, 0.01), of(1, 1000), n),
        "meas": lambda: np.round(random.normal(of(0, 20), of(1, 3), n), 2),
        "wave": lambda: np.round(
            of(0, 10) + of(1, 2) * np.sin(at / 7) + random.normal(0, 0.1, n), 3
        ),
        "fall": lambda: np.round(of(0, 20) * np.exp(-at / n) + random.normal(0, 0.05, n), 3),
        "lin": lambda: np.round(of(0, 0) + of(1, 2) * at + random.normal(0, 0.1, n), 3),
        "sd": lambda: np.round(np.abs(random.normal(0.3, 0.05, n)), 3),
        "counts": lambda: random.poisson(of(0, 12), n).astype(float),
        "const": lambda: np.full(n, of(0, 5)),
        "none": lambda: np.full(n, np.nan),
        "number": lambda: at + of(0, 1),
        "codes": lambda: at % of(0, 3) + 1,
        "levels": lambda: at // of(0, 3) * of(1, 2),
        "year": lambda: of(0, 2000) + at,
        "years": lambda: 2010 + at // of(0, 12),
        "cycle": lambda: np.round(0.01 * np.abs(at - n // 2), 2),
    }
    return made[kind]()


def table_of(told: str, n: int) -> Table:
    """A table of columns as they are told in TABLES."""
    columns: list[Column] = []
    for number, part in enumerate(told.split(" | ")):
        title, run = part.split("=", 1)
        heading = parse_heading(title)
        kind, _, rest = run.partition(":")
        words = _words(kind, n, rest)
        if words is not None:
            columns.append(text_column(heading.name, words, heading.unit))
            continue
        parts = [float(one) for one in rest.split(":") if one]
        moments = _moments(kind, n, parts[0] if parts else 0.0)
        if moments is not None:
            columns.append(time_column(heading.name, moments.numbers, moments.form))
        elif kind == "inverse":
            inverse = np.round(1 / (columns[-1].numbers + 273.15), 6)
            columns.append(number_column(heading.name, inverse, heading.unit))
        elif kind == "short":
            few = [float(f"{1 / one:.3g}") for one in columns[-1].numbers]
            columns.append(number_column(heading.name, few, heading.unit))
        elif kind == "kelvin":
            warmer = np.round(columns[-1].numbers + 273.15, 2)
            columns.append(number_column(heading.name, warmer, heading.unit))
        else:
            values = _numbers(kind, n, parts, number + 1)
            columns.append(number_column(heading.name, values, heading.unit))
    return Table("t", tuple(columns))


def said(figure: Figure) -> str:
    """A figure as TABLES has it; panels divided by `//`."""
    found = []
    for panel in figure.panels:
        first, down = panel.series[0], panel.y.reversed
        names = "; ".join(_told(one, (one.x if down else one.y) or "") for one in panel.series)
        along = f"{names} ↓ {first.y}" if down else f"{first.x or 'row'} | {names}"
        leftward = " (to the left)" if panel.x.reversed else ""
        found.append(f"{along.replace(' |', leftward + ' |', 1)} | {first.mark}")
    return " // ".join(found)


def _told(series: Series, name: str) -> str:
    errors = series.errors_y or series.errors_x
    if errors is not None and errors.kind == "column":
        name += f" ± {errors.column}"
    if series.only is not None:
        name += f" {series.only.value}"
    return f"{name} mean {errors.kind}" if errors and series.together == "mean" else name


class FirstFigure(SornixTest):
    def test_least_and_greatest_are_the_ends_of_bars_and_lengths_stand_along_x(self) -> None:
        table = table_of("Date=days:1 | Min T (°C)=lin:12:.1 | Mean T (°C)=lin:16:.1"
                         " | Max T (°C)=lin:21:.1", 20)  # fmt: skip
        panel = first_ways(table)[0].figure.panel
        drawn = marked(panel.series[0], panel, (table,))
        self.assertEqual(panel.series[0].y, "Mean T")
        low, high = drawn.whiskers["y"]
        self.assertEqual(low.tolist(), table.column("Min T").numbers.tolist())
        self.assertEqual(high.tolist(), table.column("Max T").numbers.tolist())
        table = table_of("Mass (kg)=even:1:1 | SD of mass=const:.1 | Period (s)=meas | "
                         "SD of period=const:.2", 8)  # fmt: skip
        panel = first_ways(table)[0].figure.panel
        drawn = marked(panel.series[0], panel, (table,))
        np.testing.assert_allclose(drawn.whiskers["x"][1] - drawn.points.x, 0.1)
        np.testing.assert_allclose(drawn.whiskers["y"][1] - drawn.points.y, 0.2)

    def test_ends_and_lengths_on_either_side_become_error_bars(self) -> None:
        ends, lengths = (0.9, 1.2), (0.1, 0.2)
        for names, (low, high), bars in (
            ("t,y,y_err_lo,y_err_hi", lengths, "y below of y_err_lo above of y_err_hi"),
            ("t,y,err-,err+", lengths, "y below of err- above of err+"),
            ("t,k,k error minus,k error plus", lengths,
             "y below of k error minus above of k error plus"),
            ("t,y,lower error,n", lengths, ""),
            ("t,y,CI low,CI high", ends, "y from CI low to CI high"),
            ("t,Flow,Flow lower,Flow upper", ends, "y from Flow lower to Flow upper"),
            ("depth,age,age min,age max", ends, "x from age min to age max"),
            ("t,y,2.5 %,97.5 %", ends, "y from 2.5 % to 97.5 %"),
            ("t,median,q25,q75", ends, "y from q25 to q75"),
            ("t,fit,lwr,upr", ends, "y from lwr to upr"),
            ("t,y,Flow lower,Flow upper", ends, ""),
            ("t,y,2.5 %,75 %", ends, ""),
            ("t,fit,lwr,upr", (1.1, 1.2), ""),
        ):  # fmt: skip
            values = enumerate((2, 2.5, 2.7, 3.4, 3.3, 3.7))
            rows = (f"{i},{v},{v * low - i % 2 / 50},{v * high + i % 3 / 50}" for i, v in values)
            table = read_text("\n".join((names, *rows)).encode(), "t")
            told = write_statement(first_ways(table)[0].figure, (table,), plotted=True)
            with self.subTest(names):
                self.assertEqual(told.partition("error bars in ")[2].partition("\n")[0], bars)

    def assert_legend_hides_no_bar(self, drawing: Drawing) -> None:
        bars = [item.corners for item in drawing.items
                if isinstance(item, Rects) and item.of.startswith("series/")]  # fmt: skip
        for box in drawing.boxes if bars else ():
            if isinstance(box.of, Legend):
                left, top, right, bottom = np.concatenate(bars).T
                over = (left < box.rect.right) & (right > box.rect.left)
                self.assertFalse((over & (top < box.rect.bottom) & (bottom > box.rect.top)).any())

    def test_a_legend_lies_over_no_bar(self) -> None:
        random = np.random.default_rng(3)
        for number in range(40):
            names = [f"Q{i + 1}" for i in range(random.integers(3, 9))]
            answers = ("Agree", "Neutral", "Against")[: random.integers(2, 4)]
            columns = [number_column(answer, random.uniform(20, 60, len(names)), "%")
                       for answer in answers]  # fmt: skip
            table = Table("t", (text_column("Question", names), *columns))
            figure = set_size(new_figure(table), 84.0, float(random.uniform(50, 110)))
            with self.subTest(number):
                self.assert_legend_hides_no_bar(draw_figure(figure, (table,), PlainMeasure()))

    def test_tables_of_many_sorts(self) -> None:
        for told, rows, wanted in TABLES:
            with self.subTest(told):
                table = table_of(told, rows)
                ways = first_ways(table)
                self.assertEqual(said(ways[0].figure), wanted)
                # each way can be drawn, says why, and is another
                self.assertEqual(len({said(way.figure) + way.words for way in ways}), len(ways))
                for way in ways:
                    self.assertTrue(way.because.endswith("."), way.because)
                    self.assert_legend_hides_no_bar(
                        draw_figure(way.figure, (table,), PlainMeasure())
                    )

    def test_other_ways(self) -> None:
        for told, rows, wanted in (
            ("Time=mins | T (°C)=wave | O (mg/L)=wave:9:1", 60,
             ["Time | T | line // Time | O | line", "Time | T | points",
              "Time | T | points-and-line"]),
            ("Site=groups:a+b | Length (mm)=meas | Mass (g)=meas", 40,
             ["Length | Mass a; Mass b | points", "Length | Mass | points-and-line",
              "Length | Mass | line"]),
            ("Group=groups:a+b | Growth=meas", 12,
             ["Group | Growth mean sd | bars", "Group | Growth | points"]),
            ("f (Hz)=log:1:100000 | Z (Ω)=log:1:10000", 50,
             ["f | Z | points", "f | Z | points-and-line", "f | Z | line"]),
        ):  # fmt: skip
            ways = first_ways(table_of(told, rows))
            self.assertEqual([said(way.figure) for way in ways[1:]], wanted)
        for told, kinds in (
            ("f (Hz)=log:1:100000 | Z (Ω)=log:1:10000", ("log", "log")),
            ("Dose (mg)=log:1:100 | Response (%)=meas:50:5", ("log", "linear")),
            ("Dose (mg)=even:10:1 | Response (%)=meas:50:5", None),
            ("Dose (mg)=even:10:0 | Response (%)=log:1:10000", None),
        ):
            panels = [way.figure.panel for way in first_ways(table_of(told, 11))]
            found = [(one.x.kind, one.y.kind or "linear") for one in panels if one.x.kind == "log"]
            self.assertEqual(found, [kinds] if kinds else [], told)

    def test_what_is_added_follows(self) -> None:
        """The next column in the table's order, along the same, in the same way; what only numbers
        rows or tells errors comes last."""
        table = table_of("Time=mins | A (m)=wave | SD=sd | B (K)=wave | No.=number", 60)
        figure = set_mark(new_figure(table), (table,), "s1", "steps")
        self.assertEqual(said(add_series(figure, (table,))), "Time | A ± SD; B | steps")
        self.assertEqual(
            said(add_panel(figure, (table,))), "Time | A ± SD | steps // Time | B | steps"
        )
        profile = table_of("Depth (m)=even:.5 | T (°C)=fall | O (mg/L)=fall:9", 12)
        figure = new_figure(profile)
        self.assertEqual(said(add_series(figure, (profile,))), "T; O ↓ Depth | points-and-line")
        self.assertEqual(said(add_panel(figure, (profile,))),
                         "T ↓ Depth | points-and-line // O ↓ Depth | points-and-line")  # fmt: skip

    def test_curves_have_places_of_their_own(self) -> None:
        for names, other, expected in (
            ("x1,y1,x2,y2", 0.5, "y1 x1, y2 x2"),
            ("Wavelength (nm),Lake,Wavelength (nm),Bog", 1.0, "Lake Wavelength, Bog Wavelength 2"),
            # each at the same places, of which one tells all
            ("x1,y1,x2,y2", 0.0, "y1 x1, y2 x1"),
            # nothing says of these that they were chosen, nor is the same measured at each
            ("Flow 1,Level,Flow 2,Rain", 0.5, "Rain Flow 2"),
        ):
            rows = [f"{i},{i * i % 5},{i + other},{i * i % 7}" for i in range(6)]
            figure = new_figure(read_text("\n".join([names, *rows]).encode(), "t"))
            found = ", ".join(f"{one.y} {one.x}" for one in figure.panel.series)
            self.assertEqual(found, expected)

    def test_series_of_one_quantity_have_its_name_on_the_axis(self) -> None:
        for columns, title in (
            ("Absorbance at 220 nm=wave | Absorbance at 275 nm=wave", "Absorbance"),
            ("Run A, Area=wave | Run B, Area=wave", "Area"),
            ("Ca, all=wave | Mg, all=wave", "Ca, all, Mg, all"),
            ("T, Site A (°C)=wave | T, Site B (°C)=wave", "T / °C"),
            ("OD 1=wave | OD 2=wave | OD 3=wave | OD 4=wave | OD 5=wave", "OD"),
            ("North (mg/L)=wave | South (mg/L)=wave", "North, South / mg/L"),
            ("2019 (mm)=wave | 2020 (mm)=wave", "Value / mm"),
        ):  # fmt: skip
            table = table_of(f"Time=mins | {columns}", 60)
            figure = new_figure(table)
            self.assertEqual(axis_title(figure.panel, (table,), "y"), title)

    def test_what_standards_are(self) -> None:
        """Limits of detection are told of these: amounts at few levels, repeated or round."""
        for title, values, wanted in (
            ("Nitrate concentration (mg/L)", [0, 0, 1.37, 1.37], True),
            ("Standard (µg/L)", [0, 5, 10], True), ("x (mg L^-1)", [0, 1, 2], True),
            ("c(Cu)", [0.5, 1, 2], True), ("Nitrate (mg/L)", [3.24, 1.17, 2.69], False),
            ("Depth (m)", [0, 1, 2], False), ("Time (s)", [0, 1, 2], False),
            ("T (°C)", [5, 10, 15], False), ("Dose (mg)", list(range(40)), False),
            ("Standard (µg/L)", [*range(0, 120, 10)] * 2, True),
        ):  # fmt: skip
            heading = parse_heading(title)
            column = number_column(heading.name, values, heading.unit)
            self.assertEqual(is_standard(column), wanted, title)

    def test_nothing_to_draw_is_drawn_anyway(self) -> None:
        for text in (b"a\n1\n", b"a,b\n1,x\n", b"d\n2026-06-01\n2026-06-02\n", b"No.\n1\n2\n3\n"):
            document = new_document(read_text(text, "t"))
            draw_figure(document.figure, document.tables, PlainMeasure())
