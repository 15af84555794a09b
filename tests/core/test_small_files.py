"""Small files as instruments, loggers and people write them, beside those of test_awkward and
test_layouts."""

import csv

from sornix.core.readings.files.delimited import read_texts
from sornix.core.readings.files.rowwise import table_of_rows
from tests.base import SornixTest
from tests.core.test_awkward import described
from tests.core.test_layouts import Case, told

_BASE = "x n: 1, 2, 3 | y n: 2.5, 3.5, 4.5"
_XY = "x,y\n1,2.5\n2,3.5\n3,4.5\n"
FILES = [
    Case("spectrometer", "\ufeffSample 4,,Sample 5,\nWavelength (nm),Abs,Wavelength (nm),Abs\n"
         "190,0.5,190,0.7\n191,0.6,191,0.8\n192,0.4,192,0.6\n",
         "Wavelength, Sample 4 [nm] n: 190, 191, 192 | Abs, Sample 4 n: 0.5, 0.6, 0.4 | "
         "Wavelength, Sample 5 [nm] n: 190, 191, 192 | Abs, Sample 5 n: 0.7, 0.8, 0.6"),
    Case("titration",
         "Volume (mL)\tpH\t\n0.0\t3.21\t\n0.5\t3.40\t\n1.0\t3.65\t\n",
         "Volume [mL] n: 0, 0.5, 1 | pH n: 3.21, 3.4, 3.65"),
    Case("weather", '"Date";"Time";"T";"RH"\n"";"";"°C";"%"\n'
         '"01.06.2026";"00:00";"12,5";"81"\n'
         '"01.06.2026";"00:10";"12,4";"82"\n',
         "Date t: 2026-06-01, 2026-06-01 | Time t: 00:00, 00:10 | "
         "T [°C] n: 12.5, 12.4 | RH [%] n: 81, 82"),
    Case("plate",
         "<>,1,2,3\nA,0.11,0.12,0.13\nB,0.21,0.22,0.23\n",
         "<> w: A, B | 1 n: 0.11, 0.21 | 2 n: 0.12, 0.22 | 3 n: 0.13, 0.23"),
    Case("chromatogram report", "Peak#  R.Time   Area   Height\n"
         "1      2.315    12034  1021\n"
         "2      4.870    8841   733\n3      5.002    120    14\n",
         "Peak# n: 1, 2, 3 | R.Time n: 2.315, 4.87, 5.002 | "
         "Area n: 12034, 8841, 120 | Height n: 1021, 733, 14"),
    Case("sep line", "sep=;\nx;y\n1;2,5\n2;3,5\n3;4,5\n", _BASE),
    Case("sep line, tab", "\ufeffsep=\t\nx\ty\n1\t2.5\n2\t3.5\n3\t4.5\n", _BASE),
    Case("kept zeros", 'well,y\n="00042",1\n="00043",2\n', "well w: 00042, 00043 | y n: 1, 2"),
    Case("every cell quoted", '"x","y"\r\n"1","2.5"\r\n"2","3.5"\r\n"3","4.5"\r\n', _BASE),
    Case("quoted decimal commas by tabs", '"x"\t"y"\n"1"\t"2,5"\n"2"\t"3,5"\n"3"\t"4,5"\n', _BASE),
    Case("thousands by points and tabs",
         "x\ty\n1\t1.002,5\n2\t1.003,5\n3\t994,5\n",
         "x n: 1, 2, 3 | y n: 1002.5, 1003.5, 994.5"),
    Case("thousands by thin spaces",
         "x;y\n1;1\u202f002,5\n2;12\u202f003,5\n3;994,5\n",
         "x n: 1, 2, 3 | y n: 1002.5, 12003.5, 994.5"),
    Case("thousands by typographic apostrophes",
         "x;y\n1;1’002.5\n2;12’003.5\n3;994.5\n",
         "x n: 1, 2, 3 | y n: 1002.5, 12003.5, 994.5"),
    Case("powers with decimal commas",
         "x;y\n1;1,5E-03\n2;2,5e+02\n",
         "x n: 1, 2 | y n: 0.0015, 250"),
    Case("names in two lines of a cell",
         'x,"Depth\n(m)"\n1,2.5\n2,3.5\n',
         "x n: 1, 2 | Depth [m] n: 2.5, 3.5"),
    Case("no name over the numbers of rows",
         ",a,b\n0,1.5,2\n1,2.5,3\n",
         "Column 1 n: 0, 1 | a n: 1.5, 2.5 | b n: 2, 3"),
    Case("one name fewer than columns",
         "a b\nr1 1.5 2\nr2 2.5 3\nr3 3.5 4\n",
         "Column 1 w: r1, r2, r3 | a n: 1.5, 2.5, 3.5 | b n: 2, 3, 4",
         "The first column has no name"),
    Case("mixed ends of lines", "x,y\r\n1,2.5\n2,3.5\r\n3,4.5", _BASE),
    Case("end of file mark", "x,y\n1,2.5\n2,3.5\n3,4.5\n\x1a", _BASE),
    Case("units behind a comma",
         "Depth, m;T, °C\n0,5;19,2\n1,0;18,9\n",
         "Depth [m] n: 0.5, 1 | T [°C] n: 19.2, 18.9"),
    Case("degrees of all kinds",
         "a (ºC),b (˚C),c (℃)\n1,2,3\n2,3,4\n",
         "a [ºC] n: 1, 2 | b [˚C] n: 2, 3 | c [℃] n: 3, 4"),
    Case("names twice with other units",
         "T,T,z\n°C,K,m\n19,292,1\n18,291,2\n",
         "T [°C] n: 19, 18 | T 2 [K] n: 292, 291 | z [m] n: 1, 2"),
    Case("no numbers in places",
         "x,y\n1,2.5\n2,n.d.\n3,BDL\n4,3.5\n5,1\n",
         "x n: 1, 2, 3, 4, 5 | y n: 2.5, n.d., BDL, 3.5, 1",
         "2 cells of “y” are text"),
    Case("limits",
         "x,y\n1,2.5\n2,<0.05\n3,>100\n4,3.5\n5,1\n",
         "x n: 1, 2, 3, 4, 5 | y n: 2.5, <0.05, >100, 3.5, 1",
         "2 cells of “y” are text"),
    Case("marks of remarks at numbers",
         "x,y\n1,2.5\n2,3.5*\n3,~4\n4,5\n",
         "x n: 1, 2, 3, 4 | y n: 2.5, 3.5*, ~4, 5",
         "2 cells of “y”"),
    Case("infinite",
         "x,y\n1,inf\n2,-Infinity\n3,2.5\n4,3\n5,1e999\n",
         "x n: 1, 2, 3, 4, 5 | y n: inf, -Infinity, 2.5, 3, 1e999",
         "3 cells of “y”"),
    Case("other bases", "x,y\n0x1F,1\n0x20,2\n", "x w: 0x1F, 0x20 | y n: 1, 2"),
    Case("yes and no", "x,ok\n1,TRUE\n2,FALSE\n", "x n: 1, 2 | ok w: TRUE, FALSE"),
    Case("years",
         "Year,CO2 (ppm)\n2019,411\n2020,414\n",
         "Year n: 2019, 2020 | CO2 [ppm] n: 411, 414"),
    Case("months as words",
         "Month,Rain (mm)\nJan,50\nFeb,40\nMar,45\n",
         "Month w: Jan, Feb, Mar | Rain [mm] n: 50, 40, 45"),
    Case("clocks of half a day",
         "t,y\n11:30 AM,1\n12:15 PM,2\n1:45 PM,3\n",
         "t t: 11:30, 12:15, 13:45 | y n: 1, 2, 3"),
    Case("seconds with commas",
         "t;y\n01.06.2026 14:30:15,5;1\n01.06.2026 14:30:16,0;2\n",
         "t t: 2026-06-01 14:30:15.5, 2026-06-01 14:30:16 | y n: 1, 2"),
    Case("moments with T and Z",
         "t,y\n2026-06-01T14:30:00Z,1\n2026-06-01T15:30:00Z,2\n",
         "t t: 2026-06-01 14:30:00, 2026-06-01 15:30:00 | y n: 1, 2",
         "universal time"),
    Case("moments with offsets",
         "t,y\n2026-06-01T14:30+02:00,1\n2026-06-01T15:30+02:00,2\n",
         "t t: 2026-06-01 14:30, 2026-06-01 15:30 | y n: 1, 2",
         "universal time + 2:00"),
    Case("dates with slashes, years first",
         "d,y\n2026/6/1,1\n2026/6/12,2\n",
         "d t: 2026-06-01, 2026-06-12 | y n: 1, 2"),
    Case("dates with names",
         "d,y\n3-May-26,1\n14-May-26,2\n",
         "d t: 2026-05-03, 2026-05-14 | y n: 1, 2"),
    Case("dates of months first",
         "d,y\n05/14/2026,1\n05/15/2026,2\n",
         "d t: 2026-05-14, 2026-05-15 | y n: 1, 2"),
    Case("dates of either order",
         "d,y\n03/04/2026,1\n05/06/2026,2\n",
         "d t: 2026-04-03, 2026-06-05 | y n: 1, 2",
         "may be 3 April or 4 March"),
    Case("dates and clocks without marks",
         "t,y\n20260503T143000,1\n20260503T153000,2\n",
         "t t: 2026-05-03 14:30, 2026-05-03 15:30 | y n: 1, 2",
         "read as dates"),
    Case("places on earth",
         "lat,y\n54°12'30\"N,1\n54°12'40\"N,2\n",
         "lat w: 54°12'30\"N, 54°12'40\"N | y n: 1, 2"),
    Case("minutes in cells",
         "t,y\n90 min,1\n120 min,2\n",
         "t [min] n: 90, 120 | y n: 1, 2",
         "stood in the cells"),
    Case("a mark of one's own for missing",
         "x,y\n1,2.5\n2,*\n3,*\n4,3.5\n5,4\n",
         "x n: 1, 2, 3, 4, 5 | y n: 2.5, *, *, 3.5, 4",
         "2 cells of “y” are text"),
    Case("great numbers for missing",
         "x,y\n1,2.5\n2,1e30\n3,1e30\n4,3.5\n5,4\n",
         "x n: 1, 2, 3, 4, 5 | y n: 2.5, , , 3.5, 4"),
    Case("one row", "x,y\n1,2.5\n", "x n: 1 | y n: 2.5"),
    Case("words with commas among semicolons",
         "Site;n\nLake, north;1.5\nLake, south;2.5\n",
         "Site w: Lake, north, Lake, south | n n: 1.5, 2.5"),
    Case("an empty column between",
         "x,,y\n1,,2.5\n2,,3.5\n3,,4.5\n",
         _BASE),
    Case("remarks by semicolons",
         "; probe 7\n; by Kim\nx,y\n1,2.5\n2,3.5\n3,4.5\n",
         _BASE,
         "2 lines before the header"),
    Case("farewell with a number", f"{_XY}n = 3\n", _BASE, "1 line"),
    Case("rows numbered at the side",
         "#,x,y\n1,5,2.5\n2,6,3.5\n3,7,4.5\n",
         "# n: 1, 2, 3 | x n: 5, 6, 7 | y n: 2.5, 3.5, 4.5"),
    Case("units in both",
         "Depth (m),T (°C)\n(m),(°C)\n1,2.5\n2,3.5\n",
         "Depth [m] n: 1, 2 | T [°C] n: 2.5, 3.5"),
    Case("widths with negative numbers",
         "   x      y\n-1.0   -2.5\n 2.0    3.5\n 3.0   -4.5\n",
         "x n: -1, 2, 3 | y n: -2.5, 3.5, -4.5"),
    Case("tabs and spaces", "x \t y\n1 \t 2.5\n2 \t 3.5\n3 \t 4.5\n", _BASE),
    Case("a long text in one column",
         "x,remark,y\n1,\"calm, no wind\",2.5\n2,,3.5\n3,\"rain; later\",4.5\n",
         "x n: 1, 2, 3 | remark w: calm, no wind, , rain; later | y n: 2.5, 3.5, 4.5"),
    Case("Indian thousands",
         'x,y\n1,"1,23,456.5"\n2,"12,34,567.5"\n',
         "x n: 1, 2 | y n: 123456.5, 1234567.5"),
    Case("minus signs of all kinds",
         "x,y\n1,−2.5\n2,–3.5\n3,-4.5\n",
         "x n: 1, 2, 3 | y n: -2.5, -3.5, -4.5"),
    Case("numbers behind blanks", "x,y\n 1 , 2.5 \n\u00a02\u00a0, 3.5\n3 ,4.5\n", _BASE),
    Case("mu of all kinds", "a (µg/L),b (μg/L)\n1,2\n2,3\n", "a [µg/L] n: 1, 2 | b [μg/L] n: 2, 3"),
    Case("a profile with stars",
         "* Cast 7\n* Lake North\n*END*\nz T\n0.5 19.2\n1.0 18.9\n1.5 18.1\n",
         "z n: 0.5, 1, 1.5 | T n: 19.2, 18.9, 18.1",
         "3 lines"),
    Case("names in capitals with underlines",
         "TIMESTAMP,AIR_T_C,WIND_M_S\n2026-06-01 00:00,12.5,3\n2026-06-01 00:10,12.4,2\n",
         "TIMESTAMP t: 2026-06-01 00:00, 2026-06-01 00:10 | AIR_T [°C] n: 12.5, 12.4 | "
         "WIND [m/s] n: 3, 2"),
    Case("decimal points and commas mixed",
         "x;y\n1;2,5\n2;3.5\n3;4,5\n4;5,5\n",
         "x n: 1, 2, 3, 4 | y n: 2.5, 3.5, 4.5, 5.5",
         "3.5"),
    # written after the first of these were read right
    Case("bars with units", "z | T\nm | °C\n0.5 | 19.2\n1.0 | 18.9\n",
         "z [m] n: 0.5, 1 | T [°C] n: 19.2, 18.9"),
    Case("sections", "[Header]\nName=run 1\n[Data]\nt;U\n0,0;1,25\n0,1;1,30\n0,2;1,28\n[End]\n",
         "t n: 0, 0.1, 0.2 | U n: 1.25, 1.3, 1.28", "3 lines before"),
    Case("whole sentences as names",
         "Sampling time in minutes,Concentration of nitrate as N in mg/L,Remark\n"
         "0,1.5,\n5,1.2,foam\n",
         "Sampling time [minutes] n: 0, 5 | Concentration of nitrate as N [mg/L] n: 1.5, 1.2 | "
         "Remark w: , foam"),
    Case("units with dashes", "t,I,n\n[s],[A],[-]\n0,1.5,3\n1,1.6,4\n",
         "t [s] n: 0, 1 | I [A] n: 1.5, 1.6 | n n: 3, 4"),
    Case("units as words", "time,force\nsec,newton\n0,1.5\n1,1.6\n",
         "time [sec] n: 0, 1 | force [newton] n: 1.5, 1.6"),
    Case("kinds under the names", "x,y\nfloat,float\n1,2.5\n2,3.5\n3,4.5\n", _BASE,
         "1 line between names and readings"),
    Case("clocks without names", "08:30,1.5\n08:40,1.6\n", "Column 1 t: 08:30, 08:40 | "
         "Column 2 n: 1.5, 1.6", "no header"),
    Case("days of the week before dates", "d,y\nMon 4 May 2026,1\nTue 5 May 2026,2\n",
         "d t: 2026-05-04, 2026-05-05 | y n: 1, 2"),
    Case("parts of seconds", "t,y\n00:00:01.250,1\n00:00:01.500,2\n",
         "t t: 00:00:01.25, 00:00:01.5 | y n: 1, 2"),
    Case("midnight as 24:00", "t,y\n2026-05-01 23:50,1\n2026-05-01 24:00,2\n",
         "t t: 2026-05-01 23:50, 2026-05-02 00:00 | y n: 1, 2"),
    Case("a day that is none", "d,y\n2026-02-28,1\n2026-02-30,2\n2026-03-01,3\n",
         "d t: 2026-02-28, 2026-02-30, 2026-03-01 | y n: 1, 2, 3",
         "1 cell of “d” is text, not dates"),
    Case("separators at the ends of lines", "x,y,,,\n1,2.5,,,\n2,3.5,,,\n3,4.5,,,\n", _BASE),
    Case("separators before lines", ",x,y\n,1,2.5\n,2,3.5\n,3,4.5\n", _BASE),
    Case("quantities of substances", "c(Cu);w(N) (%);T(K)\n1;2;3\n2;3;4\n",
         "c(Cu) n: 1, 2 | w(N) [%] n: 2, 3 | T [K] n: 3, 4"),
    Case("two brackets", "Temp (°C) (mean),p {hPa}\n1,2\n2,3\n",
         "Temp (mean) [°C] n: 1, 2 | p [hPa] n: 2, 3"),
    Case("units in words", "T in °C;p in hPa\n1,5;2\n2,5;3\n",
         "T [°C] n: 1.5, 2.5 | p [hPa] n: 2, 3"),
    Case("thousands and units in cells", "x;V\n1;1 000 mL\n2;2 000 mL\n",
         "x n: 1, 2 | V [mL] n: 1000, 2000", "The unit mL stood"),
    Case("uncertainties and units", "x,m\n1,1.2 ± 0.1 g\n2,1.4 ± 0.1 g\n",
         "x n: 1, 2 | m [g] n: 1.2, 1.4 | Uncertainty of m [g] n: 0.1, 0.1", "Value ± uncertainty"),
    Case("underlines in numbers", "x,y\n1,1_000\n2,2_000\n", "x n: 1, 2 | y w: 1_000, 2_000"),
    Case("no point before or behind", "x,y\n1,.5\n2,7.\n", "x n: 1, 2 | y n: 0.5, 7"),
    Case("months with years", "Month;a;b;c\nJan 2025;Dec-25;03/2025;1\nFeb 2025;Jan-26;04/2025;2\n",
         "Month t: 2025-01, 2025-02 | a t: 2025-12, 2026-01 | b t: 2025-03, 2025-04 | c n: 1, 2",
         "Years of “a” have two digits: Dec-25 was taken to be in 2025"),
    Case("what only looks like months", "a;b;c\nMar-12;1/500;Sam 12\nMar-13;1/2000;Mar 14\n",
         "a w: Mar-12, Mar-13 | b n: 0.002, 0.0005 | c w: Sam 12, Mar 14", "Fractions"),
    Case("clocks of computers, and of zones", "a;b;c\nWed Jun  3 08:00:00 2026;2026-06-03 08:00 "
         "CEST;2026_06_03\nThu Jun  4 08:00:05 2026;2026-06-04 08:10 CEST;2026_06_04\n",
         "a t: 2026-06-03 08:00:00, 2026-06-04 08:00:05 | b t: 2026-06-03 08:00, 2026-06-04 08:10 "
         "| c t: 2026-06-03, 2026-06-04", "The clock of “b” is at universal time + 2:00"),
    Case("years in two, decades, and minutes",
         "a;b;c\n2009/10;1990s;00:01.5\n2010/11;2000s;01:02.0\n",
         "a w: 2009/10, 2010/11 | b w: 1990s, 2000s | c [s] n: 1.5, 62",
         "00:01.5 was taken as minutes and seconds"),
    Case("serial numbers of a logger, and its clock of twelve hours",
         '"Plot Title: Mere"\n"#","Date Time, GMT+01:00","Temp, °C (LGR S/N: 1234)"\n'
         "1,03/01/26 08:00:00 AM,6.4\n2,03/02/26 08:15:00 AM,6.5\n",
         "# n: 1, 2 | Date Time, GMT+01:00 t: 2026-03-01 08:00:00, 2026-03-02 08:15:00 | "
         "Temp (LGR S/N: 1234) [°C] n: 6.4, 6.5", "months were taken to come first"),
    Case("names of a logger over units and kinds of means",
         '"TOA5","CR1000X","CR1000X","1","Std.05","CPU:l.CR1X","4321","TenMin"\n'
         '"TIMESTAMP","AirTC_Avg","RH"\n"TS","Deg C","%"\n"","Avg","Smp"\n'
         '"2026-03-01 00:10:00",4.5,88\n"2026-03-01 00:20:00",4.4,89\n',
         "TIMESTAMP t: 2026-03-01 00:10:00, 2026-03-01 00:20:00 | AirTC_Avg [Deg C] n: 4.5, 4.4 | "
         "RH [%] n: 88, 89", "1 line between names and readings"),
    Case("orders that the names tell", "Date (MM/DD/YYYY),Time (HH:mm:ss),y\n3/1/2026,08:00:00,1\n"
         "3/2/2026,08:15:00,2\n",
         "Date t: 2026-03-01, 2026-03-02 | Time t: 08:00, 08:15 | y n: 1, 2"),
    Case("units as names under groups",
         ",,Ca 317.9,Ca 317.9,Mg,Mg\nSample,Rep,mg/L,%RSD,mg/L,%RSD\n"
         "L1,1,21.2,0.5,4.1,0.7\nL1,2,21.4,0.4,4.0,0.6\n",
         "Sample w: L1, L1 | Rep n: 1, 2 | Ca 317.9 [mg/L] n: 21.2, 21.4 | %RSD, Ca 317.9 n: 0.5, "
         "0.4 | Mg [mg/L] n: 4.1, 4 | %RSD, Mg n: 0.7, 0.6", "groups the columns"),
    Case("means above the names of a probe's readings",
         "Export File,,,\nCREATED:,3/1/2026,,\n,,,\nMEAN:,,10.2,7.9\nSD:,,0.3,0.02\n"
         "Date (MM/DD/YYYY),Time (HH:mm:ss),ODO mg/L,pH\n3/1/2026,08:00:00,10.1,7.9\n"
         "3/1/2026,08:15:00,10.2,8\n3/1/2026,08:30:00,10.3,8\n",
         "Date t: 2026-03-01, 2026-03-01, 2026-03-01 | Time t: 08:00, 08:15, 08:30 | "
         "ODO [mg/L] n: 10.1, 10.2, 10.3 | pH n: 7.9, 8, 8", "4 lines before the header"),
    Case("places that are no currents", "Site,I\n1A,1 A\n2A,2.5 A\n",
         "Site w: 1A, 2A | I [A] n: 1, 2.5", "The unit A stood in the cells of “I”"),
    Case("functions and brackets in brackets", "log10(mass),λ (W/(m K)),1/d²\n1,2,3\n4,5,6\n",
         "log10(mass) n: 1, 4 | λ [W/(m K)] n: 2, 5 | 1/d² n: 3, 6"),
    Case("a form of dates, and a unit over brackets, in the row of units",
         "Datum;Kolben;Licht;Rate\nTT.MM.JJJJ hh:mm;;µmol m-2 s-1;mg/(g h)\n"
         "03.06.2026 09:00;K1;0;-1,4\n13.06.2026 10:07;K2;15;0,4\n",
         "Datum t: 2026-06-03 09:00, 2026-06-13 10:07 | Kolben w: K1, K2 | "
         "Licht [µmol m-2 s-1] n: 0, 15 | Rate [mg/(g h)] n: -1.4, 0.4"),
    Case("names one a line in remarks, among starred ones",
         "* Lake profiler\n* System UpLoad Time = Jun 03 2026 08:12:44\n# nvalues = 3\n"
         "# name 0 = prdM: Pressure [db]\n# name 1 = Temperature [deg C]\n"
         "# span 0 = 1, 3\n# span 1 = 12, 19\n*END*\n"
         "   1.000   18.2341\n   2.000   18.1020\n   3.000 -1.2201\n",
         "prdM: Pressure [db] n: 1, 2, 3 | Temperature [deg C] n: 18.2341, 18.102, -1.2201",
         "taken from remarks: “name 0 = prdM: Pressure [db]” and so on. 6 lines of remarks"),
    Case("columns counted from 1 in remarks",
         "% Column 1: Date\n% Column 2: Depth, below ice (m)\n2026-03-01,0.5\n2026-03-02,2\n",
         "Date t: 2026-03-01, 2026-03-02 | Depth, below ice [m] n: 0.5, 2", "taken from remarks"),
    Case("settings in remarks that are no names",
         "# channel 1: 12.5\n# channel 2: 13\n# gain 1: high\n# gain 3: low\n1,2.5\n2,3.5\n3,4.5\n",
         "Column 1 n: 1, 2, 3 | Column 2 n: 2.5, 3.5, 4.5", "4 lines of remarks"),
    Case("the name of the first column under those of groups, old line ends",
         ",T,T,O2,O2\r,mean,sd,mean,sd\rdepth,,,,\r0.5,18,0.1,9,0.2\r1,17,0.1,8,0.3\r",
         "depth n: 0.5, 1 | mean, T n: 18, 17 | sd, T n: 0.1, 0.1 | mean, O2 n: 9, 8 | "
         "sd, O2 n: 0.2, 0.3", "groups the columns"),
    Case("names of fewer columns under what a logger says of itself",
         "Logger,Buoy,12345,Std.32,buoy.CR1,TenMin\nTIMESTAMP,RECORD,Air,RH,Rain\n"
         "TS,RN,Deg C,%,mm\n,,Avg,Smp,Tot\n2026-06-03 00:00,0,12.31,88.2,0\n"
         "2026-06-03 00:10,1,12.28,88.9,0.2\n",
         "TIMESTAMP t: 2026-06-03 00:00, 2026-06-03 00:10 | RECORD [RN] n: 0, 1 | "
         "Air [Deg C] n: 12.31, 12.28 | RH [%] n: 88.2, 88.9 | Rain [mm] n: 0, 0.2",
         "1 line before the header"),
    Case("names over one row and two", "Conc. (mg/L),Absorbance (AU),\n,A,B\n0.5,1,2\n1,3,4\n",
         "Conc. [mg/L] n: 0.5, 1 | A, Absorbance [AU] n: 1, 3 | B, Absorbance [AU] n: 2, 4",
         "groups the columns"),
    Case("a name over its unit, beside groups", "Conc.;Signal;\n(mg/L);up;down\n0,5;1;2\n1;3;4\n",
         "Conc. [mg/L] n: 0.5, 1 | up, Signal n: 1, 3 | down, Signal n: 2, 4", "“Signal”"),
    Case("units in columns of their own", "n;T;Einheit;EC;Einheit;pH;Unit\n1;2,5;°C;9;µS/cm;7;a\n"
         "2;3,5;°C;8;µS/cm;8;b\n",
         "n n: 1, 2 | T [°C] n: 2.5, 3.5 | Einheit w: °C, °C | EC [µS/cm] n: 9, 8 | "
         "Einheit 2 w: µS/cm, µS/cm | pH n: 7, 8 | Unit w: a, b",
         "“Einheit 2” tells the unit of “EC”"),
    Case("labels before each reading, as a small logger prints them",
         "ready at 9600\n" + "".join(f"Temp: 21.{i} C, Hum: {45 - i} %\n" for i in range(3)),
         "Temp [°C] n: 21, 21.1, 21.2 | Hum [%] n: 45, 44, 43", "1 line without these labels"),
    Case("labels behind moments", "".join(f"2026-05-01 08:0{i}:00;T=2{i}.5;state=on\n" for i in
                                          range(3)),
         "Column 1 t: 2026-05-01, 2026-05-01, 2026-05-01 | Column 2 t: 08:00, 08:01, 08:02 | "
         "T n: 20.5, 21.5, 22.5 | state w: on, on, on", "2 labels in each line"),
    Case("clocks with the letter of a time are no labels", "t,y\nT08:30,1\nT08:31,2\nT08:32,3\n",
         "t w: T08:30, T08:31, T08:32 | y n: 1, 2, 3"),
    Case("lists with names", "x = [1, 2]\ny_1 = (2.5, nan);\n", "x n: 1, 2 | y_1 n: 2.5, ",
         "Each list became a column"),
    Case("a list of rows", "data = [[1, 2.5], [2, -3.5],\n [3, 4]]\n",
         "Column 1 n: 1, 2, 3 | Column 2 n: 2.5, -3.5, 4", "Brackets around rows"),
    Case("a matrix", "A = [1 2.5; 2 3.5\n3 4];\n",
         "Column 1 n: 1, 2, 3 | Column 2 n: 2.5, 3.5, 4", "Brackets around rows"),
    Case("single quotation marks", "'t (h)';'y'\n'1';'2,5'\n'2';'3,5'\n",
         "t [h] n: 1, 2 | y n: 2.5, 3.5"),
    Case("clocks behind dates, and with an h", "Date;Heure;T\n05.01.26 08.00;8h30;1\n"
         "06.01.26 09.15;14 h;2\n",
         "Date t: 2026-01-05 08:00, 2026-01-06 09:15 | Heure t: 08:30, 14:00 | T n: 1, 2",
         "8h30 and the like"),
    Case("letters of old systems", "Höhe;y\n1;2,5\n2;3,5\n".encode("cp850"),
         "Hîhe n: 1, 2 | y n: 2.5, 3.5", "tell no alphabet for certain"),
]  # fmt: skip


class SmallFiles(SornixTest):
    def test_small_files(self) -> None:
        for case in FILES:
            with self.subTest(case.name):
                raw = case.text if isinstance(case.text, bytes) else case.text.encode()
                tables = read_texts(raw, "t")
                self.assertEqual(" || ".join(map(described, tables)), case.columns)
                self.assertIn(case.said, told(tables))

    def test_rows_of_a_sheet_are_read_as_those_of_a_text(self) -> None:
        cases = {case.name: case for case in FILES}
        for name in ("columns counted from 1 in remarks", "weather", "every cell quoted",
                     "units in columns of their own",
                     "the name of the first column under those of groups, old line ends",
                     "names of fewer columns under what a logger says of itself"):  # fmt: skip
            case = cases[name]
            assert isinstance(case.text, str)
            mark = ";" if ";" in case.text else ","
            lines = csv.reader(case.text.splitlines(), delimiter=mark)
            rows = [[", ".join(row)] if row[0].startswith("% ") else row for row in lines]
            with self.subTest(name):
                self.assertEqual(described(table_of_rows(rows, "t")), case.columns)
        # numbers among words, beside words with decimal commas
        mixed: list[list[object]] = [
            ["x", "A", "B"],
            [0.0, 1.234, "3,5"],
            [1.0, "n.d.", "3,75"],
            [2.0, 0.5, "4"],
        ]
        columns = "x n: 0, 1, 2 | A n: 1.234, n.d., 0.5 | B n: 3.5, 3.75, 4"
        self.assertEqual(described(table_of_rows(mixed, "t")), columns)
