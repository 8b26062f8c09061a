"""The made-up rule profile that shows how one is typed in; no body has written it and none judges by it."""

from functools import cache
from pathlib import Path

from ironcage.core.job.values.model import RuleProfile


@cache
def house_rules() -> RuleProfile:
    """The example that ships with the program (`houserules.json`)."""
    return RuleProfile.model_validate_json(Path(__file__).with_name("houserules.json").read_bytes())
