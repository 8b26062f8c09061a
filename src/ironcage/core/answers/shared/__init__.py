"""What several steps ask for: `cache`, `mass`, the frame as arrays and as beams, fittings, joint plans, snags' shape.

Imports no step.
"""
