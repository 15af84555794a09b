"""The months by their names in the larger European languages."""

# One language after the other, from January on; each month in full and as it is cut short.
_NAMES = """
january|jan february|feb march|mar april|apr may june|jun july|jul august|aug september|sept|sep
    october|oct november|nov december|dec
januar|jänner|jän|jan februar|feb märz|mär|mrz april|apr mai juni|jun juli|jul august|aug
    september|sept|sep oktober|okt november|nov dezember|dez
janvier|janv|jan février|févr|fév|fevrier|fevr|fev mars avril|avr mai juin juillet|juil
    août|aout|aoû septembre|sept octobre|oct novembre|nov décembre|déc|decembre
enero|ene febrero|feb marzo|mar abril|abr mayo|may junio|jun julio|jul agosto|ago
    septiembre|setiembre|sept|sep octubre|oct noviembre|nov diciembre|dic
gennaio|gen febbraio|feb marzo|mar aprile|apr maggio|mag giugno|giu luglio|lug agosto|ago
    settembre|sett|set ottobre|ott novembre|nov dicembre|dic
janeiro|jan fevereiro|fev março|marco|mar abril|abr maio|mai junho|jun julho|jul agosto|ago
    setembro|set outubro|out novembro|nov dezembro|dez
januari|jan februari|feb maart|mrt april|apr mei juni|jun juli|jul augustus|aug september|sep
    oktober|okt november|nov december|dec
januari|jan februari|feb mars|mar april|apr maj juni|jun juli|jul augusti|aug september|sep
    oktober|okt november|nov december|dec
januar|jan februar|feb marts|mar april|apr maj|mai juni|jun juli|jul august|aug september|sep
    oktober|okt november|nov december|desember|des|dec
stycznia|styczeń|sty lutego|luty|lut marca|marzec|mar kwietnia|kwiecień|kwi maja|maj
    czerwca|czerwiec|cze lipca|lipiec|lip sierpnia|sierpień|sie września|wrzesień|wrz
    października|październik|paź listopada|lis grudnia|grudzień|gru
ledna|leden února|únor března|březen dubna|duben května|květen června|červen července|červenec
    srpna|srpen září října|říjen listopadu prosince|prosinec
января|январь|янв февраля|февраль|фев марта|март|мар апреля|апрель|апр мая|май июня|июнь|июн
    июля|июль|июл августа|август|авг сентября|сентябрь|сен октября|октябрь|окт ноября|ноябрь|ноя
    декабря|декабрь|дек
"""


def _numbers() -> dict[str, int]:
    words = _NAMES.split()
    found: dict[str, set[int]] = {}
    for at, names in enumerate(words):
        for name in names.split("|"):
            found.setdefault(name, set()).add(at % 12 + 1)
    return {name: numbers.pop() for name, numbers in found.items() if len(numbers) == 1}


# What is the same word for two months in two languages is not among them.
MONTH_NUMBERS = _numbers()
