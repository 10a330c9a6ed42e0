"""Other people's tables: read as they come, or refused with one clear message."""

import json
from pathlib import Path

import pytest
from hypothesis import given
from hypothesis import strategies as st

from apercu_core.errors import Refused
from apercu_core.numbers import is_missing, read_number, with_mark
from apercu_core.tables.assemble import assemble, read_date
from apercu_core.tables.proposal import propose, require_settled
from apercu_core.tables.read import read_table
from apercu_core.tables.roles import propose_roles, split_unit
from tests.core.table_files import DATED, FILES, LONG, column

TYPED = json.loads((Path(__file__).parents[1] / "numbers" / "typed.json").read_text(encoding="utf-8"))

PLAIN = """Rep,Plot,Cover crop,Yield (t/ha),Notes
1,101,Bare,40.1,
1,102,Öat,42.0,wet
2,201,Öat,43.5,
2,202,Bare,41.0,
"""
GERMAN = PLAIN.replace(",", ";").replace(".", ",")


def roles_of(table):
    return {column.name: column.role for column in propose_roles(table)}


def assembled(text, **answers):
    return assemble(propose(text.encode(), answers=answers))


def values_of(made):
    (by_plot,) = made.samples.values()
    return {label: [cell.value for cell in cells] for label, cells in by_plot.items()}


@pytest.mark.parametrize(
    ("text", "encoding", "said"),
    [
        (PLAIN, "utf-8", ("UTF-8", "comma")),
        (PLAIN, "utf-8-sig", ("UTF-8", "comma")),
        (PLAIN, "utf-16", ("UTF-16", "comma")),
        (GERMAN, "cp1252", ("Windows-1252", "semicolon")),
        (PLAIN.replace(",", "\t"), "utf-8", ("UTF-8", "tab")),
        (PLAIN.replace("\n", "\r\n"), "utf-8", ("UTF-8", "comma")),
    ],
)
def test_the_same_table_in_any_dress_gives_the_same_plots_and_values(text, encoding, said):
    table = read_table(text.encode(encoding))
    assert (table.encoding, table.separator) == said
    roles = dict(zip(table.header, ("block", "plot", "treatment", "value", "ignore"), strict=True))
    assert roles_of(table) == roles
    result = assemble(propose(text.encode(encoding)))
    assert [(p.label, p.block, p.treatment, p.position) for p in result.plots] == [
        ("101", "1", "Bare", 1), ("102", "1", "Öat", 2), ("201", "2", "Öat", 1), ("202", "2", "Bare", 2)
    ]  # fmt: skip
    assert [values[0] for values in values_of(result).values()] == [40.1, 42.0, 43.5, 41.0]
    assert result.design == "rcbd"


@pytest.mark.parametrize(
    ("data", "says"),
    [
        (b"", "empty"),
        (b" \n \n", "empty"),
        (b"PK\x03\x04rest", "spreadsheet or ZIP"),
        (b"a\0b", "zero bytes"),
        (b"a,b\n" + b"1,2\n" * 6_000_000, "24 MB; the most is 20 MB"),
        ("é,b\nà,1\n".encode() + b"\xe9,2\n", "Line 3 isn’t UTF-8"),
        (b"a,b\n\x81\xe9,2\n", "neither UTF-8 nor Windows-1252"),
        (b"just some words\nand more of them\n", "isn’t a table"),
        (b"a,a\n1,2\n", "Two columns are called 'a'"),
        (b"1,2\n3,4\n", "first line holds numbers"),
        (b"a,b\n", "no rows of data"),
    ],
)
def test_what_is_not_a_table_is_refused_in_plain_words(data, says):
    with pytest.raises(Refused, match=says):
        read_table(data)


@pytest.mark.parametrize(
    ("text", "says"),
    [
        (PLAIN.replace("102", "101"), r"Line 3: plot 101 has 'Öat', but 'Bare' in an earlier line"),
        (PLAIN.replace("Öat", "Bare"), "only one treatment, 'Bare'"),
        ("Plot,Cover,Yield\n1,a,3\n2,b,4\n3,c,5\n", "has only one plot"),
        ("Plot,Rep,Cover\n1,1,a\n2,1,b\n3,2,a\n4,2,b\n", "No column is marked as a value"),
        ("Plot,x,Yield\n1,7,3\n2,8,4\n", "No column is marked as treatment"),
        (PLAIN.replace("Öat", "Ö" * 200), r"Line 3: the name 'ÖÖ.*has 200 letters; the most is 160"),
        (
            "Plot,Cover,Yield\n" + "".join(f"{i},{'ab'[i % 2]},{i}\n" for i in range(1001)),
            "makes 1001 plots; the most is 1000",
        ),
    ],
)
def test_tables_that_allow_no_comparison_are_refused_with_the_place_and_the_way_out(text, says):
    with pytest.raises(Refused, match=says):
        assembled(text)


def test_roles_of_columns_that_are_not_there_are_refused():
    with pytest.raises(Refused, match=r"no column 'Bed'\. It has: Rep, Plot, Cover crop"):
        assemble(propose(PLAIN.encode(), {"Bed": "block"}))


@pytest.mark.parametrize("role", ["block", "plot", "sample"])
def test_two_columns_cannot_share_a_role_that_is_one_column_s(role):
    with pytest.raises(Refused, match=f"Rep and Plot are all marked as {role}"):
        assemble(propose(PLAIN.encode(), {"Rep": role, "Plot": role}))


def test_odd_cells_are_listed_with_line_column_text_and_what_is_wrong():
    proposal = propose((PLAIN.replace("43.5", "about 43") + "3,301,,40.0,\n3,302,Bare,NA,\n").encode())
    assert [(o.line, o.column, o.text, o.why) for o in proposal.odd] == [
        (4, "Yield (t/ha)", "about 43", "this isn’t a number"),
        (6, "Cover crop", "", "the Cover crop is empty; the row is left out"),
    ]
    made = assemble(proposal)
    assert made.gaps == 1
    assert "301" not in {plot.label for plot in made.plots}


def test_several_rows_per_plot_are_samples_by_their_column_or_when_told():
    text = PLAIN.replace("Notes", "Frame").replace("Bare,40.1,", "Bare,40.1,1") + "1,101,Bare,40.5,2\n"
    assert values_of(assembled(text))["101"] == [40.1, 40.5]
    told = PLAIN + "1,101,Bare,40.5,\n"
    with pytest.raises(Refused, match=r"Plot 101 stands on lines 2 and 6\. Are these several samples"):
        require_settled(propose(told.encode()))
    require_settled(propose(told.encode(), answers={"repeated_rows": "samples", "uneven_rows": "lost"}))
    assert assembled(told, repeated_rows="samples").most_samples == 2


@pytest.mark.parametrize(
    ("question", "choice", "values"),
    [
        ("decimal_mark:Weeds (1/m²)", "comma", [1.025, 1.95, 1100, 12]),
        ("decimal_mark:Weeds (1/m²)", "point", [1025, 1950, 1.1, 12]),
    ],
)
def test_a_column_is_read_as_a_person_says_where_its_cells_can_be_read_in_two_ways(question, choice, values):
    text = column("1,025", "1,950", "1.100", "12")
    made = assemble(propose(text.encode(), answers={question: choice}))
    assert [cells[0].value for cells in made.samples["Weeds (1/m²)"].values()] == values


def test_cells_in_another_unit_are_converted_and_codes_left_out_when_a_person_says_so():
    made = assembled(
        column("4.2", "4300 kg/ha", "-99", "4.1", name="Straw (t/ha)"),
        **{"other_unit:Straw (t/ha)": "convert", "missing_code:Straw (t/ha)": "leave_out"},
    )
    assert [c[0].value for c in made.samples["Straw (t/ha)"].values()] == [4.2, pytest.approx(4.3), None, 4.1]


def test_lines_that_do_not_fit_are_left_out_only_when_a_person_says_so():
    long, short = PLAIN.replace("42.0,wet", "42,0,wet"), PLAIN.replace("Öat,42.0,wet", "Öat")
    for text in (long, short):
        with pytest.raises(Refused, match=r"Line 3 has .* cells than the header"):
            require_settled(propose(text.encode()))
    without = propose(long.encode(), answers={"too_many_cells": "leave_out"})
    assert (without.table.lines, without.table.skipped) == ((2, 4, 5), (3,))
    stopped = propose(short.encode(), answers={"too_few_cells": "stop"})
    with pytest.raises(Refused, match="Correct it in the table"):
        require_settled(stopped)


def test_two_spellings_are_one_treatment_when_a_person_says_so():
    text = PLAIN.replace("2,202,Bare", "2,202,bare ")
    assert assembled(text, **{"spelling:Cover crop": "same"}).treatments == ("Bare", "Öat")
    assert len(assembled(text, **{"spelling:Cover crop": "apart"}).treatments) == 3


def test_a_long_table_becomes_measures_and_its_dates_visits():
    text = (
        LONG.replace("Trait;", "Date;Trait;")
        .replace(";Yield;", ";13.8.2026;Yield;")
        .replace(";Weeds;", ";5/6/2026;Weeds;")
    )
    made = assembled(text)
    assert [(m.key, m.unit, m.direction, m.date and m.date.isoformat()) for m in made.measures] == [
        ("Yield (t/ha), 13.8.2026", "t/ha", "higher", "2026-08-13"), ("Weeds (1/m²), 5/6/2026", "1/m²", "lower", None)
    ]  # fmt: skip
    found = {key: [cells[0].value for cells in plots.values()] for key, plots in made.samples.items()}
    assert found == {made.measures[0].key: [40.1, 42, 43.5, 41.2], made.measures[1].key: [12, 8, 7, 14]}
    assert len(made.plots) == 4


def test_dates_in_a_wide_table_become_visits_when_a_person_says_so():
    proposal = propose(DATED.encode(), answers={"differs_within_plot:Date": "visits"})
    require_settled(proposal)
    made = assemble(proposal)
    assert [(m.label, m.visit) for m in made.measures] == [
        ("Weeds, 2026-05-02", "2026-05-02"), ("Weeds, 2026-05-16", "2026-05-16")
    ]  # fmt: skip
    assert [c[0].value for c in made.samples["Weeds (1/m²), 2026-05-16"].values()] == [21, 41, 22, 42]


def test_dates_that_can_be_read_in_two_ways_are_not_guessed():
    assert [read_date(text) for text in ("2026-02-30", "5/6/2026", "no")] == [None] * 3
    assert {read_date(text).isoformat() for text in ("5.5.2026", "2026/05/05", "2026-05-05T10:00")} == {"2026-05-05"}
    assert {read_date(text).isoformat() for text in ("31/5/2026", "5-31-2026")} == {"2026-05-31"}


def test_plot_numbers_that_start_anew_in_each_block_get_the_block_in_front():
    result = assembled("Block,Plot,Cover,Yield\nA,1,x,3\nA,2,y,4\nB,1,y,5\nB,2,x,6\n")
    assert [plot.label for plot in result.plots] == ["A-1", "A-2", "B-1", "B-2"]


def test_a_second_factor_makes_combinations_and_one_that_stands_in_groups_is_not_read_as_single_plots():
    mixed = "Block,Cover,Kill,Yield\n1,x,early,3\n1,y,early,4\n1,x,late,3\n1,y,late,4\n" \
            "2,x,early,3\n2,y,late,4\n2,x,late,3\n2,y,early,6\n"  # fmt: skip
    assert assembled(mixed).treatments == ("x · early", "y · early", "x · late", "y · late")
    grouped = mixed.replace("2,y,late,4\n2,x,late,3\n2,y,early,6", "2,y,early,4\n2,x,late,3\n2,y,late,6")
    with pytest.raises(Refused, match="next to each other, as in a split plot"):
        assembled(grouped)


@pytest.mark.parametrize(("typed", "value"), [(one["typed"], one["value"]) for one in TYPED])
def test_what_one_person_types_is_read_by_the_table_of_examples(typed, value):
    assert read_number(typed) == value


@given(st.floats(-1e6, 1e6).map(lambda x: round(x, 4)))
def test_a_number_reads_the_same_with_point_or_comma(value):
    text = f"{value:.4f}"
    assert read_number(text) == with_mark(text, ".") == value
    assert read_number(text.replace(".", ",")) == with_mark(text.replace(".", ","), ",") == value


def test_missing_values_are_told_from_numbers():
    assert all(map(is_missing, ("", " NA ", "-", "n/a", "*", "Missing")))
    assert not any(map(is_missing, ("0", "none", "-1")))


@pytest.mark.parametrize(
    ("name", "label", "unit"),
    [("Yield (t/ha)", "Yield", "t/ha"), ("biomass_kg_ha", "Biomass", "kg/ha"), ("Weeds [1/m²]", "Weeds", "1/m²"),
     ("Soil nitrate, kg/ha", "Soil nitrate", "kg/ha"), ("height", "Height", ""),
     ("Yield kg/ha", "Yield", "kg/ha"), ("Oats and/or peas", "Oats and/or peas", "")],
)  # fmt: skip
def test_units_are_taken_from_headers(name, label, unit):
    assert split_unit(name) == (label, unit)


@st.composite
def dressed_tables(draw):
    """A balanced trial, and its text with any separator, decimal mark, encoding and order of columns."""
    blocks = draw(st.integers(2, 5))
    names = draw(
        st.lists(st.sampled_from(["Bare", "Öat", "Klee", "Vetch", "Senf"]), unique=True, min_size=2, max_size=4)
    )
    separator = draw(st.sampled_from(";\t,"))
    comma = separator != "," and draw(st.booleans())
    values = {(b, t): draw(st.integers(-9999, 99999)) / 100 for b in range(blocks) for t in range(len(names))}
    columns = draw(st.permutations(["Block", "Cover", "Yield (t/ha)"]))
    lines = [separator.join(columns)]
    for (b, t), value in values.items():
        figure = f"{value:.2f}".replace(".", "," if comma else ".")
        cells = {"Block": f"B{b}", "Cover": names[t], "Yield (t/ha)": figure}
        lines.append(separator.join(cells[name] for name in columns))
    ending, encoding = draw(st.sampled_from(["\n", "\r\n"])), draw(st.sampled_from(["utf-8", "utf-8-sig", "cp1252"]))
    wanted = {f"B{b}/{names[t]}": value for (b, t), value in values.items()}
    return (ending.join(lines) + ending).encode(encoding), wanted


@given(dressed_tables())
def test_any_dress_reads_back_to_the_values_that_were_written(table):
    data, wanted = table
    roles = {"Block": "block", "Cover": "treatment", "Yield (t/ha)": "value"}
    proposal = propose(data, roles)
    unsettled = {q.about for q in proposal.questions}
    assert unsettled <= {"decimal_mark", "unusual", "missing_code"}
    if "decimal_mark" not in unsettled and "missing_code" not in unsettled:
        result = assemble(proposal)
        assert {k: v[0].value for k, v in result.samples["Yield (t/ha)"].items()} == wanted
    assert not proposal.odd


@given(st.binary(max_size=300))
def test_any_bytes_are_read_or_refused_and_nothing_else(data):
    try:
        proposal = propose(data)
    except Refused:
        return
    assert all(len(row) == len(proposal.table.header) for row in proposal.table.rows)


@pytest.mark.parametrize("name", ["plain", "semicolons and decimal commas", "long", "samples", "dates within a plot"])
def test_a_file_that_breaks_off_anywhere_gives_the_same_values_or_a_question(name):
    whole = FILES[name].text
    asked = {q.about for q in propose(whole.encode()).questions}
    values = {key: list(read.values) for key, read in propose(whole.encode()).values.items()}
    for end in range(1, len(whole)):
        try:
            proposal = propose(whole[:end].encode())
            assemble(proposal)
        except Refused:
            continue
        if {q.about for q in proposal.questions} <= asked:
            assert {key: list(read.values) for key, read in proposal.values.items()} == values
