"""Which methods rest on which work, read from the core itself."""

import inspect
import pkgutil
from collections.abc import Callable
from functools import cache
from importlib import import_module

import pelk.core
from pelk.core.base.sources import Source, citations, library


@cache
def methods_by_source() -> dict[str, list[tuple[str, str, str]]]:
    """Return, for each source, the methods on it: title, module, place cited."""
    methods: dict[str, list[tuple[str, str, str]]] = {key: [] for key in library()}
    for method in core_methods():
        title = (inspect.getdoc(method) or method.__name__).split("\n")[0]
        for citation in citations(method):
            methods[citation.source.key].append(
                (title.removeprefix("Return "), method.__module__, citation.where)
            )
    return methods


def core_methods() -> list[Callable[..., object]]:
    """Return every public function of the core, in order of module and name."""
    modules = [
        import_module(info.name)
        for info in pkgutil.walk_packages(pelk.core.__path__, "pelk.core.")
        if not info.ispkg
    ]
    return [
        function
        for module in modules
        for name, function in vars(module).items()
        if not name.startswith("_")
        and callable(function)
        and not inspect.isclass(function)
        and getattr(function, "__module__", "") == module.__name__
    ]


def works_named_in(text: str) -> list[Source]:
    """Return the works a provenance text names."""
    return [
        source for source in library().values() if any(name in text for name in source.mentioned_as)
    ]
