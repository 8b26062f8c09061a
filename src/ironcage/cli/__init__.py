"""The command line: everything the core can answer, as text or JSON, and the doors to the window.

`main` declares the commands; `answers` writes what a step says; `calc` holds the calculators. Qt is
imported only by the commands that open a window.
"""
