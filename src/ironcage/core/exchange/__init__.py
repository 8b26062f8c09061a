"""Files for other people and machines: paper templates, plans, lists.

`drawing` is a sheet of lines and words in mm; `templates` and `plan` make such sheets from answers; `svg`,
`pdf` and `dxf` write any sheet at 1:1; `lists` writes tables as CSV. A new kind of file is a writer here
and a line in `kinds`. May import answers; never a screen.
"""
