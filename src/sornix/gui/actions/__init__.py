"""What menus and questions do with figure, trends and readings."""
