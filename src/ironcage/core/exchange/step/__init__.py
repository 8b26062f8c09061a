"""Cut pieces as solids for a tube laser (STEP, ISO 10303-21, schema AUTOMOTIVE_DESIGN): round and rectangular tube with
true planes and cylinders along it, ends as they are cut, square through the wall, its holes and slots. mm, where the
pieces stand in the car; a bent piece as the straight tube that it is bent from.
"""

from ironcage.core.exchange.step.writing import to_step

__all__ = ["to_step"]
