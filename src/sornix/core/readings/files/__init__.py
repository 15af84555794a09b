"""Reading files, workbooks and pasted texts."""
