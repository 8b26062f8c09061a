"""The window: shows a job and asks the core; nothing is worked out here.

`app` starts it, `window` assembles it, `session` holds the job and its history, `files` opens, saves and writes,
`asker` has `questions` answered off the GUI thread, `actions` declares keys and words and `menus` shows them, `pages`
has one tray page a step, `table` the 3D view, `look` colours and type. Start with `window`.
"""
