"""The job on the disk: `file` and `migrations`, the recovery `journal`, `scans` beside it, undo's `history`; `disk`
writes whole or not at all."""
