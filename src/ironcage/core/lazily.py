"""Exports of a package that are loaded when first asked for, so that a start loads no more than it shows."""

from collections.abc import Callable
from importlib import import_module
from typing import Any


def exports(package: str, **modules: str) -> Callable[[str], Any]:
    """A package's `__getattr__` (PEP 562): each name is taken from the module of the package that has it.

    The package names its exports once more for type checkers, under TYPE_CHECKING. Raises AttributeError for others.
    """
    module_of = {name: module for module, names in modules.items() for name in names.split()}

    def get(name: str) -> Any:
        if name not in module_of:
            raise AttributeError(f"module {package!r} has no attribute {name!r}")
        return getattr(import_module(f"{package}.{module_of[name]}"), name)

    return get
