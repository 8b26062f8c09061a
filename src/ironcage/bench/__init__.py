"""`iron-cage bench`: how fast, as ratios measured in one run on this machine; no test asserts a time.

`frames` makes frames of any size; `solving`, `framing`, `placing`, `scanning`, `window` and `starting` measure; `main`
prints. May import everything.
"""
