"""Where points really stand, from readings that contradict each other a little: least-squares adjustment.

`survey` adjusts and judges each reading. May import nothing but NumPy, SciPy and `problem`. Start with
`survey.adjusted`.
"""
