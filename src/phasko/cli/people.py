"""Commands that say who may come in: people, programs, the lead's passphrase."""

from __future__ import annotations

import sys
from argparse import Namespace
from contextlib import closing

from phasko.cli.parts import ROLES, Commands, add_data, asked_twice

__all__ = ["add"]


def add(commands: Commands) -> None:
    """The commands of this room."""
    _add_user(commands)
    _add_token(commands)
    passphrase = commands.add_parser("passphrase", help="set the passphrase that other machines must give")
    add_data(passphrase)
    passphrase.set_defaults(run=_passphrase)


def _add_user(commands: Commands) -> None:
    user = commands.add_parser("user", help="who may sign in: add, list, remove, reset")
    user.set_defaults(run=_user)
    deeds = user.add_subparsers(required=True, metavar="ACTION", dest="action")
    words = {
        "add": "somebody who may sign in; asks for the passphrase",
        "list": "everybody, with their roles",
        "remove": "nobody of that name gets in any more",
        "reset": "another passphrase, another role with --role",
    }
    for action, said in words.items():
        deed = deeds.add_parser(action, help=said)
        if action != "list":
            deed.add_argument("name", metavar="NAME")
        if action in ("add", "reset"):
            deed.add_argument("--role", choices=ROLES, required=action == "add")
        add_data(deed)


def _add_token(commands: Commands) -> None:
    token = commands.add_parser("token", help="with which programs come in: add, list, remove")
    token.set_defaults(run=_token)
    deeds = token.add_subparsers(required=True, metavar="ACTION", dest="action")
    words = {"add": "a new one; it is shown once", "list": "all of them", "remove": "nobody gets in with it any more"}
    for action, said in words.items():
        deed = deeds.add_parser(action, help=said)
        if action != "list":
            deed.add_argument("name", metavar="NAME")
        if action == "add":
            deed.add_argument("--role", choices=ROLES, required=True)
            deed.add_argument("--days", type=int, metavar="N", help="good for so long; else until it is removed")
        add_data(deed)


def _user(parsed: Namespace) -> int:
    from phasko.keeping import people
    from phasko.store import Database

    with closing(Database(parsed.data)) as database:
        match parsed.action:
            case "add":
                people.add_person(database, parsed.name, parsed.role, asked_twice())
            case "remove":
                people.remove_person(database, parsed.name)
            case "reset" if parsed.role:
                people.change_role(database, parsed.name, parsed.role)
            case "reset":
                people.reset_passphrase(database, parsed.name, asked_twice())
        for person in people.list_people(database):
            print(f"{person.name:<24} {person.role:<12} since {person.created_at[:10]}")
    return 0


def _token(parsed: Namespace) -> int:
    from phasko.keeping import tokens
    from phasko.store import Database

    with closing(Database(parsed.data)) as database:
        match parsed.action:
            case "add":
                print(tokens.add_token(database, parsed.name, parsed.role, parsed.days).token)
                print("It is not shown again.", file=sys.stderr)
            case "remove":
                tokens.remove_token(database, parsed.name)
        if parsed.action != "add":
            for row in tokens.list_tokens(database):
                until = f"until {row.ends_at[:10]}" if row.ends_at else ""
                print(f"{row.name:<24} {row.role:<12} since {row.created_at[:10]} {until}".rstrip())
    return 0


def _passphrase(parsed: Namespace) -> int:
    from phasko.web.serving import store_passphrase

    store_passphrase(parsed.data, asked_twice())
    return 0
