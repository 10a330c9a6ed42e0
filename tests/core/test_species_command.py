"""`./apercu species`: three lists as JSON, or one message and exit code 2."""

import json
import subprocess
import sys

import pytest


def run(path):
    return subprocess.run([sys.executable, "-m", "species_cli", str(path)], capture_output=True, text=True)


def test_a_wish_gives_three_lists_as_json(tmp_path):
    wish = {"purposes": {"weeds": 3}, "winter": "dies", "mild_winter_c": -10, "saline": True, "after": ["onion"]}
    path = tmp_path / "wish.json"
    path.write_text(json.dumps(wish))
    done = run(path)
    assert (done.returncode, done.stderr) == (0, "")
    found = json.loads(done.stdout)
    assert list(found) == ["fits", "cannot_be_judged", "out"]
    assert {tuple(one) for one in found["fits"]} == {("species", "score", "reasons")}
    assert {tuple(one) for kind in ("cannot_be_judged", "out") for one in found[kind]} == {("species", "why")}
    names = [one["species"] for kind in found.values() for one in kind]
    assert len(names) == len(set(names)) >= 50
    assert all(one["reasons"][0].startswith("Weed suppression") for one in found["fits"])


@pytest.mark.parametrize(
    ("text", "says"),
    [
        ('{"sown": "yesterday"}', "sown is 'yesterday'"), ("{", "isn’t JSON"), ("[" * 100_000, "isn’t JSON"),
        (None, "No such file"),
    ],
)  # fmt: skip
def test_what_is_no_wish_ends_with_one_message(tmp_path, text, says):
    path = tmp_path / "wish.json"
    if text is not None:
        path.write_text(text)
    done = run(path)
    assert (done.returncode, done.stdout) == (2, "")
    assert says in done.stderr
    assert len(done.stderr.strip().split("\n")) == 1
