"""Other people's tables: read as they come, or refused with one clear message."""

import pytest
from hypothesis import given
from hypothesis import strategies as st

from apercu_core.errors import Refused
from apercu_core.tables.assemble import assemble
from apercu_core.tables.figures import is_missing, read_number
from apercu_core.tables.read import read_table
from apercu_core.tables.roles import propose_roles, split_unit

PLAIN = """Rep,Plot,Cover crop,Yield (t/ha),Notes
1,101,Bare,40.1,
1,102,Öat,42.0,wet
2,201,Öat,43.5,
2,202,Bare,41.0,
"""
GERMAN = PLAIN.replace(",", ";").replace(".", ",")


def roles_of(table):
    return {column.name: column.role for column in propose_roles(table)}


def assembled(text, encoding="utf-8", **options):
    table = read_table(text.encode(encoding))
    return assemble(table, roles_of(table), **options)


@pytest.mark.parametrize(
    ("text", "encoding", "said"),
    [
        (PLAIN, "utf-8", ("UTF-8", "comma", False)),
        (PLAIN, "utf-8-sig", ("UTF-8", "comma", False)),
        (PLAIN, "utf-16", ("UTF-16", "comma", False)),
        (GERMAN, "cp1252", ("Windows-1252", "semicolon", True)),
        (PLAIN.replace(",", "\t"), "utf-8", ("UTF-8", "tab", False)),
        (PLAIN.replace("\n", "\r\n"), "utf-8", ("UTF-8", "comma", False)),
    ],
)
def test_the_same_table_in_any_dress_gives_the_same_plots_and_values(text, encoding, said):
    table = read_table(text.encode(encoding))
    assert (table.encoding, table.separator, table.decimal_comma) == said
    roles = dict(zip(table.header, ("block", "plot", "treatment", "value", "ignore"), strict=True))
    assert roles_of(table) == roles
    result = assemble(table, roles)
    assert [(p.label, p.block, p.treatment, p.position) for p in result.plots] == [
        ("101", "1", "Bare", 1), ("102", "1", "Öat", 2), ("201", "2", "Öat", 1), ("202", "2", "Bare", 2)
    ]  # fmt: skip
    (values,) = result.samples.values()
    assert [figures[0].value for figures in values.values()] == [40.1, 42.0, 43.5, 41.0]
    assert result.design == "rcbd"


@pytest.mark.parametrize(
    ("data", "says"),
    [
        (b"", "empty"),
        (b" \n \n", "empty"),
        (b"PK\x03\x04rest", "spreadsheet or ZIP"),
        (b"a\0b", "zero bytes"),
        (b"a,b\n" + b"1,2\n" * 6_000_000, "24 MB; the most is 20 MB"),
        ("é,b\nà,1\n".encode() + b"\xe9,2\n", "Line 3 isn't UTF-8"),
        (b"a,b\n\x81\xe9,2\n", "neither UTF-8 nor Windows-1252"),
        (b"just some words\nand more of them\n", "isn't a table"),
        (b"a,a\n1,2\n", "Two columns are called 'a'"),
        (b"1,2\n3,4\n", "first line holds figures"),
        (b"a,b\n", "no rows of data"),
        (b"a,b\n1,2,3\n", "Line 2 has 3 fields"),
    ],
)
def test_what_is_not_a_table_is_refused_in_plain_words(data, says):
    with pytest.raises(Refused, match=says):
        read_table(data)


@pytest.mark.parametrize(
    ("text", "says"),
    [
        (PLAIN.replace("102", "101"), r"Plot 101 stands on lines 2 and 3\."),
        (PLAIN.replace("Öat", "Bare"), "only one treatment, 'Bare'"),
        ("Plot,Cover,Yield\n1,a,3\n2,b,4\n3,c,5\n", "stands in one plot only"),
        ("Rep,Cover,Yield\n1,a,3\n1,a,4\n2,b,5\n2,b,6\n", "The plot 1/a stands on lines 2 and 3"),
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
        assemble(read_table(PLAIN.encode()), {"Bed": "block", "Cover crop": "treatment", "Yield (t/ha)": "value"})


@pytest.mark.parametrize("role", ["block", "plot", "sample"])
def test_two_columns_cannot_share_a_role_that_is_one_column_s(role):
    roles = {"Rep": role, "Plot": role, "Cover crop": "treatment", "Yield (t/ha)": "value"}
    with pytest.raises(Refused, match=f"Rep and Plot are all marked as {role}"):
        assemble(read_table(PLAIN.encode()), roles)


def test_bad_cells_are_listed_with_line_column_value_and_what_is_wrong():
    result = assembled(PLAIN.replace("43.5", "about 43") + "3,301,,40.0,\n3,302,Bare,NA,\n")
    assert [(b.line, b.column, b.value) for b in result.bad] == [(6, "Cover crop", ""), (4, "Yield (t/ha)", "about 43")]
    assert "not a number" in result.bad[1].wrong
    assert result.gaps == 1
    assert "301" not in {plot.label for plot in result.plots}


def test_several_rows_per_plot_are_samples_only_when_told():
    text = PLAIN.replace("Notes", "Frame").replace("Bare,40.1,", "Bare,40.1,1") + "1,101,Bare,40.5,2\n"
    result = assembled(text)
    (values,) = result.samples.values()
    assert [figure.value for figure in values["101"]] == [40.1, 40.5]
    told = assembled(PLAIN + "1,101,Bare,40.5,\n", sampled=True)
    assert told.most_samples == 2


def test_plot_numbers_that_start_anew_in_each_block_get_the_block_in_front():
    result = assembled("Block,Plot,Cover,Yield\nA,1,x,3\nA,2,y,4\nB,1,y,5\nB,2,x,6\n")
    assert [plot.label for plot in result.plots] == ["A-1", "A-2", "B-1", "B-2"]


def test_a_second_factor_makes_combinations_and_one_that_stands_in_groups_is_not_read_as_single_plots():
    mixed = "Block,Cover,Kill,Yield\n1,x,early,3\n1,y,early,4\n1,x,late,3\n1,y,late,4\n" \
            "2,x,early,3\n2,y,late,4\n2,x,late,3\n2,y,early,6\n"  # fmt: skip
    assert assembled(mixed).treatments == ("x · early", "y · early", "x · late", "y · late")
    grouped = mixed.replace("2,y,late,4\n2,x,late,3\n2,y,early,6", "2,y,early,4\n2,x,late,3\n2,y,late,6")
    with pytest.raises(Refused, match="stand together, as in a split plot"):
        assembled(grouped)


@pytest.mark.parametrize(
    ("text", "comma", "value"),
    [
        ("3.5", False, 3.5), ("3,5", True, 3.5), ("3,5", False, 3.5), ("1 234,5", True, 1234.5),
        ("1.234,5", True, 1234.5),
        ("1,234", False, 1234.0), ("1,234,567.5", False, 1234567.5), ("−2", False, -2.0), ("1e3", False, 1000.0),
        (".5", False, 0.5), ("3..5", False, None), ("3 t", False, None), ("x", True, None), ("1e999", False, None),
    ],
)  # fmt: skip
def test_figures_are_read_as_people_write_them(text, comma, value):
    assert read_number(text, decimal_comma=comma) == value


@given(st.floats(-1e6, 1e6).map(lambda x: round(x, 4)))
def test_a_figure_reads_the_same_with_point_or_comma(value):
    text = f"{value:.4f}"
    assert read_number(text) == value
    assert read_number(text.replace(".", ","), decimal_comma=True) == value


def test_gaps_are_told_from_figures():
    assert all(map(is_missing, ("", " NA ", "-", "n/a", "*", "Missing")))
    assert not any(map(is_missing, ("0", "none", "-1")))


@pytest.mark.parametrize(
    ("name", "label", "unit"),
    [("Yield (t/ha)", "Yield", "t/ha"), ("biomass_kg_ha", "Biomass", "kg/ha"), ("Weeds [1/m²]", "Weeds", "1/m²"),
     ("Soil nitrate, kg/ha", "Soil nitrate", "kg/ha"), ("height", "Height", "")],
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
    read = read_table(data)
    roles = {"Block": "block", "Cover": "treatment", "Yield (t/ha)": "value"}
    result = assemble(read, roles)
    assert {k: v[0].value for k, v in result.samples["Yield (t/ha)"].items()} == wanted
    assert not result.bad


@given(st.binary(max_size=300))
def test_any_bytes_are_read_or_refused_and_nothing_else(data):
    try:
        table = read_table(data)
    except Refused:
        return
    assert all(len(row) == len(table.header) for row in table.rows)
    propose_roles(table)
