"""The table: the car standing on its jig table in 3D, with the tape along its edge.

`camera` turns mm into pixels, `picture`, `mesh` and `scene` draw the solid picture on their own thread, `painting` puts
it on the screen with what lies over it on `layers`: `overlay` paints dots and tags, `tapes` the tapes, `sheets` flat
things, by `strokes`, `decor` is what a step adds; `picking` says what the mouse is on, `gestures` are what it does,
`view` is the widget. Start with `view`.
"""
