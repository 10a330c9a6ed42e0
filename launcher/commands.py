"""The command line: one function for each command."""

from __future__ import annotations

import argparse
import os
import sys
from collections.abc import Callable

from launcher.backups import on_data
from launcher.checks import all_checks, run_checks
from launcher.doctor import doctor
from launcher.instance import run_demo, run_serve
from launcher.places import ROOT, keep_compiled
from launcher.run import ONE_THREAD
from launcher.say import say, warn
from launcher.services import StopAsked
from launcher.setup import python_environment, web_build
from launcher.shots import take_shots
from launcher.trouble import Exit, Trouble

WITHOUT_SERVER = ("analyse", "plan", "table", "species", "calculate", "cover", "verdict")
"""Commands that need no database; each is the package of its name."""


def _parser() -> argparse.ArgumentParser:
    parser = argparse.ArgumentParser(
        prog="./apercu",
        description="Apercu: cover crop trials from question to verdict. Each command sets up what it needs.",
    )
    commands = parser.add_subparsers(dest="command", required=True, metavar="COMMAND")

    def add(name: str, text: str) -> argparse.ArgumentParser:
        return commands.add_parser(name, help=text, description=text)

    demo = add("demo", "Start Apercu with made-up trials on this machine; Ctrl-C stops it.")
    demo.add_argument("--port", type=int, default=8000, help="port of the web address (8000)")
    demo.add_argument("--reset", action="store_true", help="throw the demo’s data away and load it anew")
    test = add("test", "Run every check: linters, types, imports, core, server, front end, browser, set-up.")
    names = ", ".join(check.name for check in all_checks())
    test.add_argument("only", nargs="*", metavar="CHECK", help=f"run only these: {names}")
    serve = add("serve", "Start Apercu for real use, with the settings in docs/serving.md.")
    serve.add_argument("--host", default="127.0.0.1", help="address to listen on (127.0.0.1)")
    serve.add_argument("--port", type=int, default=8000, help="port to listen on (8000)")
    analyse = add("analyse", "Analyse a table or a folder of cases on the command line; needs no database.")
    analyse.add_argument("rest", nargs=argparse.REMAINDER, help="DATA.csv SPEC.json, or --suite DIR --out DIR")
    plan = add("plan", "Draw a plan on the command line and print its plots as CSV; needs no database.")
    plan.add_argument("rest", nargs=argparse.REMAINDER, help="PLAN.json, or PLAN.json --geojson FILE")
    table = add("table", "Say on the command line how a table would be imported; needs no database.")
    table.add_argument("rest", nargs=argparse.REMAINDER, help="FILE.csv")
    species = add("species", "Rank species for a wish on the command line; needs no database.")
    species.add_argument("rest", nargs=argparse.REMAINDER, help="WISH.json")
    cover = add("cover", "Green cover of photographs as CSV; needs no database.")
    cover.add_argument("rest", nargs=argparse.REMAINDER, help="FILE…, folders too, [--threshold T]")
    calculate = add("calculate", "Do an agronomic calculation on the command line; needs no database.")
    calculate.add_argument("rest", nargs=argparse.REMAINDER, help="CASE.json, or --suite DIR --out DIR")
    verdict = add("verdict", "Print what the board says of a table on the command line; needs no database.")
    verdict.add_argument("rest", nargs=argparse.REMAINDER, help="FILE.csv SPEC.json")
    backup = add("backup", "Write database and files into one archive, also while Apercu runs (docs/backup.md).")
    backup.add_argument("file", metavar="FILE", help="the archive to write; with --new-key: the key")
    backup.add_argument("--encrypt-to", metavar="PUBLIC-KEY", default="", help="encrypt it for this age public key")
    backup.add_argument("--new-key", action="store_true", help="make a key for encrypted backups, and stop")
    restore = add("restore", "Put a backup in place of an empty database; nothing is touched before it is checked.")
    restore.add_argument("file", metavar="FILE", help="the archive")
    restore.add_argument("--key", metavar="FILE", help="the key of an encrypted one")
    restore.add_argument("--replace", action="store_true", help="throw away what is in the database now")
    shots = add("shots", "Take the pictures in docs/screenshots from the demo data.")
    shots.add_argument("--out", default=str(ROOT / "docs" / "screenshots"), help="folder for the pictures")
    add("doctor", "Say what is missing or wrong on this machine, and the command that mends it.")
    add("setup", "Set up what demo needs, and stop.")
    return parser


def _without_server(package: str, arguments: list[str]) -> int:
    """Replaces this process, so that nothing is added to the time that the analysis takes."""
    python = str(python_environment("run"))
    environment = {**ONE_THREAD, **os.environ, "PYTHONPATH": str(ROOT)}
    os.execve(python, [python, "-m", package, *arguments], environment)


def _setup() -> int:
    python_environment("run")
    web_build()
    say("Set up.")
    return 0


def main(arguments: list[str]) -> int:
    if arguments[:1] in ([command] for command in WITHOUT_SERVER) and arguments[1:] not in (["--help"], ["-h"]):
        return _guarded(lambda: _without_server(f"{arguments[0]}_cli", arguments[1:]))
    given = _parser().parse_args(arguments)
    match given.command:
        case "demo":
            return _guarded(lambda: run_demo(given.port, given.reset))
        case "test":
            return _guarded(lambda: run_checks(given.only))
        case "backup":
            options = [
                *(["--encrypt-to", given.encrypt_to] if given.encrypt_to else []),
                *(["--new-key"] if given.new_key else []),
            ]
            return _guarded(lambda: on_data("backing up", "backup", given.file, *options))
        case "restore":
            options = [*(["--key", given.key] if given.key else []), *(["--replace"] if given.replace else [])]
            return _guarded(lambda: on_data("restoring", "restore", given.file, *options))
        case "serve":
            return _guarded(lambda: run_serve(given.host, given.port))
        case "shots":
            return _guarded(lambda: take_shots(given.out))
        case "setup":
            return _guarded(_setup)
        case command if command in WITHOUT_SERVER:
            return _guarded(lambda: _without_server(f"{given.command}_cli", ["--help"]))
        case _:
            return _guarded(doctor)


def _guarded(command: Callable[[], int]) -> int:
    """Run a command; what can go wrong ends in a plain message and its exit code."""
    try:
        keep_compiled()
        return command()
    except Trouble as trouble:
        warn(f"\napercu: {trouble.what}\n{trouble.mend}")
        return int(trouble.code)
    except (KeyboardInterrupt, StopAsked):
        warn("\napercu: stopped. The same command goes on where it left off.")
        return 130
    except OSError as error:
        if error.errno == 28:
            warn(
                "\napercu: the disk is full.\nFree some space (about 2 GB are needed), then run the same command again."
            )
            return int(Exit.DISK_FULL)
        raise
    finally:
        sys.stdout.flush()
