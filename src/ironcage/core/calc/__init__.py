"""Mathematics on arrays, one folder a field. Knows no job, no file and no screen; imports `units` and `problem` at
most.

Start with `frames.beams` for stiffness, `tubes.cope` for cuts, `solids.gaps` for clashes, `car.mannequin` for people,
`adjust.survey` for what was measured.
"""
