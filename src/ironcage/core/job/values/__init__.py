"""The job as frozen values, from `model` down, and what they refuse: bounds in each value, names in `references`.

Imports nothing else of the job.
"""
