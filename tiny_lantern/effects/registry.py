"""All kinds of effect: whatever file of this folder defines a ``KIND``."""

from __future__ import annotations

from functools import cache
from importlib import import_module
from pkgutil import iter_modules

from tiny_lantern import effects
from tiny_lantern.effects.kind import EffectKind


@cache
def effect_kinds() -> dict[str, EffectKind]:
    """Every kind of effect by name, in the order in which they are offered."""
    modules = (import_module(f"{effects.__name__}.{found.name}") for found in iter_modules(effects.__path__))
    kinds = [module.KIND for module in modules if hasattr(module, "KIND")]
    return {kind.kind: kind for kind in sorted(kinds, key=lambda kind: (kind.rank, kind.kind))}
