"""Mathematics on arrays: beams, sections, copes, masses. Knows no job, no file and no screen.

Start with `beams` for stiffness and `cope` for cuts.
"""
