"""Widgets that several pages use: the `grid` behind every list, the plot along the car, a sheet of lines."""
