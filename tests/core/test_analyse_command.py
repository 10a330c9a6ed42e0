"""`analyse` as a program: what it reads, what it prints, and how it refuses."""

import json

import pytest

from analyse_cli.__main__ import analyse_files, main, read_rows
from apercu_core.errors import Refused
from apercu_core.statistics.specification import read_specification

SPEC = {"response": "y", "treatments": ["t"], "design": "rcbd", "block": "b"}
TABLE = "b,t,y\n1,x,1\n1,z,2\n2,x,3\n2,z,5\n3,x,2\n3,z,2\n"


@pytest.fixture
def files(tmp_path):
    data, spec = tmp_path / "data.csv", tmp_path / "spec.json"
    data.write_text(TABLE)
    spec.write_text(json.dumps(SPEC))
    return data, spec


def test_it_prints_one_json_object_and_exits_0(files, capsys):
    assert main([str(path) for path in files]) == 0
    printed = capsys.readouterr()
    result = json.loads(printed.out)
    assert (result["n_analysed"], result["pairs_method"], printed.err) == (6, "tukey", "")
    assert {mean["treatment"]["t"] for mean in result["means"]} == {"x", "z"}


def test_a_byte_order_mark_quotes_and_blank_lines_do_not_matter(files):
    data, spec = files
    plain = json.loads(analyse_files(data, spec))
    data.write_bytes(b"\xef\xbb\xbf" + TABLE.replace("b,t,y", '"b","t","y"').replace("2,x", "\n2,x").encode())
    assert json.loads(analyse_files(data, spec)) == plain


def test_the_word_none_is_a_label_and_an_empty_field_is_a_gap(files):
    data, spec = files
    data.write_text(TABLE.replace(",z,", ",None,").replace("3,x,2", "3,x,"))
    result = json.loads(analyse_files(data, spec))
    assert result["n_analysed"] == 5
    assert {mean["treatment"]["t"] for mean in result["means"]} == {"x", "None"}


@pytest.mark.parametrize(
    ("text", "says"),
    [("", "empty"), ("a,a\n1,2\n", "two columns are called 'a'"), ("a,b\n1\n", "row 2 has 1 fields"), ("a,b\n", None)],
)
def test_rows_that_are_no_table_are_refused(tmp_path, text, says):
    path = tmp_path / "d.csv"
    path.write_text(text)
    if says is None:
        assert read_rows(path) == []
        return
    with pytest.raises(Refused, match=says):
        read_rows(path)


def test_what_cannot_be_read_is_said_with_its_name(tmp_path, files, capsys):
    data, spec = files
    assert main([str(tmp_path / "gone.csv"), str(spec)]) == 2
    assert "gone.csv: No such file" in capsys.readouterr().err
    spec.write_text("{")
    assert main([str(data), str(spec)]) == 2
    assert "spec.json isn’t JSON" in capsys.readouterr().err
    data.write_bytes(b"b,t,y\n1,\xff,2\n")
    spec.write_text(json.dumps(SPEC))
    assert main([str(data), str(spec)]) == 2
    assert "byte 8 isn’t UTF-8" in capsys.readouterr().err
    assert main(["--suite", str(tmp_path / "none"), "--out", str(tmp_path / "o")]) == 2


@pytest.mark.parametrize(
    "arguments", [[], ["a.csv"], ["--suite", "x"], ["a.csv", "s.json", "--suite", "x", "--out", "y"]]
)
def test_wrong_use_is_explained(arguments, capsys):
    with pytest.raises(SystemExit) as stopped:
        main(arguments)
    assert stopped.value.code == 2
    assert "give DATA.csv and SPEC.json, or --suite DIR with --out DIR" in capsys.readouterr().err


def test_a_suite_does_not_leave_an_old_result_of_a_case_that_is_now_refused(tmp_path, files):
    _data, spec = files
    case = tmp_path / "suite" / "01-case"
    case.mkdir(parents=True)
    (case / "data.csv").write_text(TABLE)
    (case / "spec.json").write_text(spec.read_text())
    arguments = ["--suite", str(tmp_path / "suite"), "--out", str(tmp_path / "out")]
    assert main(arguments) == 0
    assert (tmp_path / "out" / "01-case.json").exists()
    (case / "spec.json").write_text(json.dumps({**SPEC, "family": "binomial"}))
    assert main(arguments) == 1
    assert not (tmp_path / "out" / "01-case.json").exists()


@pytest.mark.parametrize(
    ("change", "says"),
    [
        ({"response": ""}, "'response' must be a column name"),
        ({"treatments": "t"}, "must be a list of column names"),
        ({"treatments": []}, "must name at least one"),
        ({"block": None}, "A rcbd design needs 'block'"),
        ({"design": "split_plot"}, "needs 'whole_plot_factor'"),
        ({"design": "split_plot", "whole_plot_factor": "n"}, "'n' must be one of the treatments"),
        ({"subsample": "s"}, "Subsamples need 'plot'"),
        ({"comparison": []}, "'comparison' must be an object"),
        ({"comparison": {"method": "duncan"}}, "it must be one of: lsd, tukey"),
        ({"equivalence": {"margin": 0, "control": "x"}}, "equivalence.margin is 0"),
        ({"equivalence": {"margin": 1}}, "equivalence.control must name"),
        ({"contrasts": [{"name": "c", "weights": {"x": "1"}}]}, "contrast c: x is '1'"),
        ({"contrasts": {"name": "c"}}, "'contrasts' must be a list"),
        ({"design": "multi_site", "site": "s", "block_effect": "fixed"}, "lie within sites and are random"),
    ],
)
def test_a_specification_that_cannot_be_right_is_refused_at_its_entry(change, says):
    with pytest.raises(Refused, match=says):
        read_specification({**SPEC, **change})


@pytest.mark.parametrize(
    ("weights", "says"),
    [({"x": 1, "w": -1}, "'w', which isn’t a treatment: x, z"), ({"x": 0}, "All weights of contrast")],
)
def test_contrasts_of_nothing_are_refused(files, weights, says):
    data, spec = files
    spec.write_text(json.dumps({**SPEC, "contrasts": [{"name": "c", "weights": weights}]}))
    with pytest.raises(Refused, match=says):
        analyse_files(data, spec)


def test_a_contrast_of_two_treatments_is_their_pair(files):
    data, spec = files
    asked = {**SPEC, "comparison": {"method": "lsd"}, "contrasts": [{"name": "c", "weights": {"x": 1, "z": -1}}]}
    spec.write_text(json.dumps(asked))
    result = json.loads(analyse_files(data, spec))
    pair, contrast = result["pairs"][0], result["contrasts"][0]
    for name in ("estimate", "se", "df", "p", "lower", "upper"):
        assert contrast[name] == pytest.approx(pair[name])
