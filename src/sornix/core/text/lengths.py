"""How long what people write can be: longer texts are none such, and are not looked at closely."""

LONGEST_MOMENT = 100
LONGEST_NUMBER = 400
# of a name in a header; a longer cell is a remark, and its beginning names the column
LONGEST_NAME = 200
LONGEST_UNIT = 60
