"""What the builder knows: frozen values, edits as pure functions, history, and the file.

`model` has the values, `edits` what can be done to them, `file` and `journal` how they are kept. May
import `calc` (for sections) and `units`; never a screen.
"""
