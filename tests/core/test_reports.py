"""Verdicts as sentences, and the data package that carries a trial."""

import io
import json
import re
import zipfile
from dataclasses import replace

import pytest

from apercu_core.errors import Refused
from apercu_core.reading.asked import Asked, How, Recorded
from apercu_core.reading.found import Cell
from apercu_core.reading.trial import read_trial
from apercu_core.reporting.sentences import in_short, measure_report, sentence
from apercu_core.tables.package import Bounded, PackagedMeasure, PackagedTrial, is_package, read_package, write_package
from apercu_core.trial.facts import PlotFacts, TrialFacts
from apercu_core.verdicts.margin import Margin
from apercu_core.verdicts.verdict import Verdict

PLOTS = tuple(
    PlotFacts(f"{b}{p}", str(b), treatment, p)
    for b, order in enumerate(("abc", "bca", "cab", "acb"), start=1)
    for p, treatment in enumerate(order, start=1)
)
FACTS = TrialFacts(PLOTS, "a", "drawn")
LEVEL = {"a": 10.0, "b": 12.0, "c": 10.1}


def reading(asked, shift=0.0):
    values = {
        p.label: [LEVEL[p.treatment] + 0.1 * int(p.block) + 0.05 * ((i * 5) % 4) + shift * (p.treatment == "b")]
        for i, p in enumerate(PLOTS)
    }
    return read_trial(FACTS, "rcbd", [Recorded(asked, values)], How(), "a")


def measure(margin=None, direction="higher"):
    return reading(Asked("Yield", "t/ha", margin, direction)).measures[0]


CELLS = [
    (Verdict.CLEAR_GAIN, (3.0, 2.2, 3.8), "3.0 t/ha more than a (between +2.2 and +3.8).",
     "This is a clear gain, larger than the margin of 2 t/ha."),
    (Verdict.CLEAR_LOSS, (-3.0, -3.8, -2.2), "3.0 t/ha less than a (between −3.8 and −2.2).",
     "This is a clear loss, larger than the margin of 2 t/ha."),
    (Verdict.CLEAR_MORE, (3.0, 2.2, 3.8), "3.0 t/ha more than a (between +2.2 and +3.8).",
     "This is a clear difference, larger than the margin of 2 t/ha."),
    (Verdict.REAL_UNSETTLED, (2.0, 0.5, 3.5), "2.0 t/ha more than a (between +0.5 and +3.5).",
     "The difference is real. Whether it reaches the margin of 2 t/ha isn’t settled."),
    (Verdict.REAL_SMALL, (0.9, 0.1, 1.7), "0.9 t/ha more than a (between +0.1 and +1.7).",
     "The difference is real, but smaller than the margin of 2 t/ha."),
    (Verdict.NO_DIFFERENCE, (0.1, -0.9, 1.1), "no difference worth having (between −0.9 and +1.1).",
     "It is smaller than the margin of 2 t/ha in both directions."),
    (Verdict.NO_MARGIN, (0.1, -0.9, 1.1), "0.1 t/ha more than a (between −0.9 and +1.1).",
     "No margin was set, so there is no verdict."),
    (Verdict.NOT_SETTLED, (1.0, -1.0, 3.0), "not settled (between −1.0 and +3.0).",
     ("About 9 blocks would settle it if the difference stays the same. With 14 blocks, 8 of 10 such trials would "
      "settle it, one way or the other.")),
]  # fmt: skip


@pytest.mark.parametrize(("verdict", "figures", "found", "meant"), CELLS, ids=[cell[0].value for cell in CELLS])
def test_each_verdict_is_a_sentence_with_figures_units_and_margin(verdict, figures, found, meant):
    estimate, lower, upper = figures
    cell = Cell("b", verdict, estimate, lower, upper, 0.01, blocks=9, blocks_likely=14, against="a")
    assert sentence(cell, measure(Margin(2)), 1) == f"{found} {meant}"


def test_what_keeps_an_answer_back_is_said_and_a_share_is_named_as_one():
    told = lambda cell: sentence(cell, measure(Margin(20, "percent")), 1)  # noqa: E731
    assert told(Cell("b", Verdict.NO_ANSWER, reason="No plot has a value.")) == "no answer. No plot has a value."
    protected = Cell("b", Verdict.NOT_SETTLED, 1.0, 0.2, 1.8, 0.04, reason="overall F p = 0.21")
    assert told(protected).endswith("The trial as a whole doesn’t show that its treatments differ.")
    assert "More than 40 blocks" in told(Cell("b", Verdict.NOT_SETTLED, 0.0, -3, 3, 0.9, more_than_40=True))
    assert "margin of 20 %" in told(Cell("b", Verdict.CLEAR_GAIN, 3.0, 2.2, 3.8, 0.01))


def test_in_short_names_what_is_clear_or_says_that_nothing_is():
    clear = reading(Asked("Yield", "t/ha", Margin(1), "higher"))
    assert in_short([measure_report(clear.measures[0])], clear) == "Clearly higher yield: b."
    for asked, said in (
        (Asked("NDVI", "", Margin(1), "none"), "Clearly higher NDVI: b."),
        (Asked("Weeds in spring", "weeds/m²", Margin(1), "lower"), "Clearly higher weeds in spring: b."),
        (Asked("Earthworms", "worms/m²", Margin(1), "higher", kind="count"), "Clearly more earthworms: b."),
        (Asked("Cover stand", "plants/m²", Margin(1), "higher", kind="count"), "Clearly higher cover stand: b."),
    ):
        one = reading(asked)
        assert in_short([measure_report(one.measures[0])], one) == said
    vague = reading(Asked("Yield", "t/ha", Margin(5), "higher"))
    assert in_short([measure_report(vague.measures[0])], vague).startswith(
        "No treatment is clearly better or worse than a"
    )
    assert in_short([], vague) == "There is nothing to compare yet."


def test_in_short_begins_with_the_planned_test_of_the_measure_that_decides():
    decides = reading(Asked("Yield", "t/ha", Margin(5), "higher", "equivalence", primary=True))
    said = in_short([measure_report(decides.measures[0])], decides)
    assert said.startswith("Shown equivalent in Yield, by the margin of 5 t/ha: b")
    beside = reading(Asked("Yield", "t/ha", Margin(5), "higher", "equivalence"))
    assert "equivalent" not in in_short([measure_report(beside.measures[0])], beside)


def test_a_measure_that_cannot_be_read_says_why_once():
    empty = read_trial(FACTS, "rcbd", [Recorded(Asked("Yield"), {})], How(), "a")
    told = measure_report(empty.measures[0])
    assert told.lines == ()
    assert told.refusal


# --- the data package -----------------------------------------------------------------------------------------------

ASKED = PackagedMeasure("Yield (t/ha)", "Yield", "t/ha", 2.0, "absolute", "higher", "none")
TRIAL = PackagedTrial("Covers, “north”", "Does it; pay?", "a", "drawn", (ASKED,))


def packed(described=TRIAL, samples=None):
    samples = samples or [{p.label: [0.1 + i, None if i == 3 else 1 / 3] for i, p in enumerate(PLOTS)}]
    return write_package(described, PLOTS, samples, {"seed": 7}, {"verdicts": []})


def changed(package, file, change):
    """The package with `change` made to one of its files."""
    out = io.BytesIO()
    with zipfile.ZipFile(io.BytesIO(package)) as old, zipfile.ZipFile(out, "w") as new:
        for name in old.namelist():
            content = old.read(name)
            new.writestr(name, change(content) if name == file else content)
    return out.getvalue()


def test_a_package_holds_a_row_per_sample_in_full_precision_and_reads_back_what_was_said():
    data = packed()
    assert is_package(data)
    table, described = read_package(data)
    assert described == TRIAL
    lines = table.decode().split("\r\n")
    assert lines[:3] == ["Block,Plot,Treatment,Sample,Yield (t/ha)", "1,11,a,1,0.1", "1,11,a,2,0.3333333333333333"]
    assert lines[8] == "2,21,b,2,"  # a gap


def test_one_sample_needs_no_sample_column_and_a_measure_without_figures_is_left_out():
    none = PackagedMeasure("Weeds", "Weeds", "", None, "absolute", "none", "none")
    samples = [{p.label: [1.0] for p in PLOTS}, {p.label: [None] for p in PLOTS}]
    table, described = read_package(packed(PackagedTrial("t", "", None, "unknown", (ASKED, none)), samples))
    assert table.decode().split("\r\n")[0] == "Block,Plot,Treatment,Yield (t/ha)"
    assert described.measures == (ASKED,)


@pytest.mark.parametrize(
    ("change", "says"),
    [
        ({"allocation": "by moonlight"}, "none of drawn"),
        ({"measures": 3}, "isn’t laid out like a trial’s"),
        ({"measures": [{"column": "y", "name": "y", "unit": "", "margin": 10**400, "direction": "none",
                        "margin_kind": "absolute", "planned": "none"}]}, "a number is far too large"),
        ({"control": None, "measures": [{"column": "y", "name": "y", "unit": "", "margin": -2, "direction": "none",
                                         "margin_kind": "absolute", "planned": "none"}]}, "margin -2"),
    ],
)  # fmt: skip
def test_a_package_that_says_nonsense_is_refused_with_what_to_do(change, says):
    odd = changed(packed(), "trial.json", lambda content: json.dumps({**json.loads(content), **change}).encode())
    with pytest.raises(Refused, match=f"{says}.*import data.csv by itself"):
        read_package(odd)


ENDS = (
    Bounded("11", "Yield (t/ha)", "=June", "", "", 2, "more", 20.5),
    Bounded("12", "Yield (t/ha)", "", "", "", 1, "less", 3.0),
)


def test_ends_that_are_known_come_back_and_a_list_of_them_that_says_nonsense_is_refused():
    data = packed(replace(TRIAL, beyond=ENDS))
    assert read_package(data)[1] == replace(TRIAL, beyond=ENDS)
    early = changed(data, "beyond.csv", lambda content: re.sub(rb"(?m)^((?:[^,]*,){2})[^,]*,", rb"\1", content))
    assert read_package(early)[1] == replace(TRIAL, beyond=tuple(replace(end, visit="") for end in ENDS))
    for old, new, says in (
        (b"more,20.5", b"more,nan", "isn’t a number"), (b"more", b"deeper", "none of more, less"),
        (b"Bound", b"Sound", "no column Bound"), (b",2,more,20.5", b",2", "line 2 doesn’t have 8 columns"),
        (b",2,more", b",two,more", "'two' isn’t a number"),
        (b"more", b"\xff\xfe", "isn’t UTF-8"),
    ):  # fmt: skip
        with pytest.raises(Refused, match=f"beyond.csv can’t be read .*{says}.*import data.csv by itself"):
            read_package(changed(data, "beyond.csv", lambda content, old=old, new=new: content.replace(old, new)))


def test_bytes_that_only_look_like_a_zip_are_none():
    assert not is_package(b"PK\x03\x04 and nothing more")
    assert not is_package(b"Plot,Treatment,Yield\n")


def test_a_measure_with_its_own_control_is_told_against_that_one():
    lines = measure_report(reading(Asked("Yield", "t/ha", Margin(1), "higher", base="c")).measures[0]).lines
    assert [line.treatment for line in lines] == ["a", "b"]
    assert "than c (between" in lines[1].sentence


@pytest.mark.parametrize("packing", [zipfile.ZIP_STORED, zipfile.ZIP_DEFLATED, zipfile.ZIP_LZMA])
def test_a_package_damaged_at_any_byte_is_read_as_it_was_or_refused(packing):
    with zipfile.ZipFile(io.BytesIO(packed())) as made:
        inside = {name: made.read(name) for name in ("data.csv", "trial.json")}
    out = io.BytesIO()
    with zipfile.ZipFile(out, "w", packing) as archive:
        for name, content in inside.items():
            archive.writestr(name, content)
    said = []
    for at in range(4, len(out.getvalue()), 5):
        damaged = bytearray(out.getvalue())
        damaged[at] ^= 0xFF
        if is_package(bytes(damaged)):
            try:
                assert read_package(bytes(damaged))[0] == inside["data.csv"]
            except Refused as refused:
                said.append(str(refused))
    assert said
    ways_out = ("Export the package again", "import data.csv by itself")
    assert all(any(way in each for way in ways_out) for each in said)
