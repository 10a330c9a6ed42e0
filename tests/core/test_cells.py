"""Cells that a spreadsheet would run as formulas go out marked and come back as they were."""

import csv
import io
import json
import zipfile
import zlib
from contextlib import suppress

import pytest
from hypothesis import given
from hypothesis import strategies as st

from apercu_core.cells import as_meant, harmless, read_rows, written
from apercu_core.errors import Refused
from apercu_core.species.record import Fact, Species
from apercu_core.species.sheet import from_csv, to_csv
from apercu_core.tables.package import PackagedMeasure, PackagedTrial, is_package, read_package, write_package
from apercu_core.tables.read import read_table
from apercu_core.trial.facts import PlotFacts

FORMULAS = ["=1+1", "+N", "-N", "@x", "\tx", "'=1", "''-x", "=cmd|' /C calc'!A0"]


@pytest.mark.parametrize("text", FORMULAS)
def test_a_text_that_looks_like_a_formula_goes_out_marked(text):
    assert harmless(text) == "'" + text
    assert as_meant(harmless(text)) == text


@given(st.text())
def test_every_text_comes_back_as_it_was(text):
    assert as_meant(harmless(text)) == text
    assert harmless(text)[:1] not in ("=", "+", "-", "@", "\t", "\r", "\n")


def test_numbers_stay_numbers():
    assert written([["t", -3.5, None, 2, "'plain'"]]) == "t,-3.5,,2,'plain'\r\n"
    assert read_rows(written([["-3.5", "x, y", 'a "b"']])) == [["-3.5", "x, y", 'a "b"']]


def test_a_data_package_of_such_names_reads_back_the_same():
    names = ["+N", "-N", "=1+1"]
    plots = [PlotFacts(str(i), "A", name) for i, name in enumerate(names)]
    asked = PackagedMeasure("@Yield", "@Yield", "", None, "absolute", "higher", "none")
    described = PackagedTrial("Trial", "", "-N", "drawn", (asked,))
    samples = [{str(i): [-1.5 * i - 1] for i in range(3)}]
    package = write_package(described, plots, samples, {"design": "rcbd"}, {})
    with zipfile.ZipFile(io.BytesIO(package)) as archive:
        cells = [cell for row in csv.reader(io.StringIO(archive.read("data.csv").decode())) for cell in row]
    assert [cell for cell in cells if cell[:1] in "=+@"] == []
    assert [cell for cell in cells if cell.startswith("-")] == ["-1.0", "-2.5", "-4.0"]
    data, back = read_package(package)
    table = read_table(data)
    assert (table.column("Treatment"), table.column("@Yield")) == (names, ["-1.0", "-2.5", "-4.0"])
    assert back == described


def test_species_read_back_the_same():
    one = Species("x", {"common": Fact("=Vetch", "+me"), "botanical": Fact("@sativa", "not said")}, own=True)
    (back,) = from_csv(to_csv([one]))
    assert back.facts == one.facts


TRIAL = {"name": "x", "question": "", "control": None, "allocation": "drawn", "measures": []}


def package(trial, data=b"Plot,Treatment,Yield\n1,A,3\n2,B,4\n"):
    out = io.BytesIO()
    with zipfile.ZipFile(out, "w", zipfile.ZIP_DEFLATED) as archive:
        archive.writestr("data.csv", data)
        archive.writestr("trial.json", trial if isinstance(trial, bytes) else json.dumps(trial))
    return out.getvalue()


@pytest.mark.parametrize(
    ("trial", "why"),
    [
        (b"[" * 100_000, "nested too deeply"),
        (b'{"plan":' * 100_000, "nested too deeply"),
        ([], "isn’t laid out like a trial’s"),
        (None, "isn’t laid out like a trial’s"),
        ({"plan": 3}, "isn’t laid out like a trial’s"),
        ({}, "'measures' is missing"),
        ({**TRIAL, "name": 3}, "'3' isn’t a text"),
        ({**TRIAL, "name": "a\0b"}, "can’t be kept"),
        ({**TRIAL, "question": "\ud800"}, "can’t be kept"),
        ({**TRIAL, "measures": [3]}, "isn’t laid out like a trial’s"),
        (b"\xff\xfe", "isn’t JSON"),
        (b"9" * 5000, "digits"),
    ],
)
def test_an_odd_trial_json_is_refused_with_what_to_do(trial, why):
    with pytest.raises(Refused, match="by itself") as refused:
        read_package(package(trial))
    assert why in refused.value.message


@pytest.mark.parametrize("place", range(40, 400, 7))
def test_a_package_with_a_broken_byte_is_read_or_refused(place):
    data = bytearray(
        package(TRIAL, b"Plot,Treatment,Yield\n" + b"".join(b"%d,A,%d\n" % (i, i * i) for i in range(400)))
    )
    data[place] ^= 0x5A
    with suppress(Refused):
        if is_package(bytes(data)):
            assert isinstance(read_package(bytes(data))[0], bytes)


def test_a_broken_deflate_stream_is_refused():
    whole = package(TRIAL, bytes(range(256)) * 40)
    with zipfile.ZipFile(io.BytesIO(whole)) as archive:
        at = whole.index(b"data.csv") + len("data.csv")
        size = archive.getinfo("data.csv").compress_size
    broken = whole[:at] + b"\xff" * size + whole[at + size :]
    with pytest.raises(zlib.error):
        zlib.decompress(broken[at : at + size], -15)
    with pytest.raises(Refused, match="can’t be unpacked"):
        read_package(broken)


@pytest.mark.parametrize(
    ("data", "says"),
    [
        (b"\n" * 19_000_000, "The file is empty"),
        (b"a,b\n" * 4_750_000, "4,750,000 lines"),
        (b"," * 19_000_000, "19,000,000 columns"),
        (b'"a\n' * 6_000_000, "6,000,000 lines"),
        (b'a,b\n1,"' + b"x" * 140_000 + b'"\n', "Line 2 has a cell of more than 100,000 letters"),
    ],
)
def test_what_is_far_too_much_is_refused_before_it_is_taken_apart(data, says):
    with pytest.raises(Refused, match=says):
        read_table(data)
