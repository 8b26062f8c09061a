"""`iron-cage bench`: how fast, as ratios measured in one run on this machine; no test asserts a time.

`frames` makes frames of any size; `main` names the modules that measure and prints. May import everything.
"""
