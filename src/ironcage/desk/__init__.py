"""The window: shows a job and asks the core; nothing is worked out here.

`app` starts it, `window` assembles it, `session` holds the job and its history, `asker` has answers worked
out off the GUI thread, `actions` declares keys and words, `pages` has one tray page a step, `table` the 3D
view, `look` colours and type. Start with `window`.
"""
