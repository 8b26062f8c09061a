"""Frames of beams: stiffness, loads, stress, vibration and buckling.

`beams` is the element and the whole frame, `factor` the one factorisation that `rigs`, `whatif` and the rest share.
"""
