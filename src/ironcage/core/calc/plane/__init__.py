"""Geometry of flat things and of joints as hinges: `facets` of a frame, plates, bolt patterns, pictures laid down."""
