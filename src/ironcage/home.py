"""The program's own folder: settings, recovery journals, scans."""

import os
from pathlib import Path


def home() -> Path:
    """Where the program keeps what is its own; IRONCAGE_HOME moves it."""
    if moved := os.environ.get("IRONCAGE_HOME"):
        return Path(moved)
    from platformdirs import user_data_path

    return user_data_path("ironcage", appauthor=False)
