"""The table: the car standing on its jig table in 3D, with the tape along its edge.

`camera` turns mm into pixels, `mesh` and `scene` draw the picture, `overlay` paints tape and tags over it,
`gestures` are what the mouse does, `view` is the widget. Start with `view`.
"""
