"""In which letters a text that is not UTF-8 was written."""

import unittest

from sornix.core.readings.cells.alphabets import code_of
from sornix.core.readings.files.encoding import names_in_codes

# Names of columns as they are written in many languages, and names of places in rows under them.
# They were written down before it was tried what is found.
NAMES = {
    "cp1252": ("Profundidad;Estación;pH/1;Río Tajo", "Profondità;Perché",
        "Leitfähigkeit (µS/cm);Trübung", "Lämpötila;Syvyys", "Estação;Vazão", "Temp °C;Vol m³",
        "Vitesse;Été/forêt", "Sýni;Dýpt;Hiti/Þingvellir", "Nährstoff;Überstand",
        "Zeit;Außentemperatur;Schüttung", "Heure;Température de l’eau;Humidité relative",
        "Hora;Conductividad eléctrica;Añada", "Ora;Umidità;Velocità", "Tid;Vattenstånd;Flöde",
        "Tid;Fugtighed;Vægt;Højde", "Aika;Kosteus;Sää", "Station;Naïve;Noël",
        "Hora;Vazão;Precipitação", "Width ± SD;µmol/L;Ångström",
        "value (µg/L);word/xµX/xµY",),
    "cp1250": ("Průtok;Měření", "Čas;Teplota", "Jezioro;Próbka/Śniardwy", "Vízállás;Időpont",
        "Globina;Vrednost/Žiče/Mežica", "Adancime;Temperatură",
        "Godzina;Wilgotność;Prędkość wiatru", "Hodina;Vlhkost vzduchu;Rychlost větru;Směr",
        "Óra;Páratartalom;Szélsebesség;Vízhőfok", "Oră;Umiditate;Viteză vânt",
        "Vrijeme;Vlažnost;Brzina vjetra/Vodomjer Županja", "Ura;Višina vode;Pretok",),
    "iso8859_2": ("Próbka;Stężenie/Śniardwy/żwir", "Teplota;Průtok/šterk",
        "Godzina;Wilgotność;Prędkość wiatru;Śnieg",),
    "cp1251": ("Дата;Расход", "Проба;рН;Мутность", "Дълбочина;Стойност", "Глибина;Щільність",
        "Время;Влажность;Скорость ветра", "Час;Вологість;Швидкість вітру",),
    "koi8_r": ("Дата;Расход воды", "Время;Влажность;Скорость ветра",),
    "cp866": ("Проба;Мутность", "Время;Влажность;Скорость ветра",),
    "cp1253": ("Ημερομηνία;Παροχή", "Δείγμα;pH", "Ώρα;Υγρασία;Ταχύτητα ανέμου",),
    "cp1254": ("Örnek;Yağış", "Göl;Bulanıklık", "Saat;Nem;Rüzgâr hızı;Sıcaklık", "Zaman;Basınç",),
    "cp1255": ("תאריך;ספיקה", "שעה;לחות;מהירות רוח",),
    "cp1256": ("التاريخ;التدفق", "الساعة;الرطوبة;سرعة الرياح",),
    "cp1257": ("Mėginys;Gylis", "Sügavus;Näit/Võrtsjärv", "Paraugs;Duļķainība",
        "Laikas;Drėgmė;Vėjo greitis", "Laiks;Mitrums;Vēja ātrums",
        "Kellaaeg;Niiskus;Tuule kiirus põhjast",),
    "mac_roman": ("Profondeur;Débit/été", "Größe;Länge", "Zeit;Außentemperatur;Schüttung",
        "Tid;Vattenstånd;Flöde",),
    "cp850": ("Länge;Größe", "Débit;Température", "Zeit;Außentemperatur;Schüttung",),
    "cp852": ("Průtok;Měření", "Godzina;Wilgotność;Prędkość",),
    "shift_jis": ("日付;流量", "ロガー;電圧", "時刻;湿度;風速", "時刻;センサー1",),
    "gb18030": ("日期;流量", "样品;浓度", "时间;湿度;风速",),
    "big5": ("日期;流量", "樣品;濃度", "時間;濕度;風速",),
    "euc_kr": ("날짜;유량", "시료;농도", "시간;습도;풍속",),
}  # fmt: skip


def _file(names: str) -> str:
    first, *under = names.split("/")
    rows = under or ["1"]
    width = first.count(";")
    return "\n".join([first, *(row + ";2" * width for row in rows), ""])


class Alphabets(unittest.TestCase):
    def test_letters_of_many_languages_are_right_or_doubted(self) -> None:
        """No text is in wrong letters in silence, and nine in ten are right."""
        wrong, tried = [], 0
        for code, files in NAMES.items():
            for names in files:
                text = _file(names)
                tried += 1
                found, doubt = code_of(text.encode(code))
                if text.encode(code).decode(found) != text:
                    wrong.append(names)
                    self.assertNotEqual(doubt, "", f"{names}: {found} in place of {code}")
        self.assertLess(len(wrong), 0.1 * tried, wrong)

    def test_the_usual_letters_of_the_west_are_not_doubted(self) -> None:
        # this looks well in the Turkish alphabet too
        for names in set(NAMES["cp1252"]) - {"Sýni;Dýpt;Hiti/Þingvellir"}:
            self.assertEqual(code_of(_file(names).encode("cp1252")), ("cp1252", ""), names)

    def test_the_right_letters_are_among_the_first_that_are_offered(self) -> None:
        late = []
        for code, files in NAMES.items():
            for names in files:
                text = _file(names)
                looks = list(names_in_codes(text.encode(code), 1))[:5]
                late += [names] * (text not in [text.encode(code).decode(one) for one in looks])
        self.assertLess(len(late), 4, late)
