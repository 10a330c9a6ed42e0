"""One glossary for the help and for newcomers: the table in ARCHITECTURE.md is the one in the core."""

from pathlib import Path

from apercu_core.glossary import GLOSSARY, OF_THE_CODE, rooms

ROOT = Path(__file__).parents[2]


def test_the_table_of_the_architecture_is_the_glossary():
    lines = (ROOT / "ARCHITECTURE.md").read_text(encoding="utf-8").splitlines()
    start = lines.index("| noun | what it is | room |") + 2
    told = [
        tuple(part.strip() for part in line.strip("|").split(" | ")) for line in lines[start : start + len(rooms())]
    ]
    assert told == rooms()


def test_each_term_stands_once_and_each_room_is_there():
    names = [term.name for term in GLOSSARY]
    assert len(set(names)) == len(names)
    assert set(names) >= OF_THE_CODE
    for room in {room for term in GLOSSARY for room in term.rooms}:
        folder = ROOT / room
        module = room.replace(".", "/")
        places = [ROOT / base / module for base in ("apercu_core", "server")]
        found = folder.exists() or any(one.is_dir() or one.with_suffix(".py").exists() for one in places)
        assert found, f"There is no room {room}."
