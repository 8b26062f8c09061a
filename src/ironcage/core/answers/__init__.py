"""A job in, a frozen answer out: one folder a step, and what steps share.

A step's folder may import `shared` and the layers below; of another step only what that step's `__init__` exports.
Start with the step's `__init__`: it names its main answer and what it gives to others.
"""
