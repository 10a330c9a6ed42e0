"""The numbers of tests/reference, whose origin its README states, through the command that people use."""

import json
import subprocess
import sys
from pathlib import Path

import pytest

from analyse_cli.__main__ import main
from tests.reference.compare import Checker

REFERENCE = Path(__file__).parent.parent / "reference"
ROOT = REFERENCE.parent.parent
VISIBLE = REFERENCE / "visible"
NOT_BUILT = ("31", "38", "39", "51")
MATCHED = sorted(path.name for path in VISIBLE.iterdir() if not path.name.startswith(NOT_BUILT))


@pytest.mark.parametrize("case", MATCHED)
def test_a_case_matches_the_reference_in_full(case, capsys):
    """In this process and case by case, so that a changed line meets the cases that pass through it."""
    folder = VISIBLE / case
    assert main([str(folder / "data.csv"), str(folder / "spec.json")]) == 0
    expected, spec = (json.loads((folder / name).read_text()) for name in ("expected.json", "spec.json"))
    found = Checker(expected, spec, 1e-6).run(json.loads(capsys.readouterr().out))
    assert found.bad == []
    assert found.ok == found.total > 0


@pytest.fixture(scope="module")
def suite(tmp_path_factory):
    out = tmp_path_factory.mktemp("results")
    command = [sys.executable, "-m", "analyse_cli", "--suite", VISIBLE, "--out", out]
    return out, subprocess.run(command, cwd=ROOT, capture_output=True, text=True)


def test_the_suite_lists_the_refused_writes_no_result_for_them_and_exits_1(suite):
    out, done = suite
    assert done.returncode == 1
    refused = {line.split()[1].rstrip(":") for line in done.stderr.splitlines()}
    written = {path.stem for path in out.glob("*.json")}
    assert "31-repeated-4-dates" in refused
    assert refused | written == {path.name for path in VISIBLE.iterdir()}
    assert not refused & written


BASE = {"response": "y", "treatments": ["t"], "design": "rcbd", "block": "b"}
TABLE = "b,t,y\n1,x,1\n1,z,2\n2,x,3\n2,z,5\n3,x,2\n3,z,2\n"


@pytest.mark.parametrize(
    ("spec", "table", "says"),
    [
        ({**BASE, "block": "bed"}, TABLE, "no column 'bed'"),
        ({**BASE, "family": "binomial"}, TABLE, "needs 'trials'"),
        ({**BASE, "family": "poisson"}, TABLE.replace("5", "4.5"), "Row 5: 'y' is 4.5, but counts are whole numbers"),
        ({**BASE, "family": "poisson", "transform": "sqrt"}, TABLE, "has a link of its own"),
        ({**BASE, "transform": "log"}, TABLE.replace("5", "0"), "Row 5: 'y' is 0, but the log transform takes values"),
        ({**BASE, "transform": "arcsine_sqrt"}, TABLE, "proportions from 0 to 1"),
        (
            {**BASE, "family": "quasi_poisson", "design": "split_plot", "whole_plot_factor": "t"},
            TABLE,
            "more than one stratum of error",
        ),
        ({**BASE, "family": "poisson", "exposure": "b"}, TABLE, "two roles"),
        ({**BASE, "analysis": "friedman", "design": "crd"}, TABLE, "needs blocks"),
        (
            {**BASE, "family": "poisson"},
            "b,t,y\n1,x,0\n1,z,2\n2,x,0\n2,z,4\n3,x,0\n3,z,3\n",
            "Only 1 of 2 treatments has",
        ),
        (
            {**BASE, "family": "poisson", "comparison": {"method": "dunnett", "control": "x"}},
            "b,t,y\n1,x,0\n1,z,2\n1,w,3\n2,x,0\n2,z,4\n2,w,3\n3,x,0\n3,z,3\n3,w,5\n",
            "The control x has no events",
        ),
        ({**BASE, "treatment": ["t"]}, TABLE, "Did you mean 'treatments'?"),
        ({**BASE, "design": "rcb"}, TABLE, "must be one of: crd"),
        ({**BASE, "comparison": {"method": "dunnett"}}, TABLE, "name it in comparison.control"),
        ({**BASE, "comparison": {"method": "dunnett", "control": "w"}}, TABLE, "isn’t among the levels of t: x, z"),
        ({**BASE, "comparison": {"alpha": 1.5}}, TABLE, "between 0 and 1"),
        ({**BASE, "treatments": ["y"]}, TABLE, "two roles"),
        (BASE, TABLE.replace("5", "five"), "Row 5: 'y' is 'five'"),
        (BASE, "b,t,y\n1,x,1\n", "Only 1 plot"),
        (BASE, "b,t,y\n1,x,1\n1,x,2\n2,x,2\n", "only one level"),
        (BASE, "b,t,y\n1,x,1\n1,z,2\n", "no replication"),
        ({**BASE, "design": "crd"}, "b,t,y\n1,x,1\n2,z,2\n", "nothing is left to measure the error"),
        ({**BASE, "design": "crd"}, "b,t,y\n1,x,1\n2,x,1\n3,z,2\n4,z,2\n", "treatment all have the same value"),
        (
            {**BASE, "block_effect": "fixed"},
            "b,t,y\n1,x,1\n1,x,2\n2,z,2\n2,z,4\n3,z,3\n",
            "can’t be told from those of blocks",
        ),
        (BASE, "b,t\n1,x\n", "no column 'y'"),
        ({**BASE, "site": "s"}, TABLE, "use design multi_site"),
        ({**BASE, "design": "multi_site"}, TABLE, "needs 'site'"),
        ({**BASE, "max_interaction": 0}, TABLE, "whole number from 1"),
        ({**BASE, "df_method": "containment_anova"}, TABLE.replace("3,z,2\n", ""), "Use Kenward–Roger"),
        ({**BASE, "joint_contrasts": [{"name": "j", "contrasts": []}]}, TABLE, "has no contrasts"),
        ({"analysis": "power_rcbd"}, "treatments\n3\n", "no column 'blocks'"),
        ({"analysis": "power_paired_t"}, "pairs,difference\n1,2\n", "whole number from 2"),
        (BASE, "b,t,y\n1,x,1,4\n", "row 2 has 4 fields"),
        (BASE, "", "empty"),
    ],
)
def test_analyse_refuses_with_one_message_no_result_and_exit_2(tmp_path, capsys, spec, table, says):
    (tmp_path / "d.csv").write_text(table)
    (tmp_path / "s.json").write_text(json.dumps(spec))
    code = main([str(tmp_path / "d.csv"), str(tmp_path / "s.json")])
    printed = capsys.readouterr()
    assert (code, printed.out) == (2, "")
    assert says in printed.err
    assert len(printed.err.strip().splitlines()) == 1
