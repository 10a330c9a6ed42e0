"""Each of many tables is read as a careful person would read it, or asked about; never otherwise in silence."""

import pytest

from apercu_core.tables.proposal import propose
from tests.core.table_files import FILES


@pytest.mark.parametrize("name", FILES)
def test_a_file_gives_the_values_that_a_careful_person_reads_or_a_question(name):
    file = FILES[name]
    data = file.text.encode() if isinstance(file.text, str) else file.text
    proposal = propose(data)
    assert {(q.about, q.column) for q in proposal.questions} == file.asks
    for column, values in file.values.items():
        assert list(proposal.values[column].values) == values
    assert [(odd.line, odd.text) for odd in proposal.odd] == file.odd
    assert list(proposal.table.skipped) == file.skipped
    assert {column: proposal.roles[column] for column in file.roles} == file.roles
