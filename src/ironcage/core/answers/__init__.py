"""What each step of the work answers: a job in, a frozen answer out, one module a step.

`model` turns a job into arrays, `mass` weighs it, `frame`, `prove`, `cut` and `jig` answer for their steps,
`checks` lists every snag, `tally` and `advice` fill the strip that is always on the screen.
"""
