"""The table: the car standing on its jig table in 3D, with the tape along its edge.

`camera` turns mm into pixels, `picture`, `mesh` and `scene` draw the solid picture on their own thread, `overlay`
paints dots and tags over it, `tapes` the tapes, `sheets` flat things, each on a `layers` sheet by `strokes`, `picking` says what the mouse is on, `gestures` are what it does, `view` is the widget.
Start with `view`.
"""
