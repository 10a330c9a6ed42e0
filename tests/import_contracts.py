"""Contracts over every module, found in the graph of imports instead of listed by hand."""

from __future__ import annotations

import sys
from abc import abstractmethod
from typing import Any

from importlinter import Contract, ContractCheck, fields, output


class _Found(Contract):
    """A contract that is kept where `_wrong` finds nothing."""

    def check(self, graph: Any, verbose: bool) -> ContractCheck:
        wrong = sorted(self._wrong(graph))
        return ContractCheck(kept=not wrong, metadata={"wrong": wrong})

    def render_broken_contract(self, check: ContractCheck) -> None:
        for importer, imported in check.metadata["wrong"]:
            output.print_error(f"{importer} imports {imported}")

    @abstractmethod
    def _wrong(self, graph: Any) -> set[tuple[str, str]]:
        """Pairs of importer and imported that may not be."""


class Alone(_Found):
    """Modules of `package` import only each other, the standard library, and the packages that are `allowed`."""

    package = fields.StringField()
    allowed = fields.SetField(subfield=fields.StringField())

    def _wrong(self, graph: Any) -> set[tuple[str, str]]:
        good = {self.package, *self.allowed, *sys.stdlib_module_names}
        own = [m for m in graph.modules if m.split(".")[0] == self.package]
        return {
            (one, other) for one in own for other in graph.find_modules_directly_imported_by(one)
            if other.split(".")[0] not in good
        }  # fmt: skip


class ApiOnTop(_Found):
    """Only rooms called `api`, the addresses, and `except_for` import from a room called `api`."""

    except_for = fields.SetField(subfield=fields.StringField(), required=False)

    def _wrong(self, graph: Any) -> set[tuple[str, str]]:
        excepted = {"config.urls", *(self.except_for or ())}
        api = {module for module in graph.modules if ".api." in f"{module}."}
        return {
            (one, other) for other in api for one in graph.find_modules_that_directly_import(other)
            if one not in api and one not in excepted
        }  # fmt: skip
